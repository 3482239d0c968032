"""Heat: where it falls, the ladder, the traces, and what would change if paste, fins, fan, room or power did."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from brachium.app.view.figures import is_sampled, run_strand
from brachium.app.view.job_view import JobView
from brachium.app.view.what_if import Steady, because_of, steady
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.base.why import Because
from brachium.core.cause.assess import ladder
from brachium.core.figures.base.theme import SPACE
from brachium.core.figures.lists.ladder_list import REST, ladder_list
from brachium.core.figures.plots.heat_stair import StairColumn, heat_stair
from brachium.core.figures.plots.traces import twin_traces
from brachium.core.figures.plots.what_if_curves import what_if_curves
from brachium.core.heat.two_chips import both_words
from brachium.core.heat.what_if import Base, Changes
from brachium.ui.pages.measure.measure_setup import MissingList
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.tool_tips import tip_text

# key, title, lowest, highest and neutral of the slider, what one step is, unit, tip
SLIDERS: tuple[tuple[str, str, int, int, int, float, str, str], ...] = (
    ("paste", "Chip to heatsink", 20, 130, 100, 0.01, "%", "New paste makes it less"),
    ("fins", "Heatsink to room", 30, 160, 100, 0.01, "%", "Clean fins make it less"),
    ("fan", "Fan speed", 50, 150, 100, 0.01, "%", "Another fan curve"),
    ("room_k", "Room", -5, 12, 0, 1.0, "K", "A summer's day is about 8 K more"),
    ("power", "Chip's power", 50, 160, 100, 0.01, "%", "Another processor, or a power limit"),
)

HOT_FIRST = "If it runs hot: cheapest first"


class HeatPanel(QWidget):
    """Stair and ladder at the left, traces and what-if at the right."""

    def __init__(
        self, session: Session, figure: Callable[[], DrawingView], to_check: Callable[[str], object]
    ) -> None:  # fmt: skip
        super().__init__()
        self._session = session
        self._base: Base | None = None
        self._steady: Steady | None = None
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 8, 0, 0)
        columns.setSpacing(24)
        left = QVBoxLayout()
        left.setSpacing(4)
        self._stair_title = label("", "section", True)
        left.addWidget(self._stair_title)
        self.stair = figure()
        self.stair.setMinimumSize(QSize(250, 190))
        left.addWidget(self.stair, 1)
        self.both = label("", "soft", True)
        left.addWidget(self.both)
        self.missing = MissingList("What could not be judged")
        left.addWidget(self.missing)
        self._ladder_title = label("", "section", True)
        left.addWidget(self._ladder_title)
        self.ladder = figure()
        self.ladder.setMinimumSize(QSize(250, 100))
        self._to_check, self._unfolded = to_check, False
        self.ladder.activated.connect(lambda region: self._step(region.id))
        self.ladder.chosen.connect(lambda region: self._unfold(region.id))
        left.addWidget(self.ladder)
        left.addStretch(1)
        columns.addLayout(left, 4)
        columns.addLayout(self._right(figure), 6)

    def _right(self, figure: Callable[[], DrawingView]) -> QVBoxLayout:
        right = QVBoxLayout()
        right.setSpacing(4)
        self.traces = figure()
        self.traces.setMinimumSize(QSize(420, 220))
        right.addWidget(self.traces, 5)
        self._what_if = QWidget()
        box = QVBoxLayout(self._what_if)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        head = QHBoxLayout()
        head.addWidget(label("What if", "section"))
        self.result = label("", "title", True)
        head.addWidget(self.result, 1)
        head.addWidget(button("As it is", self.reset, "quiet"))
        box.addLayout(head)
        rows = QHBoxLayout()
        rows.setSpacing(16)
        rows.addLayout(self._sliders(), 1)
        self.curves = figure()
        self.curves.setMinimumSize(QSize(220, 170))
        rows.addWidget(self.curves, 1)
        box.addLayout(rows)
        right.addWidget(self._what_if, 5)
        self._no_what_if = paragraph("", "soft")
        right.addWidget(self._no_what_if)
        right.addStretch(1)
        return right

    def _sliders(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        grid.setHorizontalSpacing(8)
        self.sliders: dict[str, QSlider] = {}
        self._values: dict[str, QWidget] = {}
        for row, (key, title, low, high, neutral, _, unit, tip) in enumerate(SLIDERS):
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(low, high)
            slider.setValue(neutral)
            slider.setPageStep(5)
            slider.setMinimumHeight(SPACE.target)
            slider.setAccessibleName(say(phrase("{title} [{unit}]", title=title, unit=unit)))
            slider.setToolTip(tip_text(phrase("{tip} [{unit}]", tip=tip, unit=unit)))
            slider.valueChanged.connect(lambda _: self._solve())
            value = label("", "field")
            value.setMinimumWidth(44)
            value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.sliders[key], self._values[key] = slider, value
            grid.addWidget(label(title, "field"), row, 0)
            grid.addWidget(slider, row, 1)
            grid.addWidget(value, row, 2)
        grid.setColumnStretch(1, 1)
        return grid

    def reset(self) -> None:
        """All sliders to the machine as it is."""
        for key, _, _, _, neutral, *_rest in SLIDERS:
            self.sliders[key].setValue(neutral)

    def show_view(self, view: JobView) -> None:
        reading = view.causes.figures.reading if view.causes.figures is not None else None
        stair = reading.stair if reading is not None else None
        self.stair.setVisible(stair is not None)
        if stair is not None and reading is not None:
            self._stair_title.setText(
                say(phrase("Temperature drops, at {power_ref_w:.0f} W", power_ref_w=reading.power_ref_w))
            )
            column = StairColumn("before", stair, False)
            power, fan = reading.power_ref_w, reading.fan_ref_rpm
            self.stair.set_builder(lambda w, h: heat_stair((column,), power, fan, w, h))
            self.missing.show_lines(())
        else:
            why = reading.refusal if reading is not None and reading.refusal else "no temperature was sampled"
            self._stair_title.setText(say("No heat stair"))
            self.stair.set_builder(None)
            self.missing.show_lines((("resistance", why), *_still(view)), "What can be said, and what not")
        self.both.setText(say(both_words(view.measured.before)))
        self.both.setVisible(bool(self.both.text()))
        made = {c.check: c.answer for c in view.job.checks}
        met = view.causes.met_by
        self._ladder_title.setText(say(phrase("“{met}” keeps the target: stop here", met=met) if met else HOT_FIRST))
        rungs = ladder(made, view.job.machine, bool(met))
        self.ladder.set_builder(lambda w, h: ladder_list(rungs, w, self._unfolded))
        self.ladder.fit_height()
        self.traces.setVisible(view.measured.before is not None)
        if view.measured.before is not None and is_sampled(view.measured.before):
            whole = run_strand(view.measured.before, "before", False, view.job.machine.processor.limit_c)
            self.traces.set_builder(lambda w, h: twin_traces((whole,), w, h))
        else:
            self.traces.set_builder(None)
        self._show_base(view)

    def _step(self, region_id: str) -> None:
        if region_id != REST:
            self._to_check(region_id.removeprefix("rung:"))

    def _unfold(self, region_id: str) -> None:
        """Show the steps that are not needed any more."""
        view = self._session.view()
        if region_id == REST and view is not None:
            self._unfolded = True
            self.show_view(view)

    def _show_base(self, view: JobView) -> None:
        base = view.causes.figures.base if view.causes.figures is not None else None
        self._what_if.setVisible(base is not None)
        self._no_what_if.setVisible(base is None)
        if base is None:
            self._no_what_if.setText(say("What if needs power and clock under a load."))
        if base is not self._base:
            self._base, self._steady = base, None
        if base is not None:
            self._solve()

    def changes(self) -> Changes:
        """What the sliders say."""
        values = {key: self.sliders[key].value() * step for key, _, _, _, _, step, _, _ in SLIDERS}
        return Changes(**values)

    def _solve(self) -> None:
        for key, _, _, _, _, _, unit, _ in SLIDERS:
            value = self.sliders[key].value()
            words = phrase("{value:+d} K", value=value) if unit == "K" else phrase("{value} %", value=value)
            self._values[key].setText(say(words))  # type: ignore[attr-defined]
        base = self._base
        if base is None:
            return
        state = self._steady = steady(base, self.changes(), self._steady.today if self._steady is not None else None)
        self.curves.set_builder(lambda w, h: what_if_curves(base, state.today, state.changed, w, h))
        self.result.setText(say(state.words))
        self._session.explain(because_of(state))

    def because(self) -> Because | None:
        return because_of(self._steady) if self._steady is not None else None


def _still(view: JobView) -> tuple[tuple[str, str], ...]:
    """What may be said of a run without a stair."""
    throttle = (
        view.causes.figures.reading.throttle
        if view.causes.figures is not None and view.causes.figures.reading is not None
        else None
    )
    if throttle is None:
        return ()
    return (("held back", phrase("{kind}: {reason}", kind=throttle.kind, reason=throttle.reason)),)
