"""The overheating ladder: rungs from the cheapest up, which were made, where to stop."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import many, phrase
from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.assess import Rung
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.writing import Face, write
from brachium.core.figures.lists.check_list import because_check

REST = "rung-rest"  # the region that shows what is not needed any more
WORD = Face(11, 500, condensed=True)
WORDS = {"found": "found it: stop here", "made": "not it", "next": "next", "later": "", "stop": "not needed"}


def ladder_list(rungs: Sequence[Rung], width: float, unfolded: bool = False) -> Drawing:
    """Two rails with a rung for every check; a full rung was made, the next one is marked."""
    sketch = Sketch(width, 0)
    y = 0.0
    spared = [] if unfolded else [r for r in rungs if r.state == "stop"]
    for rung in (r for r in rungs if r not in spared):
        y = _rung(sketch, rung, y, width)
    if spared:
        words = phrase("{checks} not needed: show", checks=many(len(spared), "check"))
        end = write(sketch, 32, y + 6, width - 36, words, Face(12, role="soft")) + 6
        facts = tuple(Fact(r.check.title, minutes(r.check.attended_min), Origin.ASSUMED) for r in spared)
        why = Because(words, "cheapest first", "A cheaper step keeps the target already.", facts)
        sketch.regions.append(Region(REST, 26, y + 1, width - 26, end - y - 1, words, why))
        y = end
    sketch.add(Line(6, 2, 6, y + 2, "ink", 1.4), Line(18, 2, 18, y + 2, "ink", 1.4))
    sketch.height = y + 4
    return sketch.done("Overheating ladder", "cheapest first, with the point where to stop")


def _rung(sketch: Sketch, rung: Rung, y: float, width: float) -> float:
    """One check on the ladder; where it ends."""
    word = WORDS[rung.state] or minutes(rung.check.attended_min)
    soft = rung.state in ("later", "stop", "made")
    title, room = Face(12, 500, "soft" if soft else "ink"), width - 44 - WORD.width(word)
    end = y + 12 + title.step * title.lines(rung.check.title, room)
    middle = (y + end) / 2
    if rung.state in ("next", "found"):
        wash = "cool_wash" if rung.state == "next" else "warm_wash"
        sketch.add(Box(26, y + 2, width - 26, end - y - 3, "", wash))
    made = rung.state in ("found", "made")
    sketch.add(Line(6, middle, 18, middle, "ink" if made else "hair", 3.0 if made else 1.4))
    write(sketch, 32, y + 6, room, rung.check.title, title)
    role = "warm" if rung.state == "found" else "cool" if rung.state == "next" else "soft"
    sketch.add(Text(width - 4, middle + 4, word, role, 11, 500, "end", True))
    label = phrase("{check}: {answer}", check=rung.check.title, answer=rung.answer or word)
    because = because_check(rung.check, None)
    sketch.regions.append(Region(f"rung:{rung.check.id}", 26, y + 1, width - 26, end - y - 1, label, because))
    return end
