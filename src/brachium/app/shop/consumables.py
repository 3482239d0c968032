"""The shop's consumables: counted and priced by a person, drawn down by what the steps of every job used."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import TYPE_CHECKING

from brachium.app.shop.kept import KeepsShop, ReadsShop
from brachium.core.record.money import Prices
from brachium.core.work.consumables import USUAL, Consumable, Stock, stock_of, uses_of
from brachium.formats.shop_documents import CONSUMABLES, DRAWN, Drawn

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView


def items_of(shop: ReadsShop) -> tuple[Consumable, ...]:
    """The shop's own, in the usual order; what cannot be read counts as never counted."""
    kept = {c.key: c for c in shop.kept(CONSUMABLES)}
    return tuple(kept.get(c.key, c) for c in USUAL)


def prices_of(shop: ReadsShop) -> Prices:
    """Price a unit of those that have one."""
    return {c.key: c.price for c in items_of(shop) if c.price}


def stocks_of(shop: ReadsShop) -> tuple[Stock, ...]:
    """What is left of each."""
    drawn = shop.kept(DRAWN).by_job
    return tuple(stock_of(c, _used(drawn, c.key)) for c in items_of(shop))


def _used(drawn: Mapping[str, Mapping[str, float]], key: str) -> float:
    return sum(uses.get(key, 0.0) for uses in drawn.values())


def keep_item(shop: KeepsShop, key: str, **changes: object) -> None:
    """Change one; a new count starts from what all jobs have used by now."""
    if "counted" in changes:
        changes |= {"when": date.today().isoformat(), "base": _used(shop.kept(DRAWN).by_job, key)}
    items = tuple(replace(c, **changes) if c.key == key else c for c in items_of(shop))  # type: ignore[arg-type]
    shop.keep(CONSUMABLES, items)


def keep_price(shop: KeepsShop, key: str, price: Decimal | None) -> None:
    """What a unit costs; None = no price."""
    keep_item(shop, key, price=price or Decimal(0))


def draw_down(shop: KeepsShop, view: JobView) -> None:
    """Note what a job's ticked steps used; a tick taken back gives it back."""
    job = view.job
    done = {d.step_id for d in job.steps_done}
    used = uses_of(job.machine, [s for s in view.work.steps if s.id in done], job.pads)
    uses = {k: round(v, 3) for k, v in used.items()}
    drawn = shop.kept(DRAWN).by_job
    if drawn.get(job.id, {}) != uses:
        rest = {k: v for k, v in drawn.items() if k != job.id}
        shop.keep(DRAWN, Drawn(rest | ({job.id: uses} if uses else {})))
