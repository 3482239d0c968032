"""Traces to look at closely: wheel or plus and minus to zoom, drag or arrow keys to move, Home for the whole."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.plots.traces import LANES, LEFT, MORE_LANES, RIGHT, Strand, lane_limits, twin_traces
from brachium.core.measure.run import Trace
from brachium.ui.widgets.drawing_view import DrawingView

ZOOM, STEP, LEAST_S = 1.25, 0.15, 5.0


class TraceView(DrawingView):
    """Shows strands on one time axis; the shown span never leaves what was sampled."""

    def __init__(self, strands: Sequence[Strand], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._strands = tuple(strands)
        starts = [float(s.trace.time_s[0]) - s.onset_s for s in strands]
        ends = [float(s.trace.time_s[-1]) - s.onset_s for s in strands]
        self.whole = min(starts), max(ends)
        self.span = self.whole
        self._limits = lane_limits(self._strands)
        self._grabbed: tuple[float, tuple[float, float]] | None = None
        self.set_builder(self._draw)

    def _draw(self, width: float, height: float) -> Drawing:
        """Only what is in view is worked on, so that a long log moves as easily as a short one."""
        shown = tuple(_window(s, *self.span) for s in self._strands)
        return twin_traces(shown, width, height, (*LANES, *MORE_LANES), self.span, self._limits)

    def show_span(self, low: float, high: float) -> None:
        """Show this stretch [s from load onset], moved into what was sampled and never shorter than 5 s."""
        whole = self.whole[1] - self.whole[0]
        length = min(max(high - low, LEAST_S), whole)
        low = min(max(low, self.whole[0]), self.whole[1] - length)
        self.span = low, low + length
        self.set_builder(self._draw)

    def zoom(self, factor: float, around: float = 0.5) -> None:
        """Make the span longer by a factor, keeping the moment at this share of it in place."""
        low, high = self.span
        centre = low + around * (high - low)
        self.show_span(centre - (centre - low) * factor, centre + (high - centre) * factor)

    def move_by(self, share: float) -> None:
        """Move by a share of the shown span."""
        low, high = self.span
        self.show_span(low + share * (high - low), high + share * (high - low))

    def _share(self, x: float) -> float:
        return min(max((x - LEFT) / max(self.width() - LEFT - RIGHT, 1.0), 0.0), 1.0)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.angleDelta().y():
            self.zoom(1 / ZOOM if event.angleDelta().y() > 0 else ZOOM, self._share(event.position().x()))
            event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        if event.button() == Qt.MouseButton.LeftButton:
            self._grabbed = event.position().x(), self.span

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            super().mouseMoveEvent(event)
            return
        x, (low, high) = self._grabbed
        moved = (x - event.position().x()) / max(self.width() - LEFT - RIGHT, 1.0) * (high - low)
        self.show_span(low + moved, high + moved)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grabbed = None
        super().mouseReleaseEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {Qt.Key.Key_Left: -STEP, Qt.Key.Key_Right: STEP, Qt.Key.Key_PageUp: -1.0, Qt.Key.Key_PageDown: 1.0}
        key = Qt.Key(event.key())
        if key in moves:
            self.move_by(moves[key])
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.zoom(ZOOM if key is Qt.Key.Key_Minus else 1 / ZOOM)
        elif key is Qt.Key.Key_Home:
            self.show_span(*self.whole)
        else:
            super().keyPressEvent(event)


def _window(strand: Strand, low_s: float, high_s: float) -> Strand:
    """The samples between two moments and one beyond either end; views, no copies."""
    trace = strand.trace
    first, last = np.searchsorted(trace.time_s, (low_s + strand.onset_s, high_s + strand.onset_s))
    part = slice(max(int(first) - 1, 0), int(last) + 2)
    series = tuple(replace(s, values=s.values[part]) for s in trace.series)
    held = strand.held[part] if strand.held is not None else None
    return replace(strand, trace=Trace(trace.time_s[part], series, trace.phases), held=held)
