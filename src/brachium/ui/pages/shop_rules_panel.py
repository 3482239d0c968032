"""The shop's own rules in Settings: thresholds, tax, and the table of systems as CSV."""

from __future__ import annotations

from decimal import Decimal
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.reports.report_speech import CURRENCY_KEY, LANGUAGE_KEY
from brachium.app.shop.rules import (
    DERATING_KEY,
    TAX_APART_KEY,
    TAX_KEY,
    THRESHOLD_KEY,
    WORTH_KEY,
    keep_share,
    keep_systems,
    rates_day,
    rates_of,
)
from brachium.core.base.problems import Problem
from brachium.core.base.units import many
from brachium.core.plan.price_offer import rates_text, read_rates
from brachium.core.record.systems import SystemSpec
from brachium.formats.atomic import write_atomically
from brachium.formats.limits import read_text
from brachium.formats.shop_tables import systems_from_csv, systems_to_csv
from brachium.report.language import ENGLISH, languages
from brachium.report.speech import OWN_CURRENCY
from brachium.ui.pages.number_fields import number_field
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField, Switch
from brachium.ui.widgets.labels import button, label

TAX = (("included", "Prices hold the tax"), ("apart", "Tax comes on top"))


class ShopRulesPanel(QWidget):
    """Everything holds from the moment it is set; views follow."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        layout.addWidget(label("Rules of the shop", "section"))
        self.threshold = number_field("Evidence from", 0.5, 0.99, lambda v: self._keep(THRESHOLD_KEY, v), "0.85",
                                      "Probability from which a claim counts as known")  # fmt: skip
        self.derating = number_field("Supplies' age, off [%]", 0, 60, lambda v: self._keep(DERATING_KEY, v, 100), "0",
                                     "The shop's own setting, not a fact")  # fmt: skip
        self.worth = number_field("100 EUR must bring [%]", 0, 100, lambda v: self._keep(WORTH_KEY, v, 10_000), "10",
                                  "Gain of today's work below which a further step is not recommended")  # fmt: skip
        self.tax = number_field("Tax [%]", 0, 40, lambda v: self._keep(TAX_KEY, v, 100), "0", "Named on offers")
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for k, field in enumerate((self.threshold, self.derating, self.worth, self.tax)):
            grid.addWidget(field, 0, k)
        layout.addLayout(grid)
        self.tax_switch = Switch(TAX, self._set_tax, "Tax")
        layout.addWidget(self.tax_switch)
        self.rates = LineField("Other currencies, in EUR", self._set_rates, "USD 0.92, GBP 1.17",
                               "What one of each costs; an offer without a rate is not weighed")  # fmt: skip
        layout.addWidget(self.rates)
        speech = QHBoxLayout()
        speech.setSpacing(16)
        self.language = ChoiceField("Reports speak", [(x.code, x.name) for x in languages().values()],
                                    lambda key: self._speak(LANGUAGE_KEY, key))  # fmt: skip
        self.currency = ChoiceField("Their amounts in", (), lambda key: self._speak(CURRENCY_KEY, key))
        for choice in (self.language, self.currency):
            speech.addWidget(choice)
        speech.addStretch(1)
        layout.addLayout(speech)
        row = QHBoxLayout()
        self.systems = label("", "soft")
        self.read = button("Read a table of systems…", self._ask_systems, "", "CSV: floors, ceilings, end of support")
        self.export = button("Export it…", self._ask_export, "quiet")
        row.addWidget(self.systems)
        row.addWidget(self.read)
        row.addWidget(self.export)
        row.addStretch(1)
        layout.addLayout(row)

    def show_shop(self) -> None:
        """Show the rules as they are now."""
        rules = self._session.workspace.shop_rules()
        self.threshold.show_value(f"{rules.threshold:g}")
        self.derating.show_value(f"{100 * rules.age_derating:g}")
        self.worth.show_value(f"{10_000 * rules.worth_per_eur:g}")
        self.tax.show_value(f"{100 * float(rules.tax.rate):g}")
        self.tax_switch.show_value("included" if rules.tax.included else "apart")
        self.rates.show_value(rates_text(rates_of(self._session.workspace)))
        day = rates_day(self._session.workspace)
        self.rates.caption.setText(f"Other currencies, in EUR{f', typed on {day}' if day else ''}")
        self.currency.set_choices([(c, c) for c in (OWN_CURRENCY, *rates_of(self._session.workspace))])
        self.language.show_value(self._session.workspace.setting(LANGUAGE_KEY) or ENGLISH)
        self.currency.show_value(self._session.workspace.setting(CURRENCY_KEY) or OWN_CURRENCY)
        open_ends = sum(not s.support_ends for s in rules.systems)
        tail = f", {open_ends} without an end of support" if open_ends else ""
        self.systems.setText(f"{many(len(rules.systems), 'system')} in the table{tail}.")

    def _keep(self, key: str, value: Decimal | None, parts: int = 1) -> None:
        workspace = self._session.workspace
        if value is None:
            workspace.save_setting(key, "")
        else:
            keep_share(workspace, key, float(value) / parts)
        self._again()

    def _set_rates(self, text: str) -> str | None:
        """Keep the rates; a wrong entry is named and changes nothing."""
        try:
            rates = read_rates(text)
        except ValueError as error:
            return f"{error}."
        self._session.workspace.set_rates(rates)
        self.show_shop()
        return None

    def _speak(self, key: str, value: str) -> None:
        """Language and currency of reports from now on; a job can have its own."""
        self._session.workspace.save_setting(key, value)

    def _set_tax(self, key: str) -> None:
        self._session.workspace.save_setting(TAX_APART_KEY, "apart" if key == "apart" else "")
        self._again()

    def _again(self) -> None:
        self.show_shop()
        if self._session.job_id:
            self._session.workspace.refresh(self._session.job_id)

    def _ask_systems(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Table of systems", str(Path.home()), "CSV (*.csv);;All (*)")
        if name:
            self.read_systems(Path(name))

    def read_systems(self, path: Path) -> None:
        """Check the table, then keep it; a bad one leaves the old one."""

        def arrived(systems: tuple[SystemSpec, ...]) -> None:
            keep_systems(self._session.workspace, systems)
            self._session.say("The table of systems is kept.")
            self._again()

        self._session.read(lambda _: systems_from_csv(read_text(path), path.name), arrived)

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Table of systems", str(Path.home() / "systems.csv"), "CSV (*.csv)")
        if not name:
            return
        try:
            write_atomically(Path(name), systems_to_csv(self._session.workspace.shop_rules().systems).encode())
        except Problem as problem:
            self._session.report(problem)
        else:
            self._session.say(f"The table of systems is in {name}.")
