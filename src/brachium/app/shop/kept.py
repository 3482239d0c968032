"""What the shop keeps of its own, as those see it who read or change one document of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any, Protocol, TypeVar

from brachium.core.record.shop_settings import ShopSettings
from brachium.formats.shop_documents import SETTINGS, ShopDocument

T = TypeVar("T")


class ReadsShop(Protocol):
    """Gives the documents of a shop; a text that cannot be read is put aside before anything is written over it."""

    def kept(self, what: ShopDocument[T]) -> T: ...

    def was_put_aside(self, what: ShopDocument[Any]) -> bool: ...


class KeepsShop(ReadsShop, Protocol):
    """Keeps them too."""

    def keep(self, what: ShopDocument[T], value: T) -> None: ...


def settings_of(shop: ReadsShop) -> ShopSettings:
    """The settings, each as it was set or as it usually is."""
    return shop.kept(SETTINGS)


def keep_settings(shop: KeepsShop, **changes: object) -> None:
    """Change some settings; None puts one back to its default. Raises TypeError for a name that there is not."""
    usual = ShopSettings()
    given: dict[str, Any] = {k: getattr(usual, k) if v is None else v for k, v in changes.items()}
    shop.keep(SETTINGS, replace(settings_of(shop), **given))


def keep_rates(shop: KeepsShop, rates: Mapping[str, Decimal]) -> None:
    """What other currencies cost from today on."""
    keep_settings(shop, rates=dict(rates), rates_day=date.today().isoformat() if rates else "")
