"""Processor and graphics on one sink: resistances against exact balances and against a richer simulated machine."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.app.bench.runner import Runner
from brachium.core.heat.two_chips import BOTH, GRAPHICS, PROCESSOR, TwoChips, TwoLoads, both_words, solved, two_chips_of
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import PhaseStep, Protocol, Run
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.machine import SimulatedSpec
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals

PROTOCOL = Protocol(
    "Own", 1, (PhaseStep("idle", 120.0), PhaseStep("load", 360.0), PhaseStep("cool-down", 240.0)),
    ("sustained", "heat_graphics", "heat_both"), 1, 1,
)  # fmt: skip


def loads(r: tuple[float, float, float], noise: float = 0.0, seed: int = 1) -> list[TwoLoads]:
    rng = np.random.default_rng(seed)
    out = []
    for name, p, g in ((PROCESSOR, 45.0, 2.0), (GRAPHICS, 12.0, 38.0), (BOTH, 40.0, 37.0)):
        rises = (r[0] * p + r[2] * (p + g), r[1] * g + r[2] * (p + g))
        a, b = (float(v + rng.normal(0.0, noise)) for v in rises)
        out.append(TwoLoads(name, (a, b), (p, g), 3000.0))
    return out


def test_exact_balances_give_exact_resistances_and_foretell_another_load() -> None:
    found = solved(loads((0.45, 0.6, 0.5)))
    assert found.r_k_w == pytest.approx((0.45, 0.6, 0.5)) and found.shares
    assert found.rises_k(20.0, 20.0) == pytest.approx((29.0, 32.0))
    assert "share a sink" in found.words and "instead of" in found.words
    apart = solved(loads((0.9, 0.8, 0.0)))
    assert not apart.shares and "do not share" in apart.words


def test_the_truth_lies_in_the_interval_as_often_as_it_says() -> None:
    truth, hits = (0.45, 0.6, 0.5), []
    for seed in range(200):
        found = solved(loads(truth, 0.6, seed))
        hits += [abs(v - t) <= h for v, t, h in zip(found.r_k_w, truth, found.half_k_w, strict=True)]
    assert np.mean(hits) >= 0.93


def test_a_fan_that_turned_differently_widens_what_is_shared() -> None:
    even, uneven = loads((0.45, 0.6, 0.5)), loads((0.45, 0.6, 0.5))
    uneven[2] = replace(uneven[2], fan_rpm=4200.0)
    assert solved(uneven).half_k_w[2] > 1.5 * solved(even).half_k_w[2]


def measured(graphics_w: float, paste: float, room_c: float | None = 22.0) -> Run:
    """One session on a machine with both chips on one plate; its fan hardly changes."""
    cooling = Cooling(paste_k_w=paste, graphics_paste_k_w=0.4, fins_k_w=0.55)
    fan = FanCurve(low_rpm=3900.0, high_rpm=4100.0)
    thermals = Thermals(Silicon(dynamic_w=26.0), cooling, fan, 22.0, graphics_w=graphics_w)
    spec = SimulatedSpec(thermals, SimulatedDrive(False, 500.0, 500.0, 0.1, 550.0), 8.0, 19_200.0, graphics=True,
                         conditions=Conditions(room_c=room_c))  # fmt: skip
    return Runner(SimulatedBench(spec), PROTOCOL).execute("r", "as taken in", "2026-12-01 08:00")


@pytest.mark.parametrize("paste", [0.3, 0.6, 1.1])
def test_both_resistances_of_a_simulated_machine_are_found(paste: float) -> None:
    found = two_chips_of(measured(30.0, paste))
    assert isinstance(found, TwoChips) and found.shares
    assert found.r_k_w[0] == pytest.approx(paste, abs=0.15) and found.r_k_w[1] == pytest.approx(0.4, abs=0.15)
    rises = {x.name: x.rises_k for x in found.loads}
    assert rises[BOTH][0] > rises[PROCESSOR][0] + 5.0 and rises[BOTH][1] > rises[GRAPHICS][1] + 5.0


def test_what_cannot_be_told_is_said() -> None:
    assert "room temperature" in both_words(measured(30.0, 0.6, None))
    assert "hardly any power" in both_words(measured(2.0, 0.6))
    assert both_words(measured(0.0, 0.6)) == "", "without a chip of its own on the plate there is no such load"
    bare = measured(30.0, 0.6)
    trace = bare.sessions[0].trace
    dumb = replace(trace, series=tuple(s for s in trace.series if not s.key.startswith("gpu_")))
    silent = replace(bare, sessions=(replace(bare.sessions[0], trace=dumb),))
    assert "no temperature or no power" in both_words(silent)
    whole = replace(trace, series=tuple(
        replace(s, values=s.values + trace.values("gpu_power_w")) if s.key == "power_w" else s for s in trace.series
    ))  # fmt: skip
    assert "counts both" in both_words(replace(bare, sessions=(replace(bare.sessions[0], trace=whole),)))
    assert both_words(None) == "" and both_words(replace(bare, sessions=())) == ""
    session = bare.sessions[0]
    phases = tuple(p for p in session.trace.phases if p.name != GRAPHICS)
    lacking = replace(bare, sessions=(replace(session, trace=replace(session.trace, phases=phases)),))
    assert "load of the three is missing" in both_words(lacking)
