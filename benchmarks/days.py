"""Watched days: shares and working set of simulated days recovered, and the after-day predicted from the before-day.

The owners' actions, the drives' arms, the cache under replacement and what the watch sees of them come from equations
of their own (devices/simulated/day.py). The gain of an after-day is told by comparing it with the day before, as the
program does for real days, so that the band has to cover that comparison's scatter too.

`python -m benchmarks.days [pairs] [first seed]`
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from benchmarks.prediction import Outcome, machine_for, plan_for
from brachium.core.base.arrays import frozen
from brachium.core.base.band import Band
from brachium.core.base.units import GIB
from brachium.core.choose.after_day import after_day
from brachium.core.machine.system_drive import system_drive
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, PhaseStep, Protocol, Run, Series, Trace
from brachium.core.plan.candidates import planned
from brachium.core.prove.days import compare_days
from brachium.core.use.day_of_use import DayOfUse, day_of
from brachium.core.use.profile import profile_of
from brachium.core.use.watched_rows import WATCH
from brachium.devices.simulated import day as made
from brachium.devices.simulated.drive import SimulatedDrive

COUNT, FIRST_SEED = 100, 91_000
KINDS = ("drive", "memory", "both")
WORK = (made.OFFICE, made.BROWSING, made.PICTURES, made.BUILDING, made.FETCHING)
DISK, FLASH = SimulatedDrive(True, 120.0, 55.0, 14.0, 280.0), SimulatedDrive(False, 500.0, 500.0, 0.12, 550.0)
SIX: tuple[tuple[made.DayOwner, made.DayMachine], ...] = (
    (made.DayOwner(((made.OFFICE, 0.7), (made.BROWSING, 0.3))), made.DayMachine(4, 4.0, DISK)),
    (made.DayOwner(((made.OFFICE, 0.5), (made.BROWSING, 0.5))), made.DayMachine(4, 3.0, DISK)),
    (made.DayOwner(((made.PICTURES, 0.6), (made.BROWSING, 0.4))), made.DayMachine(8, 8.0, FLASH)),
    (made.DayOwner(((made.BUILDING, 0.6), (made.OFFICE, 0.4)), 9.0), made.DayMachine(8, 16.0, FLASH)),
    (made.DayOwner(((made.PLAYING, 0.7), (made.BROWSING, 0.3)), 4.0, 18.0), made.DayMachine(6, 8.0, FLASH)),
    (made.DayOwner(((made.FETCHING, 0.5), (made.OFFICE, 0.5))), made.DayMachine(2, 2.0, FLASH)),
)


@dataclass(frozen=True)
class Recovered:
    """What a watch told of a day beside the truth: shares by kind of spending, memory needed [GiB]."""

    shares: dict[str, tuple[float, float]]
    need_gib: tuple[float, float]

    @property
    def worst(self) -> float:
        """Largest error of a share, 0..1."""
        return max(abs(a - b) for a, b in self.shares.values())


def run_of_day(day: made.SimulatedDay) -> Run:
    """A day as the run that a watch file becomes."""
    series = tuple(Series(k, "", "simulated", frozen(v)) for k, v in day.columns.items())
    protocol = Protocol(WATCH, 1, (PhaseStep("use", 3600.0),), (), 1, 1, 1.0 / made.ROW_S)
    trace = Trace(frozen(day.time_s), series, ())
    return Run("watched", "as taken in", protocol, Conditions(), (), (MeasuredSession(1, trace),), "", "simulated")


def recovered(owner: made.DayOwner, machine: made.DayMachine, seed: int) -> Recovered:
    """One simulated day, watched and told."""
    day = made.simulate_day(owner, machine, seed)
    told = day_of(run_of_day(day))
    assert told is not None and told.need is not None
    true, seen = day.shares, shares_told(told)
    need = day.working_gib + machine.system_gib
    return Recovered({k: (true[k], seen[k]) for k in true}, (need, told.need.mid_gib))


def shares_told(day: DayOfUse) -> dict[str, float]:
    """A day's shares by the simulated day's own names."""
    s = day.shares
    return {
        "person": s["free"] - day.network_share, "network": day.network_share, "thread": s["thread"],
        "processor": s["processor"] + s["held"], "storage": s["storage"], "paging": s["paging"],
        "graphics": s["graphics"],
    }  # fmt: skip


def outcome(asked: tuple[str, int]) -> Outcome | None:
    """One machine, its plan, the day before and the day after; None where the plan is none."""
    kind, seed = asked
    rng = np.random.default_rng([seed, 9])
    one = machine_for(kind, seed, rng)
    chosen = plan_for(kind, one, rng)
    if not chosen:
        return None
    owner = _owner(rng, one.machine.configuration().memory_bytes() / GIB)
    before = made.DayMachine(8, one.spec.memory_gib, one.spec.drive, float(rng.uniform(0.7, 1.0)))
    first = run_of_day(made.simulate_day(owner, before, seed))
    later = planned(one.machine, chosen)
    place = system_drive(one.machine, later)
    was = system_drive(one.machine, one.machine.configuration())
    assert place is not None and was is not None
    drive = before.drive if place[1] is was[1] else _behaves(place[1], rng)
    after = replace(before, drive=drive, memory_gib=later.memory_bytes() / GIB)
    second = run_of_day(made.simulate_day(owner, after, seed + 1))
    band = after_day(one.machine, chosen, profile_of("office"), first)
    found = compare_days(first, second)
    if band is None or found is None or found.gain is None:
        return None
    return Outcome(kind, seed, band, found.gain.mid)


def _behaves(drive: object, rng: np.random.Generator) -> SimulatedDrive:
    made_of = SimulatedDrive.of(drive, 600.0)  # type: ignore[arg-type]
    return replace(made_of, small_factor=float(rng.lognormal(0.0, 0.08)), long_factor=float(rng.lognormal(-0.05, 0.05)))


def _owner(rng: np.random.Generator, memory_gib: float) -> made.DayOwner:
    """Two kinds of work, of a size that is short of this memory, about enough, or plenty."""
    picked = rng.choice(len(WORK), 2, replace=False)
    room = max(memory_gib - 0.9, 0.2)
    size = room * (rng.uniform(1.1, 2.2), rng.uniform(0.85, 1.1), rng.uniform(0.3, 0.8))[int(rng.integers(3))]
    kinds = []
    for k in picked:
        kind = WORK[int(k)]
        scale = {f: float(rng.lognormal(0.0, 0.4)) for f in ("think_s", "thread_s", "all_s", "reads", "mb", "touches")}
        changed = {f: getattr(kind, f) * v for f, v in scale.items()}
        kinds.append((replace(kind, working_gib=float(size * rng.uniform(0.7, 1.0)), **changed), 0.5))
    return made.DayOwner(tuple(kinds), float(rng.uniform(5.0, 9.0)), overlap=float(rng.uniform(0.0, 0.3)),
                         beside_cores=float(rng.uniform(0.01, 0.08)), away=float(rng.uniform(0.0, 0.3)))  # fmt: skip


def outcomes(count: int, first: int) -> list[Outcome]:
    """So many pairs of days, kinds of plan in turn."""
    asked = [(KINDS[k % len(KINDS)], first + k) for k in range(count)]
    with ProcessPoolExecutor() as pool:
        return [o for o in pool.map(outcome, asked, chunksize=4) if o is not None]


def table(found: Sequence[Outcome]) -> str:
    """A line for each kind of plan."""
    lines = ["| plan | pairs | inside the 80 % band | middle off by, median | band, median |", "|---|---|---|---|---|"]
    for kind in (*KINDS, ""):
        some = [o for o in found if kind in ("", o.kind)]
        inside = np.mean([o.inside for o in some])
        off = np.median([o.error for o in some])
        width = np.median([_width(o.band) for o in some])
        lines.append(f"| {kind or 'all'} | {len(some)} | {inside:.0%} | {off:+.1%} | {width:.0%} |")
    return "\n".join(lines)


def _width(band: Band) -> float:
    return band.high / band.low - 1.0


def main() -> int:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else COUNT
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FIRST_SEED
    print("| day | largest error of a share | memory needed, true | told |\n|---|---|---|---|")
    for k, (owner, machine) in enumerate(SIX):
        told = recovered(owner, machine, 1 + k)
        print(f"| {k + 1} | {100 * told.worst:.1f} points | {told.need_gib[0]:.2f} GiB | {told.need_gib[1]:.2f} GiB |")
    print()
    print(table(outcomes(count, first)))
    return 0


if __name__ == "__main__":
    sys.exit(main())
