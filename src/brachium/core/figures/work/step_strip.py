"""All steps as a strip: done ones solid, the one at hand warm, the rest hollow; the point of no return marked."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import fitting_size, text_width
from brachium.core.work.step import Step

HEIGHT, BAR, LEAST = 44.0, 9.0, 96.0


def step_strip(steps: Sequence[Step], done: Collection[str], current: str, width: float) -> Drawing:
    """One bar a step; a name under every one that has the room, always under the one at hand and its neighbours."""
    sketch = Sketch(width, HEIGHT)
    each = width / max(len(steps), 1)
    at = next((k for k, s in enumerate(steps) if s.id == current), -1)
    every = max(1, round(LEAST / each + 0.49))
    for k, step in enumerate(steps):
        x = k * each
        role, fill = ("warm", "warm") if k == at else ("cool", "cool") if step.id in done else ("soft", "")
        sketch.add(Box(x + 1, 6, max(each - 4, 3.0), BAR, role, fill, 1.2, 1.0))
        if step.no_return:
            sketch.add(Line(x + each - 1, 0, x + each - 1, 22, "alarm", 1.8, (4.0, 3.0)))
        label = phrase(
            "{k} of {count}: {step}, {which}",
            k=k + 1,
            count=len(steps),
            step=step.title,
            which="done" if step.id in done else "to do",
        )
        sketch.regions.append(Region(step.id, x, 1, max(each - 2, 4.0), HEIGHT - 4, label))
    _names(sketch, steps, at, every, each, width)
    return sketch.done("Steps", phrase("{count} of {count2} done", count=len(done), count2=len(steps)))


def _names(sketch: Sketch, steps: Sequence[Step], at: int, every: int, each: float, width: float) -> None:
    """The step at hand by its name; of the others a name where it fits, else the number."""
    taken = (-1.0, -1.0)
    if at >= 0:
        own = phrase("{at}  {title}", at=at + 1, title=steps[at].title)
        size = fitting_size(own, width, (13.0, 12.0, 11.0, 10.0), 600, True)
        wide = text_width(own, size, 600, True)
        x = min(at * each, width - wide)
        sketch.add(Text(x, 34, own, "ink", size, 600, condensed=True))
        taken = (x - 8.0, x + wide + 8.0)
    for k, step in enumerate(steps):
        x, number, whole = k * each + 1, phrase("{k}", k=k + 1), phrase("{k}  {step}", k=k + 1, step=step.title)
        limit = min(k * each + every * each, width, taken[0] if x < taken[0] else width)
        named = k % every == 0 and x + text_width(whole, 12, 400, True) < limit - 8
        words = whole if named else number
        if k % every == 0 and not taken[0] - text_width(words, 12, 400, True) < x < taken[1]:
            sketch.add(Text(x, 34, words, "soft", 12, 400, condensed=True))
