"""Odds that a plan meets the owner's targets: the before-run's own result, divided by what the plan speeds up in it.

How a test spends its time is taken from the before-run where it was sampled (limits.py): the shares of storage and
paging follow the drive and the memory, what a lowered clock took from it follows the clock. A result's scatter from one
session to the next (2 %) and what the shares leave out (5 %) enter beside the spread of the prediction; how much of the
waiting for storage is long reads is not known and drawn up to a stated share. A target whose test was not measured has
no odds.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from zlib import crc32

import numpy as np

from brachium.core.base.arrays import BoolArray, FloatArray
from brachium.core.base.band import Band
from brachium.core.base.text import phrase
from brachium.core.choose.assumptions import FRAMES_BY_GRAPHICS, LONG_READS
from brachium.core.choose.draws import DRAWS, SEED, Draws
from brachium.core.choose.held_clock import rise_ratio
from brachium.core.choose.new_processor import change_of
from brachium.core.choose.predict import charge_ratio, speedups_of
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.heat.run_traces import heat_traces
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.machine import Machine
from brachium.core.measure.own_tests import PREFIX
from brachium.core.measure.run import Run
from brachium.core.measure.waiting import Limit
from brachium.core.plan.candidates import Candidate, planned, services_of
from brachium.core.record.target import Target
from brachium.core.use.profile import UseProfile

SCATTER = float(np.hypot(0.02, 0.05))
RATES = {"mem_bandwidth": "memory", "drive_seq": "sequential", "drive_rand_q1": "random"}
SUSTAINED = "sustained"
HELD_BACK, PEAK = "held_back", "peak_c"
SENSOR_K = 1.0  # spread of a sensor that is read again [K]: most tell whole degrees
START = "start_up"  # memory is not short while a system starts: what looks like paging is reading


@dataclass(frozen=True)
class Odds:
    """Chance that a target is met by a plan; None with the reason where it cannot be predicted.

    `change` is what the plan brings to its figure against today [its unit], None where no figure is predicted.
    """

    target: Target
    chance: float | None
    words: str
    change: Band | None = None


def worth_words(odds: Odds, cost_eur: float) -> str:
    """What 100 EUR of a plan bring to the owner's own figure: `12 s less (9 to 15)`; in words where there is none."""
    if odds.change is None or cost_eur <= 0.0:
        return "not known" if odds.change is None else "costs nothing"
    low, middle, high = (100.0 * v / cost_eur for v in (odds.change.low, odds.change.mid, odds.change.high))
    unit = odds.target.unit
    if low < 0.0 < high:
        return phrase("from {low:.2g} {unit} less to {high:.2g} {unit} more", low=-low, unit=unit, high=high)
    least, most = sorted((abs(low), abs(high)))
    return phrase(
        "{middle:.2g} {unit} {which} ({least:.2g} to {most:.2g})",
        middle=abs(middle),
        unit=unit,
        which="less" if middle < 0.0 else "more",
        least=least,
        most=most,
    )


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

    @cached_property
    def peak_c(self) -> float | None:
        """Highest chip temperature under load [degC]; None where none was sampled."""
        traces = heat_traces(self.run, self.machine.processor.limit_c)
        return max((float(np.nanmax(t.temp_c)) for t in traces), default=None)


TOGETHER = "together"


def odds_of(ground: OddsGround, chosen: tuple[Candidate, ...], targets: Sequence[Target]) -> tuple[Odds, ...]:
    """Odds of every target with a plan, and of all of them together where two or more are known; an empty plan is
    today's machine."""
    speed = speed_for(ground, chosen, targets)
    found = tuple(_odds(ground, t, speed) for t in targets)
    known = [m for t in targets if (m := met_draws(ground, t, speed)) is not None]
    if len(known) < 2:
        return found
    whole = Target(TOGETHER, phrase("all {count} targets together", count=len(known)), 100.0, "%", False)
    chance = float(np.logical_and.reduce(known).mean())
    return (*found, Odds(whole, chance, "in the same draw, not one by one"))


def speed_for(ground: OddsGround, chosen: tuple[Candidate, ...], targets: Sequence[Target]) -> Mapping[str, FloatArray]:
    """Speed-ups of a plan, with what peak temperatures and runtimes read where they are asked for."""
    g = ground
    speed = speedups_of(g.machine, chosen, g.profile, g.figures, g.draws, g.heat)
    if any(t.key == PEAK for t in targets):
        rise = rise_ratio(services_of(chosen), g.figures, g.draws, change_of(g.machine, chosen))
        if rise is not None:
            speed["cooling"] = 1.0 / rise
    if any(t.key.startswith(PREFIX) for t in targets):
        charge = charge_ratio(g.machine.configuration(), planned(g.machine, chosen))
        if charge is not None:
            speed["charge"] = np.full(DRAWS, charge)
    return speed


