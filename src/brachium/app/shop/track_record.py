"""What the shop's own record says: how right predictions were, what rarely paid, which minutes are off."""

from __future__ import annotations

from dataclasses import dataclass
from math import log

from brachium.app.shop.kept import ReadsShop, settings_of
from brachium.app.shop.shop_record import corrects_predictions, outcomes_of, part_lies_aside
from brachium.core.base.text import many, phrase
from brachium.core.base.units import percent, ratio
from brachium.core.day.durations import Learned, learn_durations
from brachium.core.figures.plots.calibration import Judged, calibration_points
from brachium.core.learn.correction import correction_of, coverage
from brachium.core.learn.outcomes import JobOutcome
from brachium.core.learn.summary import (
    FEW,
    KindRecord,
    MachineRecord,
    Minutes,
    Sales,
    by_kind,
    by_machine,
    minutes_of,
    sales_of,
)
from brachium.core.record.correction import NONE, Correction

MOST_STEPS = 3
LONG, OFF = 0.05, 0.08  # from which on minutes, and gains (in the logarithm), are said to be off


@dataclass(frozen=True)
class TrackRecord:
    """`aside`: a part could not be read. `correction` is what predictions are moved by, NONE where it is off.

    `inside` of `total` measured gains lie in their band; `steps_off` are the steps whose minutes are off most.
    """

    jobs: int
    aside: bool
    corrects: bool
    correction: Correction
    points: tuple[Judged, ...]
    inside: int
    total: int
    kinds: tuple[KindRecord, ...]
    machines: tuple[MachineRecord, ...]
    took: Minutes
    steps_off: tuple[tuple[str, Learned], ...]
    sold: Sales


def track_record(shop: ReadsShop) -> TrackRecord:
    """The record as it is now."""
    outcomes, corrects = outcomes_of(shop), corrects_predictions(shop)
    correction = correction_of(outcomes) if corrects else NONE
    inside, total = coverage(outcomes, correction)
    return TrackRecord(
        len(outcomes), part_lies_aside(shop), corrects, correction, calibration_points(outcomes, correction), inside,
        total, tuple(by_kind(outcomes, settings_of(shop).worth_per_eur)), tuple(by_machine(outcomes)),
        minutes_of(outcomes), _steps_off(outcomes), sales_of(outcomes),
    )  # fmt: skip


def _steps_off(outcomes: tuple[JobOutcome, ...]) -> tuple[tuple[str, Learned], ...]:
    """Steps that were timed often enough, those furthest off first."""
    every = learn_durations(step for o in outcomes for step in o.steps)
    known = [(k, v) for k, v in every.items() if v.count >= FEW]
    return tuple(sorted(known, key=lambda x: -abs(log(x[1].factor)))[:MOST_STEPS])


def differently(record: TrackRecord) -> str:
    """The one thing that the record asks to do differently, what costs most first."""
    off = [k for k in record.kinds if k.count >= FEW and abs(log(k.brought / k.predicted)) >= OFF]
    if record.took.ratio is not None and record.took.count >= FEW and record.took.ratio >= 1.0 + LONG:
        return phrase("Promise {ratio} more minutes.", ratio=percent(record.took.ratio - 1.0))
    unpaid = max((k for k in record.kinds if k.rarely_pays), key=lambda k: k.count * k.price, default=None)
    if unpaid is not None:
        return phrase(
            "Offer {group} less often: in {jobs} it rarely brought its price.",
            group=unpaid.group,
            jobs=many(unpaid.count, "job"),
        )
    if off:
        worst = max(off, key=lambda k: abs(log(k.brought / k.predicted)))
        return phrase(
            "Expect {brought} of {group}, not {predicted}.",
            brought=ratio(worst.brought),
            group=worst.group,
            predicted=ratio(worst.predicted),
        )
    return "Nothing asks to be done differently."
