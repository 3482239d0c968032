"""What the seven stages do for a machine, in one drawing: the first page of an empty shop."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import joined, phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, path
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.figures.base.writing import Face, write
from brachium.core.fit.verdict import Level

MARK_H, GAP = 64.0, 12.0
TITLE, SAYS = Face(13, 600), Face(12, 400, "soft", True)


@dataclass(frozen=True)
class _Stage:
    title: str
    says: str


STAGES = (
    _Stage("Take in", "what it is and what is in it, from one line, a scan or logs"),
    _Stage("Measure", "heat, clock and speed before anything is opened"),
    _Stage("Find cause", "what holds it back, and the check worth its minutes"),
    _Stage("Choose", "what fits, what it brings, where to stop"),
    _Stage("Work", "step by step, with pictures, minutes and cautions"),
    _Stage("Prove", "after against before, with intervals"),
    _Stage("Hand over", "one page for the owner, one for your record"),
)


def stages_figure(width: float) -> Drawing:
    """Seven columns on one line; each has a small drawing, a title and what it does."""
    each = (width - GAP * (len(STAGES) - 1)) / len(STAGES)
    sketch = Sketch(width, 0)
    sketch.add(Line(each / 2, MARK_H / 2, width - each / 2, MARK_H / 2, "hair", 1.2))
    foot = 0.0
    for k, stage in enumerate(STAGES):
        x = k * (each + GAP)
        _mark(sketch, k, x + each / 2, MARK_H / 2)
        y = write(sketch, x, MARK_H + 6, each, phrase("{k}  {stage}", k=k + 1, stage=stage.title), TITLE)
        foot = max(foot, write(sketch, x, y + 2, each, stage.says, SAYS))
    sketch.height = foot + 4
    whole = joined(". ", (phrase("{title}: {says}", title=s.title, says=s.says) for s in STAGES))
    sketch.regions.append(Region("stages", 0, 0, width, sketch.height, whole))
    return sketch.done("The seven stages of a job", whole)


def _mark(sketch: Sketch, stage: int, x: float, y: float) -> None:
    """The small drawing of a stage, on a ground of its own."""
    sketch.add(Box(x - 27, y - 27, 54, 54, "", "film"))
    if stage == 0:
        sketch.add(Box(x - 22, y - 15, 44, 30, "ink", "sheet", 1.4, 3), Box(x + 2, y - 9, 15, 6, "ink", "", 1.2),
                   Box(x + 2, y + 2, 15, 6, "soft", "", 1.2, 0, (3.0, 2.0)),
                   Dot(x - 11, y, 6, "ink", "", 1.2))  # fmt: skip
    elif stage == 1:
        sketch.add(path((x - 22, y + 12), (x - 14, y + 11), (x - 10, y - 8), (x + 6, y - 12), (x + 10, y + 6),
                        (x + 22, y + 11), role="warm", width=1.6))  # fmt: skip
        sketch.add(Line(x - 22, y + 16, x + 22, y + 16, "ink", 1.2))
    elif stage == 2:
        for k, long in enumerate((34.0, 20.0, 9.0)):
            sketch.add(Box(x - 20, y - 14 + 11 * k, long, 6, "warm", "warm" if k == 0 else "", 1.2))
    elif stage == 3:
        sketch.add(path((x - 20, y + 13), (x - 6, y - 6), (x + 20, y - 12), role="cool", width=1.6))
        sketch.add(Dot(x - 6, y - 6, 5, "cool", "cool"), Dot(x + 20, y - 12, 3, "cool", "sheet"),
                   Dot(x - 20, y + 13, 3, "warm", "sheet"))  # fmt: skip
    elif stage == 4:
        for k in range(3):
            sketch.add(Box(x - 20, y - 15 + 12 * k, 8, 8, "cool", "cool" if k < 2 else "sheet", 1.4))
            sketch.add(Line(x - 7, y - 11 + 12 * k, x + 20, y - 11 + 12 * k, "ink" if k == 2 else "soft", 1.2))
    elif stage == 5:
        sketch.add(Line(x - 10, y - 18, x - 10, y + 18, "ink", 1.2), Line(x - 18, y - 8, x - 2, y - 8, "warm", 1.4),
                   Dot(x - 10, y - 8, 4, "warm", "sheet"), Line(x + 2, y + 8, x + 22, y + 8, "cool", 1.4),
                   Dot(x + 12, y + 8, 4, "cool", "cool"))  # fmt: skip
    else:
        sketch.add(Box(x - 15, y - 20, 30, 40, "ink", "sheet", 1.4, 1.0))
        for k in range(3):
            sketch.add(Line(x - 9, y - 11 + 7 * k, x + (9 if k < 2 else 2), y - 11 + 7 * k, "soft", 1.2))
        sketch.extend(verdict_shape(Level.FITS, x - 8, y + 6, 12))
