"""Machines with only typed figures, or runs whose traces are lost: every page opens, reports are written."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from brachium.app.files.run_export import export_run
from brachium.app.reports.full_report import write_report
from brachium.app.shop.open_shop import open_shop
from brachium.core.base.arrays import frozen
from brachium.core.base.problems import ExpectedProblem
from brachium.core.figures.base.theme import LIGHT
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Identity, Machine
from brachium.core.measure.own_tests import OwnResult, OwnTest
from brachium.core.measure.run import Run, Trace
from brachium.core.record.job import STAGES, DataSafe, DataState, Job, LatchLift
from brachium.ui.run import make_window
from tests.ui.conftest import PATIENCE_MS

TASK = OwnTest("task-1", "Start the layout program", "s")
TYPED = tuple(OwnResult("task-1", role, value) for role, value in
              (("before", 41.0), ("before", 40.0), ("after", 22.0), ("after", 21.5)))  # fmt: skip


def by_hand(kind: MachineKind) -> Job:
    """Taken in by hand, with four numbers and every latch lifted."""
    lifts = tuple(LatchLift(stage, "only figures on paper", "now") for stage in STAGES)
    return Job(kind.name.lower().replace("_", "-"), "By hand", Machine(kind=kind, identity=Identity(model="Tern 9")),
               own_tests=(TASK,), own_results=TYPED, data_safe=DataSafe(DataState.NOT_NEEDED), lifts=lifts)  # fmt: skip


def without_trace(run: Run) -> Run:
    """As it comes out of an archive whose traces are damaged."""
    bare = Trace(frozen(np.empty(0)), (), ())
    return replace(run, sessions=tuple(replace(s, trace=bare) for s in run.sessions))


@pytest.mark.parametrize("kind", [MachineKind.LAPTOP, MachineKind.TOWER, MachineKind.ALL_IN_ONE])
def test_reports_of_typed_results_only_are_written(tmp_path: Path, kind: MachineKind) -> None:
    workspace = open_shop(tmp_path / "shop.db")
    workspace.add_job(by_hand(kind))
    view = workspace.compute_now(by_hand(kind).id)
    files = write_report(view, tmp_path / "out")
    assert files.pdf.stat().st_size > 10_000 and "Start the layout program" in files.html.read_text()
    assert {p.name for p in (tmp_path / "out").iterdir()} >= {"owner.pdf", "buyer.pdf", "report.pdf"}
    workspace.close()


def test_every_page_opens_without_a_sample(qtbot: QtBot, tmp_path: Path, runs: tuple[Run, Run]) -> None:
    workspace = open_shop(tmp_path / "shop.db")
    workspace.add_job(by_hand(MachineKind.LAPTOP))
    workspace.add_job(replace(by_hand(MachineKind.TOWER), own_results=()))
    for role, run in zip(("before", "after"), runs, strict=True):
        workspace.add_run("tower", role, replace(without_trace(run), id=f"tower-{role}-1"))
    with pytest.raises(ExpectedProblem, match="no samples to draw"):
        export_run(without_trace(runs[0]), tmp_path / "run.svg", None, LIGHT)
    workspace.close()
    window, _poster = make_window(tmp_path / "shop.db", False)
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    session = window.session
    for job_id in ("laptop", "tower"):
        session.select_job(job_id)
        qtbot.waitUntil(lambda j=job_id: (v := session.view()) is not None and v.job.id == j, timeout=PATIENCE_MS)  # type: ignore[misc]
        for stage in STAGES:
            session.select_stage(stage)
            window.grab()
            assert window.stack.currentWidget() is not window.latch_page, stage
    window.close()
    session.workspace.close()
