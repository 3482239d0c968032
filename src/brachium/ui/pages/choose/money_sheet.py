"""Money and minutes beside the plan: what a plan may take, what the machine may fetch, what its energy costs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.base.units import money
from brachium.core.choose.resale import energy_a_year, margin_of
from brachium.core.record.money import SHOWN, EnergyUse, Resale, read_vouchers, vouchers_text
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.number_fields import number_field

RESALE = (("low", "Low [EUR]", 100_000), ("likely", "Likely [EUR]", 100_000), ("high", "High [EUR]", 100_000),
          ("fee", "Fee of the market [%]", 90), ("days", "Days to sell", 1000))  # fmt: skip
ENERGY = (("idle_w", "Idle [W]", 1000), ("load_w", "Under load [W]", 2000), ("idle_h", "Hours idle a day", 24),
          ("load_h", "Hours loaded a day", 24), ("tariff", "Tariff [EUR/kWh]", 5), ("idle_after_w", "Idle after [W]",
                                                                                    1000),
          ("load_after_w", "Loaded after [W]", 2000))  # fmt: skip


class MoneySheet(QDialog):
    """Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Money"))
        self.setMinimumWidth(600)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        self.fields: dict[str, LineField] = {}
        layout.addWidget(label("What a plan may take", "title"))
        self.minutes = number_field("Attended minutes at most", 1, 10_000, self._put_minutes, "no limit")
        layout.addWidget(self.minutes)
        self.vouchers = LineField("Vouchers", self._put_vouchers, phrase("such as {shown}", shown=SHOWN))
        layout.addWidget(self.vouchers)
        layout.addWidget(label("If it is sold afterwards", "title"))
        layout.addLayout(self._grid(RESALE, self._put_resale))
        self.margin = paragraph("", "soft")
        layout.addWidget(self.margin)
        layout.addWidget(label("Energy, by a meter at the wall", "title"))
        layout.addLayout(self._grid(ENERGY, self._put_energy))
        self.energy = paragraph("", "soft")
        layout.addWidget(self.energy)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)
        self._show()

    def _grid(
        self, specs: tuple[tuple[str, str, int], ...], put: Callable[[str, Decimal | None], object]
    ) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for k, (key, title, most) in enumerate(specs):
            self.fields[key] = number_field(title, 0, most, lambda value, name=key: put(name, value))  # type: ignore[misc]
            grid.addWidget(self.fields[key], k // 4, k % 4)
        return grid

    def _put_minutes(self, value: Decimal | None) -> None:
        job = self._session.job()
        if job is not None:
            limit = None if value is None else float(value)
            self._session.edit("attended minutes", replace(job, attended_limit_min=limit))

    def _put_vouchers(self, text: str) -> str | None:
        job = self._session.job()
        if job is None:
            return None
        try:
            found = read_vouchers(text)
        except ValueError as error:
            return str(error)
        self._session.edit("vouchers", replace(job, vouchers=found))
        return None

    def _put_resale(self, key: str, value: Decimal | None) -> None:
        job = self._session.job()
        if job is None:
            return
        given = value or Decimal(0)
        typed: Decimal | int = given / 100 if key == "fee" else int(given) if key == "days" else given
        resale = replace(job.resale or Resale(), **{key: typed})  # type: ignore[arg-type]
        self._session.edit("resale", replace(job, resale=resale))
        self._show()

    def _put_energy(self, key: str, value: Decimal | None) -> None:
        job = self._session.job()
        if job is None:
            return
        empty = None if key.endswith("_after_w") else 0.0
        typed = (value or Decimal(0)) if key == "tariff" else empty if value is None else float(value)
        energy = replace(job.energy or EnergyUse(), **{key: typed})  # type: ignore[arg-type]
        self._session.edit("energy", replace(job, energy=energy))
        self._show()

    def _show(self) -> None:
        job, view = self._session.job(), self._session.view()
        if job is None:
            return
        self.minutes.show_value(
            phrase("{attended_limit_min:g}", attended_limit_min=job.attended_limit_min)
            if job.attended_limit_min
            else ""
        )
        self.vouchers.show_value(vouchers_text(job.vouchers))
        resale, energy = job.resale or Resale(), job.energy or EnergyUse()
        for key, _, _ in RESALE:
            value = getattr(resale, key)
            self.fields[key].show_value(
                phrase("{float:g}", float=float(value) * (100 if key == "fee" else 1)) if value else ""
            )
        for key, _, _ in ENERGY:
            value = getattr(energy, key)
            self.fields[key].show_value(phrase("{value:g}", value=value) if value else "")
        spent = job.provenance.spent() + (view.choice.cost.total if view is not None else Decimal(0))
        margin = margin_of(resale, spent)
        words = "State low, likely and high, in this order."
        if margin is not None:
            words = phrase(
                "{spent} went in. Margin {mean} on average, {at_low} to {at_high}; a loss in {loss:.0f} of 100 cases.",
                spent=money(spent),
                mean=money(margin.mean),
                at_low=money(margin.at_low),
                at_high=money(margin.at_high),
                loss=100 * margin.loss,
            )
            self._session.explain(margin.because)
        self.margin.setText(say(words))
        if energy.stated:
            before, after = energy_a_year(energy), energy_a_year(energy, True)
            self.energy.setText(
                say(
                    phrase(
                        "{before} a year as it is, {after} after the work.", before=money(before), after=money(after)
                    )
                )
            )
        else:
            self.energy.setText(say("State watts, hours and tariff."))
