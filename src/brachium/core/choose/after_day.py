"""The day after a plan, predicted from a watched day before it: the gain of work per time with its 80 % band.

The watched shares, waiting and memory take the place of what a profile only states; what one day differs from another
is added to the band.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from brachium.core.base.band import Band
from brachium.core.choose.draws import SEED, draw
from brachium.core.choose.predict import bands_of
from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.machine.machine import Machine
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Candidate
from brachium.core.use.day_of_use import PAGING, STALLS, DayOfUse, day_of
from brachium.core.use.profile import UseProfile
from brachium.core.use.use_of_day import use_of_day

# from one day's gain to that of another pair of days of one owner, of the logarithm: what always scatters, and what
# grows with the share of time that is waited for storage, since no two days wait for the same
DAY_SPREAD, DAY_WAITS = 0.006, 0.22


def figures_with_day(figures: BeforeFigures, day: DayOfUse) -> BeforeFigures:
    """The figures of a before-run with what the day says of waiting and memory; what it did not see stays."""
    need = day.need
    used = need.mid_gib / day.total_gib if need is not None and day.total_gib else None
    if used is not None:
        figures = replace(figures, memory_used_frac=min(used, 1.0))
    if not day.sees(STALLS):
        return figures
    paging = day.shares["paging"] if day.sees(PAGING) else None
    waits = day.shares["storage"] + day.shares["paging"]
    return replace(figures, stall_share=waits, stall_measured=True, memory_stall_share=paging)


def figures_of_day(watched: Run, day: DayOfUse) -> BeforeFigures:
    """The figures of a watched day alone: nothing of heat, for a day holds no load that heat could be read from."""
    return figures_with_day(figures_of(replace(watched, sessions=()), None), day)


def after_day(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, watched: Run
) -> Band | None:  # fmt: skip
    """Band of the gain on a day after the work; None where the watched day says too little."""
    day = day_of(watched)
    use = use_of_day(profile, day) if day is not None else None
    if day is None or use is None:
        return None
    figures = figures_of_day(watched, day)
    draws = draw(use, figures, machine)
    spread = float(np.hypot(DAY_SPREAD, DAY_WAITS * figures.stall_share))
    between = np.random.default_rng([SEED, 7]).lognormal(0.0, spread, draws.scatter.size)
    return bands_of(machine, chosen, use, figures, replace(draws, scatter=draws.scatter * between))
