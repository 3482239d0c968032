"""Keep or replace: money for each year that is gained, side by side; exact decimals, half cents rounded up at the end.

keep     (plan all in) / (years this machine gains) + its energy a year
replace  (price + set-up minutes x rate - resale of this machine) / (years the other one lasts) + its energy a year
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.base.units import money
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.record.kept_plans import Replacement

CENT = Decimal("0.01")


@dataclass(frozen=True)
class KeepOrReplace:
    """Cost a year of keeping and of replacing; `words` is the answer in one sentence."""

    keep: Decimal
    replace: Decimal
    words: str
    because: Because


def keep_or_replace(
    plan_total: Decimal, other: Replacement, rate_per_hour: Decimal, energy: Decimal = Decimal(0)
) -> KeepOrReplace | None:
    """Compare; None where the years of either are not stated. `energy` of this machine a year after the work [EUR]."""
    if other.keep_years <= 0 or other.years <= 0:
        return None
    labour = Decimal(str(other.minutes)) / 60 * rate_per_hour
    price, resale = Decimal(str(other.price)), Decimal(str(other.resale))
    its_energy = Decimal(str(other.energy))
    keep = _cents(plan_total / Decimal(str(other.keep_years)) + energy)
    replace = _cents((price + labour - resale) / Decimal(str(other.years)) + its_energy)
    gap = abs(keep - replace)
    if gap < max(keep, replace) * Decimal("0.10"):
        words = f"Keeping and replacing cost about alike: {money(keep)} and {money(replace)} a year"
    elif keep < replace:
        words = f"Keeping it is cheaper: {money(keep)} a year against {money(replace)}"
    else:
        words = f"Another machine is cheaper: {money(replace)} a year against {money(keep)}"
    facts = (
        Fact("plan, all in", money(plan_total), Origin.COMPUTED),
        Fact("years it gains", f"{other.keep_years:g}", Origin.TYPED),
        Fact("other machine", money(price), Origin.TYPED),
        Fact("setting it up", money(_cents(labour)), Origin.COMPUTED),
        Fact("this one sold", money(resale), Origin.TYPED),
        Fact("years it lasts", f"{other.years:g}", Origin.TYPED),
        *((Fact("energy a year", f"{money(energy)} here, {money(its_energy)} there", Origin.COMPUTED),)
          if energy or its_energy else ()),
    )  # fmt: skip
    text = "What is paid from today on, over the years that it buys; what was paid before counts for nothing."
    result = f"{money(keep)} against {money(replace)} a year"
    because = Because(words, "cost a year", text, facts, result, "Years, prices, and what either can do.")
    return KeepOrReplace(keep, replace, words, because)


def _cents(amount: Decimal) -> Decimal:
    return amount.quantize(CENT, rounding=ROUND_HALF_UP)
