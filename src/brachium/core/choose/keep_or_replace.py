"""Keep or replace: money for each year that is gained, side by side; exact decimals, half cents rounded up at the end.

keep     (plan all in) / (years this machine gains) + its energy a year
replace  (price + set-up minutes x rate - resale of this machine) / (years the other one lasts) + its energy a year

Where nothing is planned keeping costs what this machine would fetch, spread over its years, and its energy; neither
stated, it is not known. The work that either does a year stands beside the money: a cheaper machine may be the dearer
one for the same work.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.base.text import phrase
from brachium.core.base.units import money
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.record.kept_plans import Replacement

CENT = Decimal("0.01")
ALIKE = 0.05  # share within which two speeds are called the same


@dataclass(frozen=True)
class KeepOrReplace:
    """Cost a year of keeping (None = not known) and of replacing; `words` is the answer, `work` what either does."""

    keep: Decimal | None
    replace: Decimal
    words: str
    because: Because
    work: str = ""


def keep_or_replace(
    plan_total: Decimal, other: Replacement, rate_per_hour: Decimal, energy: Decimal = Decimal(0),
    keep_gain: float | None = None, planned: bool = False,
) -> KeepOrReplace | None:  # fmt: skip
    """Compare; None where the years of either are not stated. `energy` of this machine a year after the work [EUR],
    `keep_gain` its work per time with the plan (1 = as today), None = not known; `planned`: something
    is, though vouchers or parts at hand may make it cost nothing."""
    if other.keep_years <= 0 or other.years <= 0:
        return None
    labour = Decimal(str(other.minutes)) / 60 * rate_per_hour
    price, resale = Decimal(str(other.price)), Decimal(str(other.resale))
    its_energy = Decimal(str(other.energy))
    planned = planned or plan_total > 0
    given_up = Decimal(0) if planned else resale  # what is not sold is paid with
    keep = _cents((plan_total + given_up) / Decimal(str(other.keep_years)) + energy)
    replace = _cents((price + labour - (resale - given_up)) / Decimal(str(other.years)) + its_energy)
    known = planned or plan_total + given_up + energy > 0
    words = _words(keep, replace) if known else (
        phrase("Nothing is planned: what keeping costs is not known without its energy or what it would fetch; "
"another machine costs {replace} a year", replace=money(replace))
    )  # fmt: skip
    work = _work(keep if known else None, replace, keep_gain, other.gain)
    facts = (
        Fact("plan, all in", money(plan_total) if planned else "nothing planned", Origin.COMPUTED),
        Fact("years it gains", phrase("{keep_years:g}", keep_years=other.keep_years), Origin.TYPED),
        Fact("other machine", money(price), Origin.TYPED),
        Fact("setting it up", money(_cents(labour)), Origin.COMPUTED),
        Fact("given up by keeping it" if given_up else "this one sold", money(resale), Origin.TYPED),
        Fact("years it lasts", phrase("{years:g}", years=other.years), Origin.TYPED),
        *(
            (
                Fact(
                    "energy a year",
                    phrase("{energy} here, {its_energy} there", energy=money(energy), its_energy=money(its_energy)),
                    Origin.COMPUTED,
                ),
            )
            if energy or its_energy
            else ()
        ),
    )
    text = "What is paid from today on, over the years that it buys; what was paid before counts for nothing."
    result = phrase(
        "{keep} against {replace} a year", keep=money(keep) if known else "not known", replace=money(replace)
    )
    because = Because(
        words,
        "cost a year",
        phrase("{text} {work}", text=text, work=work).strip(),
        facts,
        result,
        "Years, prices, speeds, energy.",
    )
    return KeepOrReplace(keep if known else None, replace, words, because, work)


def _words(keep: Decimal, replace: Decimal) -> str:
    if abs(keep - replace) < max(keep, replace) * Decimal("0.10"):
        return phrase(
            "Keeping and replacing cost about alike: {keep} and {replace} a year",
            keep=money(keep),
            replace=money(replace),
        )
    if keep < replace:
        return phrase(
            "Keeping it is cheaper: {keep} a year against {replace}", keep=money(keep), replace=money(replace)
        )
    return phrase(
        "Another machine is cheaper: {replace} a year against {keep}", replace=money(replace), keep=money(keep)
    )


def _work(keep: Decimal | None, replace: Decimal, keep_gain: float | None, gain: float) -> str:
    """What either does, and what a year of today's work costs on each; empty where a speed is not known."""
    if keep_gain is None or keep_gain <= 0.0 or gain <= 0.0:
        return ""
    ratio = gain / keep_gain
    if abs(ratio - 1.0) < ALIKE:
        return "Both do about the same work."
    who, times = ("The other", ratio) if ratio > 1.0 else ("This one", 1.0 / ratio)
    faster = phrase("{who} does {times:.1f} times the work", who=who, times=times)
    if keep is None:
        return phrase("{faster}.", faster=faster)
    each = (_cents(c / Decimal(str(g))) for c, g in ((keep, keep_gain), (replace, gain)))
    here, there = (money(c) for c in each)
    return phrase(
        "{faster}: today's work costs {here} a year here, {there} there.", faster=faster, here=here, there=there
    )


def _cents(amount: Decimal) -> Decimal:
    return amount.quantize(CENT, rounding=ROUND_HALF_UP)
