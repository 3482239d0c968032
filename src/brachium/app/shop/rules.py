"""The shop's own rules as of today, gathered from its documents as verdicts and predictions use them."""

from __future__ import annotations

from datetime import date

from brachium.app.shop.consumables import prices_of
from brachium.app.shop.kept import KeepsShop, ReadsShop, settings_of
from brachium.app.shop.shop_record import correction_for, repastes_of, step_minutes_of
from brachium.core.record.evidence import CompatibilityClaim
from brachium.core.record.shop_rules import ShopRules
from brachium.formats.shop_documents import CLAIMS, SYSTEM_TABLE


def shop_rules(shop: ReadsShop) -> ShopRules:
    """A table that cannot be read any more is put aside and counts as not set."""
    settings = settings_of(shop)
    return ShopRules(
        date.today().isoformat(), shop.kept(SYSTEM_TABLE), shop.kept(CLAIMS), settings.evidence_threshold,
        settings.age_derating, settings.tax, settings.worth_per_eur, prices_of(shop), repastes_of(shop),
        correction_for(shop), step_minutes_of(shop),
    )  # fmt: skip


def keep_claim(shop: KeepsShop, claim: CompatibilityClaim) -> None:
    """Put a claim's sources in place of those kept for the same part and model."""
    rest = tuple(c for c in shop.kept(CLAIMS) if (c.part, c.model) != (claim.part, claim.model))
    shop.keep(CLAIMS, (*rest, claim) if claim.sources else rest)
