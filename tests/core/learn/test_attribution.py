"""The measured gain divided among its changes: against simulated machines, and never more than was measured."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from benchmarks.attribution import attributed
from brachium.app.view.job_view import JobView
from brachium.core.learn.attribution import Stretch, attribute, measured_speeds, stretches_of


def test_parts_are_those_of_the_simulated_machines() -> None:
    found = [attributed(seed) for seed in range(82_000, 82_005)]
    errors = [f.error for f in found]
    assert sum(e < 3.0 for e in errors) >= 4, errors
    assert any(f.gain > 1.05 for f in found), "some of them gain"


def test_the_parts_and_the_rest_add_up_to_what_was_measured(finished_view: JobView) -> None:
    found = finished_view.proof.attribution
    assert found is not None and found.estimated and len(found.parts) == len(finished_view.choice.chosen())
    logs = sum(np.log(p.band.mid) for p in found.parts) + np.log(found.rest)
    assert logs == pytest.approx(np.log(found.total), abs=0.02)
    assert found.total > 1.2 and all(p.band.low <= p.band.mid <= p.band.high for p in found.parts)


def test_a_run_in_between_measures_a_change_alone(finished_view: JobView) -> None:
    view = finished_view
    assert view.measured.before is not None and view.measured.after is not None and view.causes.figures is not None
    between = replace(view.measured.after, id="between", taken_at="2026-11-22 09:00")
    first = view.choice.chosen()[0]
    done = {first.group.value: "2026-11-21 10:00"}
    runs = [
        (replace(view.measured.before, taken_at="2026-11-20 09:00"), view.causes.figures),
        (between, view.causes.figures),
        (replace(view.measured.after, taken_at="2026-11-24 09:00"), view.causes.figures),
    ]
    parts = stretches_of(view.job.machine, view.choice.chosen(), done, runs)
    assert [len(s.chosen) for s in parts] == [1, len(view.choice.chosen()) - 1]
    changed = parts[1].machine.configuration().parts
    assert changed != view.job.machine.configuration().parts, "the second stretch begins with the first change made"
    found = attribute(parts, view.causes.profile)
    assert found is not None and [p.measured for p in found.parts][:1] == [True]
    idle = stretches_of(view.job.machine, view.choice.chosen(), {}, runs)
    assert [len(s.chosen) for s in idle] == [len(view.choice.chosen())], "nothing changed before the run in between"


def test_runs_that_cannot_be_compared_are_not_divided(finished_view: JobView) -> None:
    view = finished_view
    assert view.measured.before is not None and view.measured.after is not None and view.causes.figures is not None
    other = replace(
        view.measured.after, conditions=replace(view.measured.after.conditions, power_profile="power saving")
    )
    one = Stretch(
        view.measured.before, other, view.causes.figures, view.causes.figures, view.job.machine, view.choice.chosen()
    )
    assert measured_speeds(one) == {} and attribute((one,), view.causes.profile) is None
    longer = replace(view.measured.after, protocol=replace(view.measured.after.protocol, test_s=5.0))
    assert measured_speeds(replace(one, after=longer)) == {}, "tests of another length are other tests"
    later = replace(view.measured.after, protocol=replace(view.measured.after.protocol, version=9))
    assert measured_speeds(replace(one, after=later)) != {}, "a later version that only has more tests is the same one"
    assert set(measured_speeds(replace(one, after=view.measured.after))) >= {"all", "memory", "random", "paging"}


def test_one_change_alone_is_all_of_it(finished_view: JobView) -> None:
    view = finished_view
    assert view.measured.before is not None and view.measured.after is not None and view.causes.figures is not None
    one = Stretch(
        view.measured.before,
        view.measured.after,
        view.causes.figures,
        view.causes.figures,
        view.job.machine,
        view.choice.chosen()[:1],
    )
    found = attribute((one,), view.causes.profile)
    assert found is not None and not found.estimated and found.rest == 1.0
    assert found.parts[0].band.mid == pytest.approx(found.total)
    assert attribute((), view.causes.profile) is None
