"""The verdict of a comparison in one headline and one line below it."""

from __future__ import annotations

from brachium.core.base.text import counted, joined, many, phrase, upper_first
from brachium.core.base.units import percent
from brachium.core.heat.claims import ClaimKind, HeatVerdict
from brachium.core.heat.throttle import HeldBack
from brachium.core.measure.conditions import unstated
from brachium.core.measure.statistics import Word
from brachium.core.measure.typed_runs import is_typed
from brachium.core.prove.comparison import Comparison
from brachium.core.prove.gain_words import gain_band


def headline(comparison: Comparison) -> str:
    """One sentence: what the work brought, or that nothing can be claimed."""
    if comparison.refusal:
        return phrase("Nothing can be compared: {refusal}.", refusal=comparison.refusal)
    brought = _sustained_words(comparison) or _path_words(comparison.heat)
    parts = [p for p in (_throttle_words(comparison.heat), brought) if p]
    if _throttle_words(comparison.heat) or _sustained_words(comparison):
        text = joined(": ", parts)
        return phrase("{text}.", text=upper_first(text))
    heat = "" if comparison.heat.refusal else _heat_words(comparison.heat)
    tests = _test_words(comparison)
    if tests and not heat:
        return tests
    heat = heat or _heat_words(comparison.heat)
    return phrase("{heat}.", heat=upper_first(heat)) if heat else "No difference that can be claimed."


def _test_words(comparison: Comparison) -> str:
    """How many tests changed; a single one by its figure."""
    claimed = {w: [g for g in comparison.gains if g.judgement.word is w] for w in (Word.BETTER, Word.WORSE)}
    better, worse = len(claimed[Word.BETTER]), len(claimed[Word.WORSE])
    one = (*claimed[Word.BETTER], *claimed[Word.WORSE])
    if len(one) == 1 and one[0].result is not None:
        return phrase("{test}: {gain_band}.", test=one[0].test.title, gain_band=gain_band(one[0].test, one[0].result))
    if better and worse:
        verb = "is" if better == 1 else "are"
        return phrase(
            "{better} of {count} tests {verb} better, {worse} worse.",
            better=better,
            count=len(comparison.gains),
            verb=verb,
            worse=worse,
        )
    if better:
        return phrase("{better} of {count} tests are better.", better=better, count=len(comparison.gains))
    return phrase("{worse} of {count} tests are worse.", worse=worse, count=len(comparison.gains)) if worse else ""


def _throttle_words(heat: HeatVerdict) -> str:
    if heat.throttles is None:
        return ""
    before, after = heat.throttles
    if before.kind is HeldBack.THERMAL and after.kind is HeldBack.NONE:
        return "heat no longer holds it back"
    if before.kind is HeldBack.THERMAL and after.kind is HeldBack.THERMAL:
        return phrase(
            "still held back by heat, {share} of the load instead of {share2}",
            share=percent(after.share),
            share2=percent(before.share),
        )
    if before.kind is HeldBack.NONE and after.kind is HeldBack.THERMAL:
        return phrase("now held back by heat for {share} of the load", share=percent(after.share))
    return ""


def _sustained_words(comparison: Comparison) -> str:
    gain = comparison.gain("sustained") or comparison.gain("probe_sustained")
    if gain is None or gain.result is None or gain.judgement.word not in (Word.BETTER, Word.WORSE):
        return ""
    change = gain.result.ratio - 1.0
    peaks = comparison.heat.peaks_c
    ends = sorted(abs(100.0 * (v - 1.0)) for v in (gain.result.low, gain.result.high))
    band = phrase("({ends:.0f} to {ends2:.0f})", ends=ends[0], ends2=ends[1])
    text = phrase(
        "{change} {band} {which} sustained work",
        change=percent(abs(change)),
        band=band,
        which="more" if change > 0 else "less",
    )
    if peaks is not None and abs(peaks[0] - peaks[1]) < 4.0:
        return phrase("{text} at nearly the same peak temperature", text=text)
    return (
        phrase("{text}, peak {peaks:.0f} then {peaks2:.0f} °C", text=text, peaks=peaks[0], peaks2=peaks[1])
        if peaks is not None
        else text
    )


