"""The columns of the price list: the same for every kind, and behind them what entries of one kind state."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from brachium.app.shop.waiting_fits import WaitingFits
from brachium.core.base.text import phrase
from brachium.core.base.units import money
from brachium.core.machine.facts.fact_units import fact_title, unit_of
from brachium.core.machine.parts import Drive
from brachium.core.plan.candidates import CatalogueItem
from brachium.core.plan.price_offer import cheapest_offer
from brachium.formats.part_fields import write_part

MOST_ATTRIBUTES = 3
SAID_IN_THE_TITLE = ("name", "form", "generation")
PRICE = 2  # the column that can be typed into


@dataclass(frozen=True)
class Column:
    """`number` columns stand at the right, heading and cells alike; width 0 takes what is left."""

    title: str
    width: int
    value: Callable[[CatalogueItem], str]
    number: bool = False


def columns_of(items: Sequence[CatalogueItem], kind: str, fits: WaitingFits) -> tuple[Column, ...]:
    """For a kind the attributes that most of its entries state; for all kinds the id."""
    first = (
        Column("Part or work", 0, lambda i: i.title),
        Column("Kind", 84, lambda i: i.group.value),
        Column("Price, EUR", 92, lambda i: phrase("{price:f}", price=i.price), True),
        Column("Offers", 116, _offers),
        Column("Fits waiting", 104, lambda i: _fits(i, fits), True),
    )
    if not kind:
        return (*first, Column("Id", 130, lambda i: i.id))
    return (*(c for c in first if c.title != "Kind"), *_attributes(items))


def _attributes(items: Sequence[CatalogueItem]) -> tuple[Column, ...]:
    """What most entries of the kind state, in the units that people use."""
    stated = Counter(key for i in items if i.part is not None for key in write_part(i.part))
    out = []
    for key in [k for k, _ in stated.most_common() if k not in SAID_IN_THE_TITLE][:MOST_ATTRIBUTES]:
        sign = unit_of(key, any(isinstance(i.part, Drive) for i in items)).value.sign
        out.append(
            Column(
                phrase("{fact_title}, {sign}", fact_title=fact_title(key), sign=sign) if sign else fact_title(key),
                88,
                partial(_stated, key),
            )
        )
    return tuple(out)


def _stated(key: str, item: CatalogueItem) -> str:
    value = getattr(item.part, key, None)
    unit = unit_of(key, isinstance(item.part, Drive))
    if isinstance(value, int | float) and not isinstance(value, bool):
        return phrase("{value:g}", value=value / unit.value.factor)
    return write_part(item.part).get(key, "") if item.part is not None else ""


def _offers(item: CatalogueItem) -> str:
    best = cheapest_offer(item.offers)
    if best is None:
        return ""
    return phrase(
        "{count}, from {price}", count=len(item.offers), price=money(best.price + best.shipping, best.currency)
    )


def _fits(item: CatalogueItem, fits: WaitingFits) -> str:
    if item.part is None or not fits.machines:
        return ""
    unsure = fits.open.get(item.id, 0)
    return phrase("{counts} of {machines}", counts=fits.counts.get(item.id, 0), machines=fits.machines) + (
        phrase(", {unsure} open", unsure=unsure) if unsure else ""
    )
