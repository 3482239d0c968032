"""Attribution against simulated machines with every intermediate state known: error in percentage points of the gain.

Each machine is measured before and after a random plan of two to four changes, and in every state in between. The
truth averages the logarithm of the gain over all orders of making the changes, from those states; the attribution
sees only the first and the last run. Simulated machines obey other equations than the model
(benchmarks/prediction.py).
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from itertools import combinations
from math import factorial

import numpy as np

from benchmarks.prediction import after_work, measured, plan_for
from brachium.app.intake.practice import practice_job
from brachium.app.view.cause_record import figures_with_chances
from brachium.core.choose.draws import draw
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.learn.attribution import COUNT, Stretch, attribute, measured_speeds
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Candidate
from brachium.core.use.profile import PROFILES, UseProfile
from brachium.devices.simulated.practice_machine import PracticeMachine, make_practice_machine

MACHINES = 100
CAUSES = ("paste", "fins", "memory", "disk", "channels", "")
FIRST_SEED = 81_000


@dataclass(frozen=True)
class Attributed:
    """Per change: (true, estimated) share of the gain in percentage points; and the whole gain."""

    shares: tuple[tuple[float, float], ...]
    gain: float

    @property
    def error(self) -> float:
        """Largest error of a change [percentage points]."""
        return max(abs(a - b) for a, b in self.shares)


def attributed(seed: int) -> Attributed:
    """One machine: all states measured, the truth and the estimate."""
    rng = np.random.default_rng([91, seed])
    one = make_practice_machine(seed, str(rng.choice(CAUSES)))
    machine = replace(one.machine, processor=replace(one.machine.processor, single_rate=100.0, all_rate=100.0))
    one = replace(one, machine=machine)
    profile = PROFILES[int(rng.integers(len(PROFILES)))]
    job = replace(practice_job(seed), machine=one.machine, scan=one.scan, findings=one.findings, tried=one.tried,
                  health=one.health, own_results=one.own_results, profile_id=profile.id)  # fmt: skip
    profile = replace(profile, working_set_gib=one.spec.task.working_set_gib + 0.9)
    chosen: tuple[Candidate, ...] = ()
    while len(chosen) < 2:
        chosen = tuple(c for c in plan_for("all", one, rng) if rng.random() < 0.5)
    limit = one.machine.processor.limit_c
    runs: dict[tuple[str, ...], Run] = {}
    for size in range(len(chosen) + 1):
        for subset in combinations(chosen, size):
            state = one.spec if not subset else after_work(one, subset, np.random.default_rng([7, seed]))
            runs[tuple(c.id for c in subset)] = measured(state)
    figures = figures_with_chances(job, runs[()], figures_of(runs[()], limit))
    gains = {ids: _log_gain(one, profile, figures, runs[()], run, limit) for ids, run in runs.items()}
    everything = tuple(c.id for c in chosen)
    last = runs[everything]
    stretch = Stretch(runs[()], last, figures, figures_of(last, limit), one.machine, chosen)
    found = attribute((stretch,), profile)
    assert found is not None
    shares = tuple(
        (100.0 * (np.exp(_true(c.id, everything, gains)) - 1.0), 100.0 * (p.band.mid - 1.0))
        for c, p in zip(chosen, found.parts, strict=True)
    )
    return Attributed(shares, float(np.exp(gains[everything])))


def _log_gain(
    one: PracticeMachine, profile: UseProfile, figures: BeforeFigures, before: Run, after: Run, limit: float | None
) -> float:
    stretch = Stretch(before, after, figures, figures_of(after, limit), one.machine, ())
    draws = draw(profile, figures, one.machine, COUNT)
    speeds = {k: np.full(COUNT, v) for k, v in measured_speeds(stretch).items()}
    return float(np.median(np.log(work_ratio(draws.shares, speeds, draws.overlap))))


def _true(one: str, everything: tuple[str, ...], gains: dict[tuple[str, ...], float]) -> float:
    others = [i for i in everything if i != one]
    out = 0.0
    for size in range(len(everything)):
        weight = factorial(size) * factorial(len(others) - size) / factorial(len(everything))
        for subset in combinations(others, size):
            with_it = tuple(i for i in everything if i == one or i in subset)
            out += weight * (gains[with_it] - gains[tuple(i for i in everything if i in subset)])
    return out


def main() -> int:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else MACHINES
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(attributed, range(FIRST_SEED, FIRST_SEED + count), chunksize=4))
    errors = np.array([f.error for f in found])
    print(f"{int((errors < 3.0).sum())} of {count} within 3 percentage points; median {np.median(errors):.2f}, "
          f"90th percentile {np.percentile(errors, 90):.2f}")  # fmt: skip
    for f in sorted(found, key=lambda f: -f.error)[:12]:
        print(f"gain {f.gain:.2f}: " + ", ".join(f"{a:.1f} est. {b:.1f}" for a, b in f.shares))
    return 0


if __name__ == "__main__":
    sys.exit(main())
