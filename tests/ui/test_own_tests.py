"""Own tests and the runs of a machine, by clicks and keys."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton

from brachium.core.measure.own_tests import How
from brachium.core.measure.statistics import Word
from brachium.core.record.job import Job, Stage
from brachium.formats.run_file import read_run_file
from brachium.ui.pages.measure.conditions_sheet import ConditionsSheet
from brachium.ui.pages.measure.hand_timer import HandTimer
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.measure.own_tests_panel import OwnTestsPanel
from brachium.ui.pages.measure.protocol_sheet import ProtocolSheet
from brachium.ui.pages.measure.runs_panel import RunsPanel
from tests.ui.conftest import Bench
from tests.ui.test_typed_only import taken_in


def _job(bench: Bench) -> Job:
    job = bench.window.session.job()
    assert job is not None
    return job


def _add(panel: OwnTestsPanel, kind: str) -> None:
    panel.add.setCurrentIndex(panel.add.findData(kind))
    panel.add.activated.emit(panel.add.currentIndex())


def _type(panel: OwnTestsPanel, text: str) -> None:
    assert panel.typed is not None
    QTest.keyClicks(panel.typed.edit, text)
    QTest.keyClick(panel.typed.edit, Qt.Key.Key_Return)


def _role(panel: OwnTestsPanel, role: str) -> None:
    button = next(
        b for b in panel.findChildren(QPushButton) if b.accessibleName() == f"Before or after the work: {role}"
    )
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def test_typed_results_are_compared_like_any_other(done: Bench) -> None:
    panel = done.own_tests()
    _add(panel, "task")
    for text in ("84,2", "83.1", "85"):
        _type(panel, text)
    _role(panel, "After")
    for text in ("61.8", "62.2", "61.1", "nothing", "-4"):
        _type(panel, text)
        if text == "nothing":
            assert panel.typed is not None and "above zero" in panel.typed._problem.text()
            panel.typed.edit.clear()
    job = _job(done)
    assert [r.value for r in job.own_results] == [84.2, 83.1, 85.0, 61.8, 62.2, 61.1]
    leave = next(b for b in panel.findChildren(QPushButton) if b.text() == "Leave out")
    QTest.mouseClick(leave, Qt.MouseButton.LeftButton)
    assert panel.reason is not None and panel.reason.edit.hasFocus()
    QTest.keyClicks(panel.reason.edit, "an update ran")
    QTest.keyClick(panel.reason.edit, Qt.Key.Key_Return)
    assert _job(done).own_results[0].invalid == "an update ran", "in the person's own words"
    again = next(b for b in panel.findChildren(QPushButton) if b.text() == "Count it")
    QTest.mouseClick(again, Qt.MouseButton.LeftButton)
    assert _job(done).own_results[0].invalid == ""
    done.settled()
    view = done.window.session.view()
    assert view is not None and view.proof.comparison is not None
    gain = view.proof.comparison.gain(job.own_tests[0].key)
    assert gain is not None and gain.judgement.word is Word.BETTER and view.measured.before is not None
    assert view.measured.before.test(job.own_tests[0].key) is None, "the captured run stays as it is"
    settings = next(e for e in panel.findChildren(QLineEdit) if e.accessibleName().startswith("Settings"))
    QTest.keyClicks(settings, "preset 4")
    QTest.keyClick(settings, Qt.Key.Key_Return)
    done.settled()
    view = done.window.session.view()
    assert view is not None and view.proof.comparison is not None
    gain = view.proof.comparison.gain(job.own_tests[0].key)
    assert gain is not None and gain.result is None, "other settings: nothing taken before counts"
    done.window.run_command("undo")
    done.settled()
    view = done.window.session.view()
    assert view is not None and view.proof.comparison is not None
    gain = view.proof.comparison.gain(job.own_tests[0].key)
    assert gain is not None and gain.result is not None


def test_a_typed_temperature_is_claimed_where_both_rooms_are_stated(empty: Bench) -> None:
    taken_in(empty)
    panel = empty.own_tests()
    _add(panel, "chipload")
    for role, values in (("Before", ("96", "95.5", "96.3")), ("After", ("81", "80.6", "81.2"))):
        _role(panel, role)
        for text in values:
            _type(panel, text)
    empty.settled()

    def word() -> Word:
        view = empty.window.session.view()
        assert view is not None and view.proof.comparison is not None
        gain = view.proof.comparison.gain("own:chipload-1")
        assert gain is not None
        return gain.judgement.word

    assert word() is Word.CANNOT_TELL
    for role in ("Before", "After"):
        _role(panel, role)
        QTest.mouseClick(panel.conditions, Qt.MouseButton.LeftButton)
        sheet = empty.window.findChildren(ConditionsSheet)[-1]
        QTest.keyClicks(sheet.written["room_c"], "222" if role == "Before" else "22.3")
        QTest.keyClick(sheet.written["room_c"], Qt.Key.Key_Return)
        if role == "Before":
            assert "Room: state -20 to 55 °C" in sheet.problem.text()
            sheet.written["room_c"].clear()
            QTest.keyClicks(sheet.written["room_c"], "22")
        sheet.done(0)
        empty.settled()
    panel.show_job(replace(_job(empty), id="another"))
    assert panel._configuration == "", "a name of another machine's configuration is not carried over"
    panel.show_job(_job(empty))
    assert _job(empty).own_conditions == {"before": {"room_c": "22"}, "after": {"room_c": "22.3"}}
    assert word() is Word.BETTER


def test_the_hand_timer_needs_one_key(fresh: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    panel = _own_without_run(fresh)
    _add(panel, "task")
    clock = [0.0]
    monkeypatch.setattr("brachium.ui.pages.measure.hand_timer.QElapsedTimer", lambda: _Watch(clock))
    timer = panel._time(_job(fresh).own_tests[0])
    assert isinstance(timer, HandTimer)

    def press(at: float) -> None:
        clock[0] = at
        QTest.keyClick(timer, Qt.Key.Key_Space)

    press(10.0)
    press(10.1)  # a bounce
    press(71.8)
    assert timer._times_s == [pytest.approx(61.8)] and timer.big.text() == "Start"
    QTest.mouseClick(timer.mode.buttons["laps"], Qt.MouseButton.LeftButton)
    for at in (100.0, 160.5, 222.0):
        press(at)
    assert timer._times_s == [pytest.approx(v) for v in (61.8, 60.5, 61.5)] and timer.big.text() == "Lap"
    QTest.mouseClick(timer.keep, Qt.MouseButton.LeftButton)
    results = _job(fresh).own_results
    assert [r.value for r in results] == [61.8, 60.5, 61.5] and {r.how for r in results} == {How.TIMED}


class _Watch:
    """A clock in the hands of the test."""

    def __init__(self, clock: list[float]) -> None:
        self._clock, self._start = clock, 0.0

    def start(self) -> None:
        self._start = self._clock[0]

    def nsecsElapsed(self) -> int:
        return round((self._clock[0] - self._start) * 1e9)


def _own_without_run(bench: Bench) -> OwnTestsPanel:
    bench.window.run_command("data.backed_up")
    bench.settled()
    return bench.own_tests()


def test_a_capped_frame_log_is_kept_and_does_not_count(fresh: Bench, tmp_path: Path) -> None:
    rng = np.random.default_rng(3)
    (tmp_path / "free.csv").write_text("\n".join(f"{t:.3f}" for t in rng.lognormal(2.4, 0.2, 2000)))
    (tmp_path / "capped.csv").write_text("\n".join(f"{t:.3f}" for t in 16.667 + rng.normal(0, 0.05, 2000)))
    (tmp_path / "short.csv").write_text("16\n17\n")
    panel = _own_without_run(fresh)
    _add(panel, "frames")
    panel.read_frames(_job(fresh).own_tests[0], [tmp_path / n for n in ("free.csv", "capped.csv", "short.csv")])
    fresh.until(lambda: len(_job(fresh).own_results) == 2 and "too few" in " ".join(fresh.window.next.texts()))
    free, capped = _job(fresh).own_results
    assert free.invalid == "" and "2000 frames" in free.note and "slowest 0.1 %" in free.note
    assert capped.invalid == "capped at 60: it says nothing of the machine" and capped.value == pytest.approx(
        60, abs=0.1
    )


def test_frames_that_were_still_read_stay_with_their_machine_and_side(fresh: Bench, tmp_path: Path) -> None:
    (tmp_path / "free.csv").write_text("\n".join(f"{t:.3f}" for t in np.random.default_rng(3).lognormal(2.4, 0.2, 900)))
    panel, session = _own_without_run(fresh), fresh.window.session
    _add(panel, "frames")
    first = session.job_id
    panel.read_frames(_job(fresh).own_tests[0], [tmp_path / "free.csv"])
    fresh.window.run_command("job.duplicate")
    assert session.job_id != first
    fresh.until(lambda: len(session.workspace.job(first).own_results) == 1)
    assert session.workspace.job(session.job_id).own_results == ()


def _runs(bench: Bench) -> RunsPanel:
    bench.window.session.select_stage(Stage.MEASURE)
    page = bench.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    QTest.mouseClick(page.part.buttons["runs"], Qt.MouseButton.LeftButton)
    return page.runs


def test_runs_are_compared_written_and_voided(done: Bench, tmp_path: Path) -> None:
    panel, workspace = _runs(done), done.window.session.workspace
    assert panel.table.rowCount() == 2 and not panel.compare.isEnabled()
    because = done.window.because.because()
    assert because is not None and any(f.label == "power profile" and f.value == "balanced" for f in because.facts)
    panel.table.selectAll()
    QTest.mouseClick(panel.compare, Qt.MouseButton.LeftButton)
    sheet = panel._compare()
    done.until(lambda: bool(sheet.comparisons))
    assert sheet.comparisons[0].gain("sustained") is not None
    sheet.close()

    panel.table.selectRow(0)
    run = panel.chosen()[0].run
    for name in ("run.json", "traces.csv", "picture.svg"):
        panel.export_to(run, tmp_path / name)
    done.until(lambda: (tmp_path / "picture.svg").exists())
    assert read_run_file(tmp_path / "run.json").run.id == run.id
    assert (tmp_path / "traces-s2.csv").read_text().startswith("time_s,") and "<svg" in (
        tmp_path / "picture.svg"
    ).read_text()
    (tmp_path / "file").write_text("in the way")
    panel.export_to(run, tmp_path / "file" / "run.json")
    done.until(lambda: "Nothing was changed" in " ".join(done.window.next.texts()))

    panel.table.selectRow(1)
    assert not panel.void.isEnabled(), "not without a reason"
    QTest.keyClicks(panel.reason, "window was open")
    QTest.mouseClick(panel.void, Qt.MouseButton.LeftButton)
    done.until(lambda: workspace.run(_job(done).id, "after") is None)
    assert panel.table.item(1, 6).text() == "void: window was open"
    done.until(lambda: (v := done.window.session.view()) is not None and v.proof.comparison is None)


def test_conditions_of_a_run_are_taken_over_for_the_next(done: Bench) -> None:
    panel = _runs(done)
    panel.table.selectRow(0)
    QTest.mouseClick(panel.conditions, Qt.MouseButton.LeftButton)
    setup = _job(done).setup
    assert setup.room_c == 23.4 and setup.protocol == "standard"
    assert "power profile balanced" in " ".join(done.window.next.texts())
    assert json.dumps(setup.room_c) == "23.4"


def test_an_own_protocol_is_made_where_it_is_used(fresh: Bench) -> None:
    _own_without_run(fresh)
    page = fresh.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    page.show_part("run")
    QTest.mouseClick(page.protocol.buttons["own"], Qt.MouseButton.LeftButton)
    sheet = fresh.window.findChild(ProtocolSheet)
    assert isinstance(sheet, ProtocolSheet) and not page.protocol.buttons["own"].isChecked()
    for field, text in (("load", "2"), ("sessions", "1"), ("repeats", "99")):
        edit = sheet.fields[field].edit
        edit.selectAll()
        QTest.keyClicks(edit, text)
        QTest.keyClick(edit, Qt.Key.Key_Return)
    assert "1 to 20" in sheet.fields["repeats"]._problem.text() and "heatsink" in sheet.cannot.text()
    QTest.keyClicks(sheet.limit.edit, "88")
    QTest.keyClick(sheet.limit.edit, Qt.Key.Key_Return)
    QTest.mouseClick(sheet.use, Qt.MouseButton.LeftButton)
    fresh.settled()
    setup = _job(fresh).setup
    assert setup.protocol == "own" and setup.limit_c == 88.0 and setup.own is not None and setup.own.sessions == 1
    assert page.protocol.buttons["own"].isChecked() and "1 session" in page._subline.text()


def test_a_condition_changes_in_two_keys_and_goes_into_the_run(fresh: Bench) -> None:
    _own_without_run(fresh)
    window = fresh.window
    fresh.ctrl(Qt.Key.Key_K)
    sheet = window.findChild(ConditionsSheet)
    assert isinstance(sheet, ConditionsSheet)
    QTest.keyClicks(sheet, "pp")
    QTest.keyClicks(sheet, "s")
    assert dict(_job(fresh).setup.typed) == {"panel_on": "open", "stand": "on the desk"}
    QTest.keyClicks(sheet.remark, "Printer on the shelf above; sp")
    assert dict(_job(fresh).setup.typed) == {"panel_on": "open", "stand": "on the desk"}, "letters stay words there"
    sheet.close()
    assert _job(fresh).setup.typed["remark"] == "Printer on the shelf above; sp"
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    page.show_part("run")
    fresh.settled()
    fresh.until(lambda: "panel or lid open" in page._now.text())
    window.session.start_run("before", None)
    fresh.until(lambda: window.session.measure.active is None)
    run = window.session.workspace.run(_job(fresh).id, "before")
    assert run is not None and run.conditions.panel_on is False and run.conditions.stand == "on the desk"
    assert run.conditions.remark == "Printer on the shelf above; sp" and "Printer on the shelf" in page._now.text()
    assert run.conditions.fan_mode == "automatic", "the rest as read"


def test_a_run_is_paused_and_goes_on(fresh: Bench) -> None:
    _own_without_run(fresh)
    window, measure = fresh.window, fresh.window.session.measure
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    page.show_part("run")
    window.session.start_run("before", None)
    QTest.mouseClick(page.pause, Qt.MouseButton.LeftButton)
    assert measure.paused and page.pause.text() == "Go on"
    fresh.until(lambda: (live := measure.live()) is not None and live.progress.phase == "paused")
    QTest.mouseClick(page.pause, Qt.MouseButton.LeftButton)
    fresh.until(lambda: measure.active is None)
    run = window.session.workspace.run(_job(fresh).id, "before")
    assert run is not None and run.complete and not measure.paused


def test_runs_stand_together_by_configuration(done: Bench) -> None:
    session = done.window.session
    before = session.workspace.run(session.job_id, "before")
    assert before is not None
    again = replace(before, id="again", taken_at="2026-11-30 10:00")
    session.workspace.add_run(session.job_id, "before", again)
    panel = _runs(done)
    cells = [[panel.table.item(r, c).text() for c in (0, 1, 2)] for r in range(panel.table.rowCount())]
    assert cells == [["before", "as taken in", "2026-11-24 09:10"], ["", "", "2026-11-30 10:00"],
                     ["after", "after the work", "2026-11-25 09:20"]]  # fmt: skip


def test_a_run_that_was_cut_off_is_finished_by_a_press(fresh: Bench) -> None:
    window, measure = fresh.window, fresh.window.session.measure
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    window.run_command("data.backed_up")
    window.session.select_stage(Stage.MEASURE)
    page.show_part("run")
    fresh.settled()
    assert not page.go_on.isVisible()
    window.session.start_run("before", None)
    fresh.until(lambda: any(r.test == "cpu_all" for r in (measure.live() or page).repeats))  # type: ignore[union-attr]
    measure.stop()
    fresh.until(lambda: measure.active is None)
    job_id = _job(fresh).id
    assert window.session.workspace.run(job_id, "before") is None
    fresh.until(page.go_on.isVisible)
    QTest.mouseClick(page.speed.buttons["0"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(page.go_on, Qt.MouseButton.LeftButton)
    fresh.until(lambda: measure.active is None and window.session.workspace.run(job_id, "before") is not None)
    run = window.session.workspace.run(job_id, "before")
    assert run is not None and run.complete and any("continued after it was cut off" in n for n in run.notes)
    assert sum(r.size for r in run.results("cpu_all")) == run.protocol.repeats * 2
    fresh.until(lambda: not page.go_on.isVisible())
