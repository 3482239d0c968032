"""Was the chip held back, by what class of cause, and for which share of the load?

Held back = clock or power is pulled down under full load. Within 3 K of the temperature limit (or where the
throttle counters rise) it is thermal; far from it the class is named, never guessed.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from brachium.core.base.arrays import BoolArray, FloatArray, filled, smoothed, stretches
from brachium.core.heat.assumptions import HOT_C, MIN_SHARE, NEAR_LIMIT_K, PULLED_DOWN_FRAC, SENSOR_NOISE_K
from brachium.core.heat.trace import HeatTrace, LoadPhase


class HeldBack(StrEnum):
    NONE = "none"
    THERMAL = "thermal"
    UNCLEAR = "clock fell, cause unclear"
    NOT_KNOWN = "not known"


@dataclass(frozen=True)
class ThrottleFinding:
    """`share` of load time held back, the mask over the samples, clocks in MHz, temperatures in degC."""

    kind: HeldBack
    share: float
    mask: BoolArray
    full_clock_mhz: float | None
    sustained_clock_mhz: float | None
    limit_c: float | None
    limit_is_stated: bool
    reason: str


def find_throttling(trace: HeatTrace, load: LoadPhase) -> ThrottleFinding:
    """Judge one trace. Without clock and power the answer is NOT_KNOWN with the reason."""
    signal, is_clock = (trace.clock_mhz, True) if trace.clock_mhz is not None else (trace.power_w, False)
    nothing = np.zeros(trace.time_s.size, dtype=bool)
    if signal is None:
        return ThrottleFinding(HeldBack.NOT_KNOWN, 0.0, nothing, None, None, trace.limit_c, False,
                               "neither clock nor power was logged")  # fmt: skip
    level = filled(signal) if is_clock else smoothed(filled(signal), 3)
    temp = filled(trace.temp_c)
    inside = np.zeros(trace.time_s.size, dtype=bool)
    inside[load.first + 2 : load.last] = True
    full = _full_level(level[inside])
    pulled = inside & (level < PULLED_DOWN_FRAC * full)
    share = float(pulled.sum() / max(int(inside.sum()), 1))
    sustained = _sustained(trace, load) if is_clock else None
    full_clock = full if is_clock else None
    onsets = _onset_temps(temp, pulled)
    stated = trace.limit_c is not None
    limit = trace.limit_c if trace.limit_c is not None else float(np.median(onsets)) if onsets.size else HOT_C
    if share < MIN_SHARE:
        return ThrottleFinding(HeldBack.NONE, 0.0, nothing, full_clock, sustained, trace.limit_c, stated,
                               "clock stayed at its full level over the load")  # fmt: skip
    kind, reason = _class(temp, pulled, onsets, limit, stated, trace.throttle_count)
    return ThrottleFinding(kind, share, pulled, full_clock, sustained, limit, stated, reason)


def _full_level(level: FloatArray) -> float:
    """Level held at the start of the load: the 90th percentile, so that a long throttle does not hide it."""
    return float(np.percentile(level, 90.0)) if level.size else 0.0


def _sustained(trace: HeatTrace, load: LoadPhase) -> float | None:
    if trace.clock_mhz is None:
        return None
    late = (trace.time_s > load.end_s - 0.5 * load.duration_s) & (trace.time_s <= load.end_s)
    return float(np.nanmean(trace.clock_mhz[late]))


def _onset_temps(temp: FloatArray, pulled: BoolArray) -> FloatArray:
    """Chip temperature just before each stretch of being held back: highest of the two samples before it."""
    return np.array([temp[max(first - 2, 0) : first + 1].max() for first, _ in stretches(pulled)])


def _class(
    temp: FloatArray,
    pulled: BoolArray,
    onsets: FloatArray,
    limit: float,
    stated: bool,
    counts: FloatArray | None,
) -> tuple[HeldBack, str]:
    if counts is not None and float(np.nanmax(counts) - np.nanmin(counts)) > 0:
        return HeldBack.THERMAL, "the processor's own throttle counters rose under load"
    near_onsets = float(np.mean(np.abs(onsets - limit) <= NEAR_LIMIT_K))
    near = float(np.mean(temp[pulled] >= limit - NEAR_LIMIT_K - SENSOR_NOISE_K))
    highest = float(np.max(temp))
    if near_onsets >= 0.75 and near > 0.6 and (stated or (limit >= HOT_C and highest <= limit + NEAR_LIMIT_K)):
        kind = "its stated limit of" if stated else "the same"
        return HeldBack.THERMAL, f"the clock fell {onsets.size} times, each time at {kind} {limit:.0f} °C"
    return (
        HeldBack.UNCLEAR,
        f"the clock fell at {np.median(onsets):.0f} °C: a power or current limit, a skin or regulator sensor, "
        "an external signal, the governor or a failed sensor; the chip's temperature does not explain it",
    )
