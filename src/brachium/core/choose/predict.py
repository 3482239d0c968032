"""Predicted gain of a plan with its spread, and what each change contributes.

Every ratio is a log-normal with a stated spread, drawn once with a fixed seed and shared by all subsets of the plan,
so that contributions add up. Contributions average the gain in its logarithm over all orders of applying the changes.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from itertools import combinations
from math import factorial

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.band import Band
from brachium.core.base.why import Because
from brachium.core.choose.assumptions import (
    CHANNEL_USE_RANGE,
    DIE_SPREAD,
    FINS_AT_FAULT,
    FINS_SOUND,
    LONG_READS,
    NOT_JUDGED,
    PASTE_AT_FAULT,
    PASTE_SOUND,
    POWER_BACK,
    POWER_EXPONENT,
    RATE_SPREAD,
    REQUEST_MS,
    SCATTER,
    SHARE_SPREAD,
    SHARE_SPREAD_MEASURED,
    SINK_SPREAD,
    WAIT_SCATTER,
)
from brachium.core.choose.new_processor import ProcessorChange, change_of, graphics_ratio
from brachium.core.choose.paging import PagingDraws, draw_paging, fewer_waits
from brachium.core.choose.prediction_reasons import reasons_of
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.drives.copy_time import mean_rate_mb_s
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.fit.rules.storage import link_ceiling_mb_s, link_of
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.new_board import as_it_will_be
from brachium.core.machine.parts import Drive, Service
from brachium.core.machine.platform import BATTERY
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.system_drive import system_drive
from brachium.core.plan.candidates import Candidate, Group, planned, services_of
from brachium.core.record.correction import NONE, Correction
from brachium.core.use.profile import UseProfile

DRAWS = 4000
SEED = 20
CHANNEL_USE = sum(CHANNEL_USE_RANGE) / 2
LEAST_LATENCY = 0.2  # no drive that is offered answers five times later


@dataclass(frozen=True)
class Contribution:
    """What one change brings as part of the plan, and what it would bring alone; `unknown` says why nobody can tell."""

    candidate_id: str
    title: str
    band: Band
    alone: Band
    unknown: str = ""


@dataclass(frozen=True)
class Prediction:
    """Predicted work per time of a plan against today, with its 80 % band."""

    band: Band
    contributions: tuple[Contribution, ...]
    because: Because


@dataclass(frozen=True)
class Draws:
    """Common random numbers of one prediction, each of shape (DRAWS,)."""

    shares: Mapping[str, FloatArray]
    overlap: FloatArray
    exponent: FloatArray
    paste: FloatArray
    clean: FloatArray
    channel_use: FloatArray
    latency: FloatArray
    rate: FloatArray
    long_reads: FloatArray
    scatter: FloatArray
    die: FloatArray  # factor on chip to plate where the processor is another
    sink: FloatArray  # factor on plate to room where the cooler is another
    rated: FloatArray  # factor on the ratio of rated work rates
    battery: FloatArray  # factor on the clock with a good battery, and with an adapter that is strong enough
    adapter: FloatArray
    paging: PagingDraws
    request_ms: FloatArray  # what a request costs beside the drive
    correction: Correction = NONE  # what the shop's own record says of predictions like these


def predict(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures,
    heat: HeatFacts | None = None, correction: Correction = NONE,
) -> Prediction | None:  # fmt: skip
    """Prediction of a plan; None for an empty plan. Needs the before-run's figures; `heat` for other processors,
    `correction` from the shop's own record."""
    if not chosen:
        return None
    draws = draw(profile, figures, machine)

    known: dict[tuple[str, ...], FloatArray] = {}

    def log_gain(subset: tuple[Candidate, ...]) -> FloatArray:
        ids = tuple(c.id for c in subset)
        if ids not in known:
            known[ids] = np.log(_gain(machine, subset, profile, figures, draws, heat))
        return known[ids]

    total = np.exp(log_gain(chosen))
    parts = tuple(
        Contribution(
            c.id, c.title,
            correction.applied(Band.of(np.exp(_average_gain(c, chosen, log_gain))), [c.group.value]),
            correction.applied(Band.of(np.exp(log_gain((c,)))), [c.group.value]),
            unknown_gain(machine, c, profile, figures),
        )
        for c in chosen
    )  # fmt: skip
    band = correction.applied(Band.of(total * draws.scatter), [c.group.value for c in chosen])
    return Prediction(band, parts, reasons_of(planned(machine, chosen), profile, figures, draws.paging, band))


