"""What the machine waited for: shares of doctored samples by hand, sums of one, blind spots."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.app.view.job_view import JobView
from brachium.core.base.arrays import frozen, time_axis
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, Phase, Run, Series, Trace
from brachium.core.measure.waiting import KEYS, Limit, limits_of
from brachium.core.measure.workloads import QUICK

N = 60


def run_of(**values: float | np.ndarray) -> Run:
    series = tuple(Series(k, "1", "made", frozen(np.broadcast_to(v, N))) for k, v in values.items())
    trace = Trace(time_axis(np.arange(N, dtype=float)), series, (Phase("test own_task", 0.0, float(N - 1)),))
    return Run("r", "c", QUICK, Conditions(), (), (MeasuredSession(1, trace),), "", "made")


def limit(threads: int = 4, **values: float | np.ndarray) -> Limit:
    (found,) = limits_of(run_of(**values), threads)
    return found


def test_a_busy_processor_at_its_full_clock_limits_alone() -> None:
    found = limit(util_frac=0.98, clock_mhz=3000.0, io_stall_frac=0.0, gpu_util_frac=0.1)
    assert found.shares["processor"] == pytest.approx(1.0) and found.limiter == "processor" and found.blind == ()


def test_a_lowered_clock_is_time_lost() -> None:
    clock = np.where(np.arange(N) < 20, 3000.0, 2400.0)
    found = limit(util_frac=0.98, clock_mhz=clock)
    assert found.shares["held"] == pytest.approx(0.2 * 41 / 59, abs=0.02) and "lowered clock" in found.words


def test_waiting_for_storage_is_paging_where_memory_is_full() -> None:
    short = limit(util_frac=0.5, io_stall_frac=0.4, memory_used_frac=0.97)
    roomy = limit(util_frac=0.5, io_stall_frac=0.4, memory_used_frac=0.60)
    assert short.shares["paging"] == pytest.approx(0.4) and roomy.shares["storage"] == pytest.approx(0.4)
    assert short.shares["processor"] == pytest.approx(0.6), "in the rest of the time it is busy"
    assert "paging" in short.words and "clock" in short.blind


def test_one_thread_of_four_and_the_graphics_are_told_apart() -> None:
    single = limit(util_frac=0.25)
    assert single.limiter == "thread" and single.shares["thread"] == pytest.approx(1.0)
    graphics = limit(util_frac=0.30, gpu_util_frac=0.97)
    assert graphics.limiter == "graphics" and graphics.shares["graphics"] == pytest.approx(1.0)
    calm = limit(util_frac=0.02)
    assert calm.limiter == "free" and "graphics was not sampled" in calm.words


@given(st.lists(st.floats(0.0, 1.0), min_size=4, max_size=4), st.integers(1, 32))
def test_shares_are_shares(values: list[float], threads: int) -> None:
    util, stall, used, graphics = values
    found = limit(threads, util_frac=util, io_stall_frac=stall, memory_used_frac=used, gpu_util_frac=graphics,
                  clock_mhz=np.linspace(1000, 3000, N))  # fmt: skip
    assert sum(found.shares.values()) == pytest.approx(1.0) and min(found.shares.values()) >= -1e-12
    assert set(found.shares) == set(KEYS)


def test_the_demo_run_says_what_limits_each_part(finished_view: JobView) -> None:
    limits = {x.name: x for x in finished_view.causes.assessment.limits}
    assert next(iter(limits)) == "test own_task" and not any(n.startswith("test drive_") for n in limits)
    assert limits["load"].shares["held"] == pytest.approx(0.14, abs=0.03)
    assert 0.25 < limits["test own_task"].shares["paging"] < 0.45
    assert limits["test cpu_single"].limiter == "thread"


def test_without_utilisation_nothing_is_shared_out() -> None:
    assert limits_of(run_of(temp_c=60.0), 4) == ()
