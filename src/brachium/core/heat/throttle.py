"""Was the chip held back, by what, and for which share of the load?

Heat holds it back where the clock is regulated at one temperature: the same one at every onset and for as long as it
lasts, near the stated limit, or hot where none is stated. One step down far from any limit, early, to a shelf that
stays flat, is the end of a boost budget; that shelf is what it holds, and heat is looked for on it. A clock that is
held down while the temperature is not at a limit is a power limit. Without a clock nothing is called from power.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from brachium.core.base.arrays import BoolArray, FloatArray, filled, stretches
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.heat.assumptions import (
    AT_LIMIT_FRAC,
    BOOST_WITHIN_S,
    FLAT_FRAC,
    HOT_C,
    MIN_SHARE,
    NEAR_LIMIT_K,
    PULLED_DOWN_FRAC,
    SENSOR_NOISE_K,
)
from brachium.core.heat.trace import HeatTrace, LoadPhase

SMOOTHED_OVER = 3  # samples, by their median: a burst of other work is no fall of the clock
BEGAN_S = 15.0  # at the start of a load, before heat or a budget can hold much back
BRIEF_S = 4.0  # shorter than any boost budget
BRIEF_FALL = 0.9  # of the clock of those moments, below which what follows is held down
ALL_BUSY = 0.9  # of all threads
LATE_FRAC = 0.5  # of the load, its end, whose clock is called sustained


class HeldBack(StrEnum):
    NONE = "none"
    THERMAL = "thermal"
    POWER = "power limit"
    BOOST_OVER = "boost budget over"
    UNCLEAR = "clock fell, cause not clear"
    NOT_KNOWN = "cannot tell"


HELD = (HeldBack.THERMAL, HeldBack.POWER, HeldBack.UNCLEAR)


@dataclass(frozen=True)
class ThrottleFinding:
    """`share` of load time held back, the mask over the samples, clocks in MHz, temperatures in degC.

    After a boost the full clock is the shelf that it leaves: that is what the machine may hold.
    """

    kind: HeldBack
    share: float
    mask: BoolArray
    full_clock_mhz: float | None
    sustained_clock_mhz: float | None
    limit_c: float | None
    limit_is_stated: bool
    reason: str


def find_throttling(trace: HeatTrace, load: LoadPhase) -> ThrottleFinding:
    """Judge one trace."""
    nothing = np.zeros(trace.time_s.size, dtype=bool)
    stated = trace.limit_c is not None
    if trace.clock_mhz is None:
        return _without_clock(trace, load, nothing)
    level, temp = _steady(filled(trace.clock_mhz)), filled(trace.temp_c)
    inside = nothing.copy()
    inside[load.first + 2 : load.last] = True
    finding = ThrottleFinding(
        HeldBack.NONE, 0.0, nothing, _full_level(trace.time_s[inside], level[inside]),
        _sustained(trace, load), trace.limit_c, stated, "clock stayed at its full level over the load",
    )  # fmt: skip
    shelf = None if _counters_rose(trace) else _shelf(trace.time_s, level, temp, inside, load, trace.limit_c)
    if shelf is not None:
        return _on_shelf(trace, finding, level, temp, shelf)
    brief = _brief_full(trace, load, float(np.median(level[inside])) if inside.any() else 0.0)
    if brief is not None and not _counters_rose(trace):
        finding = replace(finding, full_clock_mhz=brief)
    return _judged(trace, finding, level, temp, inside, inside)


def _full_level(time_s: FloatArray, level: FloatArray) -> float:
    """The clock that is held nine tenths of the time, or while the load began: a long throttle does not hide it."""
    if not level.size:
        return 0.0
    began = level[time_s <= time_s[0] + BEGAN_S]
    return float(max(np.percentile(level, 90.0), np.percentile(began, 90.0)))


def _brief_full(trace: HeatTrace, load: LoadPhase, held_mhz: float) -> float | None:
    """The clock of the first moments of a load, with all threads busy, where it is far above what is held from then on
    and the chip never comes near a limit: a power limit that was there from the start, no budget that ran out."""
    assert trace.clock_mhz is not None
    t = trace.time_s
    first = (t >= load.start_s) & (t <= load.start_s + BRIEF_S)
    if trace.util_frac is not None:
        first &= np.nan_to_num(trace.util_frac) >= ALL_BUSY
    if not first.any():
        return None
    brief = float(np.nanmax(trace.clock_mhz[first]))
    hottest, limit = float(np.nanmax(trace.temp_c)), trace.limit_c if trace.limit_c is not None else HOT_C
    return brief if held_mhz < BRIEF_FALL * brief and hottest < limit - 2.0 * NEAR_LIMIT_K else None


def _judged(
    trace: HeatTrace, finding: ThrottleFinding, level: FloatArray, temp: FloatArray, inside: BoolArray, load: BoolArray
) -> ThrottleFinding:  # fmt: skip
    """What holds the clock below its full level, within some of the load."""
    pulled = inside & (level < PULLED_DOWN_FRAC * (finding.full_clock_mhz or 0.0))
    share = float(pulled.sum() / max(int(load.sum()), 1))
    if share < MIN_SHARE:
        return finding
    limit = trace.limit_c if trace.limit_c is not None else float(np.median(_onset_temps(temp, pulled)))
    kind, reason = _class(trace, temp, pulled, limit, load)
    return replace(finding, kind=kind, share=share, mask=pulled, limit_c=limit, reason=reason)


def _without_clock(trace: HeatTrace, load: LoadPhase, nothing: BoolArray) -> ThrottleFinding:
    """Only the processor's own counters tell anything; a drift of power proves nothing."""
    finding = ThrottleFinding(HeldBack.NOT_KNOWN, 0.0, nothing, None, None, trace.limit_c, trace.limit_c is not None,
                              "no clock was logged, and power alone does not tell")  # fmt: skip
    if not _counters_rose(trace):
        return finding
    rising = nothing.copy()
    rising[1:] = np.diff(filled(trace.throttle_count)) > 0  # type: ignore[arg-type]
    share = float(rising[load.first : load.last + 1].mean())
    return replace(finding, kind=HeldBack.THERMAL, share=share, mask=rising, reason=COUNTERS)


