"""A step at the closed machine or its cover: mains, power button, screws with their heads, how the cover moves."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from brachium.core.base.text import joined, phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Line, Sketch, Text, path
from brachium.core.figures.work.marks import arrow, caption, note_at, screw
from brachium.core.figures.work.scene import Scene
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE, MachineKind
from brachium.core.machine.platform import HeldBy
from brachium.core.work.layers import GLASS, STAND, TRIM

MOST_DOTS = 24
SEAL = "seal"
EDGES = {HeldBy.CLIPS: "clips all round", HeldBy.GLUE: "glued all round", HeldBy.SLIDE: "slides in its rails"}


@dataclass(frozen=True)
class Outline:
    """Where things are on a drawn machine: its cover as a box, the power button, where the mains lead goes in."""

    cover: tuple[float, float, float, float]
    button: tuple[float, float]
    inlet: tuple[float, float]


def outside(scene: Scene, width: float, height: float) -> Drawing:
    """The machine unplugged, or its cover coming off or going back."""
    sketch = Sketch(width, height)
    if scene.step.id.startswith("power-off") or scene.step.id in ("adapter", "battery"):
        _unplugged(sketch, scene)
    elif scene.layer == STAND:
        _stand(sketch, scene)
    elif scene.layer in (GLASS, TRIM) or scene.step.id == SEAL:
        _edge(sketch, scene)
    else:
        _cover(sketch, scene)
    return sketch.done(scene.step.title, scene.step.motion or "the closed machine, unplugged")


def _unplugged(sketch: Sketch, scene: Scene) -> None:
    """Plug out, battery out where it comes out from outside, the button held."""
    kind, fitting = scene.machine.kind, scene.step.id in ("adapter", "battery")
    at = _standing(sketch, kind)
    caption(sketch, "closed, everything off" if not fitting else "closed")
    x, y = at.inlet
    word = "adapter" if kind in ON_ADAPTER else "mains plug"
    if scene.step.id != "battery":
        gap = 46.0 if not fitting else 18.0
        sketch.add(path((x + gap + 26, y), (x + gap + 60, y), (x + gap + 84, y + 40), role="cool", width=2.2),
                   Box(x + gap, y - 9, 26, 18, "cool", "cool_wash", 2.0, 3))  # fmt: skip
        near, far = (x + 6, y - 20), (x + gap + 22, y - 20)
        arrow(sketch, *(far if fitting else near), *(near if fitting else far))
        note_at(
            sketch,
            x + 4,
            y - 40,
            phrase("{word} {which}", word=word, which="in" if fitting else "out"),
            (x + gap + 13, y - 9),
        )
    if not fitting:
        bx, by = at.button
        sketch.add(Dot(bx, by, 11, "cool", "cool_wash", 2.4), Line(bx, by - 6, bx, by, "cool", 2.2))
        left = bx < sketch.width / 2
        sketch.add(Text(bx + (20 if left else -20), by + 5, "hold it for 10 s", "ink", 13, 600,
                        "start" if left else "end"))  # fmt: skip
    outside_cell = kind in PORTABLE and scene.machine.platform.power.battery_inside is False
    if outside_cell or scene.step.id == "battery":
        cx, cy, cw, ch = at.cover
        sketch.add(Box(cx + cw * 0.25, cy + ch - 6, cw * 0.5, 18, "cool", "cool_wash", 2.2, 2))
        arrow(sketch, cx + cw * 0.5, cy + ch + 16, cx + cw * 0.5, cy + ch + 44)
        note_at(sketch, 6, cy + ch + 18, "battery out", (cx + cw * 0.25, cy + ch + 4))


def _standing(sketch: Sketch, kind: MachineKind) -> Outline:
    """The closed machine in the middle, by its kind."""
    w, h = sketch.width, sketch.height
    return _OUTLINES.get(kind.build, _case)(sketch, w, h) if kind is not MachineKind.TABLET else _flat(sketch, w, h)


def _case(sketch: Sketch, w: float, h: float, tall: bool = True) -> Outline:
    """A case from its side: front strip at the left, back with its outlets at the right."""
    cw, ch = (min(0.46 * w, 0.62 * h), 0.76 * h) if tall else (0.62 * w, 0.34 * h)
    x, y = (w - cw) / 2 - 30, (h - ch) / 2 + 8
    sketch.add(Box(x, y, cw, ch, "ink", "sheet", 1.6, 3), Line(x + 26, y, x + 26, y + ch, "soft"),
               Line(x + cw - 16, y, x + cw - 16, y + ch, "soft"))  # fmt: skip
    for k in range(4):
        sketch.add(Line(x + 7, y + ch * 0.5 + 8 * k, x + 19, y + ch * 0.5 + 8 * k, "soft"))
    for px in (x + 14, x + cw - 20):
        sketch.add(Box(px, y + ch, 14, 5, "soft"))
    inlet = y + ch * (0.86 if tall else 0.62)
    return Outline((x + 26, y, cw - 42, ch), (x + 13, y + 20), (x + cw, inlet))


def _low_case(sketch: Sketch, w: float, h: float) -> Outline:
    return _case(sketch, w, h, False)


def _laptop(sketch: Sketch, w: float, h: float) -> Outline:
    """Open, from above."""
    dw, dh = min(0.6 * w, 1.5 * 0.45 * h), 0.42 * h
    x, y = (w - dw) / 2 - 30, 0.1 * h
    sketch.add(Box(x + 10, y, dw - 20, dh * 0.92, "ink", "sheet", 1.6, 6), Box(x + 20, y + 9, dw - 40, dh * 0.92 - 18,
               "hair"), Box(x, y + dh, dw, dh, "ink", "sheet", 1.6, 8))  # fmt: skip
    kx, ky, kw, kh = x + 24, y + dh + 26, dw - 48, dh * 0.42
    sketch.add(Box(kx, ky, kw, kh, "hair"))
    for row in range(1, 4):
        sketch.add(Line(kx, ky + row * kh / 4, kx + kw, ky + row * kh / 4, "grid"))
    for column in range(1, 12):
        sketch.add(Line(kx + column * kw / 12, ky, kx + column * kw / 12, ky + kh, "grid"))
    sketch.add(Box(x + dw * 0.38, y + dh * 1.74, dw * 0.24, dh * 0.2, "soft", "", 1.0, 2))
    return Outline((x, y + dh, dw, dh), (x + dw - 24, y + dh + 13), (x + dw, y + dh * 1.3))


def _flat(sketch: Sketch, w: float, h: float) -> Outline:
    """A tablet or a handheld: one slab."""
    dw, dh = min(0.6 * w, 0.95 * h), min(0.4 * w, 0.6 * h)
    x, y = (w - dw) / 2 - 30, (h - dh) / 2
    sketch.add(Box(x, y, dw, dh, "ink", "sheet", 1.6, 16), Box(x + 18, y + 16, dw - 36, dh - 32, "hair"))
    return Outline((x, y, dw, dh), (x + dw - 40, y + 8), (x + dw, y + dh * 0.7))


def _screen(sketch: Sketch, w: float, h: float) -> Outline:
    """An all-in-one from behind."""
    dw, dh = min(0.62 * w, 0.95 * h), 0.6 * h
    x, y = (w - dw) / 2 - 30, 0.1 * h
    sketch.add(Box(x, y, dw, dh, "ink", "sheet", 1.6, 6), Box(x + dw * 0.4, y + dh * 0.55, dw * 0.2, dh * 0.45 + 24,
               "ink", "sheet", 1.4, 2))  # fmt: skip
    sketch.add(Line(x + dw * 0.28, y + dh + 26, x + dw * 0.72, y + dh + 26, "ink", 2.4))
    for k in range(5):
        sketch.add(Line(x + 20, y + 18 + 6 * k, x + dw * 0.3, y + 18 + 6 * k, "soft"))
    return Outline((x, y, dw, dh), (x + dw - 18, y + dh - 14), (x + dw, y + dh * 0.78))


_OUTLINES: dict[MachineKind, Callable[[Sketch, float, float], Outline]] = {
    MachineKind.LAPTOP: _laptop, MachineKind.HANDHELD: _flat, MachineKind.ALL_IN_ONE: _screen,
    MachineKind.SMALL_DESKTOP: _low_case, MachineKind.TOWER: _case,
}  # fmt: skip


def _stand(sketch: Sketch, scene: Scene) -> None:
    """An all-in-one from behind, its stand lit."""
    caption(sketch, "face down on a soft surface, from behind")
    w, h = sketch.width, sketch.height
    _screen(sketch, w, h)
    sw, sh, x, y = min(0.62 * w, 0.95 * h) * 0.2, 0.27 * h + 24, w / 2 - 30, 0.1 * h + 0.33 * h
    sketch.add(Hatch(x - sw / 2, y, sw, sh, "cool", 9.0), Box(x - sw / 2, y, sw, sh, "cool", "", 2.4, 2))
    ends = ((x + sw, y + sh * 0.5), (x + sw + 62, y + sh * 0.5 + 20))
    arrow(sketch, *(ends[0] if scene.comes_off else ends[1]), *(ends[1] if scene.comes_off else ends[0]))
    counted = joined(", ", (phrase("{count} × {head}", count=g.count, head=g.head) for g in scene.screws))
    sketch.add(Text(w / 2, h - 8, counted or "screws: not counted yet, count them as they come out",
                    "ink" if counted else "warm", 13, 600, "middle"))  # fmt: skip


def _edge(sketch: Sketch, scene: Scene) -> None:
    """Glass or trim: its edge lit, parted a hand's width at a time from one corner."""
    w, h = sketch.width, sketch.height
    glass = scene.layer == GLASS
    caption(sketch, "glass towards you" if glass else "the trim along the edge")
    bw, bh = min(0.66 * w, 1.6 * 0.6 * h), 0.62 * h
    x, y = (w - bw) / 2, 0.5 * h - bh / 2
    rim = 14.0
    sketch.add(Box(x, y, bw, bh, "ink", "sheet", 1.6, 8), Box(x + rim, y + rim, bw - 2 * rim, bh - 2 * rim, "ink"))
    for left, top, wide, tall in ((x, y, bw, rim), (x, y + bh - rim, bw, rim), (x, y, rim, bh),
                                  (x + bw - rim, y, rim, bh)):  # fmt: skip
        sketch.add(Hatch(left, top, wide, tall, "cool", 6.0))
    sketch.add(Box(x, y, bw, bh, "cool", "", 2.4, 8))
    for k in range(3):
        px = x + bw * (0.2 + 0.3 * k)
        sketch.add(path((px - 8, y - 20), (px + 8, y - 20), (px, y - 2), role="cool", width=2.0, closed=True))
    arrow(sketch, x + bw * 0.1, y + bh + 18, x + bw * 0.5, y + bh + 18)
    off = "warm, then thin picks: a hand's width at a time" if glass else "clip by clip from one end"
    on = "new strips all round, pressed" if glass else "clip by clip, what broke is new"
    words = "pressed down all round, an hour under a light weight" if scene.step.id == SEAL else (
        off if scene.comes_off else on)  # fmt: skip
    sketch.add(Text(w / 2, h - 6, words, "ink", 13, 600, "middle"))