def met_draws(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> BoolArray | None:
    """In which draws a target is met, shape (DRAWS,); None where it cannot be predicted."""
    if target.key == HELD_BACK:
        return _not_held_back(ground, target, speed) if _clock_seen(ground) else None
    after = _after(ground, target, speed)
    if isinstance(after, str):
        return None
    return after <= target.limit if target.at_most else after >= target.limit


def _clock_seen(ground: OddsGround) -> bool:
    """Whether the before-run tells at all if anything held the chip back."""
    throttle = ground.figures.reading.throttle if ground.figures.reading is not None else None
    return throttle is not None and throttle.kind is not HeldBack.NOT_KNOWN


def _odds(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> Odds:
    if target.key == HELD_BACK and not _clock_seen(ground):
        return Odds(target, None, "no clock under load was measured before the work")
    if target.key == HELD_BACK:
        share = 100 * ground.figures.throttled_share
        words = (
            phrase("held back {share:.0f} % today", share=share) if ground.figures.throttled else "not held back today"
        )
        return Odds(target, float(_not_held_back(ground, target, speed).mean()), words)
    after = _after(ground, target, speed)
    if isinstance(after, str):
        return Odds(target, None, after)
    low, mid, high = np.percentile(after, [10.0, 50.0, 90.0])
    today = ground.peak_c if target.key == PEAK else ground.today[target.key]
    words = phrase(
        "{mid:.3g} ({low:.3g} to {high:.3g}) {target}, today {today:.3g}",
        mid=mid,
        low=low,
        high=high,
        target=target.unit,
        today=today,
    )
    met = after <= target.limit if target.at_most else after >= target.limit
    return Odds(target, float(met.mean()), words, Band.of(after - today) if today is not None else None)


def _after(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> FloatArray | str:
    """Draws of a target's figure after the plan, shape (DRAWS,); in words why there are none."""
    if target.key == PEAK:
        return peak_after_c(ground, speed)
    spec, before = ground.run.test(target.key), ground.today.get(target.key)
    if spec is None or before is None:
        return "not measured before the work"
    ratio = own_ratio(ground, target.key, speed) if target.key.startswith(PREFIX) else _ratio(ground, target.key, speed)
    if ratio is None:
        return "what a plan does to it is not known: nobody sampled where its time goes"
    return np.asarray((before * ratio if spec.higher_is_better else before / ratio) * _scatter(target.key))


@lru_cache(maxsize=64)
def _scatter(key: str) -> FloatArray:
    """From one session to the next; of each test by itself."""
    return np.random.default_rng([SEED, crc32(key.encode())]).lognormal(0.0, SCATTER, DRAWS)


def peak_after_c(ground: OddsGround, speed: Mapping[str, FloatArray]) -> FloatArray | str:
    """Peak temperature after the plan [degC], shape (DRAWS,): room + what it rose by, by the power of the full clock
    and the resistance of the new heat path, at most where it is held back. Why there is none, in words.

    SENSOR_K is the spread of a sensor that is read again.
    """
    figures, peak, room = ground.figures, ground.peak_c, ground.run.conditions.room_c
    if peak is None or room is None:
        return "no temperature or no room temperature was measured before the work"
    if figures.r_fast_k_w is None and "cooling" in speed:
        return "the heat path was not measured"
    rise = np.full(DRAWS, peak - room)
    limit = max(peak, ground.machine.processor.limit_c or peak)
    if figures.throttled:
        rise, limit = rise * _power_of_full_clock(figures, ground.draws), peak
    after = np.minimum(room + rise / speed.get("cooling", np.ones(DRAWS)), limit)
    noise = np.random.default_rng([SEED, crc32(PEAK.encode())]).normal(0.0, SENSOR_K, DRAWS)
    return np.asarray(after + noise)


def _power_of_full_clock(figures: BeforeFigures, draws: Draws) -> FloatArray:
    """Power at the full clock over that at the clock which heat lets it hold, shape (DRAWS,): as measured while the
    load began, else by the drawn exponent."""
    base, held_w = figures.base, figures.reading.power_ref_w if figures.reading is not None else float("nan")
    if base is not None and held_w > 0.0:
        return np.full(DRAWS, (base.idle_w + base.dynamic_w) / held_w)
    return np.asarray((figures.full_clock_mhz / figures.sustained_clock_mhz) ** draws.exponent)


def own_ratio(ground: OddsGround, key: str, speed: Mapping[str, FloatArray]) -> FloatArray | None:
    """How much better an own test becomes, shape (DRAWS,), by its kind; None where nothing is known of it.

    A task of the owner's follows the profile of use; frames follow graphics and processor by a drawn share; runtime
    follows the battery's charge.
    """
    one = np.ones(DRAWS)
    kind = key.removeprefix(PREFIX).rpartition("-")[0]
    if kind == "task":
        return work_ratio(ground.draws.shares, speed, ground.draws.overlap)
    if kind in ("frames", "low1"):
        low, high = FRAMES_BY_GRAPHICS
        share = low + (high - low) * ground.draws.long_reads / LONG_READS
        return np.asarray(1.0 / (share / speed.get("graphics", one) + (1.0 - share) / speed.get("all", one)))
    return speed.get("charge", one) if kind == "battery" else None


def _not_held_back(ground: OddsGround, target: Target, speed: Mapping[str, FloatArray]) -> BoolArray:
    """Not held back = the sustained clock reaches the full one, shape (DRAWS,)."""
    figures = ground.figures
    if not figures.throttled:
        return np.full(DRAWS, target.at_most)
    ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
    return np.asarray(speed.get("all", np.ones(DRAWS)) >= 0.995 * ceiling)


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
