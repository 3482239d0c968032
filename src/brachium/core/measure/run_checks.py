"""What has to be said about a kept run: gaps, stuck sensors, a short load, a drifting room, stray repeats.

Nothing is taken out here; the fit leaves out what it cannot use and says so itself.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray, filled, smoothed, stretches
from brachium.core.base.text import many, phrase
from brachium.core.base.units import percent
from brachium.core.measure.assumptions import DRIFT_SHARE, JUMP_K, ROOM_DRIFT_K, SHORT_LOAD_S, STRAY_MADS, STRAY_SHARE
from brachium.core.measure.run import MeasuredSession, Run, TestSpec, Trace
from brachium.core.measure.sampling import GAP_S, STUCK_S

DRIVEN = (("temp_c", "chip temperature"), ("power_w", "power"))  # fan and clock may well keep to a limit
EDGE_S, AROUND = 8.0, 15
LEAST_REPEATS = 4
BURST_EDGE_S, BURST_S, BURST_SHARE = 12.0, 3.0, 0.3  # beside the load's edges; least length; of the load's rise
BOOST_WITHIN_S, MOST_BURSTS = 150.0, 6


@dataclass(frozen=True)
class Flag:
    """One thing to know about a run; `kind` names the rule."""

    kind: str
    text: str


def run_flags(run: Run) -> tuple[Flag, ...]:
    """Everything that stands out in a run, traces first."""
    out: list[Flag] = []
    for session in run.sessions:
        where = phrase("session {number}: ", number=session.number) if len(run.sessions) > 1 else ""
        out += [
            Flag(f.kind, phrase("{where}{text}", where=where, text=f.text))
            for f in (*trace_flags(session.trace), *_repeats(run.tests, session))
        ]
    return tuple(out)


def trace_flags(trace: Trace) -> tuple[Flag, ...]:
    """What stands out in a trace."""
    if trace.time_s.size < 10:
        return ()
    stuck = _stuck(trace)
    bursts = [] if stuck else _bursts(trace)
    return (*_gaps(trace), *stuck, *_jumps(trace), *_load(trace), *bursts, *_room(trace))


def _gaps(trace: Trace) -> list[Flag]:
    steps = np.diff(trace.time_s)
    found = np.flatnonzero(steps > GAP_S)
    if not found.size:
        return []
    longest = int(found[np.argmax(steps[found])])
    where = phrase("the longest {steps:.0f} s at {time_s:.0f} s", steps=steps[longest], time_s=trace.time_s[longest])
    return [
        Flag(
            "gap", phrase("{gaps} over {gap_s:.0f} s, {where}", gaps=many(found.size, "gap"), gap_s=GAP_S, where=where)
        )
    ]


def _stuck(trace: Trace) -> list[Flag]:
    """A value that stays the same for 30 s while what drives it changes by 40 % of its span."""
    power, util = trace.values("power_w"), trace.values("util_frac")
    out = []
    for key, name in DRIVEN:
        values = trace.values(key)
        driver = util if key == "power_w" or power is None else power
        if values is None or driver is None or not np.isfinite(driver).any():
            continue
        drive = smoothed(filled(driver), 5)
        span = float(np.ptp(drive))
        same = np.concatenate([[False], np.diff(values) == 0.0])
        for first, past in stretches(same):
            seconds = float(trace.time_s[past - 1] - trace.time_s[first - 1])
            if seconds > STUCK_S and span > 0 and float(np.ptp(drive[first:past])) > 0.4 * span:
                where = phrase(
                    "for {seconds:.0f} s from {time_s:.0f} s on", seconds=seconds, time_s=trace.time_s[first - 1]
                )
                out.append(Flag("stuck", phrase("{name} stuck {where} while the load changed", name=name, where=where)))
                break
    return out


def _jumps(trace: Trace) -> list[Flag]:
    """A step that stays, away from the edges of the load, where a chip may heat by as much in a second."""
    temp = trace.values("temp_c")
    if temp is None or temp.size < 4 * AROUND or not np.isfinite(temp).any():
        return []
    level = filled(temp)
    steps = np.abs(np.diff(level))
    steps[np.diff(trace.time_s) > GAP_S] = 0.0
    load = trace.phase("load")
    for edge in (load.start_s, load.end_s) if load is not None else ():
        steps[np.abs(trace.time_s[1:] - edge) < EDGE_S] = 0.0
    steps[:AROUND] = steps[-AROUND:] = 0.0
    worst = int(np.argmax(steps))
    before, after = level[worst + 1 - AROUND : worst + 1], level[worst + 1 : worst + 1 + AROUND]
    if steps[worst] < JUMP_K or abs(float(np.median(after) - np.median(before))) < JUMP_K:
        return []
    where = phrase("by {steps:.0f} K at {time_s:.0f} s", steps=steps[worst], time_s=trace.time_s[worst + 1])
    return [Flag("jump", phrase("chip temperature jumps {where} and stays: a unit may have changed", where=where))]


def _load(trace: Trace) -> list[Flag]:
    load = trace.phase("load")
    if load is None or load.end_s - load.start_s >= SHORT_LOAD_S:
        return []
    seconds = load.end_s - load.start_s
    return [
        Flag("short load", phrase("{seconds:.0f} s of load do not settle a heatsink; 10 minutes do", seconds=seconds))
    ]


def _bursts(trace: Trace) -> list[Flag]:
    """Other work in the calm stretches, and rests or extra work within the load, that last a few seconds.

    Told by power, which other work raises even where every thread is busy; by utilisation where it was not logged. A
    boost at the start of the load is none, and what comes back again and again is a limit at work, not another program.
    """
    load = trace.phase("load")
    drive = trace.values("power_w")
    drive = trace.values("util_frac") if drive is None or not np.isfinite(drive).any() else drive
    if load is None or drive is None or not np.isfinite(drive).any():
        return []
    level, time = filled(drive), trace.time_s
    inside = (time > load.start_s + BOOST_WITHIN_S) & (time < load.end_s - BURST_EDGE_S)
    calm = (time < load.start_s - BURST_EDGE_S) | (time > load.end_s + BURST_EDGE_S)
    if inside.sum() < 2 * AROUND or calm.sum() < 2 * AROUND:
        return []
    rest, full = float(np.median(level[calm])), float(np.median(level[inside]))
    step = BURST_SHARE * (full - rest)
    after = time > load.end_s
    found = (
        ("before the load", "other work", calm & ~after & (level > rest + step)),
        ("in the load", "rests", inside & (level < full - step)),
        ("in the load", "other work", inside & (level > full + step)),
        ("in the cool-down", "other work", calm & after & (level > rest + step)),
    )
    out = []
    for where, what, mask in found:
        runs = [float(time[past - 1] - time[first]) for first, past in stretches(mask)]
        seconds = sum(r for r in runs if r >= BURST_S)
        if seconds > 0.0 and len(runs) <= MOST_BURSTS:
            out.append(
                Flag(
                    "burst",
                    phrase(
                        "{what} {where}: {seconds:.0f} s, the heat fit follows the power through it",
                        what=what,
                        where=where,
                        seconds=seconds,
                    )
                    if drive is trace.values("power_w")
                    else phrase("{what} {where}: {seconds:.0f} s", what=what, where=where, seconds=seconds),
                )
            )
    return out


def _room(trace: Trace) -> list[Flag]:
    room = trace.values("room_c")
    if room is None or not np.isfinite(room).any():
        return []
    drift = float(np.nanmax(room) - np.nanmin(room))
    return (
        [Flag("room", phrase("the room changed by {drift:.1f} K meanwhile", drift=drift))]
        if drift > ROOM_DRIFT_K
        else []
    )


def _repeats(tests: tuple[TestSpec, ...], session: MeasuredSession) -> list[Flag]:
    out = []
    for test in tests:
        values = session.results(test.key)
        if values.size >= LEAST_REPEATS and np.all(values > 0):
            out += [
                Flag(kind, phrase("{test}: {text}", test=test.title, text=text))
                for kind, text in (_drift(values), _stray(values))
                if text
            ]
        lost = [r for r in session.repeats if r.test == test.key and not r.valid]
        if lost:
            out.append(
                Flag(
                    "left out",
                    phrase(
                        "{test}: {repeats} left out, {reason}",
                        test=test.title,
                        repeats=many(len(lost), "repeat"),
                        reason=lost[0].reason,
                    ),
                )
            )
    return out


def _drift(values: FloatArray) -> tuple[str, str]:
    """A trend over the repeats: the t value of the slope of the logarithms over their order, beyond 95 %."""
    from scipy.special import stdtrit

    logs = np.log(values)
    order = np.arange(values.size) - (values.size - 1) / 2
    slope = float((order * logs).sum() / (order**2).sum())
    rest = logs - logs.mean() - slope * order
    deviation = float(np.sqrt((rest**2).sum() / (values.size - 2) / (order**2).sum()))
    change = float(np.expm1(slope * (values.size - 1)))
    if abs(change) < DRIFT_SHARE or abs(slope) <= stdtrit(values.size - 2, 0.975) * deviation:
        return "drift", ""
    words = phrase(
        "{which} by {change} over {size} repeats",
        which="rise" if change > 0 else "fall",
        change=percent(abs(change), 1),
        size=values.size,
    )
    return "drift", phrase("results {words}: not warmed up, or throttling", words=words)


def _stray(values: FloatArray) -> tuple[str, str]:
    """A repeat far off the others by the median absolute deviation; it counts, and is said."""
    middle = float(np.median(values))
    away = np.abs(values / middle - 1.0)
    scale = 1.4826 * float(np.median(away))
    worst = int(np.argmax(away))
    if away[worst] < max(STRAY_SHARE, STRAY_MADS * scale):
        return "stray", ""
    return "stray", phrase(
        "repeat {worst} is {float} off the median; it counts", worst=worst + 1, float=percent(float(away[worst]), 1)
    )
