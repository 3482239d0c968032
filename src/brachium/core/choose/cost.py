"""What a plan costs: parts, attended minutes at the shop's rate, minutes that run by themselves."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True)
class PlanCost:
    """Cost of the plan: parts, attended minutes (those that findings add too), what they cost at the shop's rate."""

    parts: Decimal
    attended_min: float
    unattended_min: float
    labour: Decimal
    consumables: Decimal = Decimal(0)  # by use: paste by gram, alcohol, wipes, pads, screws
    discount: Decimal = Decimal(0)  # what vouchers take off

    @property
    def total(self) -> Decimal:
        return self.parts + self.labour + self.consumables - self.discount
