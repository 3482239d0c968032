"""The simulated machine is physics: balances, limits, and results that follow from the parts."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.app.bench.runner import Runner
from brachium.core.heat.claims import compare
from brachium.core.heat.run_traces import heat_traces
from brachium.core.machine.parts import Service
from brachium.core.measure.run import PhaseStep, Protocol, Run
from brachium.core.measure.workloads import STANDARD
from brachium.demo.newsroom import HEALTHY, MACHINE, simulated_newsroom
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.faults import Faults, with_faults
from brachium.devices.simulated.machine import SimulatedMachine
from brachium.devices.simulated.paging import miss_share
from brachium.devices.simulated.physics import (
    Cooling,
    FanCurve,
    Silicon,
    Thermals,
    ThermalState,
    fins_resistance,
    steady_rises_k,
)

SHORT = Protocol("short", 1, (PhaseStep("idle", 30.0), PhaseStep("load", 60.0), PhaseStep("cool-down", 20.0)),
                 ("sustained", "cpu_all", "mem_bandwidth", "drive_rand_q1"), 2, 2)  # fmt: skip
BEFORE = simulated_newsroom(MACHINE.configuration(), frozenset(), False)


def short_run(seed: int = 1) -> Run:
    bench = SimulatedBench(replace(BEFORE, seed=seed))
    return Runner(bench, SHORT).execute("r", "c", "2026-11-24")


def test_settles_at_the_closed_form_balance() -> None:
    fan = FanCurve(low_rpm=3000, high_rpm=3000)
    cooling = Cooling(paste_k_w=0.4, pipe_flux_w=6.0, hidden_load_w=2.0)
    chip = Silicon(leakage_w=0.0, dynamic_w=25.0, idle_w=3.0)
    state = ThermalState(Thermals(chip, cooling, fan, 22.0))
    state.util = 1.0
    for _ in range(4 * 20_000):
        state.step()
    assert state.power_w == pytest.approx(28.0)
    die_plate, plate_room = steady_rises_k(cooling, 28.0, 3000.0)
    assert state.die_c - state.plate_c == pytest.approx(die_plate, rel=1e-3)
    assert state.plate_c - 22.0 == pytest.approx(plate_room, rel=1e-3)


def test_the_limit_is_kept_by_giving_up_clock() -> None:
    state = ThermalState(BEFORE.thermals)
    state.util = 1.0
    hot, clocks = [], []
    for _ in range(4 * 900):
        state.step()
        hot.append(state.die_c)
        clocks.append(state.clock_mhz)
    assert max(hot) < BEFORE.thermals.silicon.limit_c + 3.0
    assert np.mean(clocks[-1200:]) < 0.92 * BEFORE.thermals.silicon.max_mhz
    assert state.throttle_events > 3, "it hunts around the limit"


@pytest.mark.parametrize(
    ("faults", "held", "hotter"),
    [(Faults(), False, False), (Faults(paste=3.2), True, True), (Faults(dust=2.2), True, True),
     (Faults(fan=0.25), True, True), (Faults(battery_missing=True), True, False), (Faults(room_c=38.0), False, True)],
)  # fmt: skip
def test_faults_do_what_they_do_on_a_bench(faults: Faults, held: bool, hotter: bool) -> None:
    """Held back by heat or by power; a missing battery holds back a cool machine."""
    ends = []
    for thermals in (HEALTHY, with_faults(HEALTHY, faults)):
        state = ThermalState(thermals)
        state.util = 1.0
        clocks = []
        for k in range(4 * 900):
            state.step()
            if k > 4 * 600:
                clocks.append(state.clock_mhz)
        ends.append((float(np.mean(clocks)), state.die_c))
    assert (ends[1][0] < 0.97 * ends[0][0]) == held
    assert (ends[1][1] > ends[0][1] + 3.0) == hotter


def test_leakage_grows_with_temperature() -> None:
    powers = []
    for room in (10.0, 40.0):
        state = ThermalState(replace(BEFORE.thermals, room_c=room, silicon=Silicon(dynamic_w=10.0)))
        state.util = 1.0
        for _ in range(4 * 600):
            state.step()
        powers.append(state.power_w)
    assert powers[1] > powers[0] + 0.5


def test_a_power_limit_holds_without_heat() -> None:
    chip = Silicon(dynamic_w=40.0, power_limit_w=20.0)
    state = ThermalState(Thermals(chip, Cooling(paste_k_w=0.2)))
    state.util = 1.0
    for _ in range(4 * 300):
        state.step()
    assert state.power_w < 21.0 and state.sensed_c < chip.limit_c - 15


@given(st.floats(500, 5000), st.floats(500, 5000))
def test_more_air_is_less_resistance(slow: float, fast: float) -> None:
    cooling = Cooling()
    lower, higher = sorted((slow, fast))
    assert fins_resistance(cooling, higher) <= fins_resistance(cooling, lower)


def test_same_seed_gives_identical_records_and_another_seed_does_not() -> None:
    one, two, other = short_run(), short_run(), short_run(2)
    for a, b, c in zip(one.sessions, two.sessions, other.sessions, strict=True):
        assert a.repeats == b.repeats and a.trace.phases == b.trace.phases
        for x, y, z in zip(a.trace.series, b.trace.series, c.trace.series, strict=True):
            np.testing.assert_array_equal(x.values, y.values)
            if x.key == "temp_c":
                assert not np.array_equal(x.values, z.values)


def test_speed_of_simulated_time_changes_no_sample() -> None:
    fast = short_run()
    bench = SimulatedBench(BEFORE, speed=20_000.0)
    paced = Runner(bench, SHORT).execute("r", "c", "2026-11-24")
    assert paced.sessions[0].repeats == fast.sessions[0].repeats


def test_sessions_have_offsets_of_their_own() -> None:
    means = []
    for seed in range(12):
        run = short_run(seed)
        means.append([s.results("cpu_all").mean() for s in run.sessions])
    logs = np.log(np.array(means))
    between = np.std(logs[:, 0] - logs[:, 1]) / np.sqrt(2)
    assert 0.004 < between < 0.02


def test_sensor_reads_whole_degrees_late() -> None:
    machine = SimulatedMachine(BEFORE)
    machine.set_util(1.0)
    readings = []
    for _ in range(40):
        machine.step()
        readings.append((machine.state.die_c, machine.sample()["temp_c"]))
    assert all(r == round(r) for _, r in readings)
    assert np.mean([die - read for die, read in readings]) > 0.5, "the sensor lags a rising die"


def test_results_follow_the_parts() -> None:
    two = MACHINE.fitted[0].part
    wide = simulated_newsroom(MACHINE.configuration().with_changes({"slot-2": two}), frozenset(), False)
    cool = simulated_newsroom(MACHINE.configuration(), frozenset({Service.NEW_PASTE, Service.CLEAN_FINS}), False)
    assert wide.memory_peak_mb_s == 2 * BEFORE.memory_peak_mb_s and wide.memory_gib == 2 * BEFORE.memory_gib
    assert cool.thermals.cooling.paste_k_w < 0.5 * BEFORE.thermals.cooling.paste_k_w
    assert cool.thermals.cooling.fins_k_w < BEFORE.thermals.cooling.fins_k_w


def test_inner_tracks_are_slower_and_flash_does_not_care() -> None:
    disk = SimulatedDrive(True, 110, 55, 14.0, 550)
    assert disk.sequential_mb_s(0.0) == 110 and disk.sequential_mb_s(1.0) == 55
    flash = SimulatedDrive(False, 540, 540, 0.09, 140)
    assert flash.sequential_mb_s(0.0) == flash.sequential_mb_s(1.0) == 140, "the link limits it"


def test_random_reads_of_disk_and_flash() -> None:
    rng = np.random.default_rng(1)
    disk, flash = SimulatedDrive(True, 110, 55, 14.0, 550), SimulatedDrive(False, 540, 540, 0.09, 550)
    near, far = disk.random_reads_s(1, 0.02, rng, 3000), disk.random_reads_s(1, 1.0, rng, 3000)
    assert 60 < far < near < 200
    assert 1.8 * near < disk.random_reads_s(32, 0.02, rng, 3000) < 3 * near
    assert 9_000 < flash.random_reads_s(1, 1.0, rng) < 13_000
    assert flash.random_reads_s(32, 1.0, rng) == pytest.approx(550e6 / 4096, rel=0.02), "depth 32 meets the link"


@settings(max_examples=25, deadline=None)
@given(st.floats(0.5, 6.0), st.floats(0.1, 3.0))
def test_misses_shrink_with_memory_and_skew_keeps_them_below_uniform(memory: float, extra: float) -> None:
    here, more = miss_share(memory, 6.6), miss_share(memory + extra, 6.6)
    assert 0.0 <= more <= here <= 1.0
    assert here <= 1.0 - memory / 6.6 + 0.02


def test_a_memory_test_before_the_load_does_not_look_like_better_airflow() -> None:
    """The case is still warm from it; the fins' change must hold the truth of the physics all the same."""
    specs = [simulated_newsroom(MACHINE.configuration(), services, after)
             for services, after in ((frozenset(), False), (frozenset(Service), True))]  # fmt: skip
    runs = [
        Runner(SimulatedBench(replace(s, seed=20 + k)), STANDARD).execute("r", "c", "t") for k, s in enumerate(specs)
    ]
    assert runs[0].sessions[0].trace.phases[0].name == "memory test"
    verdict = compare(*(heat_traces(run, 95.0) for run in runs))
    rises = [steady_rises_k(s.thermals.cooling, verdict.power_ref_w, verdict.fan_ref_rpm) for s in specs]
    assert verdict.paste is not None and verdict.airflow is not None
    for claim, part in ((verdict.paste, 0), (verdict.airflow, 1)):
        truth = rises[0][part] - rises[1][part]
        assert abs(claim.value_k - truth) <= claim.half_width_k, claim.text
