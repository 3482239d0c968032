"""Is a repeat valid? Background load in the calm phases spoils it."""

from __future__ import annotations

import numpy as np

from brachium.core.measure.conditions import BACKGROUND_CPU_FRAC, BACKGROUND_DISK_FRAC
from brachium.core.measure.run import Trace

ALLOWED_SHARE = 0.10


def settle_problem(trace: Trace) -> str:
    """Why repeats after this settle phase do not count; empty where they do."""
    idle = trace.phase("idle") or trace.phase("settle")
    if idle is None:
        return ""
    calm = trace.cut(idle.start_s, idle.end_s)
    for key, limit, name in (
        ("util_frac", BACKGROUND_CPU_FRAC, "processor"),
        ("disk_busy_frac", BACKGROUND_DISK_FRAC, "drive"),
    ):
        values = calm.values(key)
        if values is None or not np.isfinite(values).any():
            continue
        share = float(np.nanmean(values > limit))
        if share > ALLOWED_SHARE:
            return f"background load: {name} over {100 * limit:.0f} % for {100 * share:.0f} % of the calm phase"
    return ""
