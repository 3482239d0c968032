"""Watched days in sentences: what held the owner back, how much memory was needed, what the work changed."""

from __future__ import annotations

from brachium.core.base.band import Band
from brachium.core.base.units import minutes, ratio_band
from brachium.core.prove.days import DayComparison
from brachium.core.use.day_of_use import DayOfUse

WORTH_MIN = 1.0  # minutes from which on a limit is named
HELD = {
    "storage": "waiting for the drive", "paging": "paging", "held": "lost to a lowered clock",
    "processor": "with all threads busy", "thread": "with one thread busy", "graphics": "with graphics busy",
}  # fmt: skip


def day_words(day: DayOfUse) -> str:
    """One day: hours at work, the longest limits, memory."""
    held = sorted(((v, k) for k, v in day.held_min.items() if v >= WORTH_MIN), reverse=True)[:3]
    limits = ", ".join(f"{minutes(v)} {HELD[k]}" for v, k in held) or "nothing that was recorded was a limit"
    dark = f" Not recorded: {day.blind_words}." if day.blind_words else ""
    return f"{day.hours_at_work:.1f} h at work: {limits}. {need_words(day)}{dark}"


def need_words(day: DayOfUse) -> str:
    """The smallest memory that would have done, or why nobody can say."""
    need = day.need
    if need is None:
        return "Memory in use was not recorded."
    if need.at_least:
        return f"More than {need.mid_gib:.1f} GiB of memory is needed: pages had nowhere to go."
    if need.enough_gib is None:
        return f"{need.mid_gib:.1f} GiB of memory was needed."
    fitted = f", {day.total_gib:.1f} GiB is usable" if day.total_gib is not None else ""
    return f"{need.enough_gib} GiB of memory would have done ({need.mid_gib:.1f} GiB needed{fitted})."


def compared_words(found: DayComparison, predicted: Band | None) -> str:
    """Days against days, with what was predicted."""
    before, after = found.held(False), found.held(True)
    moved = max(before, key=lambda k: abs(before[k] - after[k]))
    held = f"Of each hour at work {before[moved]:.1f}, then {after[moved]:.1f} minutes {HELD[moved]}."
    if found.gain is None:
        return f"No gain is claimed: {found.refusal}. {held}"
    g = found.gain
    said = f"The same work in like minutes goes {ratio_band(g.low, g.mid, g.high)} as fast."
    if g.low <= 1.0 <= g.high:
        said = f"The same work in like minutes takes as long as before, × {g.low:.2f} to {g.high:.2f}."
    told = f" {foretold_words(predicted)}" if predicted is not None else ""
    return f"{said}{told} {held}"


def foretold_words(band: Band) -> str:
    """What the plan in hand is to bring on a day like these."""
    return f"The plan in hand should bring {ratio_band(band.low, band.mid, band.high)} on such a day."
