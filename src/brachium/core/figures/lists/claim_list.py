"""What may be claimed of the heat path, and the targets, as short rows."""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.figures.base.writing import Face, write
from brachium.core.fit.verdict import Level
from brachium.core.heat.claims import ClaimKind, HeatClaim, HeatVerdict
from brachium.core.prove.target_results import TargetResult

ROW = 22.0


def claim_list(heat: HeatVerdict, targets: tuple[TargetResult, ...], width: float) -> Drawing:
    """Two heat claims and one row per target: met (block seated), not met (barred), not measured (dashed)."""
    claims = [("paste and mounting", heat.paste), ("fins, fan and vents", heat.airflow)]
    shown = [(n, c) for n, c in claims if c is not None]
    sketch = Sketch(width, 0)
    y = 0.0
    for name, claim in shown:
        _claim(sketch, name, claim, y, width)
        y += ROW
    for target in targets:
        y = _target(sketch, target, y, width)
    sketch.height = y + 4
    return sketch.done("Claims and targets", "what may be said, and what was asked for")


def _claim(sketch: Sketch, name: str, claim: HeatClaim, y: float, width: float) -> None:
    sketch.add(Text(6, y + 15, name, "ink", 12, 500))
    plain = claim.kind is not ClaimKind.CHANGED
    words = "cannot separate" if claim.kind is ClaimKind.CANNOT_SEPARATE else claim.text
    role = "soft" if plain else "cool" if claim.value_k > 0 else "alarm"
    sketch.add(Text(width - 8, y + 15, words, role, 12, 400 if plain else 600, "end"))
    sketch.add(Line(0, y + ROW, width, y + ROW, "grid"))
    sketch.regions.append(
        Region(f"claim:{name}", 0, y, width, ROW, phrase("{name}: {claim}", name=name, claim=claim.text), claim.because)
    )


def _target(sketch: Sketch, result: TargetResult, y: float, width: float) -> float:
    level = {True: Level.FITS, False: Level.REFUSED, None: Level.NOT_KNOWN}[result.met]
    sketch.extend(verdict_shape(level, 4, y + 3, 16))
    words = joined(", ", (w for w in (result.words, result.margin_words) if w))
    role = "alarm" if result.met is False else "cool" if result.met else "soft"
    room = max(width - 42 - text_width(words, 12, 600, True), 0.4 * width)
    end = write(sketch, 26, y + 4, room, result.target.words, Face(12)) + 3
    said = Face(12, 600, role, True)
    end = max(end, write(sketch, width - 8, y + 4, width - 42 - room, words, said, "end") + 3)
    sketch.add(Line(0, end, width, end, "grid"))
    target = result.target
    word = "at most" if target.at_most else "at least"
    because = Because(
        phrase("Target {result}: {target}", result=result.words, target=target.words),
        "target",
        "Judged by the after-run with its 95 % interval: met or missed only where all of it lies on one side.",
        (
            Fact(
                "asked for",
                phrase("{word} {limit:g} {target}", word=word, limit=target.limit, target=target.unit),
                Origin.TYPED,
            ),
            Fact("before and after", result.figures or "not measured", Origin.MEASURED),
            Fact("margin", result.margin_words or ("none" if result.margin == 0 else "not measured"), Origin.COMPUTED),
        ),
        "",
        "More sessions narrow the interval.",
    )
    sketch.regions.append(Region(f"target:{target.key}", 0, y, width, end - y, because.title, because))
    return end
