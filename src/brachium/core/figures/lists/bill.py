"""The plan in hand as a bill: parts, work, together, and what each brings; below it the odds of the owner's targets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.base.units import minutes, percent, ratio, ratio_band
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.choose.cost import PlanCost
from brachium.core.choose.predict import Contribution, Prediction
from brachium.core.choose.target_odds import Odds
from brachium.core.figures.base.drawing import Drawing, Line, Region, Sketch, Text, lines_of_text
from brachium.core.figures.base.text_width import wrapped

LINE, GAP, SMALL = 16.0, 7.0, 18.0
PRICE_W, GAIN_W = 54.0, 62.0
NOT_KNOWN = "not known"


@dataclass(frozen=True)
class BillState:
    """Parts and services as (id of the candidate, title, price), costs of them all, gains and odds where predicted."""

    parts: tuple[tuple[str, str, Decimal], ...]
    cost: PlanCost
    currency: str
    prediction: Prediction | None
    odds: Sequence[Odds] = ()


def bill(state: BillState, width: float) -> Drawing:
    """Rows from what brings most down; without a prediction the column of gains is left out."""
    sketch = Sketch(width, 0)
    gains = {c.candidate_id: c for c in state.prediction.contributions} if state.prediction is not None else {}
    parts = sorted(state.parts, key=lambda p: -gains[p[0]].band.mid if p[0] in gains else 0.0)
    price_x = width - (GAIN_W if gains else 0.0)
    _head(sketch, state, price_x, width, bool(gains))
    y = 18.0
    because = state.prediction.because if state.prediction is not None else None
    for key, title, price in parts:
        gain, role = _gain(gains.get(key))
        label = (
            _part_words(gains[key])
            if key in gains
            else phrase("{title}: {price:.2f} {currency}", title=title, price=price, currency=state.currency)
        )
        y = _row(sketch, (title, phrase("{price:.2f}", price=price), gain), y, (price_x, width), role)
        sketch.regions.append(Region(f"part:{key}", 0, y - LINE - GAP, width, LINE + GAP - 2, label, because))
    for title, amount in _rest(state):
        y = _row(sketch, (title, amount, ""), y, (price_x, width), "soft")
    y = _together(sketch, state, y, (price_x, width), because)
    for one in state.odds:
        y = _odds(sketch, one, y, width)
    sketch.height = y + 2
    return sketch.done("The plan", "what it costs, what each change brings as part of it, and the odds of the targets")


def _head(sketch: Sketch, state: BillState, price_x: float, width: float, gains: bool) -> None:
    sketch.add(Text(price_x, 12, state.currency, "soft", 11, anchor="end", condensed=True))
    if gains:
        sketch.add(Text(width, 12, "brings", "soft", 11, anchor="end", condensed=True))


def _row(sketch: Sketch, row: tuple[str, str, str], y: float, ends: tuple[float, float], role: str) -> float:
    """A title with its price and its gain, above a hairline; where it ends."""
    names = wrapped(row[0], ends[0] - PRICE_W, 13, 400)
    tall = LINE * len(names) + GAP
    sketch.add(*lines_of_text(names, Text(0, y + 15, "", "soft" if role == "soft" and not row[2] else "ink", 13), LINE))
    sketch.add(Text(ends[0], y + 15, row[1], "ink", 13, 400, "end", True))
    if row[2]:
        sketch.add(Text(ends[1], y + 15, row[2], role, 13, 600, "end", True))
    sketch.add(Line(0, y + tall, ends[1], y + tall, "grid"))
    return y + tall


def _rest(state: BillState) -> tuple[tuple[str, str], ...]:
    """Work, consumables and vouchers, as far as they are anything."""
    cost = state.cost
    own = phrase("{attended_min} of yours", attended_min=minutes(cost.attended_min))
    alone = (
        phrase(", {unattended_min} by itself", unattended_min=minutes(cost.unattended_min))
        if cost.unattended_min
        else ""
    )
    rows = [(phrase("Work: {own}{alone}", own=own, alone=alone), phrase("{labour:.2f}", labour=cost.labour))]
    if cost.consumables:
        rows.append(("Paste, wipes, screws", phrase("{consumables:.2f}", consumables=cost.consumables)))
    if cost.discount:
        rows.append(("Vouchers", phrase("−{discount:.2f}", discount=cost.discount)))
    return tuple(rows)


def _together(sketch: Sketch, state: BillState, y: float, ends: tuple[float, float], because: Because | None) -> float:
    """The sums; the band of the gain stands on a line of its own where both do not fit on one."""
    whole, role = _whole(state.prediction)
    sketch.add(Text(0, y + 17, "Together", "ink", 14, 600))
    sketch.add(Text(ends[0], y + 17, phrase("{total:.2f}", total=state.cost.total), "ink", 14, 600, "end", True))
    if whole:
        first, _, band = say(whole).partition(" (")
        sketch.add(Text(ends[1], y + 17, first, role, 14, 600, "end", True))
        if band:
            sketch.add(
                Text(
                    ends[1],
                    y + 33,
                    phrase("8 of 10 draws: {band}", band=band.replace(")", "")),
                    role,
                    12,
                    500,
                    "end",
                    True,
                )
            )
    tall = 40.0 if "(" in whole else 24.0
    sketch.regions.append(
        Region("part:total", 0, y + 1, ends[1], tall - 2, phrase("Together {whole}", whole=whole), because)
    )
    return y + tall


def _gain(part: Contribution | None) -> tuple[str, str]:
    if part is None:
        return "", "soft"
    return (NOT_KNOWN, "soft") if part.unknown else (ratio(part.band.mid), "cool")


def _part_words(part: Contribution) -> str:
    if part.unknown:
        return phrase("{part}: not known, {unknown}", part=part.title, unknown=part.unknown)
    band = ratio_band(part.band.low, part.band.mid, part.band.high)
    return phrase("{part}: {band}, alone {mid}", part=part.title, band=band, mid=ratio(part.alone.mid))


def _whole(prediction: Prediction | None) -> tuple[str, str]:
    """(what all changes bring, its colour): what is not known is never counted as nothing."""
    if prediction is None:
        return "", "soft"
    band, unknown = prediction.band, [p for p in prediction.contributions if p.unknown]
    if len(unknown) == len(prediction.contributions):
        return NOT_KNOWN, "soft"
    words = ratio_band(band.low, band.mid, band.high)
    return (phrase("{words} and more", words=words) if unknown else words), "cool"


def _odds(sketch: Sketch, one: Odds, y: float, width: float) -> float:
    """A target with its odds; warm where they are worse than even."""
    chance = NOT_KNOWN if one.chance is None else percent(one.chance)
    role = "soft" if one.chance is None else "cool" if one.chance >= 0.5 else "warm"
    lines = wrapped(one.target.words, width - 70, 12)
    tall = 4.0 + 14.0 * len(lines)
    sketch.add(*lines_of_text(lines, Text(0, y + 13, "", "soft", 12), 14.0))
    sketch.add(Text(width, y + 13, chance, role, 12, 600, "end", True))
    facts = (
        Fact("predicted", one.words, Origin.COMPUTED),
        Fact("limit", phrase("{limit:g} {target}", limit=one.target.limit, target=one.target.unit), Origin.TYPED),
    )
    because = Because(
        phrase("{target}: {chance}", target=one.target.words, chance=chance), "odds of a target",
        "The before-run's own result, divided by what the plan speeds up in it: waiting for storage follows the drive, "
        "paging follows memory and drive, the rest follows the clock.", facts, chance,
        "The same test measured again, with more of its time sampled.",
    )  # fmt: skip
    label = phrase("Odds, {target}: {chance}", target=one.target.words, chance=chance)
    sketch.regions.append(Region(f"odds:{one.target.key}", 0, y, width, tall - 1, label, because))
    return y + tall
