"""What the rail shows of a job, and what Next says of one that stands still or proves nothing."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.machine.scanned.scan import Scan, ScannedDrive
from brachium.core.record.card import Waits, card_of
from brachium.core.record.comeback import drives_changed
from brachium.core.record.job import (
    IMPORTED,
    KEPT,
    LOCAL,
    SIMULATED,
    WAITS_OWNER,
    WAITS_PARTS,
    DataSafe,
    DataState,
    Hold,
    Job,
    Stage,
)
from brachium.core.stage.latches import Progress, latches
from brachium.core.stage.next_action import next_action
from brachium.demo.newsroom import newsroom_job

SAFE = DataSafe(DataState.BACKED_UP, "bench")
JOB = replace(newsroom_job(), data_safe=SAFE)
MEASURED = Progress(has_before=True, has_after=True, steps_total=3)


@pytest.mark.parametrize(
    ("job", "stage", "waits", "note"),
    [
        (JOB, None, Waits.BENCH, ""),
        (JOB, Stage.CHOOSE, Waits.BENCH, "Choose"),
        (newsroom_job(), Stage.TAKE_IN, Waits.OWNER, "data not settled"),
        (replace(JOB, data_safe=DataSafe(DataState.RESCUE)), Stage.TAKE_IN, Waits.BENCH, "open to rescue the data"),
        (replace(JOB, hold=Hold(WAITS_PARTS, "two modules")), Stage.WORK, Waits.PARTS, "two modules"),
        (replace(JOB, hold=Hold(WAITS_OWNER, "", "2026-11-20 10:00")), Stage.WORK, Waits.OWNER, "since 2026-11-20"),
        (replace(JOB, hold=Hold(KEPT, "a lid")), None, Waits.KEPT, "a lid"),
        (replace(JOB, handed_over="2026-11-24"), Stage.HAND_OVER, Waits.DONE, "handed over"),
        (replace(JOB, archived="2026-11-25 09:00", hold=Hold(KEPT)), None, Waits.ARCHIVED, "since 2026-11-25"),
    ],
)
def test_a_machine_stands_in_the_group_of_what_it_waits_for(
    job: Job, stage: Stage | None, waits: Waits, note: str
) -> None:
    card = card_of(job, stage)
    assert (card.waits, card.note) == (waits, note) and card.stage == (stage.value if stage else "")


def test_a_card_is_found_by_name_model_serial_and_goal() -> None:
    card = card_of(JOB)
    for words in (["newsroom"], ["tern", "14"], ["om-t14-20417"], ["cutting", "clips"], []):
        assert card.holds(words)
    assert not card.holds(["newsroom", "desktop"]) and card.hardware == "kestrionm435"


def test_an_after_run_that_proves_nothing_shuts_the_way_to_hand_over() -> None:
    refused = replace(MEASURED, after_refused="power profile differs")
    assert latches(JOB, MEASURED)[Stage.HAND_OVER].open
    latch = latches(JOB, refused)[Stage.HAND_OVER]
    assert not latch.open and "power profile differs" in latch.missing and latch.remedy is Stage.PROVE
    assert next_action(JOB, MEASURED, 60.0, None).title == "Save the hand-over report"
    again = next_action(JOB, refused, 60.0, None)
    assert again.command == "measure.start_after" and "1 h" in again.detail


@pytest.mark.parametrize(
    ("on", "command"), [(WAITS_PARTS, "job.resume"), (WAITS_OWNER, "job.resume"), (KEPT, "go.take_in")]
)
def test_a_machine_that_stands_still_is_taken_up_again(on: str, command: str) -> None:
    action = next_action(replace(JOB, hold=Hold(on, "note")), Progress(), 60.0, None)
    assert action.command == command


@pytest.mark.parametrize(
    ("bench", "simulated_as", "can"),
    [(LOCAL, "", True), (SIMULATED, "", True), ("none", "", False), (IMPORTED, "tern", True)],
)
def test_only_this_machine_or_a_simulated_one_is_scanned_from_here(bench: str, simulated_as: str, can: bool) -> None:
    assert replace(JOB, bench=bench, simulated_as=simulated_as).can_be_scanned is can


def test_a_drive_that_came_back_is_told_by_size_and_kind() -> None:
    (drive,) = newsroom_job().machine.configuration().drives().values()
    name = "sda"
    same = ScannedDrive(name, "SATA", drive.size_bytes, None, None, None, drive.rotational, "6.0 Gbps", "6.0 Gbps")
    assert drives_changed(newsroom_job().machine, Scan(drives=(same,))) == ()
    for other in (replace(same, rotational=not drive.rotational), replace(same, size_bytes=2 * drive.size_bytes)):
        (found,) = drives_changed(newsroom_job().machine, Scan(drives=(other,)))
        assert (found.recorded != found.seen and "GB" in found.seen) or "TB" in found.seen
