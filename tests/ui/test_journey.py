"""One machine through all seven stages, by mouse and keyboard, in the real window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from brachium.app.shop.shop_record import outcomes_of
from brachium.core.measure.statistics import Word
from brachium.core.record.job import DataState, Stage
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.find_cause.find_cause_page import FindCausePage
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.prove.prove_page import ProvePage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.pages.work.work_page import WorkPage
from tests.ui.conftest import Bench


def test_the_whole_job(fresh: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window, session = fresh.window, fresh.window.session
    assert window.next.texts()[0] == "Settle the owner's data"
    fresh.click_stage(Stage.MEASURE)
    assert window.stack.currentWidget() is window.latch_page
    QTest.mouseClick(window.latch_page.go, Qt.MouseButton.LeftButton)
    assert session.stage is Stage.TAKE_IN

    take_in = window.pages[Stage.TAKE_IN]
    assert isinstance(take_in, TakeInPage)
    QTest.mouseClick(take_in.machine.open.data.buttons["BACKED_UP"], Qt.MouseButton.LeftButton)
    job = session.job()
    assert job is not None and job.data_safe.state is DataState.BACKED_UP
    fresh.settled()

    measure = window.pages[Stage.MEASURE]
    assert isinstance(measure, MeasurePage)
    fresh.click_stage(Stage.MEASURE)
    QTest.mouseClick(measure.speed.buttons["0"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(measure.start, Qt.MouseButton.LeftButton)
    assert session.measure.active is not None
    fresh.until(lambda: (v := session.view()) is not None and v.measured.before is not None)

    cause = window.pages[Stage.FIND_CAUSE]
    assert isinstance(cause, FindCausePage)
    fresh.click_stage(Stage.FIND_CAUSE)
    fresh.click_region(cause.causes.causes, "cause:paste")
    because = window.because.because()
    assert because is not None and any(f.label.startswith("held back under load: by heat") for f in because.facts)
    QTest.mouseClick(cause.part.buttons["heat"], Qt.MouseButton.LeftButton)
    assert {r.id for r in cause.heat.stair.regions()} == {"stair:before:chip", "stair:before:sink"}

    choose = window.pages[Stage.CHOOSE]
    assert isinstance(choose, ChoosePage)
    fresh.click_stage(Stage.CHOOSE)
    for place, candidate in (("slot-2", "mem-4-l"), ("bay-main", "ssd-480@bay-main"), ("cooling", "svc-paste"),
                             ("cooling", "svc-clean")):  # fmt: skip
        fresh.click_region(choose.board, place)
        fresh.click_region(choose.offers, candidate)
        QTest.mouseClick(choose.toggle, Qt.MouseButton.LeftButton)
        fresh.settled()
    view = session.view()
    assert view is not None and set(view.job.plan) == {"mem-4-l", "ssd-480@bay-main", "svc-paste", "svc-clean"}
    assert view.choice.prediction is not None and view.choice.prediction.band.low > 1.3

    work = window.pages[Stage.WORK]
    assert isinstance(work, WorkPage)
    fresh.ctrl(Qt.Key.Key_Return)
    assert session.stage is Stage.WORK and not session.workspace.job(session.job_id).steps_done, "seen before ticked"
    work.minutes.setText("7")
    work.note.setText("adapter was loose")
    QTest.mouseClick(work.done, Qt.MouseButton.LeftButton)
    fresh.settled()
    fresh.ctrl(Qt.Key.Key_Return)
    assert len(session.workspace.job(session.job_id).steps_done) == 1, "the first screw waits for the last chance"
    for _ in range(4):
        waive = [b for b in work.chance.findChildren(QPushButton) if b.text() == "Waive"]
        if waive:
            QTest.mouseClick(waive[0], Qt.MouseButton.LeftButton)
            fresh.settled()
    for _ in view.work.steps:
        if (v := session.view()) is not None and v.work.upcoming is not None:
            fresh.ctrl(Qt.Key.Key_Return)
            fresh.settled()
    ticked = session.workspace.job(session.job_id).steps_done
    assert len(ticked) == len(view.work.steps)
    assert (ticked[0].minutes, ticked[0].note) == (7.0, "adapter was loose")

    fresh.ctrl(Qt.Key.Key_Return)
    assert session.stage is Stage.PROVE and session.measure.active is not None
    session.measure.set_speed(None)
    fresh.until(lambda: (v := session.view()) is not None and v.proof.comparison is not None)
    prove = window.pages[Stage.PROVE]
    assert isinstance(prove, ProvePage)
    fresh.until(lambda: prove.currentWidget() is prove.comparison)
    view = session.view()
    assert view is not None and view.proof.comparison is not None
    gain = view.proof.comparison.gain("sustained")
    assert gain is not None and gain.judgement.word is Word.BETTER
    fresh.click_region(prove.comparison.ledger, "gain:sustained")
    because = window.because.because()
    assert because is not None and because.title.startswith("All threads, sustained: × 1.2")
    fresh.click_region(prove.comparison.claims, "claim:paste and mounting")
    assert "claimed from 1.5 half-widths" in (window.because.because() or because).result

    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(tmp_path / "out"))
    window.next.clear_message()
    fresh.ctrl(Qt.Key.Key_Return)
    fresh.until(lambda: (tmp_path / "out" / "report.pdf").exists())
    assert (tmp_path / "out" / "report.html").exists()
    page = window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    fresh.click_stage(Stage.HAND_OVER)
    QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert [o.job_id for o in outcomes_of(session.workspace)] == [session.job_id]


def test_stopping_a_run_keeps_it_as_incomplete(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    window.run_command("data.backed_up")
    fresh.settled()
    window.run_command("measure.start")
    fresh.until(lambda: (live := session.measure.live()) is not None and live.progress.done_s > 20)
    assert "Measuring the before" in window.next.texts()[0]
    fresh.ctrl(Qt.Key.Key_Period)
    fresh.until(lambda: session.measure.active is None)
    (stored,) = session.workspace.all_runs(session.job_id)
    assert not stored.run.complete and stored.run.sessions[0].trace.time_s.size > 15
    assert session.workspace.run(session.job_id, "before") is None
    assert "incomplete" in window.next.texts()[0]


def test_live_traces_grow_while_measuring(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    window.run_command("data.backed_up")
    fresh.settled()
    window.run_command("measure.start")
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)

    def drawn() -> int:
        drawing = page.traces.drawing()
        return len(drawing.items) if drawing is not None else 0

    fresh.until(lambda: (seen := session.measure.live()) is not None and seen.trace is not None and drawn() > 10)
    live = session.measure.live()
    assert live is not None and live.trace is not None
    first = live.trace.time_s.size
    fresh.until(lambda: (now := session.measure.live()) is not None and now.trace is not None
                and now.trace.time_s.size > first + 10)  # fmt: skip
    session.measure.stop()
    fresh.until(lambda: session.measure.active is None)
