"""Records copied, taken in as a batch, put away and found again."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest

from brachium.app.records import duplicate, take_in_batch
from brachium.app.workspace import Workspace
from brachium.core.job.job import DataSafe, DataState
from brachium.core.problems import ExpectedProblem
from brachium.demo.newsroom import JOB_ID


def test_a_copy_keeps_the_model_and_forgets_the_machine(shop: Workspace) -> None:
    settled = DataSafe(DataState.BACKED_UP, "bench", "today", "disk 2")
    shop.edit("x", replace(shop.job(JOB_ID), data_safe=settled, plan=("mem-4-l",), no_before="does not start"))
    copy = shop.job(duplicate(shop, JOB_ID))
    original = shop.job(JOB_ID)
    assert copy.name == "Newsroom laptop, copy" and copy.machine.slots == original.machine.slots
    assert copy.budget == Decimal("150") and copy.targets == original.targets
    assert copy.machine.identity.serial == "" and copy.data_safe == DataSafe() and copy.plan == () == copy.condition
    assert copy.no_before == "" and shop.all_runs(copy.id) == ()


def test_a_batch_is_one_record_a_serial_and_all_or_nothing(shop: Workspace) -> None:
    made = take_in_batch(shop, JOB_ID, ["OM-1", "  ", "OM-2 "])
    assert [shop.job(j).machine.identity.serial for j in made] == ["OM-1", "OM-2"]
    assert [shop.job(j).name for j in made] == ["Tern 14 OM-1", "Tern 14 OM-2"]
    cases = (
        (["OM-3", "OM-3"], "line 2: OM-3 is there already (line 1)"),
        (["OM-4", "OM-T14-20417"], "line 2: OM-T14-20417 is there already (Newsroom laptop)"),
    )
    for lines, says in cases:
        with pytest.raises(ExpectedProblem) as caught:
            take_in_batch(shop, JOB_ID, lines)
        assert says in caught.value.text
    assert len(shop.job_ids()) == 3
