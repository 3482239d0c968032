"""Catalogue CSV: brandless part classes and services with the shop's prices. Errors name file and line."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from enum import StrEnum
from typing import TypeVar

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

K = TypeVar("K", bound=StrEnum)
COLUMNS = (
    "id", "group", "title", "price_eur", "count", "form", "generation", "size_gib", "speed_mts", "volts", "interface",
    "bay_form", "height_mm", "size_gb", "rotational", "outer_mb_s", "inner_mb_s", "latency_ms", "services",
)  # fmt: skip
NEEDED = ("id", "group", "title", "price_eur")
EMPTY = {**dict.fromkeys(COLUMNS, ""), "count": "1"}
REMEDY = "Export the price list to see the columns, or look into docs/formats/catalogue.md."


def parse_catalogue(text: str, place: str) -> tuple[CatalogueItem, ...]:
    """Read a list that must be right. Raises ExpectedProblem with the line of the first bad row."""
    read = read_catalogue(text, place)
    assert read is not None, "nobody cancels it"
    if read.bad:
        line, why = read.bad[0]
        raise ExpectedProblem(f"cannot read this item ({why})", f"{place}, line {line}", REMEDY)
    return read.items


@dataclass(frozen=True)
class CatalogueRead:
    """A price list as read: good items in order (of a repeated id the last), and (line, why) of every bad one."""

    items: tuple[CatalogueItem, ...]
    bad: tuple[tuple[int, str], ...]


def read_catalogue(
    text: str, place: str, said: Callable[[float], None] = lambda _: None, cancelled: Callable[[], bool] = lambda: False
) -> CatalogueRead | None:
    """Read a price list line by line; bad lines are listed, good ones kept; None where it was cancelled.

    `said` hears the share that is done, about a hundred times. Raises ExpectedProblem where columns are missing.
    """
    reader = csv.DictReader(io.StringIO(text), restval="")
    missing = [c for c in NEEDED if c not in (reader.fieldnames or [])]
    if missing:
        raise ExpectedProblem(f"columns are missing: {', '.join(missing)}", f"{place}, line 1", REMEDY)
    size = max(text.count("\n"), 1)
    step = max(size // 100, 1)
    items: dict[str, CatalogueItem] = {}
    bad: list[tuple[int, str]] = []
    for number, row in enumerate(reader, 1):
        if number % step == 0:
            said(min(number / size, 1.0))
            if cancelled():
                return None
        try:
            item = _item({**EMPTY, **{k: v for k, v in row.items() if v}})
        except (ValueError, InvalidOperation, KeyError, TypeError, AttributeError) as error:
            bad.append((reader.line_num, str(error) or "this line is incomplete"))
            continue
        if not item.id or item.price < 0 or not item.price.is_finite():
            bad.append((reader.line_num, "an id is missing" if not item.id else f"a price of {item.price}"))
        else:
            items[item.id] = item
    return CatalogueRead(tuple(items.values()), tuple(bad))


def catalogue_text(items: Sequence[CatalogueItem]) -> str:
    """The price list as CSV; reading it gives the same items."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, restval="", lineterminator="\n")
    writer.writeheader()
    writer.writerows(_row(i) for i in items)
    return out.getvalue()


def _row(item: CatalogueItem) -> dict[str, object]:
    row: dict[str, object] = {"id": item.id, "group": item.group.value, "title": item.title,
                              "price_eur": f"{item.price:f}", "count": item.count,
                              "services": "+".join(s.value for s in item.services)}  # fmt: skip
    part = item.part
    if isinstance(part, MemoryModule):
        row |= {"form": part.form.value, "generation": part.generation.value, "size_gib": part.size_bytes // GIB,
                "speed_mts": part.speed_mts, "volts": "/".join(f"{v:g}" for v in part.volts)}  # fmt: skip
    elif isinstance(part, Drive):
        row |= {"interface": part.interface.value, "bay_form": part.form.value, "size_gb": part.size_bytes // GB,
                "height_mm": "" if part.height_mm is None else f"{part.height_mm:g}",
                "rotational": "yes" if part.rotational else "no", "outer_mb_s": f"{part.outer_mb_s:g}",
                "inner_mb_s": f"{part.inner_mb_s:g}", "latency_ms": f"{part.read_latency_ms:g}"}  # fmt: skip
    return row


def _item(row: dict[str, str]) -> CatalogueItem:
    group = _one(Group, row["group"], "group")
    part: Part | None = None
    if group is Group.MEMORY:
        part = _memory(row)
    elif group is Group.DRIVE:
        part = _drive(row)
    services = tuple(_one(Service, s.strip(), "services") for s in row["services"].split("+") if s.strip())
    return CatalogueItem(row["id"], group, row["title"], _price(row), _whole(row, "count"), part, services)


def _memory(row: dict[str, str]) -> MemoryModule:
    form, generation = _one(MemoryForm, row["form"], "form"), _one(MemoryGeneration, row["generation"], "generation")
    volts = tuple(_number(v, "volts") for v in row["volts"].split("/"))
    size, speed = _whole(row, "size_gib"), _whole(row, "speed_mts")
    return MemoryModule(row["title"], form, generation, size * GIB, speed, volts)


def _drive(row: dict[str, str]) -> Drive:
    interface, form = _one(DriveInterface, row["interface"], "interface"), _one(BayForm, row["bay_form"], "bay_form")
    height = _number(row["height_mm"], "height_mm") if row["height_mm"] else None
    outer, inner, latency = (_number(row[c], c) for c in ("outer_mb_s", "inner_mb_s", "latency_ms"))
    size, turns = _whole(row, "size_gb"), row["rotational"] == "yes"
    return Drive(row["title"], interface, form, height, size * GB, turns, outer, inner, latency)


def _price(row: dict[str, str]) -> Decimal:
    _number(row["price_eur"], "price_eur")
    return Decimal(row["price_eur"])


def _one(kind: type[K], value: str, column: str) -> K:
    try:
        return kind(value)
    except ValueError:
        known = ", ".join(str(k.value) for k in kind)
        raise ValueError(f"{column} is {f'“{value}”' if value else 'empty'}, known are {known}") from None


def _whole(row: dict[str, str], column: str) -> int:
    try:
        return int(row[column])
    except ValueError:
        said = f"“{row[column]}”" if row[column] else "empty"
        raise ValueError(f"{column} is {said}, a whole number is meant") from None


def _number(value: str, column: str) -> float:
    try:
        return float(value)
    except ValueError:
        raise ValueError(f"{column} is {f'“{value}”' if value else 'empty'}, a number is meant") from None
