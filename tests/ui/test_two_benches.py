"""Two windows on one shop of a real server: what one person does the other sees, and is asked where both differ."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop import store_queue
from brachium.core.record.job import Stage
from brachium.demo.newsroom import JOB_ID
from brachium.store.location import ServerPlace
from brachium.store.roles import grant_roles
from brachium.store.server import ServerDatabase
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.run import make_window
from brachium.ui.shell.clash_sheet import ClashSheet
from brachium.ui.shell.log_sheet import LogSheet
from brachium.ui.shell.rail_entries import rail_entries
from tests.support.desk import Desk
from tests.support.private_server import PrivateServer
from tests.ui.conftest import Bench

Two = tuple[Bench, Bench]


@pytest.fixture
def shop_place(server: PrivateServer, state_folder: Path) -> ServerPlace:
    place = server.shop()
    with Desk(place, "Counter", add_newsroom) as desk:
        desk.sent()
    return place


def open_bench(qtbot: QtBot, place: ServerPlace, name: str) -> Bench:
    window, poster = make_window(place, False, name)
    window.setProperty("poster", poster)  # it must outlive the window
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    bench = Bench(qtbot, window)
    bench.settled()
    return bench


@pytest.fixture
def two(qtbot: QtBot, shop_place: ServerPlace, monkeypatch: pytest.MonkeyPatch) -> Iterator[Two]:
    monkeypatch.setattr(store_queue, "RETRY_S", 0.2)
    benches = open_bench(qtbot, shop_place, "Bench 1"), open_bench(qtbot, shop_place, "Bench 2")
    yield benches
    for bench in benches:
        bench.window.close()
        bench.window.session.workspace.close()


def type_goal(bench: Bench, words: str) -> None:
    bench.window.session.select_stage(Stage.TAKE_IN)
    page = bench.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    bench.type_in(page.field("goal"), words)


def note_of(bench: Bench) -> str:
    """What stands below the machine in the rail."""
    return next(e.note for e in rail_entries(bench.window.session) if e.job_id == JOB_ID)


def all_saved(bench: Bench) -> None:
    bench.until(lambda: not bench.window.session.workspace.writes.waiting)


def test_two_people_edit_one_machine(two: Two) -> None:
    one, other = two
    one.until(lambda: "Bench 2" in one.window.header.benches.text())
    assert one.window.header.benches.isVisible() and "in hand at Bench 2" in note_of(one)
    type_goal(one, "mixing the evening news")
    other.until(lambda: other.job().goal == "mixing the evening news")
    assert "mixing the evening news" in other.window.header._goal.text()
    all_saved(one)
    # both type before either has heard of the other
    type_goal(one, "from one")
    type_goal(other, "from two")
    late = one if one.window.session.workspace.clashes.open else other
    late.until(lambda: one.window.header.clashes.isVisible() or other.window.header.clashes.isVisible())
    late, early = (one, other) if one.window.header.clashes.isVisible() else (other, one)
    late.until(lambda: late.job().goal == early.job().goal)
    QTest.mouseClick(late.window.header.clashes, Qt.MouseButton.LeftButton)
    (sheet,) = late.window.findChildren(ClashSheet)
    said = " ".join(w.text() for w in sheet.findChildren(QPushButton))
    assert "Take this one" in said and "Leave it so" in said
    mine = late.window.session.workspace.clashes.open[0].clash.mine
    take = next(w for w in sheet.findChildren(QPushButton) if w.text() == "Take this one")
    QTest.mouseClick(take, Qt.MouseButton.LeftButton)
    early.until(lambda: early.job().goal == mine)
    assert not sheet.isVisible() and not late.window.header.clashes.isVisible()
    late.window.run_command("log")
    (log,) = late.window.findChildren(LogSheet)
    late.until(lambda: log.table.rowCount() > 0)
    whos = {log.table.item(k, 1).text() for k in range(log.table.rowCount())}
    assert whos == {"Counter", "Bench 1", "Bench 2"}


def test_undo_in_one_window_leaves_what_the_other_did(two: Two) -> None:
    one, other = two
    before = one.job().goal
    type_goal(one, "mixing")
    other.until(lambda: other.job().goal == "mixing")
    page = other.window.pages[Stage.TAKE_IN]
    other.window.session.select_stage(Stage.TAKE_IN)
    assert isinstance(page, TakeInPage)
    other.type_in(page.field("budget"), "321")
    one.until(lambda: one.job().budget == 321)
    one.window.run_command("undo")
    other.until(lambda: other.job().goal == before)
    assert other.job().budget == one.job().budget == 321
    one.window.run_command("undo")
    assert one.job().budget == 321 and "nothing to undo" in " ".join(one.window.next.texts())


def test_a_run_is_seen_at_the_other_bench_and_outlives_the_server(two: Two, server: PrivateServer) -> None:
    one, other = two
    one.window.session.edit("data", _settled(one))
    one.settled()
    one.window.session.start_run("before", 4_000.0)
    other.until(lambda: "measuring the before" in other.window.header.benches.text())
    assert "Bench 1: measuring the before" in note_of(other)
    server.kill()
    try:
        one.until(lambda: one.window.header.away.isVisible() and other.window.header.away.isVisible())
        assert one.window.session.measure.active is not None, "the run goes on"
        one.window.session.measure.set_speed(None)
        one.until(lambda: one.window.session.measure.active is None)
        assert one.window.session.workspace.run(JOB_ID, "before") is not None, "it is at hand here"
    finally:
        server.start()
    one.until(lambda: not one.window.header.away.isVisible())
    other.until(lambda: other.window.session.workspace.run(JOB_ID, "before") is not None)
    all_saved(one)


def _settled(bench: Bench) -> object:
    from dataclasses import replace

    from brachium.core.record.job import DataSafe, DataState

    return replace(bench.job(), data_safe=DataSafe(DataState.BACKED_UP))


def test_what_a_role_may_not_do_is_grey_with_its_reason(
    qtbot: QtBot, shop_place: ServerPlace, server: PrivateServer
) -> None:
    database = ServerDatabase(shop_place)
    with database.transaction(writes=True) as c:
        grant_roles(c)
    database.close()
    with psycopg.connect(server.url, autocommit=True) as c:
        for user, group in (("front", "brachium_counter"), ("bench", "brachium_technician")):
            c.execute(f"drop role if exists {user}")
            c.execute(f"create role {user} login in role {group}")
    front = open_bench(qtbot, ServerPlace(shop_place.url.replace("//root@", "//front@")), "Counter")
    window = front.window
    type_goal(front, "said at the counter")
    assert front.job().goal == "said at the counter" and not window.rights.isVisible()
    window.session.select_stage(Stage.CHOOSE)
    assert window.rights.isVisible() and "a technician does this" in window.rights.words.text()
    assert not window.pages[Stage.CHOOSE].widget().isEnabled()  # type: ignore[union-attr]
    window.run_command("measure.start")
    assert window.session.measure.active is None and "a technician does this" in " ".join(window.next.texts())
    window.close()
    window.session.workspace.close()
    bench = open_bench(qtbot, ServerPlace(shop_place.url.replace("//root@", "//bench@")), "Bench 1")
    window = bench.window
    window.session.select_stage(Stage.CHOOSE)
    assert not window.rights.isVisible()
    window.show_shop("prices")
    assert window.rights.isVisible() and "only the shop's owner" in window.rights.words.text().lower()
    window.show_shop("settings")
    page = window.shop_pages.page("settings")
    assert [g.isEnabled() for g in page.groups[:3]] == [True] * 3  # type: ignore[attr-defined]
    assert not page.rules.tables.isEnabled()  # type: ignore[attr-defined]
    window.close()
    window.session.workspace.close()
