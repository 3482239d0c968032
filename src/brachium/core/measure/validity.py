"""Is a repeat valid? Background load in the calm phases spoils it, and so does other programs' work beside a test."""

from __future__ import annotations

from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.measure.assumptions import ALLOWED_SHARE, BACKGROUND_CPU_FRAC, BACKGROUND_DISK_FRAC
from brachium.core.measure.run import Trace

LIMITS = (("util_frac", BACKGROUND_CPU_FRAC, "processor"), ("disk_busy_frac", BACKGROUND_DISK_FRAC, "drive"))
EARLY_S = 20.0


def settle_problem(trace: Trace) -> str:
    """Why repeats after this settle phase do not count; empty where they do."""
    idle = trace.phase("idle") or trace.phase("settle")
    if idle is None:
        return ""
    calm = trace.cut(idle.start_s, idle.end_s)
    for key, limit, name in LIMITS:
        share = _share_above(calm, key, limit)
        if share > ALLOWED_SHARE:
            return phrase(
                "background load: {name} over {limit:.0f} % for {share:.0f} % of the calm phase",
                name=name,
                limit=100 * limit,
                share=100 * share,
            )
    return ""


def early_problem(trace: Trace, phase: str) -> str:
    """Why a run would not count that is still in its first calm phase: said once 20 s of it were seen; empty else."""
    calm = trace.phase(phase)
    if phase not in ("settle", "idle") or calm is None or calm.end_s - calm.start_s < EARLY_S:
        return ""
    seen = trace.cut(max(calm.start_s, calm.end_s - 2.0 * EARLY_S), calm.end_s)
    for key, limit, name in LIMITS:
        share = _share_above(seen, key, limit)
        values = seen.values(key)
        if values is not None and share > ALLOWED_SHARE:
            level = float(np.nanmedian(values))
            return phrase(
                "other programs keep the {name} busy ({level}): repeats after it would not count",
                name=name,
                level=percent(level),
            )
    return ""


def burst_problem(trace: Trace) -> str:
    """Why a repeat sampled in this stretch does not count: other programs worked beside it; empty where none did."""
    values = trace.values("background_frac")
    if values is not None and _share_above(trace, "background_frac", BACKGROUND_CPU_FRAC) > ALLOWED_SHARE:
        most = float(np.nanmax(values))
        return phrase(
            "background load beside the test: other programs took up to {most:.0f} % of the processor", most=100 * most
        )
    return ""


def _share_above(trace: Trace, key: str, limit: float) -> float:
    values = trace.values(key)
    if values is None or not np.isfinite(values).any():
        return 0.0
    return float(np.nanmean(values > limit))
