"""Why a plan is said to bring so much: the facts that its prediction starts from, each with its origin and range."""

from __future__ import annotations

from brachium.core.base.band import Band
from brachium.core.base.text import lower_first, phrase
from brachium.core.base.units import gib, percent, ratio_band
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.choose.paging import PagingDraws
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Configuration
from brachium.core.use.profile import UseProfile


def reasons_of(
    later: Configuration, profile: UseProfile, figures: BeforeFigures, paging: PagingDraws, band: Band
) -> Because:
    """`later` is the machine with the plan."""
    return Because(
        phrase("Work per time {ratio_band}", ratio_band=ratio_band(band.low, band.mid, band.high)),
        "use profile, sampled",
        phrase("How {profile} spends its time, divided by what each planned change speeds up. The band holds 8 of "
"10 draws.", profile=lower_first(profile.title)),
        (
            *_waiting_facts(figures, paging),
            Fact("memory then", gib(later.memory_bytes()), Origin.PLANNED),
            Fact("all-thread share", percent(profile.shares["all"]), Origin.MEASURED if profile.measured else
                 Origin.ASSUMED),
            *_clock_facts(figures),
            Fact("paste at fault", percent(figures.paste_chance) if figures.paste_chance is not None else "not judged",
                 Origin.COMPUTED),
        ),
        phrase("{ratio_band} of today's work per time", ratio_band=ratio_band(band.low, band.mid, band.high)),
        "Measured shares of the owner's own work, and the shop's own record of repastes.",
    )  # fmt: skip


def _clock_facts(figures: BeforeFigures) -> tuple[Fact, ...]:
    """Nothing where no clock was logged."""
    throttle = figures.reading.throttle if figures.reading is not None else None
    if throttle is None or not throttle.sustained_clock_mhz:
        return ()
    ratio = figures.full_clock_mhz / figures.sustained_clock_mhz
    return (Fact("full over held clock", phrase("{ratio:.2f}", ratio=ratio), Origin.MEASURED),)


def _waiting_facts(figures: BeforeFigures, paging: PagingDraws) -> tuple[Fact, ...]:
    """What the work waits for storage, what of it is paging, how much memory it needs; with ranges."""
    seen = figures.memory_used_frac is not None or figures.memory_used_gib is not None
    waiting = Origin.MEASURED if figures.stall_measured else Origin.COMPUTED  # a typed share of drive time is no stall
    need, part = Band.of(paging.working_gib), Band.of(paging.paged)
    share = percent(figures.stall_share) if figures.stall_measured else _shares(Band.of(paging.waiting))
    return (
        Fact("waiting for storage", share, waiting),
        Fact("of it paging", _shares(part), Origin.COMPUTED),
        Fact(
            "memory the work needs",
            phrase("{low:.1f} to {high:.1f} GiB", low=need.low, high=need.high),
            Origin.COMPUTED if seen else Origin.ASSUMED,
        ),
    )


def _shares(band: Band) -> str:
    low, high = percent(band.low), percent(band.high)
    return low if low == high else phrase("{low} to {high}", low=low, high=high)
