"""Drives that go in and out: times of the move, its conditions, erasing with a record; pads by hand."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest

from brachium.core.base.units import GB, GIB
from brachium.core.drives.health import DriveState
from brachium.core.machine.parts import Drive
from brachium.core.machine.platform import BootMode
from brachium.core.plan.candidates import Assignment, Candidate, Group
from brachium.core.record.drive_records import EraseMethod, Erasure, Pulled, Transfer, Verified, Way
from brachium.core.record.job import DataState, Job, StepDone
from brachium.core.work.erasure import erase_plan, record_problem
from brachium.core.work.gates import gate_problem
from brachium.core.work.pads import pad_sums, pads_text, read_pads
from brachium.core.work.transfer import replaced_drives, transfer_plan
from brachium.core.work.whole_plan import work_of
from brachium.demo.newsroom import MACHINE, newsroom_job
from tests.core.work.test_steps import ALL

SSD = ALL["ssd-480@bay-main"]


def test_a_copy_takes_the_used_bytes_at_the_slowest_rate_twice() -> None:
    plan = transfer_plan(MACHINE, (SSD,), Transfer(used_gib=100.0))
    assert plan is not None and plan.way is Way.COPY and plan.limited_by == "the old drive" and not plan.assumed
    old = plan.old
    assert old is not None
    minutes = 100 * GIB / 1e6 / (0.5 * (old.outer_mb_s + old.inner_mb_s)) / 60
    assert plan.copy_min == pytest.approx(minutes) and plan.unattended_min == pytest.approx(2 * minutes)
    slow = transfer_plan(MACHINE, (SSD,), Transfer(used_gib=100.0, bridge_mb_s=30.0))
    assert slow is not None and (slow.limited_by, slow.rate_mb_s) == ("the bridge", 30.0)
    measured = transfer_plan(MACHINE, (SSD,), Transfer(), 50 * GIB)
    assert measured is not None and measured.used_bytes == 50 * GIB and not measured.assumed
    guessed = transfer_plan(MACHINE, (SSD,), Transfer())
    assert guessed is not None and guessed.assumed and guessed.used_bytes == 288 * GB
    fresh = transfer_plan(MACHINE, (SSD,), Transfer(Way.FRESH, 100.0, programs_min=20.0))
    assert fresh is not None and fresh.copy_min == pytest.approx(25 + 40 + 20 + minutes) and fresh.verify_min == 0.0


def test_the_system_stays_where_the_new_drive_is_no_faster() -> None:
    disk = MACHINE.configuration().drives()["bay-main"]
    data = Candidate("d", Group.DRIVE, "disk", "", Decimal(20), (Assignment("bay-optical", disk),))
    assert transfer_plan(MACHINE, (data,), Transfer()) is None and transfer_plan(MACHINE, (), Transfer()) is None
    assert not any(s.id == "clone" for s in work_of(newsroom_job(), (data,), ()))
    assert [p for p, _ in replaced_drives(MACHINE, (SSD,))] == ["bay-main"] and replaced_drives(MACHINE, (data,)) == ()


def test_conditions_name_what_must_hold_before() -> None:
    plan = transfer_plan(MACHINE, (SSD,), Transfer(used_gib=440.0))
    assert plan is not None and plan.free_share == pytest.approx(1 - 440 * GIB / (480 * GB))
    words = {c.words.split()[0]: c for c in plan.conditions}
    assert words["2"].holds is False and "thin the data out" in words["2"].remedy
    assert any("480 GB instead of 500 GB" in c.words for c in plan.conditions), "shrunk first"
    system = replace(MACHINE.platform.system, boot_mode=BootMode.LEGACY)
    board = replace(MACHINE.platform.board, boot_modes=(BootMode.LEGACY,))
    legacy = replace(MACHINE, platform=replace(MACHINE.platform, system=system, board=board))
    (move,) = SSD.assignments
    assert isinstance(move.part, Drive)
    large = replace(SSD, assignments=(replace(move, part=replace(move.part, size_bytes=4000 * GB)),))
    plan = transfer_plan(legacy, (large,), Transfer(used_gib=100.0))
    assert plan is not None and any(c.holds is False and "legacy start uses only" in c.words for c in plan.conditions)


def erased(pulled: Pulled) -> Job:
    job = newsroom_job()
    safe = replace(job.data_safe, state=DataState.NOT_NEEDED)
    return replace(job, data_safe=safe, transfer=Transfer(pulled=pulled))


def test_a_pulled_drive_is_erased_last_and_only_with_a_record() -> None:
    assert not any(s.id == "erase" for s in work_of(erased(Pulled.OWNER), (SSD,), ()))
    job = erased(Pulled.ERASED)
    steps = work_of(job, (SSD,), ())
    last = steps[-1]
    assert last.id == "erase" and last.no_return and last.cautions and last.needs == ("load-test",)
    done = replace(job, steps_done=tuple(StepDone(s.id, "now", 1.0) for s in steps[:-1]))
    assert "no record yet" in gate_problem(last, steps, done, True)
    record = Erasure("disk", EraseMethod.OVERWRITE, Verified.SAMPLES, "kl", "2026-11-25")
    assert gate_problem(last, steps, replace(done, erasures=(record,)), True) == ""


def test_the_method_follows_the_kind_of_drive_and_a_record_is_whole() -> None:
    disk = MACHINE.configuration().drives()["bay-main"]
    flash = SSD.assignments[0].part
    assert isinstance(flash, Drive)
    whole = disk.size_bytes / 1e6 / (0.5 * (disk.outer_mb_s + disk.inner_mb_s)) / 60
    plan = erase_plan(disk)
    assert plan.method is EraseMethod.OVERWRITE and plan.unattended_min == pytest.approx(1.1 * whole)
    assert erase_plan(flash).method is EraseMethod.COMMAND and erase_plan(flash).unattended_min < 0.2 * whole
    slow = replace(flash, outer_mb_s=0.0, inner_mb_s=0.0)
    assert 0 < erase_plan(slow).unattended_min < 1e5, "an entry without a rate"
    assert erase_plan(disk, DriveState.MEDIA).method is EraseMethod.DESTROYED
    good = Erasure("d", EraseMethod.OVERWRITE, Verified.SAMPLES, "kl", "2026-11-25")
    assert record_problem(good, disk) == "" and "spare cells" in record_problem(good, flash)
    assert "who" in record_problem(replace(good, who=" "), disk) and "when" in record_problem(
        replace(good, when=""), disk
    )
    assert "certificate" in record_problem(replace(good, method=EraseMethod.DESTROYED), disk)
    assert "samples" in record_problem(replace(good, verified=Verified.PAPER), disk)


def test_pads_by_hand() -> None:
    rows = read_pads("1.0: 4 x 15 x 20; 0,5 mm: 2 × 10 x 10 mm")
    assert pads_text(rows) == "1: 4 x 15 x 20; 0.5: 2 x 10 x 10" and read_pads(pads_text(rows)) == rows
    thick, thin = pad_sums(rows, 1000.0, Decimal("9"), 6.0)
    assert (thick.area_cm2, thick.sheets, thick.cost) == (pytest.approx(13.8), 2, Decimal("12.42"))
    assert thick.least_k_w == pytest.approx(0.8e-3 / (6.0 * 1200e-6)) and thin.thickness_mm == 0.5
    for bad in ("1.0", "1.0.0: 1 x 3 x 4", "1.0: x 3 x 4", "9: 1 x 3 x 4", "1: 0 x 3 x 4"):
        with pytest.raises(ValueError, match="“"):
            read_pads(bad)
    with pytest.raises(ValueError, match="area"):
        pad_sums(rows, 0.0)
