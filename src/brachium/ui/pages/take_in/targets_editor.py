"""The owner's measurable wishes: one row each with its limit, added from what can be measured."""

from __future__ import annotations

from dataclasses import replace
from statistics import median

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.bench.run_roles import BEFORE
from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.measure.own_tests import OwnTest
from brachium.core.record.job import Job
from brachium.core.record.target import Target
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.tool_tips import tip_text

KINDS: tuple[Target, ...] = (
    Target("start_up", "starts within", 30.0, "s", True),
    Target("own_task", "exports its clip within", 90.0, "s", True),
    Target("held_back", "load held back by heat at most", 0.0, "%", True),
    Target("peak_c", "stays at or below", 85.0, "°C", True),
    Target("mem_bandwidth", "memory bandwidth at least", 15.0, "GB/s", False),
)


def wishes_of(job: Job) -> tuple[Target, ...]:
    """What can be wished for: what every machine is measured by, and the job's own tests at what they gave before."""
    own = []
    for test in job.own_tests:
        before = [r.value for r in job.own_results if r.test_id == test.id and r.role == BEFORE and not r.invalid]
        words = phrase(
            "{test} at {which}", test=lower_first(test.title), which="least" if test.higher_is_better else "most"
        )
        own.append(Target(test.key, words, median(before) if before else 1.0, test.unit, not test.higher_is_better,
                          test.settings))  # fmt: skip
    return (*KINDS, *own)


class TargetsEditor(QWidget):
    """Rows of targets; limits are edited in place."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._targets: tuple[Target, ...] | None = None
        self._shown: tuple[tuple[Target, ...], tuple[OwnTest, ...]] | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(label("Targets", "field"))
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        outer.addLayout(self._rows)
        self.add = QComboBox()
        self.add.setAccessibleName(say("Add a target"))
        self.add.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.add.activated.connect(self._add)
        outer.addWidget(self.add)

    def show_job(self, job: Job) -> None:
        if (job.targets, job.own_tests) == self._shown:
            return
        self._shown = job.targets, job.own_tests
        self._targets = job.targets
        clear(self._rows)
        for index, target in enumerate(job.targets):
            self._rows.addWidget(self._row(index, target))
        self.add.clear()
        self.add.addItem(say("Add a target…"), "")
        present = {t.key for t in job.targets}
        for kind in wishes_of(job):
            if kind.key not in present:
                self.add.addItem(
                    say(phrase("{kind} {limit:g} {kind2}", kind=kind.title, limit=kind.limit, kind2=kind.unit)),
                    kind.key,
                )

    def _row(self, index: int, target: Target) -> QWidget:
        row = QWidget()
        layout = QHBoxLayout(row)
        layout.setContentsMargins(4, 0, 0, 0)
        layout.setSpacing(4)
        title = label(target.title, "", True)
        title.setMinimumWidth(40)
        layout.addWidget(title, 1)
        limit = QLineEdit(phrase("{limit:g}", limit=target.limit))
        limit.setFixedWidth(44)
        limit.setAccessibleName(say(phrase("Limit: {target}", target=target.title)))
        limit.editingFinished.connect(lambda: self._set_limit(index, limit))
        layout.addWidget(limit)
        unit = label(target.unit, "soft")
        unit.setFixedWidth(46)
        layout.addWidget(unit)
        condition = QLineEdit(target.condition)
        condition.setPlaceholderText(say("when"))
        condition.setCursorPosition(0)
        condition.setFixedWidth(84)
        condition.setToolTip(tip_text("When, such as: on a warm day"))
        condition.setAccessibleName(say(phrase("Condition: {target}", target=target.title)))
        condition.editingFinished.connect(lambda: self._set_condition(index, condition.text().strip()))
        layout.addWidget(condition)
        layout.addWidget(
            button("×", lambda: self._remove(index), "quiet", phrase("Remove: {target}", target=target.title))
        )
        return row

    def _put(self, label_text: str, targets: tuple[Target, ...]) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(label_text, replace(job, targets=targets))

    def _set_limit(self, index: int, line: QLineEdit) -> None:
        targets = list(self._targets or ())
        try:
            value = typed_float(line.text())
        except ValueError:
            self._session.say(
                phrase(
                    "{text!r} is not a valid limit; a number such as {limit:g} is.",
                    text=line.text(),
                    limit=targets[index].limit,
                )
            )
            line.setText(phrase("{limit:g}", limit=targets[index].limit))
            return
        if value != targets[index].limit:
            old = targets[index]
            title = next((k.title for k in KINDS if k.key == old.key), old.title)
            targets[index] = replace(old, limit=value, title=title)
            self._put("target changed", tuple(targets))

    def _set_condition(self, index: int, text: str) -> None:
        targets = list(self._targets or ())
        if text != targets[index].condition:
            targets[index] = replace(targets[index], condition=text)
            self._put("target changed", tuple(targets))

    def _remove(self, index: int) -> None:
        targets = list(self._targets or ())
        del targets[index]
        self._put("target removed", tuple(targets))

    def _add(self, _: int) -> None:
        job = self._session.job()
        kind = next((k for k in wishes_of(job) if k.key == self.add.currentData()), None) if job is not None else None
        if kind is not None:
            self._put("target added", (*(self._targets or ()), kind))
