"""The owner's own tests: defined, typed, timed by hand or read from frame logs; before and after side by side."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from brachium.app.bench.run_roles import LATER
from brachium.app.shop.workspace import AFTER, BEFORE, now_text
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.base.units import number
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.measure.own_tests import (
    BETWEEN,
    KINDS,
    PLAUSIBLE,
    How,
    OwnResult,
    OwnTest,
    configuration_key,
    free_test_id,
    redefined_test,
)
from brachium.core.measure.typed_conditions import stated_text
from brachium.core.record.job import Job
from brachium.formats.frame_log import FrameLog, read_frame_log
from brachium.ui.pages.measure.conditions_sheet import ConditionsSheet, of_typed_results
from brachium.ui.pages.measure.hand_timer import HandTimer, can_time
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField, PlainChoice, Switch
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.tool_tips import tip_text

ROLES = ((BEFORE, "Before"), (BETWEEN, "Between…"), (AFTER, "After"))
LATER_ROLE = (LATER, "Months later")
DIRECTIONS = (("low", "less is better"), ("high", "more is better"))
SESSIONS = tuple((str(n), phrase("start {n}", n=n)) for n in range(1, 7))


@dataclass(frozen=True)
class Side:
    """Where a result belongs: the machine, its configuration, the start of the machine."""

    job_id: str
    role: str
    start: int
    configuration: str = ""


class OwnTestsPanel(QWidget):
    """Tests at the left, the chosen one's results at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._test = ""
        self._role = BEFORE
        self._of_job = self._configuration = ""
        self._machine_start = 1
        self._shown: object = None
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 8, 0, 0)
        columns.setSpacing(28)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        right.setSpacing(4)
        head = QHBoxLayout()
        head.addWidget(label("Tests", "section"))
        head.addStretch(1)
        self.add = PlainChoice([("", "Add a test…"), *((k.id, k.title) for k in KINDS)], self._add, "Add a test")
        head.addWidget(self.add)
        left.addLayout(head)
        self._tests = QVBoxLayout()
        self._tests.setSpacing(4)
        left.addLayout(self._tests)
        self._empty = label(
            "What the owner does all day, timed or counted: an export, a frame rate, the fan's noise.", "soft", True,
        )  # fmt: skip
        left.addWidget(self._empty)
        left.addStretch(1)
        self._definition = QVBoxLayout()
        right.addLayout(self._definition)
        self._entry = QVBoxLayout()
        right.addLayout(self._entry)
        self._results = QGridLayout()
        self._results.setHorizontalSpacing(16)
        self._results.setVerticalSpacing(2)
        self._results.setColumnStretch(1, 1)
        right.addLayout(self._results)
        right.addStretch(1)
        columns.addLayout(left, 2)
        columns.addLayout(right, 3)
        self.typed: LineField | None = None
        self.reason: LineField | None = None
        self._leaving: int | None = None

    def show_job(self, job: Job) -> None:
        if job.id != self._of_job:
            self._of_job, self._configuration, self._role = job.id, "", BEFORE
        state = (
            job.id, tuple(self._outside().items()), job.own_tests, job.own_results, job.own_conditions,
            bool(job.handed_over),
            self._test, self._role, self._configuration, self._machine_start, self._leaving,
        )  # fmt: skip
        if state == self._shown:
            return
        self._shown = state
        if self._test not in {t.id for t in job.own_tests}:
            self._test = job.own_tests[0].id if job.own_tests else ""
        for layout in (self._tests, self._definition, self._entry, self._results):
            clear(layout)
        self.typed = None
        self._empty.setVisible(not job.own_tests)
        for test in job.own_tests:
            self._tests.addWidget(self._test_row(job, test))
        chosen = next((t for t in job.own_tests if t.id == self._test), None)
        if chosen is not None:
            self._show_definition(chosen)
            self._show_entry(job, chosen)
            self._show_results(job, chosen)

    def _again(self) -> None:
        job = self._session.job()
        if job is not None:
            self.show_job(job)

    def _test_row(self, job: Job, test: OwnTest) -> QWidget:
        words = joined(", ", _median_words(job, test))
        out = button(
            phrase("{test}\n{words}", test=test.title, words=words or "no results yet"),
            lambda: self._choose(test.id),
            "card",
        )
        out.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)  # the field beside it keeps its room
        out.setCheckable(True)
        out.setChecked(test.id == self._test)
        out.setAccessibleName(say(phrase("{test}: {words}", test=test.title, words=words or "no results yet")))
        return out

    def _choose(self, test_id: str) -> None:
        self._test = test_id
        self._session.explain(self.because())
        self._again()

    def because(self) -> Because | None:
        """What the chosen test's comparison rests on, or what it still needs."""
        view, job = self._session.view(), self._session.job()
        test = next((t for t in job.own_tests if t.id == self._test), None) if job is not None else None
        if test is None:
            return None
        gain = view.proof.comparison.gain(test.key) if view is not None and view.proof.comparison is not None else None
        return gain.because if gain is not None else _waiting(test)

    def _show_definition(self, test: OwnTest) -> None:
        row = QHBoxLayout()
        row.setSpacing(12)
        title = LineField("Test", lambda t: self._redefine(test, "test renamed", title=t or test.title))
        title.show_value(test.title)
        unit = LineField("Unit", lambda t: self._redefine(test, "unit changed", unit=t or test.unit))
        unit.show_value(test.unit)
        unit.setFixedWidth(56)
        better = ChoiceField("Better", DIRECTIONS, lambda k: self._set_direction(test, k == "high"))
        better.show_value("high" if test.higher_is_better else "low")
        better.setFixedWidth(126)
        for widget in (title, unit, better):
            row.addWidget(widget)
        remove = button("×", lambda: self._remove(test), "quiet", "Take this test and its results away")
        remove.setAccessibleName(say(phrase("Take away: {test}", test=test.title)))
        row.addWidget(remove, 0, Qt.AlignmentFlag.AlignBottom)
        self._definition.addLayout(row)
        settings = LineField("Settings, the same before and after",
                             lambda t: self._redefine(test, "settings changed", settings=t),
                             "file, resolution, preset, cap")  # fmt: skip
        settings.show_value(test.settings)
        self._definition.addWidget(settings)

    def _show_entry(self, job: Job, test: OwnTest) -> None:
        self._entry.addSpacing(8)
        self._entry.addLayout(self._belongs_to(job))
        if self._role == BETWEEN:
            self._entry.addLayout(self._naming(job))
        row = QHBoxLayout()
        row.setSpacing(12)
        start = ChoiceField("Machine's start", SESSIONS, self._set_start)
        start.show_value(str(self._machine_start))
        start.setFixedWidth(110)
        start.setToolTip(tip_text("A restart begins a session of its own"))
        row.addWidget(start)
        self.typed = LineField(
            phrase("Result, {test}", test=test.unit), lambda t: self._type(test, t), "type it, Return"
        )
        row.addWidget(self.typed, 1)
        self.time = button("Time it…", lambda: self._time(test), "", "A hand timer with one big key")
        self.time.setVisible(can_time(test))
        row.addWidget(self.time, 0, Qt.AlignmentFlag.AlignBottom)
        self.frames = button("Frame log…", lambda: self._ask_frames(test), "", "Frame times, one a line")
        self.frames.setVisible(test.unit == "1/s")
        row.addWidget(self.frames, 0, Qt.AlignmentFlag.AlignBottom)
        self._entry.addLayout(row)
        self._entry.addSpacing(6)

    def _belongs_to(self, job: Job) -> QHBoxLayout:
        """Which configuration the next result is of, and under which conditions it was taken."""
        row = QHBoxLayout()
        row.setSpacing(12)
        roles = (*ROLES, LATER_ROLE) if job.handed_over else ROLES
        role = Switch(roles, self._set_role, "Before or after the work")
        role.show_value(self._role)
        row.addWidget(role)
        row.addStretch(1)
        tip = "Room, fan, power: what is stated nowhere is not called the same"
        self.conditions = button("Conditions…", self._state_conditions, "", tip)
        self.conditions.setEnabled(self._role != BETWEEN or bool(self._configuration))
        row.addWidget(self.conditions)
        return row

    def _state_conditions(self) -> ConditionsSheet:
        name = self._configuration if self._role == BETWEEN else ""
        stated = of_typed_results(self._session, configuration_key(self._role, name), name or self._role)
        sheet = ConditionsSheet(self.window(), stated)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _naming(self, job: Job) -> QHBoxLayout:
        """Which configuration on the way it is: a new name, or one that has figures already."""
        row = QHBoxLayout()
        row.setSpacing(12)
        self.name = LineField("Configuration between", self._set_configuration, "such as: cleaned, new paste")
        self.name.show_value(self._configuration)
        row.addWidget(self.name, 1)
        known = self._known(job)
        if known:
            choices = [("", "One that is there…"), *((n, n) for n in known)]
            row.addWidget(PlainChoice(choices, self._set_configuration, "Configurations that are there"), 0,
                          Qt.AlignmentFlag.AlignBottom)  # fmt: skip
        return row

    def _known(self, job: Job) -> tuple[str, ...]:
        """Names of configurations between before and after, measured and typed, in order."""
        view = self._session.view()
        measured = [r.configuration for r in view.measured.shown_between] if view is not None else []
        return tuple(dict.fromkeys(n for n in (*measured, *(r.configuration for r in job.own_results)) if n))

    def _show_results(self, job: Job, test: OwnTest) -> None:
        """Grouped by configuration, each with the conditions that were stated for it."""
        mine = [(k, r) for k, r in enumerate(job.own_results) if r.test_id == test.id]
        row = 0
        for key in dict.fromkeys(r.key for _, r in mine):
            group = [(k, r) for k, r in mine if r.key == key]
            self._results.addWidget(self._group_head(job, group[0][1]), row, 0, 1, 3)
            for place, (index, result) in enumerate(group, row + 1):
                self._result_row(place, index, result, result.version != test.version)
            row += len(group) + 1
        if not mine:
            self._results.addWidget(label("No results yet.", "soft"), 0, 0, 1, 3)
        outside = self._outside().get(test.key, "")
        if outside:
            self._results.addWidget(label(phrase("{outside}.", outside=outside), "warm", True), row, 0, 1, 3)

    def _group_head(self, job: Job, result: OwnResult) -> QWidget:
        stated = stated_text(job.own_conditions.get(result.key, {}))
        name = result.configuration or result.role
        role = {BEFORE: "warm", BETWEEN: ""}.get(result.role, "cool")
        return label(phrase("{name}: {stated}", name=name, stated=stated) if stated else name, role, True)

    def _result_row(self, row: int, index: int, result: OwnResult, stale: bool) -> None:
        why = result.invalid or ("other settings: not counted" if stale else "")
        about = joined(
            ", ",
            (
                t
                for t in (phrase("start {session}", session=result.session), str(result.how), result.when, result.note)
                if t
            ),
        )
        self._results.addWidget(label(number(result.value, 4)), row, 0)
        self._results.addWidget(
            label(phrase("{about}. {why}", about=about, why=why) if why else about, "warm" if why else "soft", True),
            row,
            1,
        )
        self._results.addWidget(self._counting(index, result), row, 2)

    def _outside(self) -> Mapping[str, str]:
        """What lies outside the results of machines like this one, by test."""
        view = self._session.view()
        return view.measured.outside if view is not None else {}

    def _counting(self, index: int, result: OwnResult) -> QWidget:
        """Leaves a result out, with the person's own reason, or counts it again."""
        if result.invalid:
            return button("Count it", lambda: self._void(index, ""), "quiet")
        if self._leaving != index:
            return button("Leave out", lambda: self._ask_reason(index), "quiet", "It stays listed with your reason")
        self.reason = LineField("Why it does not count", lambda text: self._leave_out(index, text),
                                "such as: an update ran")  # fmt: skip
        return self.reason

    # -- edits

    def _ask_reason(self, index: int) -> None:
        self._leaving = index
        self._again()
        if self.reason is not None:
            self.reason.edit.setFocus()

    def _leave_out(self, index: int, reason: str) -> str | None:
        if not reason.strip():
            return "Say why in a few words."
        self._void(index, reason.strip())
        return None

    def _put(self, text: str, **changes: object) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(text, replace(job, **changes))  # type: ignore[arg-type]
            self._again()

    def _add(self, kind: str) -> None:
        job = self._session.job()
        chosen = next((k for k in KINDS if k.id == kind), None)
        if job is not None and chosen is not None:
            test = replace(chosen, id=free_test_id(job.own_tests, chosen.id))
            self._test = test.id
            self.add.setCurrentIndex(0)
            self._put("test added", own_tests=(*job.own_tests, test))

    def _redefine(self, test: OwnTest, text: str, **changes: object) -> None:
        job = self._session.job()
        if job is not None:
            new = redefined_test(test, **changes)
            self._put(text, own_tests=tuple(new if t.id == test.id else t for t in job.own_tests))

    def _set_direction(self, test: OwnTest, higher: bool) -> None:
        self._redefine(test, "direction changed", higher_is_better=higher)

    def _remove(self, test: OwnTest) -> None:
        job = self._session.job()
        if job is not None:
            self._put("test taken away", own_tests=tuple(t for t in job.own_tests if t.id != test.id),
                      own_results=tuple(r for r in job.own_results if r.test_id != test.id))  # fmt: skip

    def _set_role(self, role: str) -> None:
        self._role = role
        self._again()

    def _set_configuration(self, name: str) -> str | None:
        if name:
            self._configuration = name
            self._again()
        return None

    def _set_start(self, key: str) -> None:
        self._machine_start = int(key)
        self._again()

    def _type(self, test: OwnTest, text: str) -> str | None:
        if not text:
            return None
        try:
            value = typed_float(text)
        except ValueError:
            value = -1.0
        if not np.isfinite(value) or value <= 0:
            return phrase("A number above zero in {test}, such as 61.8.", test=test.unit)
        low, high = PLAUSIBLE.get(test.unit, (0.0, np.inf))
        if not low <= value <= high:
            return phrase(
                "{value} {test} cannot be; {low:g} to {high:g} {test} can.",
                value=number(value),
                test=test.unit,
                low=low,
                high=high,
            )
        if self._role == BETWEEN and not self._configuration:
            return "Name it first, such as: cleaned."
        self.keep_results(test, (value,), How.TYPED)
        if self.typed is not None:
            self.typed.edit.setFocus()  # for the next one
        return None

    def keep_results(
        self, test: OwnTest, values: Sequence[float], how: How, note: str = "", invalid: str = "",
        side: Side | None = None,
    ) -> None:  # fmt: skip
        """Keep results; `side` where they were asked for, as another machine may be in view by now."""
        side, workspace = side or self._side(), self._session.workspace
        if not values or side.job_id not in workspace.job_ids():
            return
        job, when = workspace.job(side.job_id), now_text()
        new = tuple(
            OwnResult(test.id, side.role, v, how, side.start, when, test.version, note, invalid, side.configuration)
            for v in values
        )
        text = "result added" if len(new) == 1 else phrase("{count} results added", count=len(new))
        self._session.edit(text, replace(job, own_results=(*job.own_results, *new)))
        self._again()

    def _side(self) -> Side:
        name = self._configuration if self._role == BETWEEN else ""
        return Side(self._session.job_id, self._role, self._machine_start, name)

    def _time(self, test: OwnTest) -> HandTimer:
        side = self._side()
        sheet = HandTimer(self.window(), test, lambda times: self.keep_results(test, times, How.TIMED, side=side))
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _ask_frames(self, test: OwnTest) -> None:
        names, _ = QFileDialog.getOpenFileNames(
            self, say("Frame logs"), str(Path.home()), say("Logs (*.csv *.txt *.tsv);;All (*)")
        )
        if names:
            self.read_frames(test, tuple(Path(n) for n in names))

    def read_frames(self, test: OwnTest, paths: Sequence[Path]) -> None:
        """Read frame logs off the window's thread; a capped one is kept and does not count."""
        side = self._side()
        for path in paths:
            self._session.read(lambda _, p=path: read_frame_log(p),  # type: ignore[misc]
                               lambda log: self._keep_frames(test, log, side))  # fmt: skip

    def _keep_frames(self, test: OwnTest, log: FrameLog, side: Side) -> None:
        f = log.figures
        low = test.id.startswith("low1")
        said = [
            phrase("{path}: {frames} frames", path=log.path.name, frames=f.frames),
            phrase("average {average}", average=number(f.average)),
            phrase("slowest 1 % {low1}", low1=number(f.low1)),
        ]
        said += [phrase("slowest 0.1 % {low01}", low01=number(f.low01))] if f.low01 is not None else []
        note = joined(", ", [*said, many(f.stutters, "stutter")])
        invalid = phrase("capped at {cap:g}: it says nothing of the machine", cap=f.cap) if f.cap is not None else ""
        self.keep_results(test, (round(f.low1 if low else f.average, 2),), How.FRAMES, note, invalid, side)

    def _void(self, index: int, reason: str) -> None:
        job = self._session.job()
        self._leaving, self.reason = None, None
        if job is not None:
            results = list(job.own_results)
            results[index] = replace(results[index], invalid=reason)
            self._put("result left out" if reason else "result counted", own_results=tuple(results))


def _waiting(test: OwnTest) -> Because:
    """What a test without both sides still needs."""
    text = "A second start of the machine is worth more than many repeats."
    facts = (
        Fact("settings", test.settings or "none recorded", Origin.TYPED),
        Fact("better", "more" if test.higher_is_better else "less", Origin.TYPED),
    )
    return Because(test.title, "own test", text, facts, "not compared yet", "Results before and after, three or more.")


def _median_words(job: Job, test: OwnTest) -> list[str]:
    """The medians of before, after and later, and how many configurations lie between."""
    values: dict[str, list[float]] = {}
    for r in job.own_results:
        if r.test_id == test.id and not r.invalid and r.version == test.version:
            values.setdefault(r.key, []).append(r.value)
    between = len(values.keys() - {BEFORE, AFTER, LATER})
    out = [
        phrase("{role} {float}", role=role, float=number(float(np.median(values[role]))))
        for role in (BEFORE, AFTER, LATER)
        if role in values
    ]
    return [
        *out[:-1],
        *(phrase("{o} {test}", o=o, test=test.unit) for o in out[-1:]),
        *([phrase("{between} between", between=between)] if between else []),
    ]
