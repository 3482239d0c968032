"""Records copied, taken in as a batch, put away and found again."""

from __future__ import annotations

from dataclasses import fields, is_dataclass, replace
from decimal import Decimal
from typing import get_args, get_type_hints

import pytest

from brachium.app.intake.copies import duplicate, take_in_batch
from brachium.app.shop.workspace import Workspace
from brachium.core.base.marks import Mark, is_marked, mark_of
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.why import Origin
from brachium.core.drives.readings import HealthReading
from brachium.core.machine.machine import DriveBay, Machine
from brachium.core.machine.power_parts import Battery
from brachium.core.record.acceptance import Acceptance
from brachium.core.record.checks import CheckDone, SwapTry
from brachium.core.record.drive_records import EraseMethod, Erasure, Verified
from brachium.core.record.job import DataSafe, DataState, GateLift, Job
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


def classes_of(kind: object, found: set[type]) -> set[type]:
    """Every dataclass that a record is made of."""
    if isinstance(kind, type) and is_dataclass(kind) and kind not in found:
        found.add(kind)
        for hint in get_type_hints(kind).values():
            classes_of(hint, found)
    for inner in get_args(kind):
        classes_of(inner, found)
    return found


def test_every_field_of_a_record_is_marked() -> None:
    kinds = classes_of(Job, set())
    assert {Job, Machine, Battery, DriveBay} <= {k for k in kinds if is_marked(k)}
    for kind in (k for k in kinds if is_marked(k)):
        assert [f.name for f in fields(kind) if mark_of(f) is None] == [], f"{kind.__name__}: mark it in its definition"


def test_a_copy_carries_no_evidence_of_another_machine(shop: Workspace) -> None:
    """An erasure record on a copy would open the gate before another owner's drive."""
    job = shop.job(JOB_ID)
    machine = replace(
        job.machine, bad_places=("slot-1",), bad_parts=("slot-2",), origins={"processor.name": Origin.SCANNED},
        platform=replace(job.machine.platform, system=replace(job.machine.platform.system, used_bytes=10**11)),
    ).with_part("battery", Battery("as fitted", 31.0, 48.0))  # fmt: skip
    erased = Erasure("500 GB, main bay", EraseMethod.COMMAND, Verified.SAMPLES, "bench", "2026-11-25")
    evidence = replace(
        job, machine=machine, erasures=(erased,), health=(HealthReading("bay-main", "now", {"pending": 8}),),
        checks=(CheckDone("read_health", "clean", 2.0),), swap_tries=(SwapTry((("m1", "slot-1"),), True),),
        acceptances=(Acceptance("MEM-MAX", (), "x", "tried", "now"),), shelved=("bay-main",),
        first_start={"memory": "8 GiB"},
        gate_lifts=(GateLift("erase", "x", "now"),), last_chance=(("counters", "done"),), look_again="2027-11-25",
        setup=replace(job.setup, drive_folder="/mnt/owner", typed={"fan_mode": "full"}),
    )  # fmt: skip
    shop.edit("evidence", evidence)
    for copy in (shop.job(duplicate(shop, JOB_ID)), shop.job(take_in_batch(shop, JOB_ID, ["OM-9"])[0])):
        bare = Job(copy.id, copy.name, copy.machine)
        for one in fields(Job):
            if mark_of(one) is not Mark.MODEL and one.name not in ("id", "name"):
                assert getattr(copy, one.name) == getattr(bare, one.name), one.name
        assert (copy.machine.bad_places, copy.machine.bad_parts) == ((), ())
        assert copy.machine.platform.system.used_bytes is None
        assert copy.machine.configuration().parts["battery"] == Battery("as fitted", None, 48.0)
        assert copy.machine.origins == {"processor.name": Origin.ASSUMED}, "nobody has scanned this one"
        assert (copy.setup.drive_folder, copy.setup.typed) == ("", {})
        assert copy.machine.slots == job.machine.slots and copy.targets == job.targets


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
