"""Every document of the shop's own in the shop file, by its key there: settings, shelf, price list, track record."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import TYPE_CHECKING, Any, Generic, Protocol, TypeVar

from brachium.core.record.shop_settings import ShopSettings
from brachium.core.record.systems import SYSTEMS, SystemSpec
from brachium.formats.documents import Document, TextDocument
from brachium.formats.log_columns import LogReadings
from brachium.formats.upgrades import kinds, mappings, parts_shelf, price_list, settings, work_templates

if TYPE_CHECKING:
    from brachium.core.learn.outcomes import JobOutcome
    from brachium.core.plan.candidates import CatalogueItem
    from brachium.core.record.evidence import CompatibilityClaim
    from brachium.core.record.parts_shelf import ShelfPart
    from brachium.core.record.work.repaste import Repaste
    from brachium.core.work.consumables import Consumable
    from brachium.core.work.template import Template

T = TypeVar("T")


class Codec(Protocol[T]):
    """How a document is read and written; `noun` and `version` name it."""

    noun: str
    version: int

    def text(self, record: T) -> str: ...

    def read(self, text: str, place: str) -> T: ...


@dataclass(frozen=True)
class ShopDocument(Generic[T]):
    """`key` in the shop file; `empty` is what counts where nothing was kept yet."""

    key: str
    codec: Codec[T]
    empty: T


@dataclass(frozen=True)
class Drawn:
    """What the ticked steps of each job used of consumables, in their units, by job id."""

    by_job: Mapping[str, Mapping[str, float]] = field(default_factory=dict)


@dataclass(frozen=True)
class FixedBlocks:
    """Blocks of the day sheet that a person fixed, by their id."""

    moments: Mapping[str, datetime] = field(default_factory=dict)


def _price_list(text: str, place: str) -> tuple[CatalogueItem, ...] | None:
    from brachium.formats.catalogue import read_catalogue  # late, like every reader here: the window opens without it

    found = read_catalogue(text, place)
    return found.items if found is not None else None


def _written(items: tuple[CatalogueItem, ...] | None) -> str:
    from brachium.formats.catalogue import catalogue_text

    return catalogue_text(items or ())


def _reference_table(text: str, place: str) -> str:
    from brachium.formats.reference_table import parse_table

    if text:
        parse_table(text, place)
    return text


def _systems(text: str, place: str) -> tuple[SystemSpec, ...]:
    from brachium.formats.shop_tables import systems_from_csv

    return systems_from_csv(text, place)


def _systems_text(systems: tuple[SystemSpec, ...]) -> str:
    from brachium.formats.shop_tables import systems_to_csv

    return systems_to_csv(systems)


def _shelf_kind() -> Any:
    from brachium.core.record.parts_shelf import ShelfPart

    return tuple[ShelfPart, ...]


def _claims_kind() -> Any:
    from brachium.core.record.evidence import CompatibilityClaim

    return tuple[CompatibilityClaim, ...]


def _consumables_kind() -> Any:
    from brachium.core.work.consumables import Consumable

    return tuple[Consumable, ...]


def _templates_kind() -> Any:
    from brachium.core.work.template import Template

    return tuple[Template, ...]


def _repastes_kind() -> Any:
    from brachium.core.record.work.repaste import Repaste

    return tuple[Repaste, ...]


def _outcomes_kind() -> Any:
    from brachium.core.learn.outcomes import JobOutcome

    return tuple[JobOutcome, ...]


SETTINGS: ShopDocument[ShopSettings] = ShopDocument(
    "settings", Document(ShopSettings, "settings", settings.UPGRADES), ShopSettings()
)
SHELF: ShopDocument[tuple[ShelfPart, ...]] = ShopDocument(
    "shelf", Document(_shelf_kind, "parts shelf", parts_shelf.UPGRADES, late=True), ()
)
PRICE_LIST: ShopDocument[tuple[CatalogueItem, ...] | None] = ShopDocument(
    "catalogue", TextDocument("price list", _written, _price_list, price_list.UPGRADES), None
)
REFERENCE_TABLE: ShopDocument[str] = ShopDocument(
    "reference_table", TextDocument("reference table", str, _reference_table), ""
)
SYSTEM_TABLE: ShopDocument[tuple[SystemSpec, ...]] = ShopDocument(
    "systems", TextDocument("table of systems", _systems_text, _systems), SYSTEMS
)
CLAIMS: ShopDocument[tuple[CompatibilityClaim, ...]] = ShopDocument(
    "claims", Document(_claims_kind, "evidence", late=True), ()
)
CONSUMABLES: ShopDocument[tuple[Consumable, ...]] = ShopDocument(
    "consumables", Document(_consumables_kind, "consumables", late=True), ()
)
DRAWN: ShopDocument[Drawn] = ShopDocument(
    "consumables_drawn", Document(Drawn, "use of consumables", (mappings.wrapped("by_job"),)), Drawn()
)
FIXED_BLOCKS: ShopDocument[FixedBlocks] = ShopDocument(
    "day_fixed", Document(FixedBlocks, "fixed blocks", (mappings.wrapped("moments"),)), FixedBlocks()
)
LOG_PRESETS: ShopDocument[LogReadings] = ShopDocument(
    "log_presets", Document(LogReadings, "log presets", (mappings.wrapped("by_heading"),)), LogReadings()
)
TEMPLATES: ShopDocument[tuple[Template, ...]] = ShopDocument(
    "work_templates", Document(_templates_kind, "work templates", work_templates.UPGRADES, late=True), ()
)
REPASTES: ShopDocument[tuple[Repaste, ...]] = ShopDocument(
    "repastes", Document(_repastes_kind, "repastes", kinds.UPGRADES, late=True), ()
)
OUTCOMES: ShopDocument[tuple[JobOutcome, ...]] = ShopDocument(
    "outcomes", Document(_outcomes_kind, "track record", kinds.UPGRADES, late=True), ()
)
EVERY = (
    SETTINGS, SHELF, PRICE_LIST, REFERENCE_TABLE, SYSTEM_TABLE, CLAIMS, CONSUMABLES, DRAWN, FIXED_BLOCKS, LOG_PRESETS,
    TEMPLATES, REPASTES, OUTCOMES,
)  # fmt: skip
