"""What shuts a stage shuts it for the mouse, every key, the menu, Next, undo and redo alike."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt

from brachium.app.shop.open_shop import open_shop
from brachium.core.base.problems import ExpectedProblem
from brachium.core.condition.findings import Finding
from brachium.core.record.job import Stage
from brachium.demo.newsroom import JOB_ID
from tests.ui.conftest import Bench

CELL = (Finding("cell", "battery"),)


@pytest.fixture
def reopened(done: Bench) -> Bench:
    """The finished laptop with its last three ticks taken back, standing on Work."""
    bench, session = done, done.window.session
    bench.machine(JOB_ID, measured=True)
    session.select_stage(Stage.WORK)
    job = bench.job()
    session.edit("ticks taken back", replace(job, steps_done=job.steps_done[:-3]))
    bench.settled()
    return bench


def ticks(bench: Bench) -> int:
    return len(bench.job().steps_done)


def test_a_swollen_cell_shuts_work_for_every_key(reopened: Bench) -> None:
    bench, window, session = reopened, reopened.window, reopened.window.session
    before = ticks(bench)
    extra = (replace(bench.job().steps_done[-1], step_id="memory-test"),)
    session.edit("swollen cell found", replace(bench.job(), findings=CELL))
    tries = (
        lambda: bench.ctrl(Qt.Key.Key_Return),
        lambda: window.run_command("work.tick"),
        lambda: bench.key(Qt.Key.Key_Space),
        lambda: session.edit("by hand", replace(bench.job(), steps_done=(*bench.job().steps_done, *extra))),
    )
    for settled in (False, True):  # at once, and after the view has caught up
        if settled:
            bench.settled()
            assert window.stack.currentWidget() is window.latch_page
        for attempt in tries:
            attempt()
            assert ticks(bench) == before
    window.run_command("work.tick")
    assert "gas in a lithium cell" in " ".join(window.next.texts()), "what shuts it is said at the key"


def test_a_run_does_not_start_while_a_stage_is_shut(reopened: Bench) -> None:
    bench, window, session = reopened, reopened.window, reopened.window.session
    session.edit("swollen cell found", replace(bench.job(), findings=CELL))
    for role in ("before", "after"):
        session.start_run(role, None)
        assert session.measure.active is None
        assert "not yet" in " ".join(window.next.texts())
        window.next.clear_message()


def test_undo_asks_the_same_gate(reopened: Bench) -> None:
    """A tick taken back after the cell was found does not come back by Ctrl+Z."""
    bench, window, session = reopened, reopened.window, reopened.window.session
    session.edit("swollen cell found", replace(bench.job(), findings=CELL))
    session.edit("one tick less", replace(bench.job(), steps_done=bench.job().steps_done[:-1]))
    left = bench.job()
    bench.ctrl(Qt.Key.Key_Z)
    assert bench.job() == left
    assert "Work is not open" in " ".join(window.next.texts())
    window.next.clear_message()
    session.edit("gone again", replace(bench.job(), findings=()))
    for _ in range(2):
        bench.ctrl(Qt.Key.Key_Z)
    assert bench.job() == left, "the finding is back, the tick is not"
    bench.ctrl(Qt.Key.Key_S)
    assert "Hand over is not open" in " ".join(window.next.texts())


def test_without_a_window_the_gate_stands_too(finished_shop: Path) -> None:
    workspace = open_shop(finished_shop)
    try:
        workspace.compute_now(JOB_ID)
        job = workspace.job(JOB_ID)
        workspace.edit("found", replace(job, steps_done=job.steps_done[:-1], findings=CELL))
        with pytest.raises(ExpectedProblem, match="gas in a lithium cell"):
            workspace.edit("ticked", replace(workspace.job(JOB_ID), steps_done=job.steps_done))
        with pytest.raises(ExpectedProblem, match="Hand over is not open"):
            workspace.edit("handed over", replace(workspace.job(JOB_ID), handed_over="2026-11-25 10:00"))
        assert workspace.job(JOB_ID).steps_done == job.steps_done[:-1]
    finally:
        workspace.close()
