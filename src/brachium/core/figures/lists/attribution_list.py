"""What each change brought, as bars with their 80 % bands about "no change"; estimated ones are hollow."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.units import ratio, ratio_band
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.scale import Scale
from brachium.core.figures.base.writing import Face, write
from brachium.core.learn.attribution import Attribution, Part

ROW, NAME = 23.0, 0.46
REST = 0.02


def attribution_list(found: Attribution, width: float) -> Drawing:
    """Largest first, then what no change explains, then all together."""
    parts = sorted(found.parts, key=lambda p: -p.band.mid)
    rest = abs(found.rest - 1.0) > REST
    sketch = Sketch(width, 0)
    values = [v for p in parts for v in (p.band.low, p.band.high)]
    across = Scale(min([1.0, *values]), max([1.05, *values]), NAME * width, width - 76)
    y = 0.0
    for part in parts:
        y = _part(sketch, part, y, across, width)
    if rest:
        sketch.add(Text(0, y + 16, "no change explains", "soft", 13))
        sketch.add(Text(width, y + 16, ratio(found.rest), "soft", 13, 500, "end", True))
        sketch.add(Line(0, y + ROW, width, y + ROW, "grid"))
        y += ROW
    sketch.add(Text(0, y + 17, "All together, measured", "ink", 13, 600))
    sketch.add(Text(width, y + 17, ratio(found.total), "cool", 13, 600, "end", True))
    sketch.height = y + ROW + 4
    about = "estimated ones are hollow" if found.estimated else "each measured between two runs"
    return sketch.done("What each change brought", about)


def _part(sketch: Sketch, part: Part, y: float, across: Scale, width: float) -> float:
    foot = write(sketch, 0, y + 4, NAME * width - 12, part.title, Face(13)) + 3
    zero, end = across(1.0), across(part.band.mid)
    sketch.add(Box(min(zero, end), y + 6, max(abs(end - zero), 1.0), 11, "cool", "cool" if part.measured else "", 1.2))
    sketch.add(Line(across(part.band.low), y + 11.5, across(part.band.high), y + 11.5, "ink", 1.2))
    sketch.add(Text(width, y + 16, ratio(part.band.mid), "cool", 13, 600, "end", True))
    sketch.add(Line(0, foot, width, foot, "grid"))
    how = "measured between two runs" if part.measured else "estimated from the model, scaled to what was measured"
    because = Because(
        phrase(
            "{part}: {ratio_band}", part=part.title, ratio_band=ratio_band(part.band.low, part.band.mid, part.band.high)
        ),
        "attribution",
        "The measured gain, divided among the changes: each resource's measured speed-up by what each change would "
        "have done to it, averaged over all orders of making them. The parts never add up to more than was measured.",
        (Fact("how", how, Origin.MEASURED if part.measured else Origin.COMPUTED),),
        "",
        "A run after each change tells them apart.",
    )
    name = f"brought:{part.candidate_id}"
    sketch.regions.append(Region(name, 0, y + 1, width, foot - y - 2, because.title, because))
    return foot
