"""The walk itself: a real window on a shop, every machine, stage, part and sheet brought into view and looked over."""

from __future__ import annotations

import shutil
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QEventLoop
from PySide6.QtWidgets import QApplication, QDialog, QStackedWidget, QWidget

from brachium.core.record.job import STAGES, Stage
from brachium.ui.run import make_window, settings_for
from brachium.ui.shell.shop_pages import SHOP_PAGES
from brachium.ui.shell.window import MainWindow
from tests.support.looked_over import faults

SIZE = (1280, 800)
WAIT_S = 90.0
LOOKS = 6  # times that a fault is looked at again before it counts
AGAIN_S = 0.5
PARTS = {
    Stage.TAKE_IN: ("record", "facts", "money"),
    Stage.FIND_CAUSE: ("causes", "heat", "limits", "drives", "swap"),
    Stage.MEASURE: ("setup", "runs", "own", "everyday"),
}
LONG = "Reconditioned editing workstation of the regional news desk on the second floor"


def walk(look: str, shop: str, language: str = "en") -> int:
    """Prints a line a fault; 1 where there is one."""
    folder = Path(tempfile.mkdtemp())
    count = 0
    try:
        for where, fault in walked(folder, look, shop, language):
            print(f"- {where}: {fault}", flush=True)
            count += 1
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return 1 if count else 0


def walked(folder: Path, look: str, shop: str, language: str = "en") -> Iterator[tuple[str, str]]:
    """(where, what is wrong) of a whole shop: `demo`, `empty`, or `long` with names that take room."""
    settings = settings_for(folder / "shop.db")
    settings.setValue("language", language)
    settings.sync()
    window, _poster = make_window(folder / "shop.db", demo=shop != "empty")
    window.set_look(look)
    window.resize(*SIZE)
    window.show()
    try:
        if shop == "empty":
            yield from _looked("first page", shown(window))
            window.records.take_by_hand()
            settle(window)
        workspace = window.session.workspace
        if shop == "demo":
            wait(lambda: len(workspace.cards()) == 8)
        if shop == "long":
            wait(lambda: window.session.view() is not None)
            _lengthen(window)
        for job_id in workspace.job_ids():
            window.session.select_job(job_id)
            settle(window)
            for stage in STAGES:
                yield from _stage(window, job_id, stage)
        for page in SHOP_PAGES:
            window.show_shop(page.id)
            settle(window)
            yield from _looked(page.title, shown(window))
        yield from _looked("frame", window)
    finally:
        window.close()
        workspace.lanes.drain("store")
        workspace.close()


def _stage(window: MainWindow, job_id: str, stage: Stage) -> Iterator[tuple[str, str]]:
    window.session.select_stage(stage)
    settle(window)
    page = shown(window)
    where = f"{job_id}, {stage.value}"
    yield from _looked(where, page)
    show_part = getattr(page, "show_part", None)
    for part in PARTS.get(stage, ()) if callable(show_part) else ():
        try:
            show_part(part)
        except KeyError:
            continue
        settle(window)
        yield from _looked(f"{where}, {part}", page)
    yield from _sheets(window, where, page)


def _sheets(window: MainWindow, where: str, page: QWidget) -> Iterator[tuple[str, str]]:
    """Sheets that a page opens without an answer of its own."""
    asks: list[tuple[str, Callable[[], object]]] = []
    for name in ("ask_facts", "ask_evidence", "ask_paste", "ask_first_start", "ask_trouble", "_reword"):
        if hasattr(page, name):
            asks.append((name, getattr(page, name)))
    plan = getattr(page, "plan", None)
    for key in ("other", "use", "money", "system") if plan is not None else ():
        asks.append((key, lambda k=key: plan.show_more(k)))  # type: ignore[misc,union-attr]
    for name, ask in asks:
        ask()
        settle(window)
        for sheet in [w for w in QApplication.topLevelWidgets() if isinstance(w, QDialog) and w.isVisible()]:
            yield from _looked(f"{where}, sheet {name}", sheet)
            sheet.close()
        settle(window)


def _looked(where: str, page: QWidget) -> Iterator[tuple[str, str]]:
    """What is still wrong after a while: pages that a worker fills lay themselves out more than once."""
    found = faults(page)
    for _ in range(LOOKS):
        if not found:
            return
        _pass(AGAIN_S)
        found = faults(page)
    yield from ((where, fault) for fault in found)


def _lengthen(window: MainWindow) -> None:
    """Names as long as people make them."""
    session = window.session
    job = session.job()
    assert job is not None
    identity = replace(job.machine.identity, maker="Brindlecote Instruments and Machines",
                       model="Series 9 Long Model Name", serial="BIM-S9-2014-000-123-456-789-X")  # fmt: skip
    told = "as the owner wrote it down on the day it came in"
    targets = tuple(replace(t, title=f"{t.title}, {told}") for t in job.targets)
    slots = tuple(replace(s, label=f"{s.label} under the keyboard") for s in job.machine.slots)
    machine = replace(job.machine, identity=identity, slots=slots)
    session.edit("long", replace(job, name=LONG, goal=f"{LONG}, every day", machine=machine, targets=targets))
    settle(window)


def shown(window: MainWindow) -> QWidget:
    """The page in view, below any stack of pages."""
    current: QWidget | None = window.stack.currentWidget()
    while isinstance(current, QStackedWidget):
        current = current.currentWidget()
    assert current is not None
    return current


def settle(window: MainWindow) -> None:
    """Until the machine in view is worked out and everything is painted."""
    session = window.session
    wait(lambda: not session.job_id or session.view() is not None)
    wait(lambda: (v := session.view()) is None or v.job == session.job())
    _pass(0.15)


def _pass(seconds: float) -> None:
    end = time.monotonic() + seconds
    wait(lambda: time.monotonic() > end)


def wait(ready: Callable[[], bool]) -> None:
    """Let the window work until something is true."""
    end = time.monotonic() + WAIT_S
    while not ready():
        if time.monotonic() > end:
            raise TimeoutError("the window did not settle")
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
        time.sleep(0.005)
