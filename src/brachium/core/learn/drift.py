"""A later run of a machine that was handed over: how its heat path and drives aged, and when to look again.

Claims are those of the heat fit between after-run and later run, by months. The proposal is the month in which the
chip would come within 5 K of its limit at the reference power if it goes on like this, at the most a year from now;
without a drift that can be claimed, a year.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from brachium.core.base.text import phrase
from brachium.core.drives.readings import HealthReading
from brachium.core.heat.claims import ClaimKind, HeatClaim
from brachium.core.learn.assumptions import DAYS_A_MONTH, MOST_MONTHS, NEAR_K, SPENT_PCT
from brachium.core.measure.statistics import Word
from brachium.core.prove.comparison import Comparison
from brachium.core.prove.gain_words import gain_band


def first_look(handed: date) -> str:
    """When to look again at a machine of which nothing is known yet: a year after it was handed over, ISO."""
    return (handed + timedelta(days=round(MOST_MONTHS * DAYS_A_MONTH))).isoformat()


@dataclass(frozen=True)
class Drift:
    """`rows` are (what, how much in words): heat path, tests that changed, drives; `look_again` an ISO date, `why` in
    words."""

    months: float
    rows: tuple[tuple[str, str], ...]
    look_again: str
    why: str


def drift_of(later: Comparison, health: Sequence[HealthReading], limit_c: float | None) -> Drift | None:
    """Between an after-run and a later run; None where the two were taken on the same day."""
    start, end = later.before.taken_at[:10], later.after.taken_at[:10]
    try:
        days = (date.fromisoformat(end) - date.fromisoformat(start)).days
    except ValueError:
        return None
    if days < 1:
        return None
    months = days / DAYS_A_MONTH
    heat = later.heat
    rows = [(name, _aged(claim, months)) for name, claim in (("paste and mounting", heat.paste),
                                                             ("fins, fan and vents", heat.airflow))
            if claim is not None]  # fmt: skip
    if heat.refusal:
        rows = [("heat", phrase("cannot be told: {refusal}", refusal=heat.refusal))]
    rows += [(str(g.test.title), gain_band(g.test, g.result)) for g in later.gains
             if g.result is not None and g.judgement.word in (Word.BETTER, Word.WORSE)]  # fmt: skip
    worn = _worn(health, start, end, months)
    rows += worn
    wait, why = _wait(later, months, limit_c)
    if any("look at it now" in words for _, words in worn):
        wait, why = 0.0, "SMART data rise"
    when = date.fromisoformat(end) + timedelta(days=round(wait * DAYS_A_MONTH))
    return Drift(months, tuple(rows), when.isoformat(), why)


def _aged(claim: HeatClaim, months: float) -> str:
    if claim.kind is ClaimKind.CANNOT_SEPARATE:
        return claim.text
    if claim.kind is ClaimKind.NO_CHANGE:
        return claim.text
    word = "warmer" if claim.value_k < 0 else "cooler"
    a_year = abs(claim.value_k) / months * 12.0
    return phrase(
        "{value_k:.1f} ± {half_width_k:.1f} K {word} in {months:.0f} months, {a_year:.0f} K a year",
        value_k=abs(claim.value_k),
        half_width_k=claim.half_width_k,
        word=word,
        months=months,
        a_year=a_year,
    )


def _wait(later: Comparison, months: float, limit_c: float | None) -> tuple[float, str]:
    """(months to wait, why)."""
    total, peaks = later.heat.total, later.heat.peaks_c
    if total is None or total.kind is not ClaimKind.CHANGED or total.value_k >= 0:
        return MOST_MONTHS, "nothing aged by more than can be seen"
    if limit_c is None or peaks is None:
        return MOST_MONTHS / 2, "it ages, and the chip's limit is not known"
    room_left = limit_c - NEAR_K - peaks[1]
    rate = -total.value_k / months
    if room_left <= 0:
        return 0.0, phrase("the chip comes within {near_k:.0f} K of its limit already", near_k=NEAR_K)
    wait = room_left / rate
    if wait >= MOST_MONTHS:
        return MOST_MONTHS, phrase(
            "{room_left:.0f} K are left, {rate:.1f} K go a month", room_left=room_left, rate=rate
        )
    return wait, phrase("{room_left:.0f} K are left and {rate:.1f} K go a month", room_left=room_left, rate=rate)


def _worn(health: Sequence[HealthReading], start: str, end: str, months: float) -> list[tuple[str, str]]:
    """Life used and sectors lost between two readings around the runs, by place."""
    out = []
    for place in dict.fromkeys(h.place for h in health):
        own = sorted((h for h in health if h.place == place), key=lambda h: h.when)
        first = next((h for h in reversed(own) if h.when[:10] <= start), None)
        last = next((h for h in reversed(own) if start < h.when[:10] <= end), None)
        if first is None or last is None:
            continue
        used = last.counters.get("used_pct", 0) - first.counters.get("used_pct", 0)
        lost = sum(last.counters.get(k, 0) - first.counters.get(k, 0) for k in ("reallocated", "pending"))
        if lost > 0:
            out.append(
                (
                    phrase("drive in {place}", place=place),
                    phrase("{lost} more bad sectors: look at it now, copy first", lost=lost),
                )
            )
        elif used > 0:
            left = (SPENT_PCT - last.counters["used_pct"]) / (used / months)
            out.append(
                (
                    phrase("drive in {place}", place=place),
                    phrase(
                        "{used} % of its life used, {spent_pct} % in about {left:.0f} months",
                        used=used,
                        spent_pct=SPENT_PCT,
                        left=left,
                    ),
                )
            )
    return out