def bands_of(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None = None,
) -> Band:  # fmt: skip
    """Band of a plan from common draws; an empty plan is today's machine."""
    gain = _gain(machine, chosen, profile, figures, draws, heat)
    band = Band.of(gain * draws.scatter if chosen else gain)
    return draws.correction.applied(band, [c.group.value for c in chosen])


def _average_gain(
    one: Candidate, chosen: tuple[Candidate, ...], log_gain: Callable[[tuple[Candidate, ...]], FloatArray]
) -> FloatArray:
    """Shapley value of one change on the logarithm of the gain, per draw."""
    others = [c for c in chosen if c is not one]
    n = len(chosen)
    out = np.zeros(DRAWS)
    for size in range(n):
        weight = factorial(size) * factorial(n - size - 1) / factorial(n)
        for subset in combinations(others, size):
            with_it = tuple(c for c in chosen if c is one or c in subset)
            out += weight * (log_gain(with_it) - log_gain(subset))
    return out


def draw(profile: UseProfile, figures: BeforeFigures, machine: Machine, count: int = DRAWS) -> Draws:
    """Common random numbers of a machine's predictions, always the same ones for a count."""
    rng = np.random.default_rng(SEED)
    paging = draw_paging(np.random.default_rng([SEED, 1]), profile, figures, machine, count)
    spread = SHARE_SPREAD_MEASURED if profile.measured else SHARE_SPREAD
    raw = {k: v * rng.lognormal(0.0, spread, count) for k, v in profile.shares.items() if v > 0}
    whole = np.sum(np.stack(list(raw.values())), axis=0)
    shares = {k: v / whole * (1.0 - paging.waiting) for k, v in raw.items()}
    shares["paging"] = paging.waiting
    return Draws(
        shares,
        np.clip(profile.overlap + rng.normal(0.0, 0.07, count), 0.0, 1.0),
        np.clip(rng.normal(*POWER_EXPONENT, count), 1.2, 3.5),
        _service(rng, figures.paste_chance, PASTE_AT_FAULT, PASTE_SOUND, count),
        _service(rng, figures.fins_chance, FINS_AT_FAULT, FINS_SOUND, count),
        rng.uniform(*CHANNEL_USE_RANGE, count),
        rng.lognormal(0.0, 0.25, count),
        rng.lognormal(0.0, 0.10, count),
        rng.uniform(0.0, LONG_READS, count),
        rng.lognormal(0.0, float(np.hypot(SCATTER, WAIT_SCATTER * np.median(paging.waiting))), count),
        rng.lognormal(0.0, DIE_SPREAD, count),
        rng.lognormal(0.0, SINK_SPREAD, count),
        rng.lognormal(0.0, RATE_SPREAD, count),
        *_power_back(rng, figures, count),
        paging, rng.uniform(*REQUEST_MS, count),
    )  # fmt: skip


def _power_back(rng: np.random.Generator, figures: BeforeFigures, count: int) -> tuple[FloatArray, FloatArray]:
    """Factors on the clock of a battery and of an adapter: one of them gives it back, by the chance that it is at
    fault."""
    ratio = (figures.power_clock or 1.0) * rng.lognormal(0.0, POWER_BACK, count)
    at_fault = rng.random(count)
    battery, adapter = figures.battery_chance or 0.0, figures.adapter_chance or 0.0
    hits = at_fault < battery, (at_fault >= battery) & (at_fault < battery + adapter)
    known = figures.power_clock is not None
    first, second = (np.where(hit & known, np.maximum(ratio, 1.0), 1.0) for hit in hits)
    return first, second


