"""A protocol of the shop's own: bounds, versions, what it cannot conclude, a limit that stops the load."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.app.bench.benches import bench_for, expected_minutes
from brachium.app.bench.runner import Runner
from brachium.core.measure.own_protocol import BOUNDS, changed_protocol, starting_point, value_of
from brachium.core.record.job import MeasureSetup
from brachium.core.record.protocol_of_job import chosen_protocol, protocol_of
from brachium.demo.newsroom import newsroom_job


@given(st.sampled_from(sorted(BOUNDS)), st.floats(0.0, 1.0))
def test_a_field_is_kept_within_its_bounds_and_nothing_else_changes(field: str, share: float) -> None:
    bounds, start = BOUNDS[field], starting_point()
    value = bounds.low + share * (bounds.high - bounds.low)
    new = changed_protocol(start, field, value, 2)
    assert value_of(new, field) == pytest.approx(value, abs=0.51 if field in ("repeats", "sessions") else 1e-9)
    assert new.version == 2 and new.tests == start.tests
    assert all(value_of(new, k) == value_of(start, k) for k in BOUNDS if k != field)
    for wrong in (bounds.low - 1.0, bounds.high + 1.0):
        with pytest.raises(ValueError, match="to"):
            changed_protocol(start, field, wrong, 2)


def test_what_it_cannot_conclude_follows_from_it() -> None:
    assert starting_point().cannot == ()
    short = changed_protocol(changed_protocol(starting_point(), "load", 1.0, 2), "sessions", 1, 2)
    assert len(short.cannot) == 2 and "heatsink" in short.cannot[0] and "one session" in short.cannot[1]
    assert changed_protocol(short, "load", 10.0, 3).cannot == short.cannot[1:]


def test_a_job_is_measured_with_it_and_the_limit_stops_the_load_at_once() -> None:
    needed = chosen_protocol(newsroom_job(), starting_point())
    own = changed_protocol(changed_protocol(needed, "load", 2.0, 2), "sessions", 1, 2)
    job = replace(newsroom_job(), setup=MeasureSetup("own", own=own, limit_c=70.0))
    assert protocol_of(job) is own and expected_minutes(job) < 0.5 * expected_minutes(newsroom_job())
    bench = bench_for(job, "before", None)
    assert bench is not None
    run = Runner(bench, own).execute("r", "", "2026-11-25 10:00")
    temp = run.sessions[0].trace.values("temp_c")
    assert not run.complete and "the limit is 70" in run.notes[0] and temp is not None and temp.max() < 74
    assert run.protocol == own, "a run keeps its copy"
    assert protocol_of(replace(job, setup=MeasureSetup("gone"))).name == "Standard"
