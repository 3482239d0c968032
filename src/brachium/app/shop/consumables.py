"""The shop's consumables: counted and priced by a person, drawn down by what the steps of every job used."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import TYPE_CHECKING

from brachium.core.record.consumable_prices import Prices
from brachium.core.work.consumables import USUAL, Consumable, Stock, stock_of, uses_of
from brachium.formats.documents import Document
from brachium.formats.limits import parse_json

if TYPE_CHECKING:
    from brachium.app.shop.reading import ShopReading
    from brachium.app.shop.workspace import Workspace
    from brachium.app.view.job_view import JobView

ITEMS_KEY, DRAWN_KEY = "consumables", "consumables_drawn"
_ITEMS: Document[tuple[Consumable, ...]] = Document(tuple[Consumable, ...], "consumables")


def items_of(workspace: ShopReading) -> tuple[Consumable, ...]:
    """The shop's own, in the usual order; what cannot be read counts as never counted."""
    kept = {c.key: c for c in workspace.kept(ITEMS_KEY, lambda text: _ITEMS.read(text, ITEMS_KEY), ())}
    return tuple(kept.get(c.key, c) for c in USUAL)


def prices_of(workspace: ShopReading) -> Prices:
    """Price a unit of those that have one."""
    return {c.key: c.price for c in items_of(workspace) if c.price}


def drawn_of(workspace: ShopReading) -> dict[str, dict[str, float]]:
    """What each job's ticked steps used, by job id."""
    return workspace.kept(DRAWN_KEY, _drawn, {})


def _drawn(text: str) -> dict[str, dict[str, float]]:
    kept = parse_json(text, DRAWN_KEY)
    return {str(j): {str(k): float(v) for k, v in uses.items()} for j, uses in kept.items()}


def stocks_of(workspace: ShopReading) -> tuple[Stock, ...]:
    """What is left of each."""
    drawn = drawn_of(workspace)
    return tuple(stock_of(c, _used(drawn, c.key)) for c in items_of(workspace))


def _used(drawn: Mapping[str, Mapping[str, float]], key: str) -> float:
    return sum(uses.get(key, 0.0) for uses in drawn.values())


def keep_item(workspace: Workspace, key: str, **changes: object) -> None:
    """Change one; a new count starts from what all jobs have used by now."""
    drawn = drawn_of(workspace)
    if "counted" in changes:
        changes |= {"when": date.today().isoformat(), "base": _used(drawn, key)}
    items = tuple(replace(c, **changes) if c.key == key else c for c in items_of(workspace))  # type: ignore[arg-type]
    workspace.save_setting(ITEMS_KEY, _ITEMS.text(items))


def keep_price(workspace: Workspace, key: str, price: Decimal | None) -> None:
    keep_item(workspace, key, price=price or Decimal(0))
    for job_id in workspace.viewed():
        workspace.refresh(job_id)


def follow(workspace: Workspace, view: JobView) -> None:
    """Note what a job's ticked steps used; a tick taken back gives it back."""
    done = {d.step_id for d in view.job.steps_done}
    uses = {k: round(v, 3) for k, v in uses_of(view.job.machine, [s for s in view.work.steps if s.id in done],
                                                view.job.pads).items()}  # fmt: skip
    drawn = drawn_of(workspace)
    if drawn.get(view.job.id, {}) != uses:
        kept = {k: v for k, v in drawn.items() if k != view.job.id} | ({view.job.id: uses} if uses else {})
        workspace.save_setting(DRAWN_KEY, json.dumps(kept))
