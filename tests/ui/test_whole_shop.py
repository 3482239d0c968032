"""The whole demo shop walked machine by machine, stage by stage, page by page: everything opens, speaks and fits."""

from __future__ import annotations

import contextlib

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QScrollArea, QStackedWidget, QWidget
from pytestqt.exceptions import TimeoutError as PytestQtTimeout

from brachium.core.record.job import STAGES, Stage
from brachium.ui.pages.base.closed_page import ClosedLatchPage
from brachium.ui.pages.base.page import Page
from tests.ui.conftest import Bench

SHOP_PAGES = ("day", "shelf", "prices", "track", "settings")


def shown(bench: Bench) -> Page:
    """The page in view, below any stack of pages."""
    current: QWidget | None = bench.window.stack.currentWidget()
    while isinstance(current, QStackedWidget):
        current = current.currentWidget()
    assert isinstance(current, Page), current
    return current


def beyond(page: QWidget) -> str:
    """What lies beyond a page's right edge, where it cannot be seen; empty where everything fits."""
    for area in [a for a in page.findChildren(QScrollArea) if a.isVisible()]:
        inner = area.widget()
        if inner is not None and inner.minimumSizeHint().width() > area.viewport().width() + 1:
            return f"an inner area wants {inner.minimumSizeHint().width()} of {area.viewport().width()}"
    for text in page.findChildren(QLabel):
        if text.isVisible() and text.text():
            right = text.mapTo(page, text.rect().topRight()).x()
            if right > page.width():
                return f"“{text.text()[:40]}” ends at {right} of {page.width()}"
    return ""


def fits(bench: Bench) -> None:
    """Nothing of the page lies beyond its right edge once its layout came to rest."""
    with contextlib.suppress(PytestQtTimeout):
        bench.until(lambda: not beyond(shown(bench)))
    assert not beyond(shown(bench)), beyond(shown(bench))


def test_every_stage_of_every_machine_opens_by_a_click_and_fits(whole: Bench) -> None:
    window, session = whole.window, whole.window.session
    problems: list[object] = []
    session.problem_raised.connect(problems.append)
    whole.until(lambda: len(session.workspace.job_ids()) == 8)
    closed = opened = 0
    for job_id in session.workspace.job_ids():
        session.select_job(job_id)
        whole.until(lambda j=job_id: (v := session.view()) is not None and v.job.id == j)  # type: ignore[misc]
        for stage in STAGES:
            whole.click_stage(stage)
            whole.settled()
            page = shown(whole)
            view = session.view()
            assert view is not None and page._headline.text(), (job_id, stage)
            latch = view.standing.latches.get(stage)
            if isinstance(page, ClosedLatchPage):
                closed += 1
                assert latch is not None and not latch.open and latch.missing, (job_id, stage)
                assert page._subline.text(), "it says what is missing"
            else:
                opened += 1
                assert latch is None or latch.open, (job_id, stage)
            fits(whole)
            assert window.next.isVisible(), "the next best action stands below"
    assert problems == [] and opened >= 20 and closed >= 10, (opened, closed)


@pytest.mark.parametrize("dark", [False, True], ids=["light", "dark"])
def test_every_page_of_the_shop_opens_in_both_themes(whole: Bench, dark: bool) -> None:
    window, session = whole.window, whole.window.session
    problems: list[object] = []
    session.problem_raised.connect(problems.append)
    window.set_look("dark" if dark else "light")
    for name in SHOP_PAGES:
        window.run_command(name)
        page = shown(whole)
        assert page._headline.text() and window.shop_pages.shown == name
        window.set_look("dark" if dark else "light")
        assert shown(whole) is page, "another theme keeps the page"
        because = page.default_because()
        assert because is not None and because.text, f"{name} says why"
        assert window.focusWidget() is not None, "something has the focus"
        fits(whole)
    whole.until(lambda: window.shop_pages.page("day").settled())
    assert problems == []


def test_the_keyboard_alone_goes_through_the_stages_of_the_newsroom_laptop(whole: Bench) -> None:
    """Each page is walked with Tab: the focus moves, stays within the window, and comes back to where it was."""
    window, session = whole.window, whole.window.session
    session.select_job("newsroom-laptop")
    whole.until(lambda: (v := session.view()) is not None and v.job.id == "newsroom-laptop")
    for stage in (Stage.TAKE_IN, Stage.MEASURE, Stage.WORK):
        whole.click_stage(stage)
        whole.settled()
        seen: list[QWidget] = []
        for _ in range(120):
            whole.key(Qt.Key.Key_Tab)
            focus = window.focusWidget()
            assert focus is not None and window.isAncestorOf(focus)
            if seen and focus is seen[0]:
                break
            seen.append(focus)
        page = shown(whole)
        inside = [w for w in seen if page.isAncestorOf(w)]
        assert len(set(map(id, seen))) > 3, stage
        assert inside, f"Tab reaches {stage}"
