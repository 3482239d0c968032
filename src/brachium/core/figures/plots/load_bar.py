"""The supply's budget: what each piece draws, stacked; the line of 25 % headroom and the rating."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import text_width
from brachium.core.fit.assumptions import HEADROOM
from brachium.core.fit.load import LoadPart

HEIGHT = 92.0
FILLS = ("cool", "warm", "soft", "hair", "cool_wash")


def load_bar(parts: Sequence[LoadPart], rated_w: float | None, width: float) -> Drawing:
    """Region ids are the pieces' labels. Without a rating the bar ends at the headroom it asks for."""
    sketch = Sketch(width, HEIGHT)
    whole = sum(p.watts for p in parts)
    asked = HEADROOM * whole
    span = max(rated_w or 0.0, asked) * 1.04
    scale = (width - 8) / span if span else 0.0
    x, top, tall = 4.0, 30.0, 22.0
    for index, part in enumerate(parts):
        wide = part.watts * scale
        sketch.add(Box(x, top, wide, tall, "sheet", FILLS[index % len(FILLS)], 1.0))
        words = phrase("{part} {watts:.0f}", part=part.label, watts=part.watts)
        if text_width(words, 11, 500) < wide - 6:
            ink = "on_cool" if FILLS[index % len(FILLS)] in ("cool", "warm", "soft") else "ink"
            sketch.add(Text(x + 4, top + 15, words, ink, 11, 500, condensed=True))
        origin = Origin.ASSUMED if part.assumed else Origin.CATALOGUE
        facts = (
            Fact("draw", phrase("{watts:.0f} W", watts=part.watts), origin),
            Fact("of it from 12 V", phrase("{from_12v:.0f} W", from_12v=part.from_12v), origin),
        )
        because = Because(phrase("Load: {part}", part=part.label), "PSU-LOAD", "Sustained draw of this piece.", facts)
        sketch.regions.append(
            Region(
                part.label,
                x,
                top,
                max(wide, 6.0),
                tall,
                phrase("{part}: {watts:.0f} W", part=part.label, watts=part.watts),
                because,
            )
        )
        x += wide
    line = 4.0 + asked * scale
    over = rated_w is not None and asked > rated_w
    sketch.add(Line(line, top - 7, line, top + tall + 7, "warm" if over else "ink", 1.4, (4.0, 3.0)))
    sketch.add(
        Text(
            line,
            top - 12,
            phrase("with 25 % headroom {asked:.0f} W", asked=asked),
            "warm" if over else "ink",
            11,
            500,
            "end",
            True,
        )
    )
    if rated_w is not None:
        sketch.add(Text(4, top + tall + 18, phrase("draws {whole:.0f} W", whole=whole), "ink", 11, 600, condensed=True))
    if rated_w is not None:
        end = 4.0 + rated_w * scale
        sketch.add(Line(end, top - 3, end, top + tall + 3, "ink", 2.2))
        sketch.add(
            Text(end, top + tall + 18, phrase("rated {rated_w:.0f} W", rated_w=rated_w), "ink", 11, 600, "end", True)
        )
    else:
        sketch.add(Text(4, top + tall + 18, "the supply's rating is not recorded: read its label", "warm", 11, 500))
    return sketch.done("Load on the supply", "what each piece draws, the headroom line and the rating")
