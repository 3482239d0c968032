"""Causes as rows: what, how sure, what share of the owner's time it takes; how many are unlikely."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.assess import Assessment, because_of, strength
from brachium.core.cause.ranking import Ranked
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.writing import Face, write

FOOT = 28.0
BAR_W, BAR_H = 72.0, 10.0
SHOWN = 7


def cause_list(assessment: Assessment, width: float) -> Drawing:
    """One row per open cause; the bar is how sure it is, full from where it is called a cause."""
    rows = assessment.open[:SHOWN]
    rest = tuple(r for r in assessment.ranked if r not in rows)
    sketch = Sketch(width, 0)
    y = 0.0
    for cause in rows:
        y = _row(sketch, cause, y, width, assessment)
    if not rows:
        y = write(sketch, 8, 10, width - 8, "No cause is left that would be worth a check.", Face(14)) + 8
    words = phrase("{count} more are unlikely", count=len(rest))
    sketch.add(Text(8, y + 18, words, "soft", 12))
    sketch.regions.append(Region("cause-rest", 0, y + 1, width, FOOT - 2, words, _unlikely(rest)))
    sketch.height = y + FOOT
    return sketch.done("Causes", "what holds the machine back, the one to see to first in front")


def _unlikely(rest: Sequence[Ranked]) -> Because:
    facts = tuple(Fact(r.kind.title, percent(r.chance, 1), Origin.COMPUTED) for r in rest)
    title = phrase("{count} causes are unlikely", count=len(rest))
    return Because(title, "log-odds of evidence", "Nothing speaks for them.", facts)


def _row(sketch: Sketch, cause: Ranked, y: float, width: float, assessment: Assessment) -> float:
    """One cause; where its row ends."""
    called = cause.called
    bar_x = width - BAR_W - 44
    cost = phrase(", {cost_frac} of the time", cost_frac=percent(cause.cost_frac)) if cause.cost_frac >= 0.005 else ""
    risk = "; the data is at risk" if called and cause.kind.at_risk else ""
    words = phrase(
        "{strength}{cost}{risk}: {remedy}", strength=strength(cause), cost=cost, risk=risk, remedy=cause.kind.remedy
    )
    title = Face(14, 600 if called else 500, "ink" if called else "soft")
    end = write(sketch, 8, y + 5, bar_x - 18, cause.kind.title, title)
    end = write(sketch, 8, end, bar_x - 18, words, Face(12, 400, "alarm" if risk else "soft")) + 6
    sketch.add(Line(0, end, width, end, "grid"), Box(bar_x, y + 10, BAR_W, BAR_H, "hair", "", 1.0))
    length = max((BAR_W - 4) * cause.chance, 2.0)
    sketch.add(Box(bar_x + 2, y + 12, length, BAR_H - 4, "warm", "warm" if called else "", 1.0))
    sketch.add(Text(width - 2, y + 20, percent(cause.chance), "warm" if called else "soft", 13, 600, "end"))
    label = phrase(
        "{kind}: {strength}, {chance}{cost}",
        kind=cause.kind.title,
        strength=strength(cause),
        chance=percent(cause.chance),
        cost=cost,
    )
    because = because_of(cause, assessment.next)
    sketch.regions.append(Region(f"cause:{cause.kind.id}", 0, y + 1, width, end - y - 2, label, because))
    return end
