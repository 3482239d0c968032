"""A step inside the machine: its fit board as it stands then, the place lit, what comes off shaded, how it moves."""

from __future__ import annotations

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Region, Sketch, Text, path
from brachium.core.figures.base.placing import beside, scaled
from brachium.core.figures.board.fit_board import board_height, fit_board
from brachium.core.figures.board.fit_board_state import BoardState
from brachium.core.figures.work.marks import caption, motion_arrow
from brachium.core.figures.work.scene import Scene
from brachium.core.machine.kinds import MachineKind

CAPTION = 20.0
SEEN = {MachineKind.LAPTOP: "seen from below", MachineKind.HANDHELD: "seen from behind",
        MachineKind.ALL_IN_ONE: "seen from behind"}  # fmt: skip
OVER = {"optical": "bays", "cage": "bays", "shroud": "cooling"}  # what a layer lies over
OFF_NAMES = {"cover": "cover", "cooler": "cooler", "cage": "cage", "board-out": "board", "shroud": "shroud",
             "optical": "optical drive"}  # fmt: skip


def inside(scene: Scene, width: float, height: float) -> Drawing:
    """Drawn at the height that all its places need, and made smaller where there is less."""
    need = board_height(scene.machine) + CAPTION
    if need <= height:
        return _drawn(scene, width, height)
    factor = max(height / need, 0.35)
    return scaled(_drawn(scene, width / factor, need), factor)


def _drawn(scene: Scene, width: float, height: float) -> Drawing:
    board = fit_board(BoardState(scene.machine, scene.later, {}, says_as_found=False), width, height - CAPTION)
    items, regions = beside(board, 0.0, CAPTION)
    sketch = Sketch(width, height, regions=regions)
    caption(
        sketch,
        phrase(
            "{what_is_off}, {seen}",
            what_is_off=_what_is_off(scene),
            seen=SEEN.get(scene.machine.kind.build, "seen from the open side"),
        ),
    )
    lit = _lit(scene, regions)
    washes = [Box(*_around(r), "", "cool_wash", 0, 3) for r in lit]
    sketch.extend([items[0], *washes, *items[1:]])  # the case lies under all, the light under what it falls on
    lit += _drawn_in(sketch, scene)
    for r in lit:
        _light(sketch, scene, r)
    if scene.step.id.startswith("look"):
        _looked_over(sketch, scene, regions)
    if scene.step.places and not lit:
        sketch.add(Text(width - 8, 14, "its position is not recorded", "warm", 12, 500, "end"))
    return sketch.done(
        scene.step.title,
        phrase("{motion} at {names}", motion=scene.step.motion or "the hands are", names=_names(lit) or "nothing"),
    )


def _drawn_in(sketch: Sketch, scene: Scene) -> list[Region]:
    """What is no place of the record: the CMOS battery on the board, the ribbon that holds the lid."""
    if scene.layer == "ribbon":
        x, w = sketch.width * 0.4, sketch.width * 0.16
        return [Region("ribbon", x, CAPTION + 6, w, 14, "ribbon of the lid")]
    if "date-cell" not in scene.step.places:
        return []
    x, y = sketch.width * 0.47, CAPTION + sketch.height * 0.42
    sketch.add(Dot(x, y, 15, "ink", "sheet", 1.6), Text(x, y + 5, "+", "ink", 14, 600, "middle"))
    return [Region("date-cell", x - 18, y - 18, 36, 36, "CMOS battery")]


def _names(lit: list[Region]) -> str:
    return joined(", ", (say(r.label).partition(":")[0] for r in lit))


def _around(r: Region) -> tuple[float, float, float, float]:
    """A little more than a place, so that its label above stays free."""
    return r.x - 4, r.y - 2, r.w + 8, r.h + 5


def _light(sketch: Sketch, scene: Scene, r: Region) -> None:
    if scene.comes_off:
        sketch.add(Hatch(r.x, r.y, r.w, r.h, "cool", 8.0))
    sketch.add(Box(*_around(r), "cool", "", 2.4, 3))
    motion_arrow(sketch, scene.step.motion, r.x, r.y, r.w, r.h)


def _looked_over(sketch: Sketch, scene: Scene, regions: list[Region]) -> None:
    """A tick box to be filled by the eye at everything that is plugged in."""
    filled = {*scene.machine.configuration().parts, "cooling", "battery"}
    for r in (r for r in regions if r.id in filled):
        x, y = r.x + r.w - 12, r.y + 8
        sketch.add(Dot(x, y, 9, "cool", "sheet", 1.8), path((x - 4, y), (x - 1, y + 4), (x + 5, y - 4), role="cool",
                   width=2.0))  # fmt: skip


def _lit(scene: Scene, regions: list[Region]) -> list[Region]:
    """Regions where the hands are: the step's places, what a layer lies over, all of the board where it moves."""
    wanted = set(scene.step.places)
    if OVER.get(scene.layer) == "bays":
        wanted |= {b.id for b in scene.machine.bays}
    elif OVER.get(scene.layer) == "cooling":
        wanted.add("cooling")
    if scene.layer == "board-out" or scene.step.id == "board":
        aside = {"battery", "adapter", "supply", *(b.id for b in scene.machine.bays)}
        wanted = {r.id for r in regions} - aside - {lead.id for lead in scene.machine.leads}
    return [r for r in regions if r.id in wanted]


def _what_is_off(scene: Scene) -> str:
    off = [OFF_NAMES[x] for x in scene.off if x in OFF_NAMES]
    said = (
        phrase("{value} off", value=joined(" and ", [joined(", ", off[:-1]), off[-1]] if len(off) > 1 else off))
        if off
        else "closed"
    )
    return phrase("{said}, battery unplugged", said=said) if "battery" in scene.off else said
