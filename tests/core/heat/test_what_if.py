"""What if: balances by hand, monotone answers, and the simulated machine itself after the change."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.app.bench.runner import Runner
from brachium.app.view.job_view import JobView
from brachium.core.heat.before_figures import figures_of
from brachium.core.heat.model import TwoNode
from brachium.core.heat.what_if import Base, Changes, power_at, solve, steady_temp
from brachium.core.machine.parts import Service
from brachium.core.measure.run import PhaseStep, Protocol
from brachium.demo.newsroom import MACHINE, simulated_newsroom
from brachium.devices.simulated.bench import SimulatedBench

LOAD = Protocol("load", 1, (PhaseStep("idle", 120.0), PhaseStep("load", 1500.0), PhaseStep("cool-down", 200.0)),
                ("sustained",), 1, 1)  # fmt: skip


def base(limit_c: float = 90.0, fan_exponent: float = 0.0, **changes: object) -> Base:
    """Fixed fan unless an exponent is given: P = 4 + 36 f^2, 1 + 1 K/W, room 20 degC."""
    made = Base(TwoNode(10.0, 200.0, 1.0, 1.0, fan_exponent, 0.1, 3000.0), 20.0, limit_c, 3000.0, 4.0, 36.0, 0.0, 2.0,
                True, np.array([20.0, 100.0]), np.array([1500.0, 4500.0]), False, True)  # fmt: skip
    return replace(made, **changes)  # type: ignore[arg-type]


def test_balance_with_a_fixed_fan_is_plain_arithmetic() -> None:
    assert steady_temp(base(), 1.0, Changes())[0] == pytest.approx(20.0 + 40.0 * 2.0)
    assert steady_temp(base(), 1.0, Changes(paste=0.5))[0] == pytest.approx(20.0 + 40.0 * 1.5)
    assert steady_temp(base(other_w=10.0), 1.0, Changes())[0] == pytest.approx(20.0 + 40.0 * 2.0 + 10.0)
    held = solve(base(), Changes())
    # 90 = 20 + 2 (4 + 36 f^2)  ->  f = sqrt(31 / 36)
    assert held.held_back and held.clock_mhz == pytest.approx(3000.0 * np.sqrt(31.0 / 36.0), rel=1e-6)
    assert held.chip_c == pytest.approx(90.0) and held.power_w == pytest.approx(35.0)
    free = solve(base(), Changes(paste=0.5))
    assert not free.held_back and free.clock_mhz == 3000.0 and free.chip_c == pytest.approx(80.0)
    warm = solve(base(), Changes(room_k=8.0))
    assert warm.power_w == pytest.approx(31.0), "eight kelvin are four watts at 2 K/W"


def test_the_transient_ends_in_the_balance() -> None:
    for changes in (Changes(), Changes(paste=0.5), Changes(room_k=8.0, fan=1.2)):
        out = solve(base(fan_exponent=0.7), changes)
        assert out.chip_trace_c[-60:].mean() == pytest.approx(out.chip_c, abs=0.5)
        assert out.clock_trace_mhz[-60:].mean() == pytest.approx(out.clock_mhz, rel=0.01)
        assert out.chip_trace_c.max() < 90.0 + 6.0, "the governor holds it near the limit"


@settings(max_examples=40, deadline=None)
@given(st.floats(0.3, 1.3), st.floats(0.3, 1.6), st.floats(0.5, 1.5), st.floats(-5.0, 12.0), st.floats(0.5, 1.6))
def test_what_cools_never_slows(paste: float, fins: float, fan: float, room: float, power: float) -> None:
    made = base(fan_exponent=0.7)
    here = Changes(paste, fins, fan, room, power)
    clock = solve(made, here).clock_mhz
    for better in (replace(here, paste=0.9 * paste), replace(here, fins=0.9 * fins), replace(here, fan=1.1 * fan),
                   replace(here, room_k=room - 2.0)):  # fmt: skip
        assert solve(made, better).clock_mhz >= clock - 1e-3
    found = solve(made, here)
    assert found.chip_c <= made.limit_c + 1e-3 or found.clock_mhz == pytest.approx(0.2 * made.full_mhz)
    assert power_at(made, 1.0, here) == pytest.approx(4.0 + 36.0 * power)


def test_it_foretells_what_new_paste_does_to_the_simulated_machine(finished_view: JobView) -> None:
    """The machine has four thermal nodes, leakage and a case; the answer from its fit comes within two per cent."""
    assert finished_view.causes.figures is not None and finished_view.causes.figures.base is not None
    made = finished_view.causes.figures.base
    today = solve(made, Changes())
    assert today.held_back and today.clock_mhz == pytest.approx(
        finished_view.causes.figures.sustained_clock_mhz, rel=0.03
    )
    # the fitted step holds plate and pipe as well: of 1.28 + 0.14 K/W the paste falls to 0.40
    change = (0.40 + 0.14) / (1.28 + 0.14)
    predicted = solve(made, Changes(paste=change))
    spec = simulated_newsroom(MACHINE.configuration(), frozenset({Service.NEW_PASTE}), False)
    after = figures_of(Runner(SimulatedBench(spec), LOAD).execute("r", "c", ""), 95.0)
    assert predicted.clock_mhz == pytest.approx(after.sustained_clock_mhz, rel=0.02)


def test_without_clock_or_power_there_is_nothing_to_solve(finished_view: JobView) -> None:
    assert finished_view.measured.before is not None
    for gone in ("clock_mhz", "power_w"):
        sessions = tuple(
            replace(s, trace=replace(s.trace, series=tuple(x for x in s.trace.series if x.key != gone)))
            for s in finished_view.measured.before.sessions
        )
        assert figures_of(replace(finished_view.measured.before, sessions=sessions), 95.0).base is None


def test_the_first_seconds_follow_the_fast_node_alone() -> None:
    """A step in power over R = 1 K/W, C = 10 J/K: 63 % of the rise over the fast part after 10 s; a hundredth of that
    capacity needs steps so much finer, or the explicit sum would swing."""
    out = solve(base(limit_c=500.0), Changes())
    rise = out.chip_trace_c - out.chip_trace_c[0]
    at_10 = float(np.interp(10.0, out.time_s - out.time_s[0], rise))
    assert at_10 == pytest.approx(36.0 * (1.0 - np.exp(-1.0)), rel=0.12)
    quick = replace(base(limit_c=500.0), model=TwoNode(0.4, 200.0, 0.25, 1.0, 0.0, 0.1, 3000.0))
    trace = solve(quick, Changes()).chip_trace_c
    assert np.all(np.diff(trace) > -1e-6) and trace.max() < 20.0 + 40.0 * 1.25 + 1.0, "no swing of the explicit steps"
