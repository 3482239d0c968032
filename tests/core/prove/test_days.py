"""Days against days: the same machine claims nothing, a known gain is found, and the day after is predicted."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from benchmarks.days import DISK, FLASH, outcomes, run_of_day, table
from brachium.core.prove.days import compare_days
from brachium.devices.simulated import day as made
from tests.core.use.test_day_of_use import without

OWNER = made.DayOwner(((made.OFFICE, 0.6), (made.BUILDING, 0.4)), 8.0)
SLOW, FAST = made.DayMachine(8, 8.0, DISK), made.DayMachine(8, 8.0, FLASH)


def pair(first: made.DayMachine, second: made.DayMachine, seed: int) -> tuple[made.SimulatedDay, made.SimulatedDay]:
    return made.simulate_day(OWNER, first, seed), made.simulate_day(OWNER, second, seed + 500)


def test_two_days_of_one_machine_hardly_ever_differ() -> None:
    away = []
    for seed in range(12):
        found = compare_days(*(run_of_day(d) for d in pair(SLOW, SLOW, seed)))
        assert found is not None and found.gain is not None
        away.append(np.log(found.gain.mid))
    assert abs(float(np.mean(away))) < 0.02 and float(np.std(away)) < 0.06


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_faster_drive_is_found_at_its_size(seed: int) -> None:
    owner = replace(OWNER, work=((made.OFFICE, 1.0),))  # of one kind of work an action is an action
    days = made.simulate_day(owner, SLOW, seed), made.simulate_day(owner, FAST, seed + 500)
    found = compare_days(*(run_of_day(d) for d in days))
    assert found is not None and found.gain is not None
    waits = [sum(v for k, v in d.truth_s.items() if k != "person") / d.actions for d in days]
    person = sum(d.truth_s["person"] for d in days) / sum(d.actions for d in days)
    truth = (waits[0] + person) / (waits[1] + person)
    assert truth > 1.08 and found.gain.mid == pytest.approx(truth, rel=0.07)
    assert found.gain.low > 1.0 and found.held(False)["storage"] > 4.0 * found.held(True)["storage"]


def test_what_cannot_be_compared_is_refused_and_still_told() -> None:
    days = [run_of_day(d) for d in pair(SLOW, FAST, 4)]
    other = compare_days(days[0], days[1], other_processor=True)
    assert other is not None and other.gain is None and "another processor" in other.refusal and other.held(True)
    session = days[1].sessions[0]
    short = replace(days[1], sessions=(replace(session, trace=session.trace.cut(0.0, 3600.0)),))
    few = compare_days(days[0], short)
    assert few is not None and few.gain is None and "after has fewer" in few.refusal
    assert compare_days(days[0], replace(days[1], sessions=())) is None
    dark = without(days[1], "io_stall_frac", "memory_stall_frac")
    unseen = compare_days(days[0], dark)
    assert unseen is not None and unseen.gain is None and "waited for after was not recorded" in unseen.refusal
    assert "storage" not in unseen.held(False), "what one side did not see is not compared"
    blind = compare_days(days[0], without(days[1], "gpu_util_frac"))
    assert blind is not None and blind.gain is None and "one side only" in blind.refusal


def test_the_day_after_is_foretold_from_the_day_before() -> None:
    found = outcomes(24, 95_000)
    inside = np.mean([o.inside for o in found])
    assert len(found) >= 20 and 0.55 <= inside < 1.0, table(found)
