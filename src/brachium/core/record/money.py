"""What a person states of a sale, of energy, of tax and of vouchers; amounts in cents, rounded half up."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum
from types import MappingProxyType

from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import decimal_of
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
        share = phrase("{float:g} %", float=float(100 * self.rate))
        if self.included:
            part = cents(total * self.rate / (1 + self.rate))
            return phrase("{total}, {part} of it tax ({share})", total=money(total), part=money(part), share=share)
        return phrase("{cents} with {share} tax", cents=money(cents(total * (1 + self.rate))), share=share)


def cents(amount: Decimal) -> Decimal:
    return amount.quantize(CENT, rounding=ROUND_HALF_UP)


WORTH_PER_EUR = 0.001  # a step is worth paying while 100 EUR bring a tenth of today's work


Prices = Mapping[str, Decimal]


NO_PRICES: Prices = MappingProxyType({})


SHOWN = "10 % from 100 on parts; 5 EUR on all"
ENTRY = re.compile(
    r"(?P<off>[\d.,]+)\s*(?P<unit>%|eur|€)(?:\s+from\s+(?P<floor>[\d.,]+)(?:\s*(?:eur|€))?)?"
    r"(?:\s+on\s+(?P<on>parts|all))?",
    re.IGNORECASE,
)
MOST = Decimal(1_000_000)


class OffFrom(StrEnum):
    """What a voucher is taken off."""

    PARTS = "parts"
    ALL = "all"


@dataclass(frozen=True)
class Voucher:
    """`percent` 0..100 or `amount` [EUR] off where what it applies to comes to at least `floor` [EUR]."""

    percent: Decimal = Decimal(0)
    amount: Decimal = Decimal(0)
    floor: Decimal = Decimal(0)
    off: OffFrom = OffFrom.PARTS

    @property
    def words(self) -> str:
        """As it is typed: `10 % from 100 on parts`."""
        taken = (
            phrase("{percent:f} %", percent=self.percent)
            if self.percent
            else phrase("{amount:f} EUR", amount=self.amount)
        )
        floor = phrase(" from {floor:f}", floor=self.floor) if self.floor else ""
        return phrase("{taken}{floor} on {off}", taken=taken, floor=floor, off=self.off)


def discount_of(vouchers: Sequence[Voucher], parts: Decimal, rest: Decimal) -> Decimal:
    """What vouchers take off together [EUR], cents rounded half up; never more than there is.

    `parts` is the price of the parts, `rest` labour and consumables. Floors count the full price; each voucher takes of
    what the ones before it left, those on the parts first.
    """
    left_parts, left = parts, parts + rest
    for voucher in in_order(vouchers):
        of_parts = voucher.off is OffFrom.PARTS
        if (parts if of_parts else parts + rest) < voucher.floor:
            continue
        base = left_parts if of_parts else left
        off = min(cents(base * voucher.percent / 100) + voucher.amount, base)
        left -= off
        left_parts -= off if of_parts else Decimal(0)
    return parts + rest - left


def in_order(vouchers: Sequence[Voucher]) -> list[Voucher]:
    """Those on the parts before those on all."""
    return sorted(vouchers, key=lambda v: v.off is OffFrom.ALL)


def read_vouchers(text: str) -> tuple[Voucher, ...]:
    """`10 % from 100 on parts; 5 EUR on all`. Raises ValueError naming the entry and what is meant."""
    return tuple(_voucher(e.strip()) for e in text.split(";") if e.strip())


def _voucher(entry: str) -> Voucher:
    match = ENTRY.fullmatch(entry)
    taken = decimal_of(match["off"]) if match else None
    floor = decimal_of(match["floor"]) if match and match["floor"] else Decimal(0)
    if match is None or taken is None or floor is None or not 0 < taken < MOST or floor >= MOST:
        raise ValueError(phrase("“{entry}”: such as {shown}", entry=entry, shown=SHOWN))
    off = OffFrom((match["on"] or OffFrom.PARTS).lower())
    if match["unit"] != "%":
        return Voucher(amount=cents(taken), floor=floor, off=off)
    if taken > 100:
        raise ValueError(phrase("“{entry}”: 100 % at most", entry=entry))
    return Voucher(percent=taken, floor=floor, off=off)


def vouchers_text(vouchers: Sequence[Voucher]) -> str:
    return joined("; ", (v.words for v in vouchers))
