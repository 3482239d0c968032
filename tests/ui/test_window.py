"""The shell: commands, keys, latches, edits with undo, theme, folds, remembered state, problems."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from PySide6.QtCore import QAbstractItemModel, QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QGuiApplication, QPixmap
from PySide6.QtTest import QAbstractItemModelTester, QTest
from pytestqt.qtbot import QtBot

from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.figures.lists.candidate_list import FOLD
from brachium.core.fit.verdict import Level
from brachium.core.record.job import STAGES, Stage
from brachium.demo.newsroom import JOB_ID
from brachium.ui.commands import Command, Registry
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.prove.prove_page import ProvePage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.run import make_window
from brachium.ui.shell.menus import show_finder, show_keys
from brachium.ui.shell.rail import RailEntry, RailModel
from brachium.ui.theme import theme
from brachium.ui.theme.icons import icon
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.paint import paint_items
from brachium.ui.widgets.save_figure import drawing_to_png
from tests.ui.conftest import Bench


def test_every_command_is_unique_and_reachable(fresh: Bench) -> None:
    commands = fresh.window.registry.all()
    assert len({c.id for c in commands}) == len(commands)
    keys = [c.shortcut for c in commands if c.shortcut]
    assert len(set(keys)) == len(keys) and len(keys) >= 15
    bound = {a.shortcut().toString() for a in fresh.window.actions()}
    assert {k.replace("Return", "Return") for k in keys} <= bound
    view = fresh.window.session.view()
    assert view is not None
    fresh.window.registry.get(view.standing.next.command)


def test_a_second_command_of_the_same_id_or_key_is_refused() -> None:
    registry = Registry()
    registry.add(Command("a", "A", "g", lambda: None, "Ctrl+A"))
    for clash in (Command("a", "B", "g", lambda: None), Command("b", "B", "g", lambda: None, "Ctrl+A")):
        with pytest.raises(ValueError, match=r"a is registered twice|Ctrl\+A is taken"):
            registry.add(clash)


def test_number_keys_walk_the_stages_and_arrows_the_track(done: Bench) -> None:
    window = done.window
    for number, stage in enumerate(STAGES):
        done.ctrl(Qt.Key(Qt.Key.Key_1 + number))
        assert window.session.stage is stage
        assert window.because.because() is not None or stage is Stage.WORK
    window.track.setFocus(Qt.FocusReason.TabFocusReason)
    QTest.keyClick(window.track, Qt.Key.Key_Left)
    assert window.session.stage is Stage.PROVE


def test_a_lifted_latch_needs_a_reason_and_stays_on_record(fresh: Bench) -> None:
    window = fresh.window
    fresh.click_stage(Stage.PROVE)
    page = window.latch_page
    QTest.keyClicks(page.reason, "short")
    assert not page.lift.isEnabled()
    QTest.keyClicks(page.reason, " but now long enough")
    QTest.mouseClick(page.lift, Qt.MouseButton.LeftButton)
    fresh.settled()
    view = window.session.view()
    assert view is not None and view.standing.latches[Stage.PROVE].open and not view.standing.latches[Stage.WORK].open
    assert view.job.lifts[0].reason == "short but now long enough"
    assert isinstance(window.stack.currentWidget(), ProvePage)
    fresh.ctrl(Qt.Key.Key_Z)
    fresh.settled()
    assert window.stack.currentWidget() is page


def test_fields_write_when_left_and_undo_takes_it_back(fresh: Bench) -> None:
    window = fresh.window
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    goal = page.field("goal").edit
    goal.setFocus()
    goal.selectAll()
    QTest.keyClicks(goal, "subtitles")
    QTest.keyClick(goal, Qt.Key.Key_Return)
    job = window.session.job()
    assert job is not None and job.goal == "subtitles"
    window.run_command("undo")
    job = window.session.job()
    assert job is not None and job.goal == "cutting news clips"
    fresh.settled()
    assert goal.text() == "cutting news clips"
    window.run_command("redo")
    assert (window.session.job() or job).goal == "subtitles"


def test_a_wrong_amount_is_said_at_the_field_and_not_kept(fresh: Bench) -> None:
    page = fresh.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    field = page.field("budget")
    field.edit.setFocus()
    field.edit.selectAll()
    QTest.keyClicks(field.edit, "plenty")
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert "An amount such as 150" in field._problem.text() and field._problem.isVisible()
    job = fresh.window.session.job()
    assert job is not None and job.budget == 150


def test_a_place_is_edited_where_it_is_drawn(fresh: Bench) -> None:
    window = fresh.window
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    fresh.click_region(page.machine.board, "slot-2")
    line = page.machine.editor.fields["label"]
    assert isinstance(line, LineField) and fresh.type_in(line, "8GB PC3L-12800S") == ""
    job = window.session.job()
    assert job is not None and job.machine.configuration().memory_bytes() == 12 * 1024**3
    fresh.settled()
    region = page.machine.board.region("slot-2")
    assert region is not None and "8 GiB DDR3L-1600" in region.label
    assert window.session.workspace.undo_label(job.id) == "memory slot 2 changed"


def test_a_refused_part_cannot_be_planned(done: Bench) -> None:
    window = done.window
    done.click_stage(Stage.CHOOSE)
    page = window.pages[Stage.CHOOSE]
    assert isinstance(page, ChoosePage)
    done.click_region(page.board, "slot-2")
    page.offers.choose(FOLD)
    page.offers.choose("mem-8-15v")
    assert not page.toggle.isEnabled() and not page.toggle.isVisible()
    because = window.because.because()
    assert because is not None and because.rule == "MEM-VOLT"
    assert any(n.startswith("MEM-CHAN") for n in because.notes), "the other rules' answers stand below"
    before = window.session.job()
    QTest.keyClick(page.offers, Qt.Key.Key_Return)
    assert window.session.job() == before


def test_arrow_keys_move_inside_a_figure(done: Bench) -> None:
    done.click_stage(Stage.PROVE)
    page = done.window.pages[Stage.PROVE]
    assert isinstance(page, ProvePage)
    ledger = page.comparison.ledger
    ledger.setFocus()
    ids = [r.id for r in ledger.regions()]
    assert ledger.selected == ids[0]
    QTest.keyClick(ledger, Qt.Key.Key_Down)
    QTest.keyClick(ledger, Qt.Key.Key_Down)
    because = done.window.because.because()
    assert ledger.selected == ids[2] and because is not None
    assert because.title.startswith(ledger.regions()[2].label.split(":")[0])


def test_finder_goes_where_it_is_told(done: Bench) -> None:
    finder = show_finder(done.window)
    QTest.keyClicks(finder.line, "find cau")
    assert finder.list.count() == 1
    QTest.keyClick(finder.line, Qt.Key.Key_Return)
    assert done.window.session.stage is Stage.FIND_CAUSE
    empty = show_finder(done.window)
    QTest.keyClicks(empty.line, "zzz")
    QTest.keyClick(empty.line, Qt.Key.Key_Return)
    assert not empty.isVisible()


def test_key_sheet_lists_every_key(done: Bench) -> None:
    from PySide6.QtWidgets import QLabel

    sheet = show_keys(done.window)
    shown = {w.text() for w in sheet.findChildren(QLabel)}
    assert {c.shortcut for c in done.window.registry.all() if c.shortcut} <= shown
    sheet.close()


def test_dark_theme_repaints_every_view_and_is_remembered(done: Bench, qtbot: QtBot) -> None:
    window = done.window
    done.click_stage(Stage.CHOOSE)
    light = window.grab().toImage()
    done.ctrl(Qt.Key.Key_D)
    dark = window.grab().toImage()
    assert theme.is_dark()
    for x, y in ((20, 600), (600, 700), (1200, 600), (700, 20), (700, 780)):
        assert light.pixelColor(x, y).lightness() > 200 > 80 > dark.pixelColor(x, y).lightness(), (x, y)
    assert window.settings.value("look") == "dark"
    done.ctrl(Qt.Key.Key_D)


def test_a_narrow_window_folds_rail_and_because(done: Bench) -> None:
    window = done.window
    assert window.rail.width() == 168 and not window.because.folded
    window.resize(1100, 700)
    done.until(lambda: window.because.folded)
    assert window.rail.width() == 56 and window.because.width() == 32
    window.resize(1280, 800)
    done.until(lambda: not window.because.folded)
    assert window.rail.width() == 168


def test_window_state_is_remembered(qtbot: QtBot, finished_shop: Path) -> None:
    window, _poster = make_window(finished_shop, False)
    window.resize(1340, 860)
    window.because.set_folded(True)
    window.show()
    window.close()
    window.session.workspace.close()
    again, _poster2 = make_window(finished_shop, False)
    qtbot.addWidget(again)
    assert (again.width(), again.height()) == (1340, 860)
    assert again.because.folded
    again.session.workspace.close()


def test_a_second_window_on_the_same_shop_is_refused(fresh: Bench) -> None:
    with pytest.raises(Problem, match="another Brachium has this file open"):
        make_window(fresh.window.session.workspace.database.path, False)


def drop(bench: Bench, *paths: Path) -> None:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    event = QDropEvent(QPointF(600, 400), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
                       Qt.KeyboardModifier.NoModifier)  # fmt: skip
    bench.window.dropEvent(event)


def test_dropped_logs_become_a_record_with_a_verdict(fresh: Bench, data: Path) -> None:
    window = fresh.window
    page = window.entry_pages.import_page
    drop(fresh, data / "small-desktop-unchanged-after.csv", data / "small-desktop-unchanged-before.csv")
    fresh.until(lambda: page.keep.isEnabled())
    assert "2 logs read" in page._headline.text()
    rooms = [p.room for p in page.panels if p.room is not None]
    rooms[0].setText("warm")
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    assert "no room temperature" in window.next.texts()[0]
    rooms[0].setText("25,0")
    rooms[1].setText("25.5")
    page.keep_as.box.setCurrentIndex(page.keep_as.box.findText("a new record"))
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    fresh.until(lambda: (v := window.session.view()) is not None and v.proof.comparison is not None)
    view = window.session.view()
    assert view is not None and view.proof.comparison is not None
    assert view.proof.comparison.before.conditions.room_c == 25.0, "order of dropping does not matter, names do"
    assert view.job.name == "Small desktop unchanged"
    fresh.click_stage(Stage.PROVE)
    prove = window.pages[Stage.PROVE]
    assert isinstance(prove, ProvePage)
    assert "The heat path is unchanged" in prove.comparison._headline.text()


@pytest.mark.parametrize("name", ["truth.json", "nothing-there.csv"])
def test_a_dropped_file_that_is_no_log_is_said_so_and_nothing_is_lost(fresh: Bench, data: Path, name: str) -> None:
    window = fresh.window
    jobs = window.session.workspace.job_ids()
    drop(fresh, data / name)
    fresh.until(lambda: window.next.texts()[1] != "" and "Settle" not in window.next.texts()[0])
    assert name in window.next.texts()[0]
    assert window.session.workspace.job_ids() == jobs
    assert window.stack.currentWidget() is window.pages[Stage.TAKE_IN]


def test_a_problem_stays_until_it_is_dismissed(fresh: Bench) -> None:
    bar = fresh.window.next
    fresh.window.session.report(ExpectedProblem("it went wrong", "somewhere", "Do this."))
    assert bar.texts() == ("somewhere: it went wrong.", "Do this.")
    bar.set_action(bar.action())
    assert bar.texts()[1] == "Do this."
    QTest.mouseClick(bar._close, Qt.MouseButton.LeftButton)
    assert bar.texts()[0] == "Settle the owner's data"


def test_a_bug_is_not_dressed_up_as_a_problem(fresh: Bench) -> None:
    with pytest.raises(ZeroDivisionError):
        fresh.window.session.report(ZeroDivisionError())


def test_the_rail_model_is_sound() -> None:
    model: QAbstractItemModel = RailModel()
    QAbstractItemModelTester(model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert isinstance(model, RailModel)
    model.set_entries((RailEntry("On the bench", heading=True), RailEntry("A laptop", "Choose", "a")))
    assert model.rowCount() == 2 and model.row_of("a") == 1 and model.row_of("b") == -1
    assert not model.flags(model.index(0, 0)) & Qt.ItemFlag.ItemIsSelectable
    assert model.data(model.index(1, 0)) == "A laptop, Choose"


def test_verdict_shapes_differ_without_colour_at_14_px(qtbot: QtBot) -> None:
    """Painted as ink masks at 14 px, every pair differs in a fair share of its pixels."""
    from PySide6.QtGui import QColor, QPainter

    masks = {}
    for level in Level:
        pixmap = QPixmap(14, 14)
        pixmap.fill(QColor("white"))
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_items(painter, verdict_shape(level, 0, 0, 14))
        painter.end()
        image = pixmap.toImage()
        masks[level] = [[image.pixelColor(x, y).lightness() < 170 for x in range(14)] for y in range(14)]
    levels = list(Level)
    for i, a in enumerate(levels):
        for b in levels[i + 1 :]:
            differing = sum(masks[a][y][x] != masks[b][y][x] for y in range(14) for x in range(14))
            assert differing >= 14, (a, b, differing)


def test_fonts_and_icons_ship_with_the_program(qtbot: QtBot) -> None:
    assert {"Barlow", "Barlow Semi Condensed"} <= set(theme.load_fonts())
    assert not icon("search").isNull()
    with pytest.raises(FileNotFoundError):
        icon("no-such-icon")


def test_a_figure_is_copied_as_text_and_saved_as_a_picture(done: Bench) -> None:
    from brachium.ui.widgets.drawing_view import as_text

    done.click_stage(Stage.PROVE)
    page = done.window.pages[Stage.PROVE]
    assert isinstance(page, ProvePage)
    figure: DrawingView = page.comparison.ledger
    drawing = figure.drawing()
    assert drawing is not None
    text = as_text(drawing)
    assert text.count("\n") == 20 and "Memory bandwidth: × 1.6" in text
    image = drawing_to_png(drawing)
    assert image.startswith(b"\x89PNG") and len(image) > 5000
    QTest.mouseClick(done.window.because._copy, Qt.MouseButton.LeftButton)
    assert "half-width" in QGuiApplication.clipboard().text() or "comparison" in QGuiApplication.clipboard().text()


def test_long_names_and_many_machines_do_not_break_the_shell(fresh: Bench) -> None:
    from dataclasses import replace

    window = fresh.window
    job = window.session.job()
    assert job is not None
    for k in range(30):
        window.session.workspace.add_job(replace(job, id=f"j{k}", name=f"{'Very long machine name ' * 4}{k}"))
    window.session.select_job("j7")
    fresh.settled()
    assert window.width() == 1280 and window.rail.width() == 168
    window.grab()


def test_next_names_its_machine_on_pages_that_show_none(fresh: Bench) -> None:
    window = fresh.window
    fresh.until(lambda: window.next.action() is not None)
    alone = window.next.texts()
    window.show_shop("shelf")
    assert window.next.texts() == (alone[0], f"{fresh.job().name}: {alone[1]}")
    window.show_page()
    assert window.next.texts() == alone


def test_an_empty_machine_says_what_to_do(fresh: Bench) -> None:
    from brachium.core.machine.machine import Machine
    from brachium.core.record.job import Job

    window = fresh.window
    window.session.workspace.add_job(Job("empty", "Box from the attic", Machine()))
    window.session.select_job("empty")
    fresh.settled()
    assert window.next.texts()[0] == "Record the machine"
    for stage in STAGES:
        fresh.click_stage(stage)
        window.grab()
    assert "model is not recorded" in window.latch_page._subline.text() or window.session.stage is Stage.HAND_OVER


def test_painting_does_not_drain_the_count_of_none(done: Bench) -> None:
    """A Qt binding once released None too often with Python 3.11, until the interpreter died of it."""
    window = done.window
    window.grab()
    before = sys.getrefcount(None)
    for _ in range(20):
        window.grab()
        window.session.explain(None)
    assert sys.getrefcount(None) - before > -50


def test_clicks_outside_regions_choose_nothing(done: Bench) -> None:
    done.click_stage(Stage.CHOOSE)
    page = done.window.pages[Stage.CHOOSE]
    assert isinstance(page, ChoosePage)
    before = page.offers.selected
    QTest.mouseClick(page.board, Qt.MouseButton.LeftButton, pos=QPoint(2, 2))
    assert page.offers.selected == before


def test_machines_are_searched_archived_and_taken_in_as_a_batch(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    sheet = window.records.ask_batch()
    sheet.lines.setPlainText("\n".join(f"OM-{k}" for k in range(8)) + "\nOM-3")
    QTest.mouseClick(sheet.take, Qt.MouseButton.LeftButton)
    assert "line 9: OM-3 is there already (line 4)" in sheet.problem.text()
    assert len(session.workspace.job_ids()) == 1, "nothing is taken in while a line is wrong"
    sheet.lines.setPlainText("\n".join(f"OM-{k}" for k in range(8)))
    QTest.mouseClick(sheet.take, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert len(session.workspace.job_ids()) == 9 and session.job_id == "tern-14-om-0"

    def shown() -> list[str]:
        model = window.rail.model()
        entries = [model.index(k, 0).data(Qt.ItemDataRole.UserRole) for k in range(model.rowCount())]
        return [e.job_id for e in entries if e.job_id]

    window.run_command("job.archive")
    fresh.settled()
    session.select_job(JOB_ID)
    fresh.settled()
    assert "tern-14-om-0" not in shown() and len(shown()) == 8
    fresh.ctrl(Qt.Key.Key_F)
    QTest.keyClicks(window.filter, "tern om-0")
    assert shown() == ["tern-14-om-0"], "a search finds archived ones too"
    session.select_job("tern-14-om-0")
    window.run_command("job.archive")
    window.filter.clear()
    assert len(shown()) == 9
    window.run_command("undo")
    job = session.job()
    assert job is not None and job.archived, "undo takes it back"
