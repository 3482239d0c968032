"""Catalogue CSV: brandless part classes and services with the shop's prices. Errors name file and line."""

from __future__ import annotations

import contextlib
import csv
import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal, InvalidOperation
from enum import StrEnum
from typing import Any, TypeVar

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import MAX_DIGITS, decimal_of, finite
from brachium.core.base.units import GB, GIB, MIB
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
from brachium.core.plan.candidates import CatalogueItem, Group
from brachium.core.plan.price_offer import CURRENCY, PriceOffer, cheapest_offer
from brachium.formats.cells import guarded, plain_cell
from brachium.formats.limits import csv_rows
from brachium.formats.part_fields import CLASSES, field_types, read_more, read_part, typed_part, write_more, write_part

K = TypeVar("K", bound=StrEnum)
COLUMNS = (
    "id", "group", "title", "price_eur", "count", "form", "generation", "size_gib", "speed_mts", "volts", "interface",
    "bay_form", "height_mm", "size_gb", "rotational", "outer_mb_s", "inner_mb_s", "latency_ms", "services",
    "more", "offers",
)  # fmt: skip
MOST_GIB = 4096
NEEDED = ("id", "group", "title", "price_eur")
MEMORY_COLUMNS = ("form", "generation", "size_bytes", "speed_mts", "volts")
DRIVE_COLUMNS = ("interface", "form", "height_mm", "size_bytes", "rotational", "outer_mb_s", "inner_mb_s",
                 "read_latency_ms")  # fmt: skip
UNDERSTOOD = {*COLUMNS, *(name for part_class in CLASSES.values() for name in field_types(part_class))}
EMPTY = {**dict.fromkeys(COLUMNS, ""), "count": "1"}
REMEDY = "Export the price list to see the columns, or look into docs/formats/catalogue.md."


def parse_catalogue(text: str, place: str) -> tuple[CatalogueItem, ...]:
    """Read a list that must be right. Raises ExpectedProblem with the line of the first bad row."""
    read = read_catalogue(text, place)
    assert read is not None, "nobody cancels it"
    if read.bad:
        line, why = read.bad[0]
        raise ExpectedProblem(
            phrase("cannot read this item ({why})", why=why),
            phrase("{place}, line {line}", place=place, line=line),
            REMEDY,
        )
    return read.items


@dataclass(frozen=True)
class CatalogueRead:
    """A price list as read: good items in order (of a repeated id the last), and (line, why) of every bad one.

    `not_understood` are headings from which nothing was read.
    """

    items: tuple[CatalogueItem, ...]
    bad: tuple[tuple[int, str], ...]
    not_understood: tuple[str, ...] = ()


