"""Vouchers and discounts: a share or an amount off, from a floor on, on the parts or on everything. Exact in cents."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from brachium.core.base.typed_numbers import decimal_of
from brachium.core.record.money import cents

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
        taken = f"{self.percent:f} %" if self.percent else f"{self.amount:f} EUR"
        floor = f" from {self.floor:f}" if self.floor else ""
        return f"{taken}{floor} on {self.off}"


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
        raise ValueError(f"“{entry}”: such as {SHOWN}")
    off = OffFrom((match["on"] or OffFrom.PARTS).lower())
    if match["unit"] != "%":
        return Voucher(amount=cents(taken), floor=floor, off=off)
    if taken > 100:
        raise ValueError(f"“{entry}”: 100 % at most")
    return Voucher(percent=taken, floor=floor, off=off)


def vouchers_text(vouchers: Sequence[Voucher]) -> str:
    return "; ".join(v.words for v in vouchers)
