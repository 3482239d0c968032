"""What the owner feels, drawn: days of use, everyday tasks by where their seconds went, memory ladder, scenes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from brachium.app.view.days import Days
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.lists.day_words import compared_words, day_words, foretold_words
from brachium.core.figures.lists.frames_list import frames_list, has_frames
from brachium.core.figures.plots.day_hours import day_hours
from brachium.core.figures.plots.memory_ladder import memory_ladder
from brachium.core.figures.plots.task_split import task_split
from brachium.core.measure.feel_tests import EVERYDAY, LADDER
from brachium.core.measure.run import Run, curve_of
from brachium.core.use.day_of_use import DayOfUse
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import label

DAY_H, LADDER_H = 168, 196


class FeelFigures(QWidget):
    """Shows one run, or one against another. What neither holds takes no room."""

    def __init__(self, figure: Callable[[], DrawingView]) -> None:
        super().__init__()
        self._make = figure
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        self._days_title = label("Days of use", "section")
        self._days_words = label("", "soft", True)
        self.days = (figure(), figure())
        beside = QHBoxLayout()
        beside.setSpacing(20)
        for drawn in self.days:
            drawn.setFixedHeight(DAY_H)
            beside.addWidget(drawn)
        self._tasks_title = label("Everyday tasks: where their seconds went", "section")
        self.tasks = figure()
        layout.addWidget(self._days_title)
        layout.addWidget(self._days_words)
        layout.addLayout(beside)
        layout.addSpacing(4)
        layout.addWidget(self._tasks_title)
        layout.addWidget(self.tasks)
        layout.addLayout(self._lower())

    def _lower(self) -> QHBoxLayout:
        self._ladder, self.ladder = self._titled("What too little memory costs here")
        self._scenes, self.scenes = self._titled("Drawn scenes, frames a second")
        self.ladder.setFixedHeight(LADDER_H)
        self.scenes.setMinimumSize(QSize(380, 60))
        row = QHBoxLayout()
        row.setSpacing(20)
        row.addWidget(self._ladder, 1)
        row.addWidget(self._scenes, 1)
        return row

    def _titled(self, title: str) -> tuple[QWidget, DrawingView]:
        holder, drawn = QWidget(), self._make()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(2)
        head: QLabel = label(title, "section")
        column.addWidget(head)
        column.addWidget(drawn)
        column.addStretch(1)
        return holder, drawn

    def show_runs(self, before: Run | None, after: Run | None, days: Days | None) -> bool:
        """Show what there is; False where there is nothing."""
        shown = (self._show_days(days), self._show_tasks(before, after), self._show_ladder(before, after),
                 self._show_scenes(before, after))  # fmt: skip
        return any(shown)

    def _show_tasks(self, before: Run | None, after: Run | None) -> bool:
        tasks = any(run is not None and run.results(k) for run in (before, after) for k in EVERYDAY)
        self._tasks_title.setVisible(tasks)
        self.tasks.setVisible(tasks)
        self.tasks.set_builder((lambda w, _: task_split(before, after, w)) if tasks else None)
        if tasks:
            self.tasks.fit_height()
        return tasks

    def _show_ladder(self, before: Run | None, after: Run | None) -> bool:
        first, last = (curve_of(run, LADDER) if run is not None else () for run in (before, after))
        ladder = bool(first or last)
        self._ladder.setVisible(ladder)
        self.ladder.set_builder((lambda w, h: memory_ladder(first, last, w, h)) if ladder else None)
        return ladder

    def _show_scenes(self, before: Run | None, after: Run | None) -> bool:
        scenes = has_frames(before) or has_frames(after)
        self._scenes.setVisible(scenes)
        self.scenes.set_builder((lambda w, _: frames_list(before, after, w)) if scenes else None)
        if scenes:
            self.scenes.fit_height()
        return scenes

    def _show_days(self, days: Days | None) -> bool:
        first, second = (days.before, days.after) if days is not None else (None, None)
        shown = first is not None or second is not None
        self._days_title.setVisible(shown)
        self._days_words.setVisible(shown)
        both = first is not None and second is not None
        for drawn, day, name in zip(self.days, (first, second), ("before", "after"), strict=True):
            drawn.setVisible(day is not None)
            drawn.set_builder(partial(_day, day, name if both else "") if day is not None else None)
        if days is not None and shown:
            self._days_words.setText(say(_words(days)))
        return shown


def _day(day: DayOfUse, name: str, width: float, height: float) -> Drawing:
    return day_hours(day, width, height, name)


def _words(days: Days) -> str:
    if days.comparison is not None:
        return compared_words(days.comparison, days.predicted)
    told = (
        phrase(" {foretold_words}", foretold_words=foretold_words(days.predicted)) if days.predicted is not None else ""
    )
    lone = days.before or days.after
    return phrase("{day_words}{told}", day_words=day_words(lone), told=told) if lone is not None else ""
