"""Catalogue CSV: brandless part classes and services with the shop's prices. Errors name file and line."""

from __future__ import annotations

import csv
import io
from decimal import Decimal, InvalidOperation

from brachium.core.choose.catalogue import CatalogueItem, Group
from brachium.core.machine.parts import (
    BayForm,
    Drive,
    DriveInterface,
    MemoryForm,
    MemoryGeneration,
    MemoryModule,
    Part,
    Service,
)
from brachium.core.problems import ExpectedProblem
from brachium.core.units import GB, GIB

COLUMNS = (
    "id", "group", "title", "price_eur", "count", "form", "generation", "size_gib", "speed_mts", "volts", "interface",
    "bay_form", "height_mm", "size_gb", "rotational", "outer_mb_s", "inner_mb_s", "latency_ms", "services",
)  # fmt: skip


def parse_catalogue(text: str, place: str) -> tuple[CatalogueItem, ...]:
    """Read a catalogue. Raises ExpectedProblem with line and column of the first bad row."""
    reader = csv.DictReader(io.StringIO(text))
    missing = [c for c in COLUMNS if c not in (reader.fieldnames or [])]
    if missing:
        raise ExpectedProblem(f"columns are missing: {', '.join(missing)}", f"{place}, line 1", "See docs/formats.")
    out: list[CatalogueItem] = []
    for row in reader:
        try:
            out.append(_item(row))
        except (ValueError, InvalidOperation, KeyError) as error:
            where = f"{place}, line {reader.line_num}"
            raise ExpectedProblem(f"cannot read this item ({error})", where, "See docs/formats.") from error
    return tuple(out)


def _item(row: dict[str, str]) -> CatalogueItem:
    group = Group(row["group"])
    part: Part | None = None
    if group is Group.MEMORY:
        volts = tuple(float(v) for v in row["volts"].split("/"))
        part = MemoryModule(row["title"], MemoryForm(row["form"]), MemoryGeneration(row["generation"]),
                            int(row["size_gib"]) * GIB, int(row["speed_mts"]), volts)  # fmt: skip
    elif group is Group.DRIVE:
        height = float(row["height_mm"]) if row["height_mm"] else None
        part = Drive(row["title"], DriveInterface(row["interface"]), BayForm(row["bay_form"]), height,
                     int(row["size_gb"]) * GB, row["rotational"] == "yes", float(row["outer_mb_s"]),
                     float(row["inner_mb_s"]), float(row["latency_ms"]))  # fmt: skip
    services = tuple(Service(s.strip()) for s in row["services"].split("+") if s.strip())
    return CatalogueItem(row["id"], group, row["title"], Decimal(row["price_eur"]), int(row["count"]), part, services)
