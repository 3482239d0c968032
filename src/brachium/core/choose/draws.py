"""Common random numbers of predictions: every ratio a log-normal or a mixture with a stated spread, one seed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.choose.assumptions import (
    CHANNEL_USE_RANGE,
    DIE_SPREAD,
    FAN_AT_FAULT,
    FAN_SOUND,
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
    VOLTAGE_POWER,
    WAIT_SCATTER,
)
from brachium.core.choose.paging import PagingDraws, draw_paging
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.record.correction import NONE, Correction
from brachium.core.use.profile import UseProfile

DRAWS = 4000
SEED = 20


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
    fan: FloatArray  # factor on plate to room with another fan
    voltage: FloatArray  # factor on the power at the same clock with a lowered voltage
    port: FloatArray  # whether the network port holds the use back, 0 or 1
    paging: PagingDraws
    request_ms: FloatArray  # what a request costs beside the drive
    correction: Correction = NONE  # what the shop's own record says of predictions like these


def draw(profile: UseProfile, figures: BeforeFigures, machine: Machine, count: int = DRAWS) -> Draws:
    """Common random numbers of a machine's predictions, always the same ones for a count."""
    rng = np.random.default_rng(SEED)
    paging = draw_paging(np.random.default_rng([SEED, 1]), profile, figures, machine, count)
    spread = SHARE_SPREAD_MEASURED if profile.measured else SHARE_SPREAD
    raw = {k: v * rng.lognormal(0.0, spread, count) for k, v in _counted(profile, figures).items() if v > 0}
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
        _service(np.random.default_rng([SEED, 2]), figures.fan_chance, FAN_AT_FAULT, FAN_SOUND, count),
        np.random.default_rng([SEED, 3]).uniform(*VOLTAGE_POWER, count),
        (np.random.default_rng([SEED, 4]).random(count) < (figures.network_chance or 0.0)).astype(np.float64),
        paging, rng.uniform(*REQUEST_MS, count),
    )  # fmt: skip


def _counted(profile: UseProfile, figures: BeforeFigures) -> Mapping[str, float]:
    """Shares beside the waiting for storage: where both come from one measurement, its reads are that waiting."""
    if not (profile.measured and figures.stall_measured):
        return profile.shares
    out = {k: v for k, v in profile.shares.items() if k not in ("random", "sequential")}
    return out if any(v > 0 for v in out.values()) else profile.shares


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