def _cover(sketch: Sketch, scene: Scene) -> None:
    """The cover lifted or slid beside what it closed, its screws around it."""
    kind = scene.machine.kind
    flat = kind in PORTABLE or kind is MachineKind.ALL_IN_ONE
    caption(sketch, "from below" if kind in PORTABLE else "from behind" if flat else "from the side that opens")
    w, h = sketch.width, sketch.height
    bw, bh = (min(0.66 * w, 1.6 * 0.6 * h), 0.62 * h) if flat else (min(0.5 * w, 0.9 * h), 0.72 * h)
    x, y = (w - bw) / 2 - (0 if flat else 0.08 * w), 0.52 * h - bh / 2 + 12
    sketch.add(Box(x, y, bw, bh, "ink", "sheet", 1.6, 10 if flat else 3))
    dx, dy = (16.0, -14.0) if flat else (0.14 * w, 0.0)
    sketch.add(Hatch(x + dx, y + dy, bw, bh, "cool", 16.0), Box(x + dx, y + dy, bw, bh, "cool", "", 2.2,
               10 if flat else 3))  # fmt: skip
    out = scene.comes_off
    if flat:
        ends = ((x + bw * 0.5, y + 10), (x + bw * 0.5, max(y - 34, 22)))
    else:
        ends = ((x + bw + 8, y + bh * 0.5), (min(x + bw + dx + 46, w - 6), y + bh * 0.5))
    arrow(sketch, *(ends[0] if out else ends[1]), *(ends[1] if out else ends[0]))
    _screws(sketch, scene, x + dx, y + dy, bw, bh, flat)


