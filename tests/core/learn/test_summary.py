"""What finished jobs add up to: medians, what rarely paid, and jobs that cost nothing."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.learn.outcomes import ChangeOutcome, JobOutcome, Ratio
from brachium.core.learn.summary import by_kind, by_machine, minutes_of, sales_of
from brachium.core.machine.kinds import MachineKind


def change(group: str, brought: float, price: float) -> ChangeOutcome:
    return ChangeOutcome(group, Ratio(1.0, 1.2, 1.4), Ratio(brought, brought, brought), price, True)


JOB = JobOutcome("j", "Job", "M1", MachineKind.LAPTOP, "2026-11-25", Ratio(1.1, 1.2, 1.3), 1.5, (), 60.0, 90.0, 50.0)


def test_a_free_job_counts_for_no_value_per_euro_and_a_job_without_minutes_for_none() -> None:
    free, dear = replace(JOB, cost=0.0), replace(JOB, measured=1.2, cost=100.0)
    assert by_machine([free]) == ()
    found = by_machine([free, JOB, dear])[0]
    assert (found.count, found.gain, found.cost, found.per_100) == (2, 1.35, 75.0, pytest.approx(0.6))
    assert minutes_of([replace(JOB, planned_min=0.0), replace(JOB, real_min=0.0)]).ratio is None
    assert (minutes_of([JOB, replace(JOB, planned_min=0.0)]).ratio, minutes_of([JOB]).count) == (1.5, 1)


def test_the_best_value_stands_first_and_kinds_are_told_apart() -> None:
    tower = replace(JOB, kind=MachineKind.TOWER, measured=2.0, cost=50.0)
    assert [m.kind for m in by_machine([JOB, tower])] == [MachineKind.TOWER.value, MachineKind.LAPTOP.value]


def test_a_kind_rarely_pays_where_most_of_three_brought_less_than_their_price() -> None:
    jobs = [replace(JOB, changes=(change("paste", b, 10.0), *([change("fan", 1.2, 5.0)] if b > 1 else [])))
            for b in (1.0, 1.005, 1.5)]  # fmt: skip
    paste, fan = by_kind(jobs, 0.001)
    assert (paste.group, paste.count, paste.unpaid) == ("paste", 3, pytest.approx(2 / 3)) and paste.rarely_pays
    assert (fan.group, fan.count, fan.unpaid) == ("fan", 2, 0.0) and not fan.rarely_pays
    assert paste.brought == pytest.approx(1.005) and paste.predicted == pytest.approx(1.2)
    just = by_kind([replace(JOB, changes=(change("paste", 1.25, 250.0),))], 0.001)[0]
    assert just.unpaid == 0.0, "what brings just its price has paid"
    assert not by_kind(jobs[:2], 0.001)[0].rarely_pays, "two are too few to call it rare"


def test_sales_count_what_was_sold_over_the_work() -> None:
    sold = [replace(JOB, sold=80.0, resale_likely=100.0), replace(JOB, sold=40.0), JOB, replace(JOB, sold=50.0)]
    found = sales_of(sold)
    assert (found.ratio, found.count, found.margin, found.losses) == (0.8, 3, 20.0, 1)
    assert sales_of([replace(JOB, sold=10.0, resale_likely=0.0)]).ratio is None
