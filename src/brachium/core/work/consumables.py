"""Consumables: what each ticked step uses up, what is left since the last count, when to order.

Stock = counted - (used by all jobs now - used by all jobs when it was counted), so that a tick taken back gives its
share back.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.machine.machine import Machine
from brachium.core.record.money import Prices
from brachium.core.record.work.pads import PadRow
from brachium.core.work.assumptions import ASSUMED_PASTE_G
from brachium.core.work.pads import pad_sums
from brachium.core.work.paste import contact_of, paste_amount
from brachium.core.work.step import Step

CENT = Decimal("0.01")
PASTE, ALCOHOL, WIPES, PADS, SCREWS = "paste", "alcohol", "wipes", "pads", "screws"
Uses = Mapping[str, float]


@dataclass(frozen=True)
class Consumable:
    """One of the shop's. `counted` in its unit, None = never counted; `base` = used by all jobs when it was counted;
    `price` a unit [EUR]."""

    key: str
    title: str
    unit: str
    counted: float | None = None
    reorder_at: float | None = None
    price: Decimal = Decimal(0)
    when: str = ""
    base: float = 0.0


USUAL: tuple[Consumable, ...] = (
    Consumable(PASTE, "Thermal paste", "g"), Consumable(ALCOHOL, "Isopropyl alcohol", "ml"),
    Consumable(WIPES, "Lint-free wipes", "pieces"), Consumable(PADS, "Thermal pads", "cm²"),
    Consumable(SCREWS, "Drive screws", "pieces"),
)  # fmt: skip


@dataclass(frozen=True)
class Stock:
    """What is left of one, None = never counted; whether to order, in words."""

    item: Consumable
    left: float | None
    order: bool

    @property
    def words(self) -> str:
        if self.left is None:
            return "count it once"
        if self.left < 0:
            return "more was used than was counted: count again"
        return "order now" if self.order else ""


def stock_of(item: Consumable, used: float) -> Stock:
    """`used` by all jobs so far."""
    if item.counted is None:
        return Stock(item, None, False)
    left = item.counted - (used - item.base)
    return Stock(item, left, item.reorder_at is not None and left <= item.reorder_at)


def uses_of(machine: Machine, steps: Iterable[Step], pads: Sequence[PadRow] = ()) -> dict[str, float]:
    """What these steps use up. Where the contact is not measured, 0.4 g of paste are assumed."""
    out: dict[str, float] = {}
    for step in steps:
        for key, amount in _uses(machine, step, pads).items():
            out[key] = out.get(key, 0.0) + amount
    return out


def _uses(machine: Machine, step: Step, pads: Sequence[PadRow]) -> Uses:
    if step.layer == "+cooler":
        return {PASTE: paste_g(machine), ALCOHOL: 3.0, WIPES: 3.0}
    if step.id == "clean":
        return {ALCOHOL: 2.0, WIPES: 2.0}
    if step.id == "pads":
        return {PADS: sum(p.area_cm2 for p in pad_sums(pads)), ALCOHOL: 2.0, WIPES: 2.0}
    if step.id.partition("-")[0] == "drive":
        return {SCREWS: 1.0 if "m.2" in step.detail.lower() else 4.0}
    return {}


def paste_g(machine: Machine) -> float:
    """Weight of the layer at its larger bond line [g]."""
    area = machine.platform.contacts.area_mm2
    return paste_amount(area, contact_of(machine)).weight_g[1] if area else ASSUMED_PASTE_G


def cost_of_uses(uses: Uses, prices: Prices) -> Decimal:
    """Cents rounded half up; what has no price costs nothing."""
    whole = sum((Decimal(str(v)) * prices.get(k, Decimal(0)) for k, v in uses.items()), Decimal(0))
    return whole.quantize(CENT, rounding=ROUND_HALF_UP)
