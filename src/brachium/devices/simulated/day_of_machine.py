"""A day of use on a simulated machine, as the run that a watch of it would leave."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from brachium.core.base.arrays import frozen
from brachium.core.measure.run import MeasuredSession, PhaseStep, Protocol, Run, Series, Trace
from brachium.core.use.watched_rows import WATCH
from brachium.devices.simulated import day as made
from brachium.devices.simulated.machine import SimulatedSpec
from brachium_probe.watching.sampler import CHANNELS

# what owners of a use do, and how much of the day each takes
WORK_OF: Mapping[str, tuple[tuple[made.KindOfWork, float], ...]] = {
    "office": ((made.OFFICE, 0.6), (made.BROWSING, 0.4)), "calls": ((made.BROWSING, 0.7), (made.OFFICE, 0.3)),
    "audio": ((made.PICTURES, 0.4), (made.OFFICE, 0.6)), "photo": ((made.PICTURES, 0.7), (made.BROWSING, 0.3)),
    "video": ((made.PICTURES, 0.8), (made.OFFICE, 0.2)), "build": ((made.BUILDING, 0.7), (made.BROWSING, 0.3)),
    "games": ((made.PLAYING, 0.7), (made.BROWSING, 0.3)), "machines": ((made.BUILDING, 0.5), (made.OFFICE, 0.5)),
    "files": ((made.FETCHING, 0.8), (made.OFFICE, 0.2)), "media": ((made.BROWSING, 0.5), (made.FETCHING, 0.5)),
}  # fmt: skip


def watched_day(spec: SimulatedSpec, use: str, run_id: str, configuration: str, taken_at: str, clock: float) -> Run:
    """One day of that use; `clock` is the share of the full clock that the machine holds under load."""
    owner = made.DayOwner(WORK_OF.get(use, WORK_OF["office"]))
    machine = made.DayMachine(
        spec.threads, spec.memory_gib, spec.drive, min(clock, 1.0), graphics_speed=spec.graphics_speed
    )
    day = made.simulate_day(owner, machine, spec.seed)
    told = {key: (unit, source) for key, unit, source in CHANNELS}
    series = tuple(Series(k, told[k][0], f"simulated {told[k][1]}", frozen(v)) for k, v in day.columns.items())
    protocol = Protocol(WATCH, 1, (PhaseStep("use", 3600.0 * owner.hours),), (), 1, 1, 1.0 / made.ROW_S)
    conditions = replace(spec.conditions, room_c=None)
    session = MeasuredSession(1, Trace(frozen(day.time_s), series, ()), (), "simulated start 1")
    notes = ("consent: the demo shop's own machine",)
    return Run(run_id, configuration, protocol, conditions, (), (session,), taken_at, "watched", True, "", notes)
