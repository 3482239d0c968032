"""Watched days in sentences: what held the owner back, how much memory was needed, what the work changed."""

from __future__ import annotations

from brachium.core.base.band import Band
from brachium.core.base.text import joined, phrase
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
    limits = (
        joined(", ", (phrase("{v} {held}", v=minutes(v), held=HELD[k]) for v, k in held))
        or "nothing that was recorded was a limit"
    )
    dark = phrase(" Not recorded: {blind_words}.", blind_words=day.blind_words) if day.blind_words else ""
    return phrase(
        "{hours_at_work:.1f} h at work: {limits}. {need_words}{dark}",
        hours_at_work=day.hours_at_work,
        limits=limits,
        need_words=need_words(day),
        dark=dark,
    )


def need_words(day: DayOfUse) -> str:
    """The smallest memory that would have done, or why nobody can say."""
    need = day.need
    if need is None:
        return "Memory in use was not recorded."
    if need.at_least:
        return phrase("More than {mid_gib:.1f} GiB of memory is needed: pages had nowhere to go.", mid_gib=need.mid_gib)
    if need.enough_gib is None:
        return phrase("{mid_gib:.1f} GiB of memory was needed.", mid_gib=need.mid_gib)
    fitted = phrase(", {total_gib:.1f} GiB is usable", total_gib=day.total_gib) if day.total_gib is not None else ""
    return phrase(
        "{enough_gib} GiB of memory would have done ({mid_gib:.1f} GiB needed{fitted}).",
        enough_gib=need.enough_gib,
        mid_gib=need.mid_gib,
        fitted=fitted,
    )


def compared_words(found: DayComparison, predicted: Band | None) -> str:
    """Days against days, with what was predicted."""
    before, after = found.held(False), found.held(True)
    moved = max(before, key=lambda k: abs(before[k] - after[k]))
    held = phrase(
        "Of each hour at work {before:.1f}, then {after:.1f} minutes {held}.",
        before=before[moved],
        after=after[moved],
        held=HELD[moved],
    )
    if found.gain is None:
        return phrase("No gain is claimed: {refusal}. {held}", refusal=found.refusal, held=held)
    g = found.gain
    said = phrase(
        "The same work in like minutes goes {ratio_band} as fast.", ratio_band=ratio_band(g.low, g.mid, g.high)
    )
    if g.low <= 1.0 <= g.high:
        said = phrase(
            "The same work in like minutes takes as long as before, × {low:.2f} to {high:.2f}.", low=g.low, high=g.high
        )
    told = phrase(" {foretold_words}", foretold_words=foretold_words(predicted)) if predicted is not None else ""
    return phrase("{said}{told} {held}", said=said, told=told, held=held)


def foretold_words(band: Band) -> str:
    """What the plan in hand is to bring on a day like these."""
    return phrase(
        "The plan in hand should bring {ratio_band} on such a day.",
        ratio_band=ratio_band(band.low, band.mid, band.high),
    )
