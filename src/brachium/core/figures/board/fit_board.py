"""Fit board: the machine's places in proportion, what sits in them, what is planned, and the link between.

An own line drawing of the kind of machine; places are regions that can be chosen.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from brachium.core.base.text import counted, phrase
from brachium.core.base.units import gib
from brachium.core.base.why import Because, Fact
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.text_width import fitting_size, text_width
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.figures.board.fit_board_cooling import draw_cooling
from brachium.core.figures.board.fit_board_fittings import draw_fittings, fittings_height
from brachium.core.figures.board.fit_board_moves import OUT, comes_from, goes_to, source_of
from brachium.core.figures.board.fit_board_state import BoardState as BoardState
from brachium.core.figures.board.fit_board_state import Frame
from brachium.core.machine.facts.place_facts import COOLING as COOLING
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import DriveBay, Lead, LeadKind, Machine, ModuleSlot
from brachium.core.machine.memory_rates import bandwidth_mb_s, channel_sizes
from brachium.core.machine.part_words import short_words
from brachium.core.machine.parts import Part
from brachium.core.machine.platform import CardSlot
from brachium.core.machine.typical_places import is_typical

SPLIT = 0.565  # of the unit drawing: cooling and memory above, bays, cards and leads below
LEADS_IN_ROW, LEAD_ROW, SLOT_ROW, BAY_ROW = 4, 34.0, 23.0, 27.0

LINK_W = 66.0  # what the link of a flat place takes at its right [px]


def fit_board(state: BoardState, width: float, height: float) -> Drawing:
    """Draw the board; the region ids are the place ids, and "cooling" for chip, fan and fins."""
    sketch = Sketch(width, height)
    whole = Frame(8, 8, width - 16, height - 16)
    upper = max(_upper(state.machine), min(SPLIT * whole.h, whole.h - _lower(state.machine)))
    frame = Frame(8, 8, width - 16, upper / SPLIT)
    _case(sketch, whole, state.machine.kind)
    draw_cooling(sketch, state, frame)
    _slots(sketch, state, frame)
    frame = whole
    _bays(sketch, state, whole, upper)
    _small(sketch, state, frame)
    _leads(sketch, state, frame)
    return sketch.done("Fit board", "what is in the machine, what could be, and the link between")


def _case(sketch: Sketch, frame: Frame, kind: MachineKind) -> None:
    x, y, w, h = frame.box(0, 0, 1, 1)
    sketch.add(Box(x, y, w, h, "soft", "sheet", 1.2, 10.0 if kind.build is MachineKind.LAPTOP else 2.0))
    if kind.build is MachineKind.LAPTOP:
        for u in (0.16, 0.78):
            hx, hy, hw, hh = frame.box(u, -0.012, 0.08, 0.024)
            sketch.add(Box(hx, hy, hw, hh, "soft", "film", 1.2, 2.0))
    for u, v in ((0.02, 0.035), (0.98, 0.035), (0.02, 0.965), (0.98, 0.965)):
        cx, cy, _, _ = frame.box(u, v, 0, 0)
        sketch.add(Dot(cx, cy, 3.2, "hair", "film", 1.0), Line(cx - 2, cy, cx + 2, cy, "hair"))


@dataclass(frozen=True)
class _Spot:
    """Where a place is drawn. `style`: "full" has its label above and a line beneath, "low" only the label, "flat" has
    the label before the part, for machines with many places."""

    x: float
    y: float
    w: float
    h: float
    style: str = "full"


def _slots(sketch: Sketch, state: BoardState, frame: Frame) -> None:
    slots = state.machine.slots
    if not slots:
        return
    x, y, w, h = frame.box(0.555, 0.03, 0.41, 0.45)
    each = h / len(slots)
    for index, slot in enumerate(slots):
        top = y + index * each
        if each >= 44:
            spot = _Spot(x, top + 16, w, min(each - 24, 46.0))
        else:
            spot = _Spot(x, top + 2, w, min(each - 7, 24.0), "flat")
        _slot(sketch, state, slot, spot)
    rate = bandwidth_mb_s(state.machine, state.planned)
    if rate:
        active = len(channel_sizes(state.machine, state.planned) or ())
        x, y, w, _ = frame.box(0.555, 0.525, 0.41, 0)
        text = counted(
            active,
            "{count} channel, {rate:.1f} GB/s peak",
            "{count} channels, {rate:.1f} GB/s peak",
            rate=rate / 1000,
        )
        sketch.add(Text(x + w, y, text, "soft", 12, 400, "end"))


def _slot(sketch: Sketch, state: BoardState, slot: ModuleSlot, spot: _Spot) -> None:
    part, today = state.planned.parts.get(slot.id), state.machine.configuration().parts.get(slot.id)
    x, y, w, h = spot.x, spot.y, spot.w, spot.h
    notch = x + w * 0.42
    foot = y + h
    sketch.add(path((x, foot), (x, y), (x + w, y), (x + w, foot), (notch + 5, foot), (notch + 5, foot - 5),
                    (notch - 5, foot - 5), (notch - 5, foot), (x, foot), role="ink", width=1.2))  # fmt: skip
    for k in range(int(w / 7) - 1):
        px = x + 6 + k * 7
        if abs(px - notch) > 10:
            sketch.add(Line(px, foot, px, foot + (4 if spot.style == "full" else 2), "soft"))
    _content(sketch, state, slot.id, slot.label, part, today, spot, short_words)
    origin = state.machine.origin(f"slots.{slot.id}")
    facts = (
        Fact("form", phrase("{form}, {generation}", form=slot.form, generation=slot.generation), origin),
        Fact(
            "takes up to",
            gib(slot.max_bytes) if slot.max_bytes else "not recorded",
            origin,
        ),
        Fact(
            "channel",
            "not recorded" if slot.channel is None else str(slot.channel + 1),
            origin,
        ),
        Fact("today", part_words(today), origin),
    )
    because = Because(slot.label, "place", "What goes in and what is in it.", facts)
    sketch.regions.append(
        Region(
            slot.id,
            x,
            y,
            w,
            h + 4,
            phrase("{slot}: {part_words}", slot=slot.label, part_words=part_words(part)),
            because,
        )
    )


def _bays(sketch: Sketch, state: BoardState, frame: Frame, upper: float) -> None:
    """Drive bays and card slots in two columns."""
    places: list[DriveBay | CardSlot] = [*state.machine.bays, *state.machine.platform.cards]
    rows = (len(places) + 1) // 2
    top, height = frame.y + upper, frame.h - upper
    each = (height - _edge_height(state.machine) - 14.0) / max(rows, 1)
    style = "full" if each >= 70 else "low" if each >= 46 else "flat"
    above, beneath = {"full": (16, 18), "low": (16, 4), "flat": (4, 3)}[style]
    for index, place in enumerate(places):
        x, _, w, _ = frame.box(0.555 if index % 2 == 0 else 0.05, 0, 0.41, 0)
        y = top + (index // 2) * each
        spot = _Spot(x, y + above, w, min(each - above - beneath, 0.27 * frame.h), style)
        if isinstance(place, CardSlot):
            _card(sketch, state, place, spot)
        else:
            _bay(sketch, state, place, spot)


def _bay(sketch: Sketch, state: BoardState, bay: DriveBay, spot: _Spot) -> None:
    part, today = state.planned.parts.get(bay.id), state.machine.configuration().parts.get(bay.id)
    dash = () if part is not None else (5.0, 4.0)
    x, y, w, h = spot.x, spot.y, spot.w, spot.h
    sketch.add(Box(x, y, w, h, "ink" if part is not None else "soft", "", 1.2, 2.0, dash))
    _content(sketch, state, bay.id, bay.label, part, today, spot, short_words)
    link = (
        phrase("{interface} {link_mb_s:.0f} MB/s", interface=bay.interface, link_mb_s=bay.link_mb_s)
        if bay.link_mb_s
        else phrase("{interface}, link not read", interface=bay.interface)
    )
    height = phrase("{form}", form=bay.form) + (
        phrase(", {max_height_mm:g} mm", max_height_mm=bay.max_height_mm)
        if bay.max_height_mm and "mm" not in bay.form
        else ""
    )
    if spot.style == "full":
        sketch.add(
            Text(x, y + h + 14, phrase("{link} · {height}", link=link, height=height), "soft", 11, 400, "start", True)
        )
    if spot.style == "flat" and bay.link_mb_s and bay.id not in state.levels:
        sketch.add(
            Text(
                x + w - 8,
                y + h / 2 + 4,
                phrase("{link_mb_s:.0f} MB/s", link_mb_s=bay.link_mb_s),
                "soft",
                10,
                400,
                "end",
                True,
            )
        )
    facts = (
        Fact("interface", bay.interface, state.machine.origin("bays")),
        Fact(
            "link after coding",
            phrase("{link_mb_s:.0f} MB/s", link_mb_s=bay.link_mb_s) if bay.link_mb_s else "not read",
            state.machine.origin("bays"),
        ),
        Fact(
            "form, height",
            phrase("{form}, {max_height_mm:g} mm", form=bay.form, max_height_mm=bay.max_height_mm)
            if bay.max_height_mm
            else str(bay.form),
            state.machine.origin("bays"),
        ),
        Fact("today", part_words(today), state.machine.origin("bays")),
    )
    because = Because(bay.label, "place", "What goes in and what is in it.", facts)
    sketch.regions.append(
        Region(bay.id, x, y, w, h, phrase("{bay}: {part_words}", bay=bay.label, part_words=part_words(part)), because)
    )


def _card(sketch: Sketch, state: BoardState, slot: CardSlot, spot: _Spot) -> None:
    """A card slot: its bracket at the left, contacts along the foot as many as it has lanes."""
    part, today = state.planned.parts.get(slot.id), state.machine.configuration().parts.get(slot.id)
    x, y, w, h = spot.x, spot.y, spot.w, spot.h
    dash = () if part is not None else (5.0, 4.0)
    sketch.add(Line(x, y - 2, x, y + h + 2, "ink", 2.4), Line(x, y - 2, x + 7, y - 2, "ink", 2.4))
    sketch.add(Box(x + 4, y, w - 4, h, "ink" if part is not None else "soft", "", 1.2, 0.0, dash))
    reach = min(0.12 + 0.05 * (slot.lanes or 16), 0.92) * w
    for k in range(max(int(reach / 7), 2)):
        sketch.add(Line(x + 14 + k * 6, y + h, x + 14 + k * 6, y + h + 3, "soft"))
    _content(sketch, state, slot.id, slot.label, part, today, spot, short_words)
    about = (phrase("x{lanes}", lanes=slot.lanes) if slot.lanes else "lanes not recorded") + (
        phrase(", gen {generation}", generation=slot.generation) if slot.generation else ""
    )
    room = phrase("{length_mm:g} mm", length_mm=slot.length_mm) if slot.length_mm else "length not recorded"
    if spot.style == "full":
        sketch.add(
            Text(x, y + h + 15, phrase("{about} · {room}", about=about, room=room), "soft", 11, 400, "start", True)
        )
    origin = state.machine.origin("platform.cards")
    facts = (Fact("connector", about, origin), Fact("room", room, origin), Fact("today", part_words(today), origin))
    because = Because(slot.label, "place", "What goes in and what is in it.", facts)
    sketch.regions.append(
        Region(
            slot.id, x, y, w, h, phrase("{slot}: {part_words}", slot=slot.label, part_words=part_words(part)), because
        )
    )


def _small(sketch: Sketch, state: BoardState, frame: Frame) -> None:
    x, _, w, _ = frame.box(0.05, 0, 0.915, 0)
    top = frame.y + frame.h - _edge_height(state.machine) + 2.0
    draw_fittings(sketch, state.machine, state.planned, state.levels, state.selected, x, top, w)


def _edge_height(machine: Machine) -> float:
    """Leads and small places along the lower edge."""
    return _leads_height(machine) + fittings_height(machine)


def _content(
    sketch: Sketch, state: BoardState, place_id: str, label: str, part: Part | None, today: Part | None,
    spot: _Spot, words: Callable[[Part], str],
) -> None:  # fmt: skip
    x, y, w, h = spot.x, spot.y, spot.w, spot.h
    changed = part != today
    flat = spot.style == "flat"
    inset = 3.0 if flat else 5.0
    if part is not None:
        role, fill = ("cool", "cool") if changed else ("soft", "sheet")
        sketch.add(Box(x + inset, y + inset, w - 2 * inset, h - 2 * inset - (0 if flat else 2), role, fill))
    ink, weight = ("soft", 400) if part is None else ("on_cool" if changed else "ink", 600)
    line, size = _title(state, place_id, words, flat), 11.0 if h < 20 else 13.0
    room = _room(state, place_id, spot, inset)
    if flat:
        named = phrase("{short}  {title}", short=_short(label), title=line)
        line = named if text_width(named, size, weight, True) <= room else line
    size = fitting_size(line, room, (size, 11, 10), weight, True)
    sketch.add(Text(x + inset + 8, y + h / 2 + 4, line, ink, size, weight, condensed=True))
    if not flat:
        _above(sketch, state, place_id, label, words(today) if today is not None else "", spot)
    _marks(sketch, state, place_id, spot)


def _room(state: BoardState, place_id: str, spot: _Spot, inset: float) -> float:
    """What the words in a place may take [px]; the link of a flat bay stands at its right."""
    linked = spot.style == "flat" and any(b.id == place_id and b.link_mb_s for b in state.machine.bays)
    return spot.w - 2 * inset - (LINK_W if linked else 16.0)


def _above(sketch: Sketch, state: BoardState, place_id: str, label: str, today: str, spot: _Spot) -> None:
    """The name of a place over it and, at its right, what goes out or where it comes from."""
    going = goes_to(state, place_id)
    shown = phrase("out: {words}", words=today) if today and going == OUT else going or comes_from(state, place_id)
    left = spot.w - (text_width(shown, 11, 500, True) + 8.0 if shown else 0.0)
    named = label if text_width(label, 11) <= left else _short(label)
    sketch.add(Text(spot.x, spot.y - 4, named, "soft", 11, condensed=named is not label))
    if shown:
        role = "warm" if going == OUT else "cool"
        sketch.add(Text(spot.x + spot.w, spot.y - 4, shown, role, 11, 500, "end", True))


def _title(state: BoardState, place_id: str, words: Callable[[Part], str], moves: bool = False) -> str:
    """What will be in a place; with `moves` also where it comes from."""
    part = state.planned.parts.get(place_id)
    if part is None:
        return "usual, to confirm" if is_typical(state.machine, place_id) else "free"
    source = source_of(state, place_id) if moves else ""
    return words(part) + (phrase(", from {short}", short=_short(state.machine.place_label(source))) if source else "")


def _marks(sketch: Sketch, state: BoardState, place_id: str, spot: _Spot) -> None:
    """The verdict of a place and, where it is chosen, the frame around it."""
    x, y, w, h = spot.x, spot.y, spot.w, spot.h
    level = state.levels.get(place_id)
    if level is not None:
        side = min(26.0, h - 4)
        sketch.add(Box(x + w - side - 12, y + (h - side) / 2, side, side, "hair", "sheet", 1.0, 3.0))
        sketch.extend(verdict_shape(level, x + w - side - 10, y + (h - side) / 2 + 2, side - 4))
    if state.selected == place_id:
        top = 3 if spot.style == "flat" else 19
        sketch.add(Box(x - 6, y - top, w + 12, h + top + 4, "cool", "", 1.2, 3.0, (4.0, 3.0)))


def _short(label: str) -> str:
    """The number of a memory slot, "Bay 2", "Card 1"; else its first word."""
    words = label.split()
    if not words[-1].isdigit():
        return words[0]
    kind = {"Drive": "Bay {number}", "Card": "Card {number}"}.get(words[0])
    return phrase(kind, number=words[-1]) if kind else words[-1]


def _leads(sketch: Sketch, state: BoardState, frame: Frame) -> None:
    """Plugs along the lower edge, each with what it feeds; a free one is dashed."""
    leads = state.machine.leads
    if not leads:
        return
    x, _, w, _ = frame.box(0.05, 0, 0.915, 0)
    first = frame.y + frame.h - _leads_height(state.machine)
    in_row = min(len(leads), LEADS_IN_ROW)
    each, tall = min(w / in_row, 150.0), 24.0
    for index, lead in enumerate(leads):
        left, y = x + (index % LEADS_IN_ROW) * each, first + (index // LEADS_IN_ROW) * LEAD_ROW
        role = "ink" if lead.feeds else "soft"
        sketch.add(
            Box(left, y, each - 8, tall, role, "", 1.2, 2.0, () if lead.feeds else (4.0, 3.0)),
            Line(left + 8, y - 6, left + 8, y, role, 1.6),
            Line(left + 14, y - 6, left + 14, y, role, 1.6),
        )
        feeds = state.machine.place_label(lead.feeds) if lead.feeds else "free"
        words = phrase("{plug}: {short}", plug=_plug(lead), short=feeds)
        if text_width(words, 11, 500, True) > each - 18.0 and lead.feeds:
            words = phrase("{plug}: {short}", plug=_plug(lead), short=_short(feeds))
        size = fitting_size(words, each - 16.0, (11, 10, 9), 500, True)
        sketch.add(Text(left + 6, y + tall / 2 + 4, words, role, size, 500, condensed=True))
        if state.selected == lead.id:
            sketch.add(Box(left - 4, y - 9, each, tall + 13, "cool", "", 1.2, 3.0, (4.0, 3.0)))
        facts = (
            Fact("plug", lead.kind, state.machine.origin("leads")),
            Fact("feeds", feeds, state.machine.origin("leads")),
        )
        text = "A plug of the power supply. A drive that is added needs a free one; cables are never re-wired."
        because = Because(lead.label, "lead", text, facts)
        sketch.regions.append(
            Region(lead.id, left, y, each - 8, tall, phrase("{lead}: {feeds}", lead=lead.label, feeds=feeds), because)
        )


def _leads_height(machine: Machine) -> float:
    rows = -(-len(machine.leads) // LEADS_IN_ROW)
    return rows * LEAD_ROW + 2.0 if rows else 0.0


def board_height(machine: Machine) -> float:
    """Height that all places of a machine need to stay legible [px]."""
    return max(220.0, _upper(machine) + _lower(machine)) + 16.0


def _upper(machine: Machine) -> float:
    """Least height of the part with cooling and memory [px]."""
    return max(SPLIT * SLOT_ROW * len(machine.slots) / 0.45, 150.0)


def _lower(machine: Machine) -> float:
    """Least height of the part with bays, cards and the lower edge [px]."""
    rows = (len(machine.bays) + len(machine.platform.cards) + 1) // 2
    return BAY_ROW * rows + _edge_height(machine) + 14.0


def _plug(lead: Lead) -> str:
    """The kind of plug in a word."""
    return "SATA" if lead.kind is LeadKind.SATA else lead.kind.split()[0]


def part_words(part: Part | None) -> str:
    """A part in a few words."""
    return "free" if part is None else short_words(part)
