"""Predictions corrected by the shop's record: hardly ever worse, better where there is a bias, with honest bands."""

from __future__ import annotations

from dataclasses import replace
from math import exp

import numpy as np
import pytest

from brachium.core.base.band import Band
from brachium.core.learn.correction import Z80, correction_of, coverage
from brachium.core.learn.outcomes import ChangeOutcome, JobOutcome, Ratio
from brachium.core.learn.summary import by_kind, by_machine, minutes_of, sales_of
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.correction import NONE

GROUPS = ("memory", "drive", "paste", "cleaning", "processor")


class Shop:
    """A simulated shop: its own bias for each kind of change, its own scatter against what is stated."""

    def __init__(self, rng: np.random.Generator, biased: bool) -> None:
        self._rng = rng
        size = 0.10 if biased else 0.0
        self.bias = {g: float(rng.normal(0.0, size)) for g in GROUPS}
        self.scatter = float(np.exp(rng.normal(0.0, 0.25)))

    def job(self, k: int) -> JobOutcome:
        rng = self._rng
        groups = [g for g in GROUPS if rng.random() < 0.35] or [GROUPS[int(rng.integers(5))]]
        parts = [float(rng.uniform(0.02, 0.35)) for _ in groups]
        sigma = float(rng.uniform(0.04, 0.12))
        mid = sum(parts)
        error = float(rng.normal(0.0, sigma * self.scatter))
        measured = mid + sum(self.bias[g] for g in groups) + error
        changes = tuple(
            ChangeOutcome(g, ratio(p, 0.05), ratio(p + self.bias[g] + error / len(groups), 0.02), 20.0, False)
            for g, p in zip(groups, parts, strict=True)
        )
        return JobOutcome(
            f"j{k}", "", "", MachineKind.LAPTOP, "", ratio(mid, sigma), exp(measured), changes, 60, 60, 50
        )


def ratio(middle: float, sigma: float) -> Ratio:
    return Ratio(exp(middle - Z80 * sigma), exp(middle), exp(middle + Z80 * sigma))


def errors(shop: Shop, known: list[JobOutcome], count: int = 60) -> tuple[float, float, float]:
    """(mean error uncorrected, corrected, share inside the corrected band) over later jobs."""
    correction = correction_of(known)
    later = [shop.job(1000 + k) for k in range(count)]
    plain, better = [], []
    for o in later:
        assert o.predicted is not None and o.measured is not None
        band = correction.applied(
            Band(o.predicted.low, o.predicted.mid, o.predicted.high), [c.group for c in o.changes]
        )
        plain.append(abs(np.log(o.measured / o.predicted.mid)))
        better.append(abs(np.log(o.measured / band.mid)))
    unfinished = [replace(later[0], measured=None), replace(later[0], predicted=None)]
    inside, total = coverage([*unfinished, *later], correction)
    assert total == len(later), "what lacks a prediction or a measurement is not counted"
    return float(np.mean(plain)), float(np.mean(better)), inside / total


@pytest.mark.parametrize("biased", [False, True], ids=["unbiased", "biased"])
@pytest.mark.parametrize("jobs", [5, 50, 500])
def test_two_hundred_shops_are_never_served_worse(jobs: int, biased: bool) -> None:
    rng = np.random.default_rng([5, jobs, biased])
    found = []
    for _ in range(200 if jobs < 500 else 60):
        shop = Shop(rng, biased)
        found.append(errors(shop, [shop.job(k) for k in range(jobs)]))
    plain, better, inside = (float(np.mean(v)) for v in zip(*found, strict=True))
    assert better <= 1.02 * plain, "never worse by more than 2 %"
    if biased and jobs >= 50:
        assert better < 0.75 * plain, "and much better where the shop has a bias"
    if jobs == 50:
        assert 0.77 <= inside <= 0.83


def test_without_a_record_nothing_is_corrected() -> None:
    band = Band(1.1, 1.2, 1.4)
    assert correction_of([]) is NONE and NONE.applied(band, ["memory"]) == band
    shop = Shop(np.random.default_rng(2), True)
    some = correction_of([shop.job(k) for k in range(30)])
    assert some.applied(band, []) == band, "today's machine is no prediction"
    moved = some.applied(band, ["memory"])
    assert moved.low < moved.mid < moved.high and moved.mid != band.mid


def test_what_rarely_pays_and_what_was_sold_are_told() -> None:
    shop = Shop(np.random.default_rng(8), False)
    shop.bias = {g: -0.4 if g == "cleaning" else 0.0 for g in GROUPS}
    jobs = [replace(shop.job(k), cost=50.0) for k in range(60)]
    kinds = {k.group: k for k in by_kind(jobs, 0.001)}
    assert kinds["cleaning"].rarely_pays and not kinds["memory"].rarely_pays
    assert kinds["cleaning"].brought < kinds["cleaning"].predicted and sum(k.count for k in kinds.values()) >= 60
    (laptops,) = by_machine(jobs)
    assert laptops.count == 60 and laptops.per_100 == pytest.approx(2 * (laptops.gain - 1), abs=0.05)
    assert minutes_of(jobs).ratio == 1.0 and minutes_of([]).ratio is None
    sold = [replace(jobs[0], sold=120.0, resale_likely=100.0), replace(jobs[1], sold=40.0, resale_likely=80.0)]
    told = sales_of([*sold, *jobs[2:]])
    assert (told.ratio, told.count, told.margin, told.losses) == (pytest.approx(0.85), 2, 60.0, 1)
