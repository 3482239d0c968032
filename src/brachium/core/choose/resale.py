"""Resale with its risk, energy a year, and tax: exact decimals, cents rounded half up at the end.

The price a machine fetches lies between a low and a high one, most likely at a third (triangular). Margin = price less
fee less what went into it; the chance of a loss is the triangular distribution's at the price that just covers it.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.because import Because, Fact, Origin
from brachium.core.units import money

CENT = Decimal("0.01")
DAYS = 365


@dataclass(frozen=True)
class Resale:
    """What it may fetch [EUR], the market's fee as a share 0..1, days until it is sold."""

    low: Decimal = Decimal(0)
    likely: Decimal = Decimal(0)
    high: Decimal = Decimal(0)
    fee: Decimal = Decimal(0)
    days: int = 0

    @property
    def stated(self) -> bool:
        return Decimal(0) < self.low <= self.likely <= self.high


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
        Fact("may fetch", f"{resale.low:f} to {resale.high:f}, likely {resale.likely:f} EUR", Origin.TYPED),
        Fact("fee", f"{100 * resale.fee:.0f} %", Origin.TYPED), Fact("went into it", money(spent), Origin.COMPUTED),
        Fact("days to sell", str(resale.days) if resale.days else "not stated", Origin.TYPED),
    )  # fmt: skip
    words = f"Margin {money(cents(mean))} on average, a loss in {100 * loss:.0f} of 100 cases"
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


@dataclass(frozen=True)
class EnergyUse:
    """Power idle and under load [W] by a wall meter, hours of each a day, tariff [EUR/kWh]; after the work, None = as
    before."""

    idle_w: float = 0.0
    load_w: float = 0.0
    idle_h: float = 0.0
    load_h: float = 0.0
    tariff: Decimal = Decimal(0)
    idle_after_w: float | None = None
    load_after_w: float | None = None

    @property
    def stated(self) -> bool:
        return self.tariff > 0 and self.idle_w * self.idle_h + self.load_w * self.load_h > 0


def energy_a_year(use: EnergyUse, after: bool = False) -> Decimal:
    """Cost of a year's energy [EUR] = watts x hours x days x tariff."""
    idle = use.idle_after_w if after and use.idle_after_w is not None else use.idle_w
    load = use.load_after_w if after and use.load_after_w is not None else use.load_w
    kwh = Decimal(str((idle * use.idle_h + load * use.load_h) * DAYS / 1000.0))
    return cents(kwh * use.tariff)


@dataclass(frozen=True)
class Tax:
    """Rate 0..1; `included` = the shop's prices hold it already."""

    rate: Decimal = Decimal(0)
    included: bool = True

    def words(self, total: Decimal) -> str:
        """A total for the owner, with the tax named; without a rate nothing is said of tax."""
        if self.rate <= 0:
            return money(total)
        share = f"{float(100 * self.rate):g} %"
        if self.included:
            part = cents(total * self.rate / (1 + self.rate))
            return f"{money(total)}, {money(part)} of it tax ({share})"
        return f"{money(cents(total * (1 + self.rate)))} with {share} tax"


def cents(amount: Decimal) -> Decimal:
    return amount.quantize(CENT, rounding=ROUND_HALF_UP)