COUNTERS = "the processor's own throttle counters rose under load"


def _counters_rose(trace: HeatTrace) -> bool:
    counts = trace.throttle_count
    return counts is not None and float(np.nanmax(counts) - np.nanmin(counts)) > 0


def _steady(clock: FloatArray) -> FloatArray:
    """Running median, shape (n_samples,)."""
    half = SMOOTHED_OVER // 2
    padded = np.pad(clock, half, mode="edge")
    return np.asarray(np.median(np.lib.stride_tricks.sliding_window_view(padded, SMOOTHED_OVER), axis=1))


def _sustained(trace: HeatTrace, load: LoadPhase) -> float | None:
    if trace.clock_mhz is None:
        return None
    late = (trace.time_s > load.end_s - LATE_FRAC * load.duration_s) & (trace.time_s <= load.end_s)
    return float(np.nanmean(trace.clock_mhz[late]))


def _shelf(
    time_s: FloatArray, level: FloatArray, temp: FloatArray, inside: BoolArray, load: LoadPhase, limit_c: float | None
) -> BoolArray | None:
    """The samples after the one early step down that ends a boost; None where there is no such step.

    Before it the clock is higher by more than the shelf ever moves; it comes at no temperature limit, and the chip does
    not stay at the temperature at which it came: less power makes it cooler at once.
    """
    at = np.flatnonzero(inside)
    if at.size < 4 * SMOOTHED_OVER:
        return None
    early, shelf = float(level[at[: at.size // 2]].max()), float(np.median(level[at[at.size // 2 :]]))
    if shelf >= PULLED_DOWN_FRAC * early:
        return None
    above = level[at] > 0.5 * (early + shelf)
    last = int(np.flatnonzero(above).max())
    if above[: last + 1].mean() < 0.8 or time_s[at[last]] - load.start_s > BOOST_WITHIN_S:
        return None
    after = at[min(last + SMOOTHED_OVER, at.size - 1) :]
    if after.size < SMOOTHED_OVER or not _is_flat(level[after]):
        return None
    at_step = float(temp[at[max(last - 1, 0) : last + 2]].max())
    limit = limit_c if limit_c is not None else np.inf
    soon = temp[after[: max(SMOOTHED_OVER, int(np.searchsorted(time_s[after], time_s[after[0]] + 10.0)))]]
    cooler = at_step - float(np.median(soon)) > SENSOR_NOISE_K
    if at_step >= limit - NEAR_LIMIT_K or (limit_c is None and at_step >= HOT_C and not cooler):
        return None
    out = np.zeros_like(inside)
    out[after] = True
    return out


def _is_flat(level: FloatArray) -> bool:
    """Whether a shelf stays level but for what heat may take from it later: its first quarter does."""
    first = level[: max(level.size // 4, SMOOTHED_OVER)]
    return float(np.percentile(first, 90.0) - np.percentile(first, 10.0)) < 2.0 * FLAT_FRAC * float(np.median(first))


def _on_shelf(
    trace: HeatTrace, finding: ThrottleFinding, level: FloatArray, temp: FloatArray, shelf: BoolArray
) -> ThrottleFinding:  # fmt: skip
    """After a boost: the shelf is the full clock, unless heat pulls it down from there."""
    full = float(np.percentile(level[shelf], 90.0))
    late = shelf & (trace.time_s > np.median(trace.time_s[shelf]))
    over = replace(
        finding, kind=HeldBack.BOOST_OVER, full_clock_mhz=full, sustained_clock_mhz=float(np.mean(level[late])),
        reason="the clock stepped down once, far from a limit, and stayed: the end of a boost budget, not heat",
    )  # fmt: skip
    found = _judged(trace, over, level, temp, shelf, shelf)
    return found if found.kind is HeldBack.THERMAL else over


def _onset_temps(temp: FloatArray, pulled: BoolArray) -> FloatArray:
    """Chip temperature just before each stretch of being held back: highest of the two samples before it."""
    return np.array([temp[max(first - 2, 0) : first + 1].max() for first, _ in stretches(pulled)])


def _class(
    trace: HeatTrace, temp: FloatArray, pulled: BoolArray, limit: float, inside: BoolArray
) -> tuple[HeldBack, str]:
    """Heat, a power limit, or not clear."""
    if _counters_rose(trace):
        return HeldBack.THERMAL, COUNTERS
    held, onset = temp[pulled], float(np.median(_onset_temps(temp, pulled)))
    stated = trace.limit_c is not None
    top = limit if stated else float(np.percentile(held, 90.0))
    near = float(np.mean(held >= top - NEAR_LIMIT_K - SENSOR_NOISE_K))
    if near >= AT_LIMIT_FRAC and (stated or _is_regulated(temp, pulled, inside, top)):
        kind = "its stated limit of" if stated else "the same"
        return HeldBack.THERMAL, phrase(
            "the clock fell {count} times, each time at {kind} {top:.0f} °C",
            count=len(stretches(pulled)),
            kind=kind,
            top=top,
        )
    if near < 0.5 * AT_LIMIT_FRAC or not stated:
        return HeldBack.POWER, (
            phrase(
                "the clock fell at {onset:.0f} °C, which is not what it is held at: a power or current limit, an "
                "external signal, or the governor",
                onset=onset,
            )
        )
    return HeldBack.UNCLEAR, phrase(
        "the clock fell at {onset:.0f} °C, at times near the limit and at times far from it", onset=onset
    )


def _is_regulated(temp: FloatArray, pulled: BoolArray, inside: BoolArray, top: float) -> bool:
    """Whether a temperature that nobody stated is what the clock is held at: hot, never passed, the same from the first
    time on, and not left by what a lower clock takes off."""
    held, at = temp[pulled], np.flatnonzero(pulled)
    first = float(np.median(held[: max(held.size // 10, SMOOTHED_OVER)]))
    onset = float(temp[max(at[0] - 2, 0) : at[0] + 1].max())
    soon = temp[at[0] + SMOOTHED_OVER : at[0] + 4 * SMOOTHED_OVER]
    stays = soon.size == 0 or onset - float(np.median(soon)) <= 2.0 * SENSOR_NOISE_K
    passed = float(np.max(temp[inside])) > top + NEAR_LIMIT_K
    return top >= HOT_C and not passed and stays and first >= top - NEAR_LIMIT_K - 2.0 * SENSOR_NOISE_K
