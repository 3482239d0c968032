"""Tab goes over a page as it is read, and out of it at its end."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QWidget

from brachium.core.record.job import Stage
from brachium.ui.widgets.reading_order import in_reading_order
from tests.support.walking import settle, shown

from .conftest import Bench


def test_tab_goes_over_take_in_as_it_is_read_and_out_again(fresh: Bench) -> None:
    window = fresh.window
    window.session.select_stage(Stage.TAKE_IN)
    settle(window)
    page = shown(window)
    stops = in_reading_order(page)
    assert len(stops) > 30
    stops[0].setFocus()
    seen: list[QWidget] = []
    while (now := window.focusWidget()) is not None and page.isAncestorOf(now) and len(seen) <= len(stops):
        seen.append(now)
        fresh.key(Qt.Key.Key_Tab)
    assert [_stop(w, stops) for w in seen] == list(range(len(stops))), "every stop once, in order, then out"
    fresh.key(Qt.Key.Key_Backtab)
    back = window.focusWidget()
    assert back is not None
    stops[3].setFocus()
    fresh.key(Qt.Key.Key_Backtab)
    assert _stop(window.focusWidget(), stops) == 2


def test_what_came_late_stands_where_it_is_read(fresh: Bench) -> None:
    """Targets and slots are made after the page: they come between their neighbours all the same."""
    window = fresh.window
    window.session.select_stage(Stage.TAKE_IN)
    settle(window)
    page = shown(window)
    stops = in_reading_order(page)
    last = next(i for i, w in enumerate(stops) if w.accessibleName() == "Add a target")
    limits = [i for i, w in enumerate(stops) if w.accessibleName().startswith("Condition: ")]
    assert limits and max(limits) < last
    for i in limits:  # condition, then its remove key, right of it in the same row
        beside = stops[i + 1]
        assert beside.mapTo(page, QPoint(0, 0)).y() == stops[i].mapTo(page, QPoint(0, 0)).y()
        assert beside.mapTo(page, QPoint(0, 0)).x() > stops[i].mapTo(page, QPoint(0, 0)).x()


def _stop(widget: QWidget | None, stops: list[QWidget]) -> int:
    return next(i for i, w in enumerate(stops) if widget is not None and (w is widget or w.isAncestorOf(widget)))
