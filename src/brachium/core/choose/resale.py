"""Resale with its risk, energy a year, and tax: exact decimals, cents rounded half up at the end.

The price a machine fetches lies between a low and a high one, most likely at a third (triangular). Margin = price less
fee less what went into it; the chance of a loss is the triangular distribution's at the price that just covers it.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from brachium.core.base.text import phrase
from brachium.core.base.units import money
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.record.money import EnergyUse, Resale, cents

DAYS = 365


@dataclass(frozen=True)
class Margin:
    """Mean margin [EUR], that at the low and at the high price, chance of a loss 0..1."""

    mean: Decimal
    at_low: Decimal
    at_high: Decimal
    loss: float
    because: Because


def margin_of(resale: Resale, spent: Decimal) -> Margin | None:
    """Margin of a sale when `spent` went in; None where low, likely and high are not stated in order."""
    if not resale.stated or resale.fee >= 1:
        return None
    kept = 1 - resale.fee
    mean = (resale.low + resale.likely + resale.high) / 3 * kept - spent
    loss = triangular_cdf(float(spent / kept), float(resale.low), float(resale.likely), float(resale.high))
    at_low, at_high = resale.low * kept - spent, resale.high * kept - spent
    facts = (
        Fact(
            "may fetch",
            phrase(
                "{low:f} to {high:f}, likely {likely:f} EUR", low=resale.low, high=resale.high, likely=resale.likely
            ),
            Origin.TYPED,
        ),
        Fact("fee", phrase("{fee:.0f} %", fee=100 * resale.fee), Origin.TYPED),
        Fact("went into it", money(spent), Origin.COMPUTED),
        Fact("days to sell", str(resale.days) if resale.days else "not stated", Origin.TYPED),
    )
    words = phrase(
        "Margin {cents} on average, a loss in {loss:.0f} of 100 cases", cents=money(cents(mean)), loss=100 * loss
    )
    text = "The price is drawn between low and high, most often near the likely one; the fee comes off it."
    because = Because(words, "resale", text, facts, words, "Prices of machines like it that were really sold.")
    return Margin(cents(mean), cents(at_low), cents(at_high), loss, because)


def triangular_cdf(x: float, low: float, mode: float, high: float) -> float:
    """Chance that a triangular variate lies below x."""
    if x <= low:
        return 0.0
    if x >= high:
        return 1.0
    if x <= mode:
        return (x - low) ** 2 / ((high - low) * (mode - low))
    return 1.0 - (high - x) ** 2 / ((high - low) * (high - mode))


def energy_a_year(use: EnergyUse, after: bool = False) -> Decimal:
    """Cost of a year's energy [EUR] = watts x hours x days x tariff."""
    idle = use.idle_after_w if after and use.idle_after_w is not None else use.idle_w
    load = use.load_after_w if after and use.load_after_w is not None else use.load_w
    kwh = Decimal(str((idle * use.idle_h + load * use.load_h) * DAYS / 1000.0))
    return cents(kwh * use.tariff)
