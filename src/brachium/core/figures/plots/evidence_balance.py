"""What speaks for and against one cause: signs as bars from a middle line, in log-odds."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.ranking import Ranked, Weight
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.writing import Face, write

TOP, FOOT = 20.0, 26.0
FULL = 4.5
MOST = 9


def evidence_balance(cause: Ranked, width: float) -> Drawing:
    """The strongest signs first: solid to the right = for, hollow to the left = against."""
    weights = cause.weights[:MOST]
    sketch = Sketch(width, 0)
    middle, reach = width * 0.74, width * 0.17  # what is left at the right holds the figure
    sketch.add(Text(middle - 8, 12, "against", "soft", 11, anchor="end", condensed=True))
    sketch.add(Text(middle + 8, 12, "for", "soft", 11, condensed=True))
    base = Weight("How common it is", "before anything was known", "", Origin.ASSUMED, cause.kind.base, False)
    end = TOP
    for index, weight in enumerate((base, *weights)):
        end = _row(sketch, weight, end, width, middle, reach, index == 0)
    sketch.add(Line(middle, TOP - 2, middle, end, "ink", 1.2))
    if not weights:
        sketch.add(Text(0, end + 16, "No sign of it was checked yet.", "soft", 12))
    else:
        sketch.add(
            Text(
                0,
                end + 16,
                phrase("together {log_odds:+.1f} against a machine that is well", log_odds=cause.log_odds),
                "soft",
                12,
            )
        )
    sketch.height = end + FOOT
    return sketch.done(cause.kind.title, "what speaks for and against it")


def _row(
    sketch: Sketch, weight: Weight, y: float, width: float, middle: float, reach: float, is_base: bool
) -> float:  # fmt: skip
    value = weight.log_odds
    length = reach * min(abs(value) / FULL, 1.0)
    room = middle - (length if value <= 0 else 0.0) - 40
    state = phrase(
        "{state}{more}", state=weight.state, more=phrase(", {figure}", figure=weight.figure) if weight.figure else ""
    )
    end = write(sketch, 0, y + 2, room, weight.title, Face(12, 500, "soft" if is_base else "ink"))
    end = write(sketch, 0, end, room, state, Face(11, role="soft", condensed=True)) + 4
    left = middle if value > 0 else middle - length
    sketch.add(Box(left, y + 8, max(length, 1.0), 11, "ink", "ink" if value > 0 else "sheet", 1.0))
    at = middle + length + 4 if value > 0 else middle - length - 4
    sketch.add(Text(at, y + 18, phrase("{value:+.1f}", value=value), "soft", 11, 500, "start" if value > 0 else "end"))
    figure = (Fact("figure", weight.figure, weight.origin),) if weight.figure else ()
    because = Because(
        phrase("{weight}: {state}", weight=weight.title, state=weight.state), "weight of evidence",
        "ln of how often this is seen with the cause over how often on a machine that is well; "
        "at most 4.5, and 9 where it settles the matter alone.",
        (Fact("says", phrase("{value:+.2f}", value=value), weight.origin), *figure),
    )  # fmt: skip
    label = phrase("{weight}: {state}, {value:+.1f}", weight=weight.title, state=state, value=value)
    why = None if is_base else because
    sketch.regions.append(Region(f"weight:{weight.title}", 0, y, width, end - y - 1, label, why))
    return end
