"""Vouchers and discounts: a share or an amount off, from a floor on, on the parts or on everything. Exact in cents."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from brachium.core.record.money import cents


class OffFrom(StrEnum):
    """What a voucher is taken off."""

    PARTS = "parts"
    ALL = "parts and work"


@dataclass(frozen=True)
class Voucher:
    """`percent` 0..100 and `amount` [EUR] are taken off where what it applies to comes to at least `floor` [EUR]."""

    title: str
    percent: Decimal = Decimal(0)
    amount: Decimal = Decimal(0)
    floor: Decimal = Decimal(0)
    off: OffFrom = OffFrom.PARTS


def taken_off(voucher: Voucher, parts: Decimal, rest: Decimal) -> Decimal:
    """What one voucher takes off [EUR], cents rounded half up; never more than what it applies to."""
    base = parts if voucher.off is OffFrom.PARTS else parts + rest
    if base <= 0 or base < voucher.floor:
        return Decimal(0)
    return min(cents(base * voucher.percent / 100) + voucher.amount, base)


def discount_of(vouchers: Sequence[Voucher], parts: Decimal, rest: Decimal) -> Decimal:
    """What vouchers take off together [EUR]: each in turn of what the ones before it left; floors count the full price.

    `parts` is the price of the parts, `rest` labour and consumables. Those on the parts come before those on all.
    """
    left_parts, left_rest, whole = parts, rest, Decimal(0)
    for voucher in sorted(vouchers, key=lambda v: v.off is OffFrom.ALL):
        full = parts if voucher.off is OffFrom.PARTS else parts + rest
        if full < voucher.floor:
            continue
        off = taken_off(Voucher("", voucher.percent, voucher.amount, Decimal(0), voucher.off), left_parts, left_rest)
        whole += off
        from_parts = min(off, left_parts)
        left_parts, left_rest = left_parts - from_parts, left_rest - (off - from_parts)
    return whole