def power_ratio(
    groups: Collection[Group], machine: Machine, figures: BeforeFigures, draws: Draws, heat: HeatFacts | None
) -> FloatArray | None:  # fmt: skip
    """Factor on the clock that battery and adapter of a plan give back, at most what the heat path carries; None where
    the plan has neither, or power holds nothing."""
    if figures.power_clock is None or not {Group.BATTERY, Group.ADAPTER} & set(groups):
        return None
    back = np.ones(draws.overlap.size)
    for group, factor in ((Group.BATTERY, draws.battery), (Group.ADAPTER, draws.adapter)):
        back = np.maximum(back, factor) if group in groups else back
    return np.minimum(back, np.maximum(carried(machine, figures, heat, draws.exponent), 1.0))


def carried(
    machine: Machine, figures: BeforeFigures, heat: HeatFacts | None, exponent: FloatArray | float
) -> FloatArray | float:  # fmt: skip
    """Clock at which the chip would come to its limit over the sustained one; infinite where nobody can tell."""
    fast, slow, reading, limit_c = figures.r_fast_k_w, figures.r_slow_k_w, figures.reading, machine.processor.limit_c
    if fast is None or slow is None or reading is None or heat is None or limit_c is None:
        return np.inf
    rise = (fast + slow) * reading.power_ref_w
    return np.asarray(((limit_c - heat.room_c) / rise) ** (1.0 / exponent)) if rise > 0 else np.inf


def _service(
    rng: np.random.Generator,
    chance: float | None,
    at_fault: tuple[float, float],
    sound: tuple[float, float],
    count: int,
) -> FloatArray:
    """Factor on a step's resistance after its service: a mixture by the chance that the cause lies there."""
    hit = rng.random(count) < (NOT_JUDGED if chance is None else chance)
    much = at_fault[0] * rng.lognormal(0.0, at_fault[1], count)
    little = sound[0] * rng.lognormal(0.0, sound[1], count)
    return np.clip(np.where(hit, much, little), 0.15, 1.05)


def _gain(
    machine: Machine, subset: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None,
) -> FloatArray:  # fmt: skip
    return work_ratio(draws.shares, speedups_of(machine, subset, profile, figures, draws, heat), draws.overlap)


def speedups_of(
    machine: Machine, subset: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None = None,
) -> dict[str, FloatArray]:  # fmt: skip
    """Speed-up of each resource that a plan changes, each of shape (DRAWS,)."""
    today, later = machine.configuration(), planned(machine, subset)
    speedups: dict[str, FloatArray] = {}
    change = change_of(machine, subset)
    cooled = clock_ratio(services_of(subset), figures, draws, change, heat)
    back = power_ratio({c.group for c in subset}, machine, figures, draws, heat)
    rated = None if change.all_ratio is None else change.all_ratio * draws.rated
    factors = [f for f in (cooled, back if rated is None else None, rated) if f is not None]
    if factors:
        speedups["all"] = np.prod(np.stack(factors), axis=0)
    if change.all_ratio is not None:
        speedups["chip"] = change.all_ratio * draws.rated  # read by the odds of targets
    if change.single_ratio is not None:
        speedups["single"] = change.single_ratio * draws.rated
    graphics = graphics_ratio(machine, subset)
    if graphics is not None:
        speedups["graphics"] = graphics * draws.rated
    then = as_it_will_be(machine, later)
    rates = bandwidth_mb_s(machine, today), bandwidth_mb_s(then, later)
    if rates[0] and rates[1] and rates[0] != rates[1]:
        speedups["memory"] = 1.0 + (rates[1] / rates[0] - 1.0) * draws.channel_use
    return speedups | _storage((machine, then), today, later, draws)


