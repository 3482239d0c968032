"""The simulated bench: the same clock, sampler and workload interfaces as a real machine."""

from __future__ import annotations

import threading
from collections.abc import Mapping

from brachium.core.base.late_numpy import np
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.feel_tests import EVERYDAY, GRAPHICS, HEAT, LADDER
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE
from brachium.devices.protocols import ChannelInfo, Missing, Workload
from brachium.devices.simulated.machine import CHANNELS, GRAPHICS_BUSY, GRAPHICS_HEAT, SimulatedMachine, SimulatedSpec
from brachium.devices.simulated.physics import STEP_S
from brachium.devices.simulated.workloads import SimulatedWorkload, build_workload, sustained_rate

MARGIN_K = 3.0
OFFERED = (
    "sustained", "cpu_all", "cpu_single", "mem_bandwidth", "drive_seq", "drive_rand_q1", "drive_rand_q32", "start_up",
    "own_task", *COMPILED, *COMPILED_DRIVE, *EVERYDAY, LADDER, *(k for k in GRAPHICS if k not in (*HEAT, "soft_scene")),
)  # fmt: skip


class SimulatedBench:
    """A machine under test that exists in numbers. `speed` is simulated over real time; None = no waiting."""

    def __init__(self, spec: SimulatedSpec, speed: float | None = None, limit_c: float | None = None) -> None:
        self._limit_c = limit_c
        self.machine = SimulatedMachine(spec)
        self.clock = SimulatedClock(self, speed)
        self.sampler = SimulatedSampler(self)
        self.running: SimulatedWorkload | None = None
        self._rates: list[float] | None = None

    def restart(self) -> None:
        self.running = None
        self.machine.begin_session()

    def boot_id(self) -> str:
        return f"simulated start {self.machine.session}"

    def signature(self) -> str:
        return ""

    def busy_programs(self) -> tuple[str, ...]:
        return ()

    def opening(self) -> tuple[str, ...]:
        return ("mem_test",)

    def offers(self) -> tuple[str, ...]:
        return (*OFFERED, *HEAT) if self.machine.spec.thermals.graphics_w else OFFERED

    def counted_start(self) -> tuple[float, str]:
        """Simulated starts are timed as a test of their own."""
        return float("nan"), ""

    def missing(self) -> tuple[Missing, ...]:
        return ()

    def load_problem(self) -> str:
        return ""

    def alarm(self) -> str:
        """A simulated machine is stopped like a real one, 3 K below the point where it would switch itself off."""
        limit = min(self.machine.spec.thermals.silicon.critical_c - MARGIN_K, self._limit_c or np.inf)
        sensed = self.machine.state.sensed_c
        return f"the chip read {sensed:.0f} °C, the limit is {limit:.0f} °C" if sensed >= limit else ""

    def close(self) -> None:
        """Nothing outside the program was touched."""

    def workload(self, key: str) -> Workload:
        return _Attached(self, build_workload(self.machine, key))

    def set_load(self, busy: bool) -> None:
        if busy:
            self._rates = []
            self.machine.set_util(1.0)
        else:
            self.machine.rest()

    def sustained_score(self) -> float:
        rates = self._rates or []
        half = rates[len(rates) // 2 :]
        return float(np.mean(half)) * self.machine.offset * self.machine.noise() if half else float("nan")

    def conditions(self) -> Conditions:
        return self.machine.spec.conditions

    def tick(self, dt_s: float) -> None:
        self.machine.step(dt_s)
        if self.running is not None:
            self.running.tick(dt_s)
        if self._rates is not None and self.machine.state.util >= 0.99 and self.running is None:
            self._rates.append(sustained_rate(self.machine))


class SimulatedClock:
    """Lets physics pass; may wait so that a person can watch."""

    def __init__(self, bench: SimulatedBench, speed: float | None) -> None:
        self._bench = bench
        self.speed = speed
        self._wake = threading.Event()

    def set_speed(self, speed: float | None) -> None:
        """Change the pace at once, also in the middle of a wait."""
        self.speed = speed
        self._wake.set()

    def now_s(self) -> float:
        return self._bench.machine.time_s

    def sleep(self, duration_s: float) -> None:
        for _ in range(max(round(duration_s / STEP_S), 1)):
            self._bench.tick(STEP_S)
        if self.speed is not None:
            self._wake.wait(duration_s / self.speed)
            self._wake.clear()


class SimulatedSampler:
    """Reads the simulated sensors."""

    def __init__(self, bench: SimulatedBench) -> None:
        self._bench = bench

    def channels(self) -> tuple[ChannelInfo, ...]:
        spec = self._bench.machine.spec
        heat = GRAPHICS_HEAT if spec.thermals.graphics_w else ()
        return (*CHANNELS, *((GRAPHICS_BUSY,) if spec.graphics else ()), *heat)

    def sample(self) -> Mapping[str, float]:
        return self._bench.machine.sample()


class _Attached:
    """A workload that the bench ticks while it runs."""

    def __init__(self, bench: SimulatedBench, workload: SimulatedWorkload) -> None:
        self._bench, self._workload = bench, workload

    def start(self) -> None:
        self._bench.running = self._workload
        self._workload.start()

    def done(self) -> bool:
        return self._workload.done()

    def result(self) -> float:
        return self._workload.result()

    def curve(self) -> tuple[tuple[float, float], ...]:
        return self._workload.curve()

    def parts(self) -> tuple[tuple[str, float], ...]:
        return self._workload.parts()

    def problem(self) -> str:
        return self._workload.problem()

    def stop(self) -> None:
        self._bench.running = None
        self._workload.stop()

    def expected_s(self) -> float:
        return self._workload.expected_s()
