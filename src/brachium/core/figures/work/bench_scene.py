"""A step beside the machine: a copy from drive to drive, an image, a stick, an erasure, what is to be had ready."""

from __future__ import annotations

from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, phrase
from brachium.core.base.units import drive_size, minutes
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Sketch, Text
from brachium.core.figures.base.placing import scaled
from brachium.core.figures.base.text_width import fitting_size
from brachium.core.figures.base.writing import Face, write
from brachium.core.figures.work.marks import arrow, caption
from brachium.core.figures.work.scene import Scene
from brachium.core.machine.parts import Drive
from brachium.core.record.drive_records import Way

DRIVE_H = 84.0
THINGS = (Face(16, 500), Face(14, 500), Face(12, 500, condensed=True), Face(10, 500, condensed=True))


def bench(scene: Scene, width: float, height: float) -> Drawing:
    """What lies on the bench, as large as there is room."""
    factor = max(min(width / 390.0, height / 250.0), 0.5)
    return scaled(_drawn(scene, width / factor, height / factor), factor)


def _drawn(scene: Scene, width: float, height: float) -> Drawing:
    sketch = Sketch(width, height)
    caption(sketch, "on the bench")
    step, move = scene.step, scene.move
    if step.id == "clone" and move is not None:
        old = "the image" if move.way is Way.IMAGE else move.old.name if move.old is not None else "the old drive"
        under = phrase(
            "{used_bytes} in use{which}",
            used_bytes=drive_size(move.used_bytes),
            which=", assumed" if move.assumed else "",
        )
        place = lower_first(scene.machine.place_label(move.new_place))
        _from_to(
            sketch,
            (old, under),
            (move.new.name, phrase("in the end: {place}", place=place)),
            phrase("{rate_mb_s:.0f} MB/s, by {limited_by}", rate_mb_s=move.rate_mb_s, limited_by=move.limited_by),
        )
    elif step.id == "clone":
        _from_to(sketch, ("the old drive", "not named"), ("the new drive", "not named"), "copied, then read back")
    elif "image" in step.tags:
        _from_to(sketch, (_failing(scene), "sector by sector"), ("image", "on a drive with room"),
                 phrase("about {unattended_min}", unattended_min=minutes(step.unattended_min)))  # fmt: skip
    elif step.id == "stick":
        _stick(sketch)
    elif step.id.startswith("erase"):
        _from_to(sketch, (step.title.removeprefix("Erase the "), "its own number read twice"), ("nothing left", ""),
                 "cannot be taken back", "alarm")  # fmt: skip
    else:
        _ready(sketch, scene)
    return sketch.done(step.title, "what lies on the bench")


def _failing(scene: Scene) -> str:
    drives = [p.name for p in scene.machine.configuration().parts.values() if isinstance(p, Drive)]
    return drives[0] if len(drives) == 1 else "the failing drive"


def _from_to(
    sketch: Sketch, source: tuple[str, str], target: tuple[str, str], words: str, role: str = "cool"
) -> None:  # fmt: skip
    w, y = 0.39 * sketch.width, sketch.height * 0.4 - DRIVE_H / 2
    left, right = 0.01 * sketch.width, 0.99 * sketch.width - w
    _box(sketch, left, y, w, source, "ink", "sheet")
    _box(sketch, right, y, w, target, role, "cool_wash" if role == "cool" else "sheet")
    arrow(sketch, left + w + 14, y + DRIVE_H / 2, right - 14, y + DRIVE_H / 2, role)
    sketch.add(Text(sketch.width / 2, y + DRIVE_H + 44, words, role, 14, 600, "middle"))


def _box(sketch: Sketch, x: float, y: float, w: float, words: tuple[str, str], role: str, fill: str) -> None:
    """A drive: its plugs at the lower edge."""
    foot = y + DRIVE_H
    sketch.add(Box(x, y, w, DRIVE_H, role, fill, 1.8, 4), Line(x + 12, foot, x + w * 0.4, foot, role, 4.0),
               Line(x + w * 0.5, foot, x + w * 0.66, foot, role, 4.0))  # fmt: skip
    for line, (said, weight) in enumerate(zip(words, (600, 400), strict=True)):
        size = fitting_size(said, w - 20, (15.0 - 2 * line, 13.0, 11.0, 9.0), weight, True)
        sketch.add(Text(x + 12, y + 34 + 24 * line, said, "soft" if line else "ink", size, weight, condensed=True))


def _stick(sketch: Sketch) -> None:
    x, y, w, h = 0.16 * sketch.width, sketch.height * 0.36 - 34, 0.52 * sketch.width, 68.0
    sketch.add(Box(x, y, w, h, "cool", "cool_wash", 2.2, 8), Box(x + w, y + 14, 58, h - 28, "cool", "sheet", 2.0),
               Dot(x + 18, y + h / 2, 5, "cool", "sheet"))  # fmt: skip
    for k in (0.36, 0.64):
        sketch.add(Box(x + w + 34, y + h * k - 4, 12, 8, "cool", "", 1.2))
    sketch.add(Text(x + 40, y + 30, "8 GB or more, FAT32", "ink", 15, 600), Text(x + 40, y + 52, "named after the "
               "system", "soft", 13))  # fmt: skip
    for k, line in enumerate(("checksum compared", "started once on this machine", "network, licence key: noted")):
        ty = y + h + 42 + 26 * k
        sketch.add(Box(x, ty - 13, 15, 15, "cool", "", 1.6, 2), Text(x + 24, ty, line, "ink", 14, 500))


def _ready(sketch: Sketch, scene: Scene) -> None:
    """What is to be had: a tray with one compartment a thing."""
    listed = say(scene.step.detail).split(". ", maxsplit=1)[0] if scene.step.id == "ready" else ""
    things = [t.strip() for t in (listed or say(scene.step.title).partition(": ")[2]).split(";")]
    each, y = 58.0, max(sketch.height * 0.42 - 29.0 * len(things), 40.0)
    x, w = 0.1 * sketch.width, 0.8 * sketch.width
    for k, thing in enumerate(things[:5]):
        top = y + k * each
        sketch.add(Box(x, top, w, each - 10, "cool", "sheet", 1.6, 3),
                   Box(x + 14, top + 15, 18, 18, "cool", "", 1.8, 2))  # fmt: skip
        face = next((f for f in THINGS if f.lines(thing, w - 56) <= 2), THINGS[-1])
        lines = face.lines(thing, w - 56)
        write(sketch, x + 46, top + (each - 10 - lines * face.step) / 2, w - 56, thing, face)
