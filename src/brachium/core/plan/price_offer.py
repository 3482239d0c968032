"""Price offers of an item: where it is to be had, in which condition, for how much, and in which currency."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal
from types import MappingProxyType

from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import decimal_of

CURRENCY = "EUR"
CENT = Decimal("0.01")
Rates = Mapping[str, Decimal]
NO_RATES: Rates = MappingProxyType({})


@dataclass(frozen=True)
class PriceOffer:
    """One offer, shipping apart; `date` ISO or empty, `condition` such as new, used, open box.

    `rate` is what one of its currency costs in the list's own, None = not known; such an offer is not weighed.
    """

    where: str
    price: Decimal
    shipping: Decimal = Decimal(0)
    condition: str = "new"
    date: str = ""
    currency: str = CURRENCY
    rate: Decimal | None = None

    @property
    def total(self) -> Decimal:
        """With shipping, in its own currency."""
        return self.price + self.shipping

    @property
    def own_total(self) -> Decimal | None:
        """With shipping, in the list's own currency, cents rounded half up; None without a rate."""
        if self.currency == CURRENCY:
            return self.total
        return None if self.rate is None else (self.total * self.rate).quantize(CENT, rounding=ROUND_HALF_UP)


def read_rates(text: str) -> Rates:
    """`USD 0.92, GBP 1.17`: what one of each costs in the list's own currency. Raises ValueError naming the entry."""
    rates: dict[str, Decimal] = {}
    for entry in (e.strip() for e in text.replace(";", ",").split(",")):
        if not entry:
            continue
        words = entry.replace("=", " ").split()
        try:
            code, rate = words[0].upper(), decimal_of(words[1])
        except IndexError:
            raise ValueError(phrase("“{entry}”: a currency and a rate, such as USD 0.92", entry=entry)) from None
        if len(words) != 2 or len(code) != 3 or not code.isalpha() or code == CURRENCY:
            raise ValueError(
                phrase(
                    "“{entry}”: three letters of another currency than {currency}, and its rate",
                    entry=entry,
                    currency=CURRENCY,
                )
            )
        if rate is None or not 0 < rate < 1_000_000:
            raise ValueError(phrase("“{entry}”: a rate above zero", entry=entry))
        rates[code] = rate
    return rates


def rates_text(rates: Rates) -> str:
    return joined(", ", (phrase("{code} {rate:f}", code=code, rate=rate) for code, rate in rates.items()))


def with_rates(offers: Sequence[PriceOffer], rates: Rates) -> tuple[PriceOffer, ...]:
    """The offers with these rates in place of those that they held."""
    return tuple(replace(o, rate=rates.get(o.currency)) for o in offers)


def cheapest_offer(offers: Sequence[PriceOffer]) -> PriceOffer | None:
    """The cheapest with shipping in the list's own currency; None where no offer can be weighed."""
    weighed = [(total, o.where, o) for o in offers if (total := o.own_total) is not None]
    return min(weighed, key=lambda w: w[:2])[2] if weighed else None


def offer_words(offers: Sequence[PriceOffer]) -> str:
    """All offers in a line, the cheapest first; what cannot be weighed for want of a rate is named last."""
    known = sorted((o for o in offers if o.own_total is not None), key=lambda o: (o.own_total, o.where))
    told = [
        phrase(
            "{where} {amount}, {condition}{date}",
            where=o.where,
            amount=_amount(o),
            condition=o.condition,
            date=", " + o.date if o.date else "",
        )
        for o in known
    ]
    told += [
        phrase(
            "{where} {total:.2f} {currency}, not weighed: no rate is set for {currency}",
            where=o.where,
            total=o.total,
            currency=o.currency,
        )
        for o in offers
        if o.own_total is None
    ]
    return joined("; ", told)


def _amount(offer: PriceOffer) -> str:
    if offer.currency == CURRENCY:
        return phrase("{total:.2f} {currency}", total=offer.total, currency=CURRENCY)
    return phrase(
        "{own_total:.2f} {currency_} ({total:.2f} {currency} at {rate:f})",
        own_total=offer.own_total,
        currency_=CURRENCY,
        total=offer.total,
        currency=offer.currency,
        rate=offer.rate,
    )