def _screws(sketch: Sketch, scene: Scene, x: float, y: float, w: float, h: float, flat: bool) -> None:
    """Screws of the layer as recorded, else those that the build names; where nobody counted them, dashed."""
    held = scene.machine.platform.build.held_by
    if held in EDGES and not scene.screws:
        sketch.add(Text(sketch.width / 2, sketch.height - 8, EDGES[held], "ink", 13, 600, "middle"))
        return
    known, said = _counted(scene)
    count = min(known or (6 if flat else 2), MOST_DOTS)
    for px, py in around(count, x, y, w, h) if flat else at_back(count, x + w, y, h):
        screw(sketch, px, py, known > 0)
    words = said or "screws: not counted yet, count them as they come out"
    sketch.add(Text(sketch.width / 2, sketch.height - 8, words, "ink" if said else "warm", 13, 600, "middle"))


def _counted(scene: Scene) -> tuple[int, str]:
    """How many screws there are, and which: as they came out, else as the build names them; 0 = nobody said."""
    if scene.screws:
        said = joined(
            ", ",
            (
                phrase(
                    "{count} × {head}, {thread} × {length_mm:g} mm",
                    count=g.count,
                    head=g.head,
                    thread=g.thread,
                    length_mm=g.length_mm,
                )
                for g in scene.screws
            ),
        )
        return sum(g.count for g in scene.screws), said
    build = scene.machine.platform.build
    return (
        (build.screws, phrase("{screws} × {screw_head}", screws=build.screws, screw_head=build.screw_head or "screw"))
        if build.screws
        else (0, "")
    )


def around(count: int, x: float, y: float, w: float, h: float) -> list[tuple[float, float]]:
    """Points evenly along the edge of a box, 12 px inside it, the first at a corner."""
    x, y, w, h = x + 12, y + 12, w - 24, h - 24
    length = 2 * (w + h)
    out = []
    for k in range(count):
        d = k * length / count
        if d < w:
            out.append((x + d, y))
        elif d < w + h:
            out.append((x + w, y + d - w))
        elif d < 2 * w + h:
            out.append((x + w - (d - w - h), y + h))
        else:
            out.append((x, y + h - (d - 2 * w - h)))
    return out


def at_back(count: int, right: float, y: float, h: float) -> list[tuple[float, float]]:
    """Points down the back edge of a case."""
    return [(right - 8, y + h * (k + 1) / (count + 1)) for k in range(count)]
