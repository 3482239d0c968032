"""Which bench a job's machine stands on: the simulated one of the demo, or none yet."""

from __future__ import annotations

from brachium.app.view import JobView
from brachium.core.choose.catalogue import planned, services_of
from brachium.core.job.job import SIMULATED
from brachium.demo.newsroom import simulated
from brachium.devices.simulated.bench import SimulatedBench


def bench_for(view: JobView, role: str, speed: float | None) -> SimulatedBench | None:
    """A bench with the machine in the configuration that the role asks for; None where there is none."""
    if view.job.bench != SIMULATED:
        return None
    if role == "before":
        return SimulatedBench(simulated(view.job.machine.configuration(), frozenset(), False), speed)
    chosen = view.chosen()
    config = planned(view.job.machine, chosen)
    return SimulatedBench(simulated(config, frozenset(services_of(chosen)), True), speed)
