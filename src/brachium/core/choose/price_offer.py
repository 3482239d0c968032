"""Price offers of an item: where it is to be had, in which condition, for how much."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

CURRENCY = "EUR"


@dataclass(frozen=True)
class PriceOffer:
    """One offer, shipping apart; `date` ISO or empty, `condition` such as new, used, open box."""

    where: str
    price: Decimal
    shipping: Decimal = Decimal(0)
    condition: str = "new"
    date: str = ""
    currency: str = CURRENCY

    @property
    def total(self) -> Decimal:
        return self.price + self.shipping


def cheapest(offers: Sequence[PriceOffer]) -> PriceOffer | None:
    """The cheapest with shipping, in the list's own currency; others cannot be weighed without a rate."""
    own = [o for o in offers if o.currency == CURRENCY]
    return min(own, key=lambda o: (o.total, o.where)) if own else None


def words(offers: Sequence[PriceOffer]) -> str:
    """All offers in a line, the cheapest first; other currencies named and not weighed."""
    own = sorted((o for o in offers if o.currency == CURRENCY), key=lambda o: (o.total, o.where))
    other = [o for o in offers if o.currency != CURRENCY]
    told = [f"{o.where} {o.total:.2f} {o.currency}, {o.condition}{', ' + o.date if o.date else ''}" for o in own]
    told += [f"{o.where} {o.total:.2f} {o.currency}, not weighed: no rate" for o in other]
    return "; ".join(told)
