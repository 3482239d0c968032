"""The demo shop: eight machines, each at its stage and with what it teaches; their trees say what the records say."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest

from brachium.app.demo.demo_shop import ARCHIVES, add_demo_jobs, fill_demo_shop, measure_demo_job
from brachium.app.intake.scanning import scan_of
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import Workspace
from brachium.app.view.cause_record import drive_verdicts
from brachium.core.drives.health import DriveState
from brachium.core.fit.verdict import Level
from brachium.core.machine.scanned.scan_differences import scan_differences
from brachium.core.record.card import Waits
from brachium.core.record.job import Stage
from brachium.core.record.parts_shelf import PartState
from brachium.demo.machines import OTHERS
from brachium.demo.newsroom import newsroom_job
from brachium.demo.reception import reception_job
from brachium.formats.job_archive import read_archive


@pytest.fixture(scope="module")
def station(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Workspace]:
    workspace = open_shop(tmp_path_factory.mktemp("station") / "shop.db", fill=fill_demo_shop)
    workspace.lanes.drain("compute")
    yield workspace
    workspace.close()


def test_every_machine_stands_at_its_stage(station: Workspace) -> None:
    for job_id in station.job_ids():
        station.compute_now(job_id)
    found = {c.name: (c.waits, c.stage) for c in station.cards()}
    assert found == {
        "Newsroom laptop": (Waits.OWNER, "Take in"),
        "Playout PC": (Waits.BENCH, "Prove"),
        "Edit-suite tower": (Waits.BENCH, "Choose"),
        "Outside-broadcast laptop": (Waits.BENCH, "Choose"),
        "Reception all-in-one": (Waits.OWNER, "Work"),
        "Archive workstation": (Waits.BENCH, "Take in"),
        "Donor laptop": (Waits.KEPT, "Choose"),
        "Donor desktop": (Waits.KEPT, "Take in"),
    }


def test_each_machine_teaches_its_lesson(station: Workspace) -> None:
    playout = station.compute_now("playout-pc")
    assert playout.proof.comparison is not None and playout.proof.comparison.refusal == "power profile differs"
    assert playout.standing.next.title == "Measure the after again, as before"
    assert "proves nothing" in playout.standing.latches[Stage.HAND_OVER].missing
    assert {t.words for t in playout.proof.targets} == {"other conditions"}

    tower = station.compute_now("edit-suite-tower")
    assert [c.kind.id for c in tower.causes.assessment.called] == ["channels"]
    assert next(o for o in tower.choice.offers if o.candidate.id == "mem-2x8-d4-dimm").level is not Level.REFUSED

    outside = station.compute_now("outside-broadcast-laptop")
    assert [c.kind.id for c in outside.causes.assessment.called] == ["battery"], "no part bought for speed helps"
    assert outside.causes.assessment.next is not None and outside.causes.assessment.next.check.id == "read_power"

    reception = station.compute_now("reception-all-in-one")
    assert reception.choice.prediction is not None and reception.choice.prediction.band.high < 1.02
    assert reception.causes.assessment.called == ()

    archive = station.compute_now("archive-workstation")
    assert (
        not archive.standing.latches[Stage.MEASURE].open and "rescue" in archive.standing.latches[Stage.MEASURE].missing
    )
    assert archive.causes.assessment.ranked[0].kind.id == "dying", "data at risk comes first"
    drives = drive_verdicts(archive.job)
    states = [drives[place].state for place in ("bay-1", "bay-2", "bay-3")]
    assert states == [DriveState.NOT_READ, DriveState.INTERFACE, DriveState.MEDIA]
    assert station.compute_now("donor-desktop").standing.next.title.endswith("stop")
    assert [p.state for p in station.shelf_parts] == [PartState.TESTED, PartState.DOUBTFUL, PartState.UNTESTED]


@pytest.mark.parametrize("make", [newsroom_job, *OTHERS[:5]], ids=lambda m: m.__name__)
def test_the_trees_say_what_the_records_say(make: object) -> None:
    """But for the module that the archive workstation does not find and the link that came up slow."""
    job = make()  # type: ignore[operator]
    scan = scan_of(job)
    assert not scan.absent and not scan.notes
    assert {m.checksum_ok for m in scan.modules} == {True}
    found = [d.key for d in scan_differences(job.machine, scan)]
    if job.id == "archive-workstation":
        assert found == ["place:slot-3"]
        assert [(d.link, d.link_max) for d in scan.drives if d.name == "sdb"] == [("1.5 Gbps", "6.0 Gbps")]
    else:
        assert found == []


def test_the_kept_runs_are_what_the_simulation_gives(station: Workspace) -> None:
    kept = read_archive(ARCHIVES / "reception-all-in-one.zip")
    job, runs = measure_demo_job(reception_job())
    assert kept.job == job and not kept.damaged, "make demo-shop"
    for test in kept.runs[0].run.tests:
        for a, b in zip(kept.runs[0].run.results(test.key), runs[0].run.results(test.key), strict=True):
            np.testing.assert_allclose(a, b, rtol=1e-6)


def test_it_is_added_once(station: Workspace) -> None:
    add_demo_jobs(station)
    station.lanes.drain("compute")
    assert len(station.job_ids()) == 8 and len(station.shelf_parts) == 3


def test_a_damaged_archive_of_the_package_is_told_and_the_others_are_there(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for path in ARCHIVES.glob("*.zip"):
        (tmp_path / path.name).write_bytes(path.read_bytes()[: -200 if "playout" in path.name else None])
    monkeypatch.setattr("brachium.app.demo.demo_shop.ARCHIVES", tmp_path)
    workspace = open_shop(tmp_path / "shop.db")
    told: list[Exception] = []
    workspace.on_problem.append(told.append)
    add_demo_jobs(workspace)
    workspace.lanes.drain("compute")
    assert len(told) == 1 and "playout-pc.zip" in str(told[0]) and len(workspace.job_ids()) == 7
    workspace.close()
