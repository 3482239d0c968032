"""The plan in hand as rows: what each change brings, all together, odds of the owner's targets."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.units import percent, ratio, ratio_band
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.choose.predict import Contribution, Prediction
from brachium.core.choose.target_odds import Odds
from brachium.core.figures.base.drawing import Drawing, Line, Region, Sketch, Text
from brachium.core.figures.lists.candidate_list import clipped

ROW, SMALL = 23.0, 19.0


def plan_list(prediction: Prediction, odds: Sequence[Odds], width: float) -> Drawing:
    """Contributions from the largest down; odds in warm where they are worse than even."""
    parts = sorted(prediction.contributions, key=lambda c: -c.band.mid)
    sketch = Sketch(width, ROW * (len(parts) + 1) + SMALL * len(odds) + 10)
    for k, part in enumerate(parts):
        y = k * ROW
        word, role = ("not known", "soft") if part.unknown else (ratio(part.band.mid), "cool")
        sketch.add(Text(0, y + 16, clipped(part.title, width - 70, 13, 400), "ink", 13))
        sketch.add(Text(width, y + 16, word, role, 13, 600, "end", True))
        sketch.add(Line(0, y + ROW, width, y + ROW, "grid"))
        text = _part_words(part)
        sketch.regions.append(Region(f"part:{part.candidate_id}", 0, y + 1, width, ROW - 2, text, prediction.because))
    y = ROW * len(parts)
    whole, role = _whole(prediction)
    sketch.add(Text(0, y + 17, "All together", "ink", 14, 600))
    sketch.add(Text(width, y + 17, whole, role, 14, 600, "end", True))
    whole = f"All together {whole}"
    sketch.regions.append(Region("part:total", 0, y + 1, width, ROW - 2, whole, prediction.because))
    for k, one in enumerate(odds):
        _odds(sketch, one, y + ROW + 6 + k * SMALL, width)
    return sketch.done("The plan", "what each change brings as part of it, and the odds of the targets")


def _part_words(part: Contribution) -> str:
    if part.unknown:
        return f"{part.title}: not known, {part.unknown}"
    band = ratio_band(part.band.low, part.band.mid, part.band.high)
    return f"{part.title}: {band}, alone {ratio(part.alone.mid)}"


def _whole(prediction: Prediction) -> tuple[str, str]:
    """(what all changes bring, its colour): what is not known is never counted as nothing."""
    band, unknown = prediction.band, [p for p in prediction.contributions if p.unknown]
    if len(unknown) == len(prediction.contributions):
        return "not known", "soft"
    words = ratio_band(band.low, band.mid, band.high)
    return (f"{words} and more" if unknown else words), "cool"


def _odds(sketch: Sketch, one: Odds, y: float, width: float) -> None:
    chance = "not known" if one.chance is None else percent(one.chance)
    role = "soft" if one.chance is None else "cool" if one.chance >= 0.5 else "warm"
    sketch.add(Text(0, y + 13, clipped(f"Odds: {one.target.words}", width - 70, 12, 400), "soft", 12))
    sketch.add(Text(width, y + 13, chance, role, 12, 600, "end", True))
    facts = (
        Fact("predicted", one.words, Origin.COMPUTED),
        Fact("limit", f"{one.target.limit:g} {one.target.unit}", Origin.TYPED),
    )
    because = Because(
        f"{one.target.words}: {chance}", "odds of a target",
        "The before-run's own result, divided by what the plan speeds up in it: waiting for storage follows the drive, "
        "paging follows memory and drive, the rest follows the clock.", facts, chance,
        "The same test measured again, with more of its time sampled.",
    )  # fmt: skip
    sketch.regions.append(
        Region(f"odds:{one.target.key}", 0, y, width, SMALL - 1, f"{one.target.words}: {chance}", because)
    )
