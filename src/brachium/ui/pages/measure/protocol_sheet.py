"""The shop's own protocol: how long, how often, and at what temperature a load is stopped."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QCheckBox, QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.typed_numbers import typed_float
from brachium.core.measure.own_protocol import BOUNDS, changed_protocol, starting_point, value_of
from brachium.core.measure.run import Protocol
from brachium.core.measure.workloads import STANDARD
from brachium.core.record.protocol_of_job import chosen_protocol
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, label

FIELDS = (
    ("settle", "Settle, min"), ("idle", "Idle, min"), ("load", "Load, min"), ("cool-down", "Cool-down, min"),
    ("repeats", "Repeats of each test"), ("sessions", "Sessions"), ("test_s", "One test, s"),
)  # fmt: skip
LIMIT_LOW_C, LIMIT_HIGH_C = 50.0, 110.0


class ProtocolSheet(QDialog):
    """Writes into the job's setup as it is used; every use with other figures is a version of its own."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        job = session.job()
        own = job.setup.own if job is not None else None
        self._needed = starting_point() if job is None else chosen_protocol(job, starting_point())
        self.protocol: Protocol = own or self._needed
        self.limit_c: float | None = job.setup.limit_c if job is not None else None
        self._version = self.protocol.version + 1 if own is not None else 1
        self.setWindowTitle(say("Own protocol"))
        self.setMinimumWidth(520)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(6)
        layout.addWidget(label("A protocol of your own", "title"))
        layout.addWidget(label("Runs of different protocols are not compared.", "soft", True))
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        self.fields: dict[str, LineField] = {}
        for index, (key, title) in enumerate(FIELDS):
            field = LineField(title, lambda text, k=key: self._set(k, text))  # type: ignore[misc]
            field.show_value(phrase("{value_of:g}", value_of=value_of(self.protocol, key)))
            self.fields[key] = field
            grid.addWidget(field, index // 3, index % 3)
        self.limit = LineField("Stop the load at, °C", self._set_limit, "the sensor's own limit",
                               "A chip sensor at this temperature ends the load")  # fmt: skip
        self.limit.show_value("" if self.limit_c is None else phrase("{limit_c:g}", limit_c=self.limit_c))
        grid.addWidget(self.limit, 2, 1)
        layout.addLayout(grid)
        self.every = QCheckBox(say("Every test there is"))
        self.every.setChecked(self.protocol.tests == STANDARD.tests)
        self.every.toggled.connect(self._take_every)
        layout.addWidget(self.every)
        self.cannot = label("", "warm", True)
        layout.addWidget(self.cannot)
        row = QHBoxLayout()
        self.use = button("Use it", self._use, "primary")
        row.addWidget(self.use)
        row.addWidget(button("Give up", self.close, "quiet"))
        row.addStretch(1)
        layout.addLayout(row)
        self._say()

    def _take_every(self, every: bool) -> None:
        tests = STANDARD.tests if every else self._needed.tests
        self.protocol = replace(self.protocol, tests=tests, version=self._version)

    def _say(self) -> None:
        self.cannot.setText(say(joined("\n", (phrase("{c}.", c=upper_first(c)) for c in self.protocol.cannot))))

    def _set(self, key: str, text: str) -> str | None:
        try:
            self.protocol = changed_protocol(self.protocol, key, typed_float(text), self._version)
        except ValueError:
            bounds = BOUNDS[key]
            return (
                phrase("{low:g} to {high:g} {bounds}", low=bounds.low, high=bounds.high, bounds=bounds.unit).strip()
                + "."
            )
        self._say()
        return None

    def _set_limit(self, text: str) -> str | None:
        if not text:
            self.limit_c = None
            return None
        try:
            value = typed_float(text)
        except ValueError:
            value = 0.0
        if not LIMIT_LOW_C <= value <= LIMIT_HIGH_C:
            return phrase("{limit_low_c:g} to {limit_high_c:g} °C.", limit_low_c=LIMIT_LOW_C, limit_high_c=LIMIT_HIGH_C)
        self.limit_c = value
        return None

    def _use(self) -> None:
        job = self._session.job()
        if job is not None:
            setup = replace(job.setup, protocol="own", own=self.protocol, limit_c=self.limit_c)
            self._session.edit("own protocol", replace(job, setup=setup))
        self.close()