def clock_ratio(
    services: tuple[Service, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange,
    heat: HeatFacts | None,
) -> FloatArray | None:  # fmt: skip
    """Share of the full clock held then over that held today: the clock at which room + P R = limit; None = as today.

    For the same processor the resistance is measured; of another only plate to room carries over, and a cooler's own
    part follows its rated power.
    """
    fast, slow = figures.r_fast_k_w, figures.r_slow_k_w
    cooled = bool(services) or change.cooler_ratio is not None
    if fast is None or slow is None or not (cooled or change.power_w):
        return None
    fresh = Service.NEW_PASTE in services or change.cooler_ratio is not None  # a new cooler goes on with a new layer
    paste = draws.paste if fresh else np.ones(draws.overlap.size)
    clean = draws.clean if Service.CLEAN_FINS in services else np.ones(draws.overlap.size)
    sink = clean if change.cooler_ratio is None else draws.sink / change.cooler_ratio
    if change.power_w is None:
        if not figures.throttled:
            return None
        ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
        return np.clip(((fast + slow) / (fast * paste + slow * sink)) ** (1.0 / draws.exponent), 1.0, ceiling)
    if heat is None:
        return None
    die = fast * draws.paste * draws.die  # a new layer of paste comes with another processor
    allowed = np.maximum((change.limit_c - heat.room_c) / (die + slow * sink), 1.0)
    then = np.minimum((allowed / change.power_w) ** (1.0 / draws.exponent), 1.0)
    return np.asarray(then * figures.full_clock_mhz / figures.sustained_clock_mhz)


def rise_ratio(
    services: tuple[Service, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange
) -> FloatArray | None:
    """How far the chip rises over the room then, by how far it rises today, at the same clock or at another processor's
    design power; shape (DRAWS,), None = as today or not measured."""
    fast, slow = figures.r_fast_k_w, figures.r_slow_k_w
    if fast is None or slow is None or not (services or change.cooler_ratio is not None or change.power_w):
        return None
    one = np.ones(draws.overlap.size)
    fresh = Service.NEW_PASTE in services or change.power_w or change.cooler_ratio is not None
    paste = draws.paste if fresh else one
    clean = draws.clean if Service.CLEAN_FINS in services else one
    sink = clean if change.cooler_ratio is None else draws.sink / change.cooler_ratio
    die = paste * (draws.die if change.power_w else one)
    power = 1.0
    if change.power_w:
        today_w = figures.reading.power_ref_w if figures.reading is not None else float("nan")
        if not today_w > 0.0:
            return None
        power = change.power_w / today_w
    return np.asarray(power * (fast * die + slow * sink) / (fast + slow))


def charge_ratio(today: Configuration, later: Configuration) -> float | None:
    """Charge of the battery that will be there over today's; None = as today or not known."""
    old, new = today.parts.get(BATTERY), later.parts.get(BATTERY)
    if not isinstance(old, Battery) or not isinstance(new, Battery) or old == new:
        return None
    return new.full_wh / old.full_wh if new.full_wh and old.full_wh else None


def _storage(
    machines: tuple[Machine, Machine], today: Configuration, later: Configuration, draws: Draws
) -> dict[str, FloatArray]:
    """`machines` as it is and as it will be: another board has other links."""
    out: dict[str, FloatArray] = {}
    machine, then = machines
    old, new = system_drive(machine, today), system_drive(then, later)
    if old is not None and new is not None and old[1] is not new[1]:
        out["random"] = np.maximum(old[1].read_latency_ms / new[1].read_latency_ms * draws.latency, LEAST_LATENCY)
        out["sequential"] = sequential_mb_s(then, *new) / sequential_mb_s(machine, *old) * draws.rate
        out["paging"] = waits_ratio(old[1], new[1], draws)
    if today.memory_bytes() != later.memory_bytes():
        out["paging"] = out.get("paging", 1.0) * fewer_waits(draws.paging, today, later)
    return out


def waits_ratio(old: Drive, new: Drive, draws: Draws) -> FloatArray:
    """How much shorter a task waits for the same requests of another drive: drive, kernel and link together, shape
    (DRAWS,)."""
    before = old.read_latency_ms + draws.request_ms
    return np.maximum(before / (new.read_latency_ms / draws.latency + draws.request_ms), LEAST_LATENCY)


def sequential_mb_s(machine: Machine, place_id: str, drive: Drive) -> float:
    """Mean sequential rate over the drive, at most what its link carries [MB/s]."""
    mean = mean_rate_mb_s(drive)
    bay = next((b for b in machine.bays if b.id == place_id), None)
    rate = link_of(bay, drive) if bay is not None else None
    return mean if bay is None or rate is None else min(mean, link_ceiling_mb_s(bay, rate, drive.interface))
