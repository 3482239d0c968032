"""Fit board: the machine's places in proportion, what sits in them, what is planned, and the link between.

An own line drawing of the kind of machine; places are regions that can be chosen.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.core.because import Because, Fact, Origin
from brachium.core.figures.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.verdict_shape import verdict_shape
from brachium.core.fit.verdict import Level
from brachium.core.machine.machine import Configuration, DriveBay, Machine, MachineKind, ModuleSlot, bandwidth_mb_s
from brachium.core.machine.parts import Drive, MemoryModule, Part
from brachium.core.units import drive_size, gib

COOLING = "cooling"


@dataclass(frozen=True)
class BoardState:
    """What the board shows: today, the plan, verdict levels by place, services planned, the chosen place."""

    machine: Machine
    planned: Configuration
    levels: Mapping[str, Level]
    services: tuple[str, ...] = ()
    selected: str = ""


@dataclass(frozen=True)
class _Frame:
    """Unit coordinates of the drawn machine mapped onto pixels."""

    x: float
    y: float
    w: float
    h: float

    def box(self, u: float, v: float, du: float, dv: float) -> tuple[float, float, float, float]:
        return self.x + u * self.w, self.y + v * self.h, du * self.w, dv * self.h


def fit_board(state: BoardState, width: float, height: float) -> Drawing:
    """Draw the board; the region ids are the place ids, and "cooling" for chip, fan and fins."""
    sketch = Sketch(width, height)
    frame = _Frame(8, 8, width - 16, height - 16)
    _case(sketch, frame, state.machine.kind)
    _cooling(sketch, state, frame)
    _slots(sketch, state, frame)
    _bays(sketch, state, frame)
    return sketch.done("Fit board", "what is in the machine, what could be, and the link between")


def _case(sketch: Sketch, frame: _Frame, kind: MachineKind) -> None:
    x, y, w, h = frame.box(0, 0, 1, 1)
    sketch.add(Box(x, y, w, h, "soft", "sheet", 1.2, 10.0 if kind is MachineKind.LAPTOP else 2.0))
    if kind is MachineKind.LAPTOP:
        for u in (0.16, 0.78):
            hx, hy, hw, hh = frame.box(u, -0.012, 0.08, 0.024)
            sketch.add(Box(hx, hy, hw, hh, "soft", "film", 1.2, 2.0))
    for u, v in ((0.02, 0.035), (0.98, 0.035), (0.02, 0.965), (0.98, 0.965)):
        cx, cy, _, _ = frame.box(u, v, 0, 0)
        sketch.add(Dot(cx, cy, 3.2, "hair", "film", 1.0), Line(cx - 2, cy, cx + 2, cy, "hair"))


def _cooling(sketch: Sketch, state: BoardState, frame: _Frame) -> None:
    fx, fy, fw, fh = frame.box(0.05, 0.10, 0.03, 0.34)
    for k in range(9):
        sketch.add(Line(fx, fy + k * fh / 8, fx + fw, fy + k * fh / 8, "soft"))
    sketch.add(Box(fx, fy, fw, fh, "ink"))
    r = min(0.34 * frame.h, 0.2 * frame.w) / 2
    cx, cy = fx + fw + 8 + r, fy + fh / 2
    sketch.add(Dot(cx, cy, r, "ink", "", 1.2), Dot(cx, cy, r * 0.28, "ink", "", 1.2))
    for k in range(7):
        sketch.items.append(_blade(cx, cy, r, k))
    px, py, pw, ph = frame.box(0.365, 0.10, 0.15, 0.32)
    side = min(pw, ph)
    pipe = cy - 4
    sketch.add(Line(fx + fw, fy + 5, px + side * 0.5, fy + 5, "ink", 1.0),
               Line(fx + fw, fy + 11, px + side * 0.5, fy + 11, "ink", 1.0))  # fmt: skip
    sketch.add(Line(px + side * 0.5, fy + 5, px + side * 0.5, pipe, "ink", 1.0))
    planned = bool(state.services)
    top = py + ph / 2 - side / 2
    sketch.add(Box(px, top, side, side, "cool" if planned else "ink", "sheet", 1.4))
    inner = side * 0.2
    sketch.add(Box(px + inner, top + inner, side - 2 * inner, side - 2 * inner, "cool" if planned else "warm",
                   "cool_wash" if planned else "warm_wash", 1.2))  # fmt: skip
    cores = state.machine.processor.cores
    power = state.machine.processor.design_power_w
    about = [f"{cores} cores" if cores else "chip", f"{power:.0f} W" if power else ""]
    sketch.add(Text(px + side / 2, top + side + 14, ", ".join(a for a in about if a), "ink", 12, 600, "middle", True))
    words = ", ".join(state.services) if planned else "paste and fins as found"
    lx, ly, _, _ = frame.box(0.05, 0.525, 0, 0)
    sketch.add(Text(lx, ly, words, "cool" if planned else "warm", 12, 500))
    if planned:
        sketch.extend(verdict_shape(Level.FITS, px + side / 2 - 11, top + side / 2 - 11, 22))
    if state.selected == COOLING:
        sketch.add(Box(fx - 5, fy - 6, px + side + 8 - fx, fh + 12, "cool", "", 1.2, 3.0, (4.0, 3.0)))
    because = Because(
        "Chip, paste, fins and fan", "heat path", "Heat leaves the chip through paste and plate, the fins and the air. "
        "Cleaning and new paste are services; the before-run says how much is to be gained.",
        (Fact("processor", state.machine.processor.name or "not recorded", state.machine.origin("processor.name")),
         Fact("design power", f"{power:.0f} W" if power else "not recorded", Origin.CATALOGUE)),
    )  # fmt: skip
    sketch.regions.append(Region(COOLING, fx - 4, fy - 4, px + side + 6 - fx, fh + 8, "cooling", because))


def _blade(cx: float, cy: float, r: float, k: int) -> Line:
    import math

    a = 2 * math.pi * k / 7
    b = a + 0.5
    return Line(cx + 0.3 * r * math.cos(a), cy + 0.3 * r * math.sin(a), cx + 0.9 * r * math.cos(b),
                cy + 0.9 * r * math.sin(b), "soft", 1.0)  # fmt: skip


def _slots(sketch: Sketch, state: BoardState, frame: _Frame) -> None:
    slots = state.machine.slots
    if not slots:
        return
    each = 0.46 / len(slots)
    for index, slot in enumerate(slots):
        x, y, w, h = frame.box(0.555, 0.03 + index * each, 0.41, each)
        _slot(sketch, state, slot, x, y + 16, w, min(h - 24, 46.0))
    rate = bandwidth_mb_s(state.machine, state.planned)
    if rate:
        active = len({s.channel for s in slots if s.id in state.planned.parts})
        x, y, w, _ = frame.box(0.555, 0.525, 0.41, 0)
        text = f"{active} channel{'s' if active != 1 else ''}, {rate / 1000:.1f} GB/s peak"
        sketch.add(Text(x + w, y, text, "soft", 12, 400, "end"))


def _slot(sketch: Sketch, state: BoardState, slot: ModuleSlot, x: float, y: float, w: float, h: float) -> None:
    part, today = state.planned.parts.get(slot.id), state.machine.configuration().parts.get(slot.id)
    notch = x + w * 0.42
    foot = y + h
    sketch.add(path((x, foot), (x, y), (x + w, y), (x + w, foot), (notch + 5, foot), (notch + 5, foot - 5),
                    (notch - 5, foot - 5), (notch - 5, foot), (x, foot), role="ink", width=1.2))  # fmt: skip
    for k in range(int(w / 7) - 1):
        px = x + 6 + k * 7
        if abs(px - notch) > 10:
            sketch.add(Line(px, foot, px, foot + 4, "soft"))
    _content(sketch, state, slot.id, slot.label, part, today, (x, y, w, h), _module_words)
    facts = (
        Fact("form", f"{slot.form}, {slot.generation}", state.machine.origin("slots")),
        Fact("takes up to", gib(slot.max_bytes) if slot.max_bytes else "not recorded", state.machine.origin("slots")),
        Fact("channel", str(slot.channel + 1), state.machine.origin("slots")),
        Fact("today", part_words(today), state.machine.origin("slots")),
    )
    because = Because(slot.label, "place", "What the place takes and what sits in it.", facts)
    sketch.regions.append(Region(slot.id, x, y, w, h + 6, f"{slot.label}: {part_words(part)}", because))


def _bays(sketch: Sketch, state: BoardState, frame: _Frame) -> None:
    bays = state.machine.bays
    for index, bay in enumerate(bays):
        right = index % 2 == 0
        row = index // 2
        rows = (len(bays) + 1) // 2
        x, y, w, h = frame.box(0.555 if right else 0.05, 0.63 + row * 0.34 / rows, 0.41, 0.27 / rows)
        _bay(sketch, state, bay, x, y, w, h)


def _bay(sketch: Sketch, state: BoardState, bay: DriveBay, x: float, y: float, w: float, h: float) -> None:
    part, today = state.planned.parts.get(bay.id), state.machine.configuration().parts.get(bay.id)
    dash = () if part is not None else (5.0, 4.0)
    sketch.add(Box(x, y, w, h, "ink" if part is not None else "soft", "", 1.2, 2.0, dash))
    _content(sketch, state, bay.id, bay.label, part, today, (x, y, w, h), _drive_words)
    link = f"{bay.interface} {bay.link_mb_s:.0f} MB/s" if bay.link_mb_s else f"{bay.interface}, link not read"
    height = f"{bay.form}" + (f", {bay.max_height_mm:g} mm" if bay.max_height_mm and "mm" not in bay.form else "")
    sketch.add(Text(x, y + h + 14, f"{link} · {height}", "soft", 11, 400, "start", True))
    facts = (
        Fact("interface", bay.interface, state.machine.origin("bays")),
        Fact("link after coding", f"{bay.link_mb_s:.0f} MB/s" if bay.link_mb_s else "not read",
             state.machine.origin("bays")),
        Fact("form, height", f"{bay.form}, {bay.max_height_mm:g} mm" if bay.max_height_mm else str(bay.form),
             state.machine.origin("bays")),
        Fact("today", part_words(today), state.machine.origin("bays")),
    )  # fmt: skip
    because = Because(bay.label, "place", "What the place takes and what sits in it.", facts)
    sketch.regions.append(Region(bay.id, x, y, w, h, f"{bay.label}: {part_words(part)}", because))


def _content(
    sketch: Sketch, state: BoardState, place_id: str, label: str, part: Part | None, today: Part | None,
    where: tuple[float, float, float, float], words: object,
) -> None:  # fmt: skip
    x, y, w, h = where
    changed = part != today
    inset = 5.0
    if part is not None:
        fill = "cool" if changed else "sheet"
        sketch.add(Box(x + inset, y + inset, w - 2 * inset, h - 2 * inset - 2, "cool" if changed else "soft", fill))
    ink = "on_cool" if changed and part is not None else "ink" if part is not None else "soft"
    assert callable(words)
    title = words(part) if part is not None else "free"
    sketch.add(Text(x + inset + 8, y + h / 2 + 4, title, ink, 13, 600 if part is not None else 400, condensed=True))
    sketch.add(Text(x, y - 4, label, "soft", 11))
    if changed and today is not None:
        sketch.add(Text(x + w, y - 4, f"out: {words(today)}", "warm", 11, 500, "end", True))
    level = state.levels.get(place_id)
    if level is not None:
        sketch.add(Box(x + w - 38, y + h / 2 - 14, 26, 26, "hair", "sheet", 1.0, 3.0))
        sketch.extend(verdict_shape(level, x + w - 36, y + h / 2 - 12, 22))
    if state.selected == place_id:
        sketch.add(Box(x - 6, y - 19, w + 12, h + 27, "cool", "", 1.2, 3.0, (4.0, 3.0)))


def part_words(part: Part | None) -> str:
    """A part in a few words."""
    if part is None:
        return "free"
    return _module_words(part) if isinstance(part, MemoryModule) else _drive_words(part)


def _module_words(part: Part) -> str:
    assert isinstance(part, MemoryModule)
    low = "L" if part.generation == "DDR3" and 1.35 in part.volts else ""
    return f"{gib(part.size_bytes)} {part.generation}{low}-{part.speed_mts}"


def _drive_words(part: Part) -> str:
    assert isinstance(part, Drive)
    return f"{drive_size(part.size_bytes)} {'disk' if part.rotational else 'SSD'}"
