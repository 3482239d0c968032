"""The shop's own tables and thresholds: kept as settings, read as one record."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import TYPE_CHECKING

from brachium.app.shop.consumables import prices_of
from brachium.app.shop.shop_record import correction_for, repastes_of
from brachium.core.plan.price_offer import Rates, rates_text, read_rates
from brachium.core.record.evidence import THRESHOLD, Claim
from brachium.core.record.money import Tax
from brachium.core.record.shop_rules import ShopRules
from brachium.core.record.systems import SYSTEMS, SystemSpec
from brachium.core.record.worth import WORTH_PER_EUR
from brachium.formats.shop_tables import claims_from_json, claims_to_json, systems_from_csv, systems_to_csv

if TYPE_CHECKING:
    from brachium.app.shop.reading import ShopReading
    from brachium.app.shop.workspace import Workspace

SYSTEMS_KEY, CLAIMS_KEY, THRESHOLD_KEY, DERATING_KEY = "systems", "claims", "evidence_threshold", "age_derating"
TAX_KEY, TAX_APART_KEY, WORTH_KEY, RATES_KEY = "tax_rate", "tax_apart", "worth_per_eur", "exchange_rates"


def shop_rules(workspace: ShopReading) -> ShopRules:
    """As of today; a table that cannot be read any more is put aside and counts as not set."""
    return ShopRules(
        date.today().isoformat(), systems_of(workspace), claims_of(workspace),
        _share(workspace.setting(THRESHOLD_KEY), THRESHOLD), _share(workspace.setting(DERATING_KEY), 0.0),
        Tax(Decimal(str(_share(workspace.setting(TAX_KEY), 0.0))), workspace.setting(TAX_APART_KEY) != "apart"),
        _share(workspace.setting(WORTH_KEY), WORTH_PER_EUR), prices_of(workspace), repastes_of(workspace),
        correction_for(workspace),
    )  # fmt: skip


def rates_of(workspace: ShopReading) -> Rates:
    """What other currencies cost in the list's own; what cannot be read counts as not set."""
    try:
        return read_rates(workspace.setting(RATES_KEY).partition("|")[0])
    except ValueError:
        return {}


def rates_day(workspace: ShopReading) -> str:
    """The day on which the rates were typed, ISO; empty where there are none."""
    return workspace.setting(RATES_KEY).partition("|")[2]


def keep_rates(workspace: Workspace, rates: Rates) -> None:
    workspace.save_setting(RATES_KEY, f"{rates_text(rates)}|{date.today().isoformat()}" if rates else "")


def systems_of(workspace: ShopReading) -> tuple[SystemSpec, ...]:
    return workspace.kept(SYSTEMS_KEY, lambda text: systems_from_csv(text, "table of systems"), SYSTEMS)


def claims_of(workspace: ShopReading) -> tuple[Claim, ...]:
    return workspace.kept(CLAIMS_KEY, lambda text: claims_from_json(text, "evidence"), ())


def keep_systems(workspace: Workspace, systems: tuple[SystemSpec, ...]) -> None:
    workspace.save_setting(SYSTEMS_KEY, systems_to_csv(systems))


def keep_claim(workspace: Workspace, claim: Claim) -> None:
    """Put a claim's sources in place of those kept for the same part and model."""
    rest = tuple(c for c in claims_of(workspace) if (c.part, c.model) != (claim.part, claim.model))
    kept = (*rest, claim) if claim.sources else rest
    workspace.save_setting(CLAIMS_KEY, claims_to_json(kept))


def keep_share(workspace: Workspace, key: str, share: float) -> None:
    """A share of the shop's own, 0..1."""
    workspace.save_setting(key, f"{min(max(share, 0.0), 1.0):.6g}")


def _share(text: str, default: float) -> float:
    try:
        return min(max(float(text), 0.0), 1.0)
    except ValueError:
        return default
