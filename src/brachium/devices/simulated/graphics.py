"""Graphics tests of a simulated machine: rates by its chip, times of a scene's pictures, memory ladder."""

from __future__ import annotations

import numpy as np

from brachium.core.measure.feel_tests import HEAT_LOAD_S, HEAT_REST_S, SCENE_S
from brachium.core.measure.frames import frame_figures
from brachium.devices.simulated.everyday import own_numbers
from brachium.devices.simulated.machine import SimulatedMachine

# rates of a chip of speed 1, in the tests' units; filling and textures hang on the memory beside
RATES = {"gpu_fill": 2.1, "gpu_texture": 5.2, "gpu_arithmetic": 170.0, "gpu_geometry": 260.0}
FRAMES = {"frames_720": 58.0, "frames_1080": 27.0}
WORK_PER_THREAD, SMT_GAIN = 12.0, 1.25
MEMORY_BOUND = ("gpu_fill", "gpu_texture", "frames_720", "frames_1080")
SHARED_MB_S = 19_200.0  # at which a chip without memory of its own has the rates above
RATE_S, LADDER_S = 4.0, 20.0
FRAME_SPREAD, SLOW_EVERY, SLOW_BY = (
    0.05,
    0.006,
    2.4,
)  # of a picture's time; share of slow ones, how slow they are
STEPS_MIB = (128, 256, 384, 512, 768, 1024, 1536, 2048)
SPILLED = 7.0  # how much slower a texture is that has to be fetched


class GraphicsTest:
    """Runs for its time; the rate follows chip, memory and clock as they were."""

    def __init__(self, machine: SimulatedMachine, key: str) -> None:
        self._machine, self._key = machine, key
        self._rest_s = HEAT_REST_S if key.startswith("heat_") else 0.0
        self._length_s = self._rest_s + (
            HEAT_LOAD_S if self._rest_s else SCENE_S if key in FRAMES else LADDER_S if key == "gpu_memory" else RATE_S
        )
        self._elapsed_s = self._sum = 0.0

    def start(self) -> None:
        self._elapsed_s = self._sum = 0.0
        self._machine.rest()
        if not self._rest_s:
            self._begin()

    def _begin(self) -> None:
        threads = self._machine.spec.threads
        self._machine.set_util(1.0 if self._key == "heat_both" else 1.2 / threads)
        self._machine.gpu_util = 0.97

    def tick(self, dt_s: float) -> None:
        before, self._elapsed_s = self._elapsed_s, self._elapsed_s + dt_s
        if before < self._rest_s <= self._elapsed_s:
            self._begin()
        if self._elapsed_s > self._rest_s:
            self._sum += self._rate() * dt_s

    def _rate(self) -> float:
        machine = self._machine
        if self._key == "heat_both":
            return WORK_PER_THREAD * machine.spec.threads / 2 * SMT_GAIN * machine.clock_ratio
        base = {**RATES, **FRAMES, "heat_graphics": 27.0}.get(self._key, 900.0)
        shared = min(machine.spec.memory_peak_mb_s / SHARED_MB_S, 1.0) ** 0.8 if self._key in MEMORY_BOUND else 1.0
        return float(base * machine.spec.graphics_speed * shared * machine.clock_ratio**0.3)

    def done(self) -> bool:
        return self._elapsed_s >= self._length_s - 1e-9

    def result(self) -> float:
        machine = self._machine
        scatter = float(np.exp(own_numbers(machine, self._key).normal(0.0, machine.spec.repeat_spread)))
        return self._sum / (self._elapsed_s - self._rest_s) * scatter * machine.offset

    def parts(self) -> tuple[tuple[str, float], ...]:
        """Of a scene: pictures, the slowest of them, stutters."""
        if self._key not in FRAMES:
            return ()
        rng, mean_ms = own_numbers(self._machine, f"{self._key} parts"), 1000.0 / self.result()
        times = mean_ms * np.exp(rng.normal(0.0, FRAME_SPREAD, int(SCENE_S * self.result())))
        times = np.where(rng.random(times.size) < SLOW_EVERY, SLOW_BY * times + 8.0, times)
        found = frame_figures(times)
        out = {"pictures": float(found.frames), "slowest_1": found.low1, "stutters": float(found.stutters)}
        out.update({"slowest_01": found.low01} if found.low01 is not None else {})
        return tuple(out.items())

    def curve(self) -> tuple[tuple[float, float], ...]:
        if self._key != "gpu_memory":
            return ()
        have = 1024.0 * self._machine.spec.graphics_gib
        first = self.result()
        return tuple((s * 2.0**20, first / (1.0 + (SPILLED - 1.0) * max(1.0 - have / s, 0.0))) for s in STEPS_MIB)

    def problem(self) -> str:
        return ""

    def stop(self) -> None:
        self._machine.rest()

    def expected_s(self) -> float:
        return self._length_s
