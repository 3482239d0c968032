"""Consumables: used by ticked steps, counted, ordered in time, paid for by use."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest

from brachium.core.machine.machine import Machine
from brachium.core.record.work.paste import Contact
from brachium.core.work.consumables import ALCOHOL, PASTE, SCREWS, USUAL, WIPES, cost_of_uses, stock_of, uses_of
from brachium.core.work.paste import paste_amount
from brachium.core.work.steps import steps_for
from brachium.demo.newsroom import MACHINE
from tests.core.work.test_steps import ALL

PASTED = steps_for(MACHINE, (ALL["svc-paste"], ALL["ssd-480@bay-main"]), ())


def with_area(area: float | None) -> Machine:
    contacts = replace(MACHINE.platform.contacts, area_mm2=area, bare_die=True)
    return replace(MACHINE, platform=replace(MACHINE.platform, contacts=contacts))


def test_steps_use_what_their_kind_needs() -> None:
    assert uses_of(with_area(None), PASTED) == {PASTE: 0.4, ALCOHOL: 3.0, WIPES: 3.0, SCREWS: 4.0}
    assert uses_of(MACHINE, []) == {}
    known = uses_of(with_area(900.0), PASTED)[PASTE]
    assert known == paste_amount(900.0, Contact.DIE).weight_g[1] == pytest.approx(0.234)
    prices = {PASTE: Decimal("2.50"), WIPES: Decimal("0.10")}
    assert cost_of_uses({PASTE: 0.4, WIPES: 3.0, ALCOHOL: 3.0}, prices) == Decimal("1.30")


def test_stock_counts_from_the_last_count_and_says_when_to_order() -> None:
    paste = replace(USUAL[0], counted=10.0, reorder_at=8.0, base=3.0)
    assert stock_of(paste, 3.0).left == 10.0 and not stock_of(paste, 3.0).order
    assert stock_of(paste, 5.0).order and stock_of(paste, 5.0).words == "order now"
    assert stock_of(paste, 2.5).left == 10.5, "a tick taken back gives it back"
    assert "count again" in stock_of(paste, 14.0).words and stock_of(USUAL[0], 5.0).words == "count it once"
