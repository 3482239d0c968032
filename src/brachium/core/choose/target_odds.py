"""Odds that a plan meets the owner's targets: the before-run's own result, divided by what the plan speeds up in it.

How a test spends its time is taken from the before-run where it was sampled (limits.py): the shares of storage and
paging follow the drive and the memory, what a lowered clock took from it follows the clock. A result's scatter from one
session to the next (2 %) and what the shares leave out (5 %) enter beside the spread of the prediction; how much of the
waiting for storage is long reads is not known and drawn up to a stated share. A target whose test was not measured has
no odds.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.choose.predict import DRAWS, SEED, Draws, speedups_of
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.measure.run import Run
from brachium.core.measure.waiting import Limit
from brachium.core.plan.candidates import Candidate
from brachium.core.record.target import Target
from brachium.core.use.profile import UseProfile

SCATTER = float(np.hypot(0.02, 0.05))
RATES = {"mem_bandwidth": "memory", "drive_seq": "sequential", "drive_rand_q1": "random"}
SUSTAINED = "sustained"
START = "start_up"  # memory is not short while a system starts: what looks like paging is reading


@dataclass(frozen=True)
class Odds:
    """Chance that a target is met by a plan; None with the reason where it cannot be predicted."""

    target: Target
    chance: float | None
    words: str


@dataclass(frozen=True)
class OddsGround:
    """What odds are computed from: the machine as it was measured."""

    machine: Machine
    profile: UseProfile
    figures: BeforeFigures
    run: Run
    limits: tuple[Limit, ...]
    draws: Draws
    heat: HeatFacts | None = None

    @cached_property
    def today(self) -> Mapping[str, float]:
        """Median result of every test that was measured, keyed by its name [its unit]."""
        results = {spec.key: self.run.results(spec.key) for spec in self.run.tests}
        return {key: float(np.median(np.concatenate(found))) for key, found in results.items() if found}


def odds_of(ground: OddsGround, chosen: tuple[Candidate, ...], targets: Sequence[Target]) -> tuple[Odds, ...]:
    """Odds of every target with a plan; an empty plan is today's machine."""
    speed = speedups_of(ground.machine, chosen, ground.profile, ground.figures, ground.draws, ground.heat)
    return tuple(_odds(ground, t, speed) for t in targets)


def chances_of(ground: OddsGround, speed: Mapping[str, FloatArray], targets: Sequence[Target]) -> Iterator[float]:
    """Chance of each target that can be predicted, at these speed-ups, worked out as it is asked for."""
    found = (_chance(ground, t, speed) for t in targets)
    return (c for c in found if c is not None)


def _chance(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> float | None:
    if target.key == "held_back":
        return _not_held_back(ground, target, speed)
    after = _after(ground, target, speed)
    return None if isinstance(after, str) else _met(target, after)


def _met(target: Target, after: FloatArray) -> float:
    return float((after <= target.limit if target.at_most else after >= target.limit).mean())


def _odds(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> Odds:
    if target.key == "held_back":
        share = 100 * ground.figures.throttled_share
        words = f"held back {share:.0f} % today" if ground.figures.throttled else "not held back today"
        return Odds(target, _not_held_back(ground, target, speed), words)
    after = _after(ground, target, speed)
    if isinstance(after, str):
        return Odds(target, None, after)
    low, mid, high = np.percentile(after, [10.0, 50.0, 90.0])
    words = f"{mid:.3g} ({low:.3g} to {high:.3g}) {target.unit}, today {ground.today[target.key]:.3g}"
    return Odds(target, _met(target, after), words)


def _after(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> FloatArray | str:
    """Draws of a target's figure after the plan, shape (DRAWS,); in words why there are none."""
    spec, before = ground.run.test(target.key), ground.today.get(target.key)
    if spec is None or before is None:
        return "not measured before the work"
    ratio = _ratio(ground, target.key, speed)
    if ratio is None:
        return "no plan is known to change it"
    return np.asarray((before * ratio if spec.higher_is_better else before / ratio) * _scatter())


@lru_cache(maxsize=1)
def _scatter() -> FloatArray:
    return np.random.default_rng(SEED + 1).lognormal(0.0, SCATTER, DRAWS)


def _not_held_back(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> float:
    """Not held back = the sustained clock reaches the full one."""
    figures = ground.figures
    if not figures.throttled:
        return 1.0 if target.at_most else 0.0
    ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
    return float((speed.get("all", np.ones(DRAWS)) >= 0.995 * ceiling).mean())


def _ratio(ground: OddsGround, key: str, speed: Mapping[str, FloatArray]) -> FloatArray | None:
    """How much faster a test becomes, shape (DRAWS,); None where nothing is known of it."""
    one = np.ones(DRAWS)
    if key in RATES:
        return speed.get(RATES[key], one)
    clock = speed.get("all", one)
    if key == SUSTAINED:
        return clock
    limit = next((x for x in ground.limits if x.name == f"test {key}"), None)
    results = ground.run.results(key)
    if limit is None or not results:
        return None
    storage = 1.0 / (ground.draws.long_reads / speed.get("sequential", one)
                     + (1.0 - ground.draws.long_reads) / speed.get("random", one))  # fmt: skip
    paging = storage if key == START else speed.get("paging", speed.get("random", one))
    sampled = limit.duration_s / sum(r.size for r in results) / ground.today[key]
    inside = min(sampled, 1.0)  # the rest of a start is the firmware's, which no plan here changes
    parts = {k: v * inside for k, v in limit.shares.items()}
    if "chip" in speed:  # another processor: its rates and its own held clock are in the speed-up of all threads
        rest = 1.0 - sum(parts[k] for k in ("held", "processor", "thread", "storage", "paging"))
        work = (parts["held"] + parts["processor"]) / clock + parts["thread"] / speed.get("single", one)
        return 1.0 / (rest + work + parts["storage"] / storage + parts["paging"] / paging)
    rest = 1.0 - parts["held"] - parts["storage"] - parts["paging"]
    held = parts["held"] * (1.0 - _recovered(ground.figures, clock))
    return 1.0 / (rest + held + parts["storage"] / storage + parts["paging"] / paging)


def _recovered(figures: BeforeFigures, clock: FloatArray) -> FloatArray:
    """Share of what heat takes from the clock that a plan gives back: 0 none, 1 all; a short test is held back less."""
    ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
    return (clock - 1.0) / (ceiling - 1.0) if ceiling > 1.0 else np.zeros(clock.shape)
