"""The shop's price list: read from a file with a preview, merged by id, written out; edited price by price."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from pathlib import Path

from brachium.app.shop.kept import settings_of
from brachium.app.shop.reading import ShopReading
from brachium.app.shop.workspace import Workspace
from brachium.core.plan.candidates import CatalogueItem, with_weighed_offers
from brachium.formats.atomic import write_atomically
from brachium.formats.catalogue import catalogue_text, read_catalogue
from brachium.formats.limits import read_text

LARGEST = 24 << 20


@dataclass(frozen=True)
class Preview:
    """What a file would change: items by what happens to them, (line, why) of bad lines, headings not understood."""

    path: Path
    new: tuple[CatalogueItem, ...]
    changed: tuple[CatalogueItem, ...]
    same: int
    bad: tuple[tuple[int, str], ...]
    not_understood: tuple[str, ...] = ()

    @property
    def items(self) -> tuple[CatalogueItem, ...]:
        return self.new + self.changed


def preview_list(
    workspace: ShopReading, path: Path, said: Callable[[float], None] = lambda _: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Preview | None:  # fmt: skip
    """Read a file and hold it against the present list; None where it was cancelled.

    Raises ExpectedProblem and EnvironmentProblem naming the place.
    """
    text = read_text(path, LARGEST)
    read = read_catalogue(text, str(path), said, cancelled)
    if read is None:
        return None
    known = {i.id: i for i in workspace.catalogue}
    items = with_weighed_offers(read.items, settings_of(workspace).rates)
    new = tuple(i for i in items if i.id not in known)
    changed = tuple(i for i in items if i.id in known and i != known[i.id])
    return Preview(path, new, changed, len(items) - len(new) - len(changed), read.bad, read.not_understood)


def merge_lists(present: tuple[CatalogueItem, ...], found: Preview) -> tuple[CatalogueItem, ...]:
    """The list with a preview taken over by id: changed items in their place, new ones behind."""
    changed = {i.id: i for i in found.changed}
    return (*(changed.get(i.id, i) for i in present), *found.new)


def matching_items(items: tuple[CatalogueItem, ...], words: list[str]) -> tuple[CatalogueItem, ...]:
    """Items that hold all of these lower-case words in title, kind or id."""
    return tuple(i for i in items if all(w in f"{i.title} {i.group} {i.id}".lower() for w in words))


def with_price(items: tuple[CatalogueItem, ...], item_id: str, price: Decimal) -> tuple[CatalogueItem, ...]:
    """The list with another price for one item; what was typed stands, so that its offers are gone."""
    return tuple(replace(i, price=price, offers=()) if i.id == item_id else i for i in items)


def export_list(workspace: Workspace, path: Path) -> None:
    """Write the list as CSV. Raises EnvironmentProblem; nothing is left half written."""
    write_atomically(path, catalogue_text(workspace.catalogue).encode())


def with_added(items: Sequence[CatalogueItem], item: CatalogueItem) -> tuple[CatalogueItem, ...]:
    """The list with one entry more, under an id that none has."""
    base = re.sub(r"[^a-z0-9]+", "-", item.title.lower()).strip("-")[:40] or "part"
    taken, made, number = {i.id for i in items}, base, 1
    while made in taken:
        number += 1
        made = f"{base}-{number}"
    return (*items, replace(item, id=made))


def with_item(items: Sequence[CatalogueItem], item: CatalogueItem) -> tuple[CatalogueItem, ...]:
    """The list with an entry in the place of the one with its id."""
    return tuple(item if i.id == item.id else i for i in items)
