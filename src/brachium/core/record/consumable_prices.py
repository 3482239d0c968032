"""What the shop pays for a unit of a consumable."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from types import MappingProxyType

Prices = Mapping[str, Decimal]


NO_PRICES: Prices = MappingProxyType({})
