"""What a person states of a sale, of energy and of tax; amounts in cents, rounded half up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from types import MappingProxyType

from brachium.core.base.units import money

CENT = Decimal("0.01")


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


WORTH_PER_EUR = 0.001  # a step is worth paying while 100 EUR bring a tenth of today's work


Prices = Mapping[str, Decimal]


NO_PRICES: Prices = MappingProxyType({})
