"""The verdict of a comparison in one headline and one line below it."""

from __future__ import annotations

from brachium.core.base.units import many, percent
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
        return f"Nothing can be compared: {comparison.refusal}."
    brought = _sustained_words(comparison) or _path_words(comparison.heat)
    parts = [p for p in (_throttle_words(comparison.heat), brought) if p]
    if _throttle_words(comparison.heat) or _sustained_words(comparison):
        text = ": ".join(parts)
        return f"{text[0].upper()}{text[1:]}."
    heat = "" if comparison.heat.refusal else _heat_words(comparison.heat)
    tests = _test_words(comparison)
    if tests and not heat:
        return tests
    heat = heat or _heat_words(comparison.heat)
    return f"{heat[0].upper()}{heat[1:]}." if heat else "No difference that can be claimed."


def _test_words(comparison: Comparison) -> str:
    """How many tests changed; a single one by its figure."""
    claimed = {w: [g for g in comparison.gains if g.judgement.word is w] for w in (Word.BETTER, Word.WORSE)}
    better, worse = len(claimed[Word.BETTER]), len(claimed[Word.WORSE])
    one = (*claimed[Word.BETTER], *claimed[Word.WORSE])
    if len(one) == 1 and one[0].result is not None:
        return f"{one[0].test.title}: {gain_band(one[0].test, one[0].result)}."
    if better and worse:
        verb = "is" if better == 1 else "are"
        return f"{better} of {len(comparison.gains)} tests {verb} better, {worse} worse."
    if better:
        return f"{better} of {len(comparison.gains)} tests are better."
    return f"{worse} of {len(comparison.gains)} tests are worse." if worse else ""


def _throttle_words(heat: HeatVerdict) -> str:
    if heat.throttles is None:
        return ""
    before, after = heat.throttles
    if before.kind is HeldBack.THERMAL and after.kind is HeldBack.NONE:
        return "heat no longer holds it back"
    if before.kind is HeldBack.THERMAL and after.kind is HeldBack.THERMAL:
        return f"still held back by heat, {percent(after.share)} of the load instead of {percent(before.share)}"
    if before.kind is HeldBack.NONE and after.kind is HeldBack.THERMAL:
        return f"now held back by heat for {percent(after.share)} of the load"
    return ""


def _sustained_words(comparison: Comparison) -> str:
    gain = comparison.gain("sustained") or comparison.gain("probe_sustained")
    if gain is None or gain.result is None or gain.judgement.word not in (Word.BETTER, Word.WORSE):
        return ""
    change = gain.result.ratio - 1.0
    peaks = comparison.heat.peaks_c
    ends = sorted(abs(100.0 * (v - 1.0)) for v in (gain.result.low, gain.result.high))
    band = f"({ends[0]:.0f} to {ends[1]:.0f})"
    text = f"{percent(abs(change))} {band} {'more' if change > 0 else 'less'} sustained work"
    if peaks is not None and abs(peaks[0] - peaks[1]) < 4.0:
        return f"{text} at nearly the same peak temperature"
    return f"{text}, peak {peaks[0]:.0f} then {peaks[1]:.0f} °C" if peaks is not None else text


def _path_words(heat: HeatVerdict) -> str:
    """The heat path's change where no test results say more."""
    total = heat.total
    if total is None or total.kind is not ClaimKind.CHANGED:
        return ""
    word = "cooler" if total.value_k > 0 else "warmer"
    return f"the heat path is {abs(total.value_k):.0f} K {word} at {heat.power_ref_w:.0f} W and equal fan speed"


def _heat_words(heat: HeatVerdict) -> str:
    if heat.refusal:
        return f"no heat verdict: {heat.refusal}"
    total = heat.total
    if total is None:
        return ""
    if total.kind is ClaimKind.CANNOT_SEPARATE:
        if heat.paste is not None and heat.paste.kind is ClaimKind.CHANGED:
            word = "cooler" if heat.paste.value_k > 0 else "warmer"
            return f"paste and mounting run {abs(heat.paste.value_k):.0f} K {word}; the airflow cannot be judged"
        return total.text
    if total.kind is ClaimKind.NO_CHANGE:
        parts = [
            f"{name} {abs(claim.value_k):.0f} K {'cooler' if claim.value_k > 0 else 'warmer'}"
            for name, claim in (("paste and mounting", heat.paste), ("fins, fan and vents", heat.airflow))
            if claim is not None and claim.kind is ClaimKind.CHANGED
        ]
        return f"{' and '.join(parts)}; together {total.text}" if parts else f"the heat path is unchanged: {total.text}"
    word = "cooler" if total.value_k > 0 else "warmer"
    return f"{abs(total.value_k):.0f} K {word} at {heat.power_ref_w:.0f} W and equal fan speed"


def subline(comparison: Comparison) -> str:
    """Dates, sessions, rooms and the number of conditions that differ."""
    before, after = comparison.before, comparison.after
    rooms = [r.conditions.room_c for r in (before, after)]
    parts = [f"Before {before.taken_at[:10]}, after {after.taken_at[:10]}"]
    if is_typed(before) or is_typed(after):
        both = is_typed(before) and is_typed(after)
        parts.append("typed by hand" if both else f"{'before' if is_typed(before) else 'after'} typed by hand")
    elif before.tests:
        parts.append(f"{many(len(before.sessions), 'session')} of {many(before.protocol.repeats, 'repeat')}")
    if rooms[0] is not None and rooms[1] is not None:
        parts.append(f"room {rooms[0]:.1f} and {rooms[1]:.1f} °C")
    parts += _condition_words(comparison)
    return ", ".join(parts) + "."


def _condition_words(comparison: Comparison) -> list[str]:
    """How many conditions differ, are stated on one side only, or on neither."""
    differ = [d for d in comparison.differences if not d.one_sided and not d.unknown]
    half = sum(d.one_sided for d in comparison.differences)
    open_ = sum(d.unknown for d in comparison.differences) + len(
        unstated(comparison.before.conditions, comparison.after.conditions)
    )
    out = [f"{many(len(differ), 'condition')} differ{'s' if len(differ) == 1 else ''}"] if differ else []
    out += [f"{many(half, 'condition')} stated on one side only"] if half else []
    if not out:
        return ["same conditions" if not open_ else f"same as far as stated, {many(open_, 'condition')} not"]
    return out
