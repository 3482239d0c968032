"""The overheating ladder: rungs from the cheapest up, which were made, where to stop."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.units import minutes
from brachium.core.cause.assess import Rung
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.lists.candidate_list import clipped
from brachium.core.figures.lists.check_list import because_check

ROW = 27.0
LETTER = 6.0  # width of one of a word at the right
WORDS = {"found": "found it: stop here", "made": "not it", "next": "next", "later": "", "stop": "not needed"}


def ladder_list(rungs: Sequence[Rung], width: float) -> Drawing:
    """Two rails with a rung for every check; a full rung was made, the next one is marked."""
    sketch = Sketch(width, ROW * max(len(rungs), 1) + 4)
    for k, rung in enumerate(rungs):
        y = k * ROW
        if rung.state in ("next", "found"):
            wash = "cool_wash" if rung.state == "next" else "warm_wash"
            sketch.add(Box(26, y + 2, width - 26, ROW - 3, "", wash))
        made = rung.state in ("found", "made")
        sketch.add(Line(6, y + 14, 18, y + 14, "ink" if made else "hair", 3.0 if made else 1.4))
        soft = rung.state in ("later", "stop", "made")
        word = WORDS[rung.state] or minutes(rung.check.attended_min)
        sketch.add(
            Text(
                32,
                y + 18,
                clipped(rung.check.title, width - 44 - LETTER * len(word), 12, 500),
                "soft" if soft else "ink",
                12,
                500,
            )
        )
        role = "warm" if rung.state == "found" else "cool" if rung.state == "next" else "soft"
        sketch.add(Text(width - 4, y + 18, word, role, 11, 500, "end", True))
        label = f"{rung.check.title}: {rung.answer or word}"
        sketch.regions.append(Region(f"rung:{rung.check.id}", 26, y + 1, width - 26, ROW - 1, label,
                                     because_check(rung.check, None)))  # fmt: skip
    height = ROW * len(rungs)
    sketch.add(Line(6, 2, 6, height + 2, "ink", 1.4), Line(18, 2, 18, height + 2, "ink", 1.4))
    return sketch.done("Overheating ladder", "cheapest first, with the point where to stop")