def _path_words(heat: HeatVerdict) -> str:
    """The heat path's change where no test results say more."""
    total = heat.total
    if total is None or total.kind is not ClaimKind.CHANGED:
        return ""
    word = "cooler" if total.value_k > 0 else "warmer"
    return phrase(
        "the heat path is {value_k:.0f} K {word} at {power_ref_w:.0f} W and equal fan speed",
        value_k=abs(total.value_k),
        word=word,
        power_ref_w=heat.power_ref_w,
    )


def _heat_words(heat: HeatVerdict) -> str:
    if heat.refusal:
        return phrase("no heat verdict: {refusal}", refusal=heat.refusal)
    total = heat.total
    if total is None:
        return ""
    if total.kind is ClaimKind.CANNOT_SEPARATE:
        if heat.paste is not None and heat.paste.kind is ClaimKind.CHANGED:
            word = "cooler" if heat.paste.value_k > 0 else "warmer"
            return phrase(
                "paste and mounting run {value_k:.0f} K {word}; the airflow cannot be judged",
                value_k=abs(heat.paste.value_k),
                word=word,
            )
        return total.text
    if total.kind is ClaimKind.NO_CHANGE:
        parts = [
            phrase(
                "{name} {value_k:.0f} K {which}",
                name=name,
                value_k=abs(claim.value_k),
                which="cooler" if claim.value_k > 0 else "warmer",
            )
            for name, claim in (("paste and mounting", heat.paste), ("fins, fan and vents", heat.airflow))
            if claim is not None and claim.kind is ClaimKind.CHANGED
        ]
        return (
            phrase("{parts}; together {total}", parts=joined(" and ", parts), total=total.text)
            if parts
            else phrase("the heat path is unchanged: {total}", total=total.text)
        )
    word = "cooler" if total.value_k > 0 else "warmer"
    return phrase(
        "{value_k:.0f} K {word} at {power_ref_w:.0f} W and equal fan speed",
        value_k=abs(total.value_k),
        word=word,
        power_ref_w=heat.power_ref_w,
    )


def subline(comparison: Comparison) -> str:
    """Dates, sessions, rooms and the number of conditions that differ."""
    before, after = comparison.before, comparison.after
    rooms = [r.conditions.room_c for r in (before, after)]
    parts = [
        phrase("Before {taken_at}, after {taken_at2}", taken_at=before.taken_at[:10], taken_at2=after.taken_at[:10])
    ]
    if is_typed(before) or is_typed(after):
        both = is_typed(before) and is_typed(after)
        parts.append(
            "typed by hand"
            if both
            else phrase("{which} typed by hand", which="before" if is_typed(before) else "after")
        )
    elif before.tests:
        parts.append(
            phrase(
                "{sessions} of {repeats}",
                sessions=many(len(before.sessions), "session"),
                repeats=many(before.protocol.repeats, "repeat"),
            )
        )
    if rooms[0] is not None and rooms[1] is not None:
        parts.append(phrase("room {rooms:.1f} and {rooms2:.1f} °C", rooms=rooms[0], rooms2=rooms[1]))
    parts += _condition_words(comparison)
    return joined(", ", parts) + "."


def _condition_words(comparison: Comparison) -> list[str]:
    """How many conditions differ, are stated on one side only, or on neither."""
    differ = [d for d in comparison.differences if not d.one_sided and not d.unknown]
    half = sum(d.one_sided for d in comparison.differences)
    open_ = sum(d.unknown for d in comparison.differences) + len(
        unstated(comparison.before.conditions, comparison.after.conditions)
    )
    out = [counted(len(differ), "{count} condition differs", "{count} conditions differ")] if differ else []
    out += [phrase("{conditions} stated on one side only", conditions=many(half, "condition"))] if half else []
    if not out:
        return [
            "same conditions"
            if not open_
            else phrase("same as far as stated, {conditions} not", conditions=many(open_, "condition"))
        ]
    return out
