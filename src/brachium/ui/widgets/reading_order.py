"""The order in which Tab goes over a page: as it is read, by its layouts, however late a field came to it."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLayout, QScrollArea, QWidget


def in_reading_order(page: QWidget) -> list[QWidget]:
    """Everything on a page that Tab stops at, visible and enabled, first row and first column first."""
    return list(dict.fromkeys(w for w in _walk(page) if w is not page))


def step(page: QWidget, onward: bool) -> bool:
    """Move the focus within a page, or out of it at its ends; False where there is nowhere to go."""
    stops = in_reading_order(page)
    focused = page.window().focusWidget()
    here = next((i for i, w in enumerate(stops) if focused and (w is focused or w.isAncestorOf(focused))), None)
    if here is None:
        return False
    there = here + (1 if onward else -1)
    target = stops[there] if 0 <= there < len(stops) else _beyond(page, onward)
    if target is None:
        return False
    target.setFocus(Qt.FocusReason.TabFocusReason if onward else Qt.FocusReason.BacktabFocusReason)
    return True


def _walk(widget: QWidget) -> Iterator[QWidget]:
    if not widget.isVisible():
        return
    inside = widget.widget() if isinstance(widget, QScrollArea) else None
    if inside is not None:
        yield from _walk(inside)
    elif _stops(widget):
        yield widget
    else:
        if (layout := widget.layout()) is not None:
            yield from _laid_out(layout)
        for child in widget.children():  # what is placed by hand; duplicates go in the list above
            if isinstance(child, QWidget) and not child.isWindow():
                yield from _walk(child)


def _laid_out(layout: QLayout) -> Iterator[QWidget]:
    places = list(range(layout.count()))
    if isinstance(layout, QGridLayout):
        places.sort(key=lambda i: layout.getItemPosition(i)[:2])  # type: ignore[index]
    for item in filter(None, (layout.itemAt(i) for i in places)):
        if (widget := item.widget()) is not None:
            yield from _walk(widget)
        elif (inner := item.layout()) is not None:
            yield from _laid_out(inner)


def _stops(widget: QWidget) -> bool:
    return widget.isEnabled() and bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)


def _beyond(page: QWidget, onward: bool) -> QWidget | None:
    """The next stop of the window after (or before) a page."""
    at = page.nextInFocusChain() if onward else page.previousInFocusChain()
    while at is not None and at is not page:
        if not page.isAncestorOf(at) and at.isVisible() and _stops(at):
            return at
        at = at.nextInFocusChain() if onward else at.previousInFocusChain()
    return None
