"""Reference bands: coverage of the next machine, refusal with few machines, tables."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.own_tests import KINDS, OwnResult, OwnTest
from brachium.core.measure.reference import band_of, hardware_key, outside_reference, reference_bands
from brachium.core.measure.run import Run
from brachium.core.measure.typed_runs import with_own
from brachium.core.measure.workloads import spec_of
from brachium.formats.reference_table import parse_table


@pytest.mark.parametrize("machines", [4, 8, 20])
def test_the_next_machine_lies_within_nineteen_times_in_twenty(machines: int) -> None:
    rng = np.random.default_rng(machines)
    inside = 0
    for _ in range(2000):
        values = np.exp(rng.normal(4.0, 0.06, machines + 1))
        band = band_of(list(values[:-1]))
        assert band is not None
        inside += band.low <= values[-1] <= band.high
    assert 0.935 < inside / 2000 < 0.965


def test_few_machines_are_no_reference_and_several_runs_of_one_no_machines(runs: tuple[Run, Run]) -> None:
    assert band_of([60.0, 61.0, 62.0]) is None and band_of([60.0, 61.0, 62.0, -1.0]) is None
    assert reference_bands({"one": [runs[0], runs[1], runs[0], runs[1], runs[0]]}, {}) == {}


def test_a_result_outside_is_said_in_the_tests_direction(runs: tuple[Run, Run]) -> None:
    table = {"cpu_all": (90.0, 91.0, 92.0, 93.0, 90.5), "start_up": (90.0, 91.0, 92.0, 93.0)}
    bands = reference_bands({}, table)
    said = tuple(outside_reference(runs[0], bands).values())
    assert len(said) == 2 and "All threads, short" in said[0] and "is worse than 5 machines like it give" in said[0]
    assert "Start-up" in said[1] and "is better than 4 machines" in said[1]
    assert bands["cpu_all"].words(91.0, spec_of("cpu_all")) == ""


def test_typed_figures_have_bands_where_the_machine_decides_them() -> None:
    """A clock on paper beside other machines' clocks; a task of the owner's, or other settings, beside nothing."""
    clock, task = (next(k for k in KINDS if k.id == kind) for kind in ("clock", "task"))

    def typed(test: OwnTest, value: float) -> Run:
        run = with_own(None, "before", (test,), [OwnResult(test.id, "before", value)])
        assert run is not None
        return run

    mine = [replace(t, id=f"{t.id}-1") for t in (clock, task)]
    others = {f"m{k}": [typed(replace(mine[0], id=f"clock-{k}"), v)] for k, v in enumerate((2600, 2650, 2580, 2620))}
    others |= {f"t{k}": [typed(mine[1], v)] for k, v in enumerate((60, 61, 62, 63))}
    bands = reference_bands(others, {})
    assert set(bands) == {"own:clock"} and bands["own:clock"].machines == 4
    said = outside_reference(typed(mine[0], 1900), bands)
    assert "1 900 MHz is worse than 4 machines like it give" in said["own:clock-1"].replace("1900", "1 900")
    assert not outside_reference(typed(replace(mine[0], settings="one core"), 1900), bands)


def test_tables_are_read_and_bad_lines_named() -> None:
    text = "\ufeffhardware,test,value\n" + "Kestrion M4-35,cpu_all,60.5\n" * 3 + "kestrion m4 35,cpu_all,61\n"
    assert parse_table(text, "t.csv") == {hardware_key("Kestrion M4-35"): {"cpu_all": (60.5, 60.5, 60.5, 61.0)}}
    for bad, says in (("a,b\n1,2\n", "line 1"), ("hardware,test,value\nK,cpu_all,fast\n", "line 2"),
                      ("hardware,test,value\nK,cpu_all,5\n,cpu_all,5\n", "line 3")):  # fmt: skip
        with pytest.raises(ExpectedProblem, match=says):
            parse_table(bad, "t.csv")