def read_catalogue(
    text: str, place: str, said: Callable[[float], None] = lambda _: None, cancelled: Callable[[], bool] = lambda: False
) -> CatalogueRead | None:
    """Read a price list line by line; bad lines are listed, good ones kept; None where it was cancelled.

    `said` hears the share that is done, about a hundred times. Raises ExpectedProblem where columns are missing.
    """
    rows = csv_rows(text, place)
    heads = [h.strip() for h in next(rows, (0, []))[1]]
    missing = [c for c in NEEDED if c not in heads]
    if missing:
        raise ExpectedProblem(
            phrase("columns are missing: {missing}", missing=joined(", ", missing)),
            phrase("{place}, line 1", place=place),
            REMEDY,
        )
    size = max(text.count("\n"), 1)
    step = max(size // 100, 1)
    items: dict[str, CatalogueItem] = {}
    bad: list[tuple[int, str]] = []
    for number, (line, cells) in enumerate(rows, 1):
        if number % step == 0:
            said(min(number / size, 1.0))
            if cancelled():
                return None
        if any(cells):
            item, problem = _checked_item(heads, cells)
            if item is None:
                bad.append((line, problem))
            else:
                items[item.id] = item
    return CatalogueRead(tuple(items.values()), tuple(bad), tuple(h for h in heads if h and h not in UNDERSTOOD))


def _checked_item(heads: list[str], cells: list[str]) -> tuple[CatalogueItem | None, str]:
    """(the item of a line, "") or (None, why it is bad)."""
    try:
        row = {h: plain_cell(c) for h, c in zip(heads, cells, strict=False) if h and c}
        item = _item({**EMPTY, **row})
    except (ValueError, InvalidOperation, KeyError, TypeError, AttributeError, OverflowError) as error:
        return None, str(error) or "this line is incomplete"
    if not item.id:
        return None, "an id is missing"
    return (item, "") if item.price >= 0 and item.price.is_finite() else (None, f"a price of {item.price}")


def catalogue_text(items: Sequence[CatalogueItem]) -> str:
    """The price list as CSV; reading it gives the same items."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for item in items:
        row = _row(item)
        writer.writerow(guarded(*(row.get(c, "") for c in COLUMNS)))
    return out.getvalue()


def _row(item: CatalogueItem) -> dict[str, object]:
    row: dict[str, object] = {"id": item.id, "group": item.group.value, "title": item.title,
                              "price_eur": f"{item.price:f}", "count": item.count,
                              "services": "+".join(s.value for s in item.services),
                              "offers": offers_text(item.offers)}  # fmt: skip
    part = item.part
    more = write_part(part) if part is not None else {}
    if isinstance(part, MemoryModule):
        row |= {"form": part.form.value, "generation": part.generation.value,
                "size_gib": f"{part.size_bytes / GIB:.12g}", "speed_mts": part.speed_mts or "",
                "volts": "/".join(f"{v:g}" for v in part.volts)}  # fmt: skip
        more = {k: v for k, v in more.items() if k not in MEMORY_COLUMNS}
    elif isinstance(part, Drive):
        row |= {"interface": part.interface.value, "bay_form": part.form.value,
                "size_gb": f"{part.size_bytes / GB:.12g}",
                "height_mm": "" if part.height_mm is None else f"{part.height_mm:g}",
                "rotational": "yes" if part.rotational else "no", "outer_mb_s": f"{part.outer_mb_s:g}",
                "inner_mb_s": f"{part.inner_mb_s:g}", "latency_ms": f"{part.read_latency_ms:g}"}  # fmt: skip
        more = {k: v for k, v in more.items() if k not in DRIVE_COLUMNS}
    return {**row, "more": write_more(more)}


def _item(row: dict[str, str]) -> CatalogueItem:
    group = _one(Group, row["group"], "group")
    more = read_more(row["more"])
    part: Part | None = None
    if group is Group.MEMORY:
        part = _with_more(_memory(row), {**_own_columns(row, MemoryModule, MEMORY_COLUMNS), **more}, MEMORY_COLUMNS)
    elif group is Group.DRIVE:
        part = _with_more(_drive(row), {**_own_columns(row, Drive, DRIVE_COLUMNS), **more}, DRIVE_COLUMNS)
    elif group in CLASSES and (group is not Group.PASTE or more):
        own = field_types(CLASSES[group])
        columns = {k: v for k, v in row.items() if v and k in own}
        part = read_part(CLASSES[group], row["title"], {**columns, **more})
    elif more:
        raise ValueError(phrase("more is for parts, {group} is none", group=group))
    services = tuple(_one(Service, s.strip(), "services") for s in row["services"].split("+") if s.strip())
    offers = read_offers(row["offers"])
    best = cheapest_offer(offers)
    price = best.total if best is not None else _price(row)  # before any rate is known
    return CatalogueItem(row["id"], group, row["title"], price, _whole(row, "count"), part, services, offers=offers)


def _own_columns(row: dict[str, str], part_class: type[Part], taken: tuple[str, ...]) -> dict[str, str]:
    """Attributes that stand in a column of their own name, such as `buffering` or `ecc`."""
    own = field_types(part_class)
    return {k: v for k, v in row.items() if v and k in own and k not in taken and k not in COLUMNS}


def _with_more(part: MemoryModule | Drive, more: dict[str, str], taken: tuple[str, ...]) -> MemoryModule | Drive:
    """The part with attributes that have no column of their own."""
    if not more:
        return part
    types = {k: v for k, v in field_types(type(part)).items() if k not in taken}
    unknown = [k for k in more if k not in types]
    if unknown:
        raise ValueError(
            phrase("{unknown} is no attribute here, known are {types}", unknown=unknown[0], types=joined(", ", types))
        )
    changes: dict[str, Any] = {k: typed_part(v, types[k], k) for k, v in more.items()}
    return replace(part, **changes)


def _memory(row: dict[str, str]) -> MemoryModule:
    form, generation = _one(MemoryForm, row["form"], "form"), _one(MemoryGeneration, row["generation"], "generation")
    volts = tuple(_number(v, "volts") for v in row["volts"].split("/") if v.strip())
    size, speed = _number(row["size_gib"], "size_gib"), _whole(row, "speed_mts") if row["speed_mts"].strip() else None
    if not MIB <= size * GIB <= MOST_GIB * GIB:
        raise ValueError(
            phrase(
                "size_gib is {size:g}, {value:.4f} to {most_gib} is meant", size=size, value=1 / 1024, most_gib=MOST_GIB
            )
        )
    return MemoryModule(row["title"], form, generation, round(size * GIB), speed, volts)


def _drive(row: dict[str, str]) -> Drive:
    interface, form = _one(DriveInterface, row["interface"], "interface"), _one(BayForm, row["bay_form"], "bay_form")
    height = _number(row["height_mm"], "height_mm") if row["height_mm"] else None
    outer, inner, latency = (_number(row[c], c) for c in ("outer_mb_s", "inner_mb_s", "latency_ms"))
    size, turns = _number(row["size_gb"], "size_gb"), row["rotational"] == "yes"
    return Drive(row["title"], interface, form, height, round(size * GB), turns, outer, inner, latency)


def offers_text(offers: Sequence[PriceOffer]) -> str:
    """`where; price; shipping; condition; date; currency`, offers parted by a bar."""
    return " | ".join(
        f"{o.where}; {o.price:f}; {o.shipping:f}; {o.condition}; {o.date}; {o.currency}" for o in offers
    )  # fmt: skip


def read_offers(text: str) -> tuple[PriceOffer, ...]:
    """Raises ValueError naming the offer."""
    out = []
    for entry in (e.strip() for e in text.split("|")):
        if not entry:
            continue
        words = [w.strip() for w in entry.split(";")] + [""] * 6
        try:
            price, shipping = _decimal(words[1]), _decimal(words[2] or "0")
            if words[4]:
                date.fromisoformat(words[4])
        except (InvalidOperation, ValueError):
            raise ValueError(
                phrase("offers holds “{entry}”, where; price; shipping; condition; date; currency", entry=entry)
            ) from None
        if not words[0] or price < 0 or shipping < 0 or not (price + shipping).is_finite():
            raise ValueError(phrase("offers holds “{entry}”: a name and prices from 0 on", entry=entry))
        out.append(PriceOffer(words[0], price, shipping, words[3] or "new", words[4], words[5] or CURRENCY))
    return tuple(out)


def _price(row: dict[str, str]) -> Decimal:
    _number(row["price_eur"] if row["price_eur"] else "", "price_eur")
    return _decimal(row["price_eur"])


def _decimal(text: str) -> Decimal:
    value = decimal_of(text)
    if value is None:
        raise ValueError(phrase("“{text}” is no price", text=text[:40]))
    return value


def _one(kind: type[K], value: str, column: str) -> K:
    try:
        return kind(value)
    except ValueError:
        known = ", ".join(str(k.value) for k in kind)
        raise ValueError(
            phrase(
                "{column} is {more}, known are {known}",
                column=column,
                more=phrase("“{value}”", value=value) if value else "empty",
                known=known,
            )
        ) from None


def _whole(row: dict[str, str], column: str) -> int:
    text = row[column].strip()
    if len(text) <= MAX_DIGITS:
        with contextlib.suppress(ValueError):
            return int(text)
    said = f"“{text[:40]}”" if text else "empty"
    raise ValueError(phrase("{column} is {said}, a whole number is meant", column=column, said=said))


def _number(value: str, column: str) -> float:
    number = finite(value.strip())
    if number is None:
        raise ValueError(
            phrase(
                "{column} is {more}, a number is meant",
                column=column,
                more=phrase("“{value}”", value=value[:40]) if value else "empty",
            )
        )
    return number
