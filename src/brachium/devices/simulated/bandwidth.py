"""What processor and memory channels of a simulated machine move."""

from __future__ import annotations

from brachium.devices.simulated.machine import SimulatedMachine


def bandwidth_gb_s(machine: SimulatedMachine) -> float:
    """What processor and channels move: a soft minimum, so that either limit shows before it is reached."""
    peak, draw = 0.82 * machine.spec.memory_peak_mb_s, machine.spec.memory_draw_mb_s
    return float((peak**-4 + draw**-4) ** -0.25) / 1000.0 * (0.9 + 0.1 * machine.clock_ratio)
