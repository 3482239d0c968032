"""The shop's own rules in Settings: thresholds, tax, and the table of systems as CSV."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path

from PySide6.QtWidgets import QFileDialog

from brachium.app.shop.kept import keep_settings, settings_of
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import many, phrase
from brachium.core.base.units import OWN_CURRENCY
from brachium.core.plan.price_offer import rates_text, read_rates
from brachium.core.record.systems import SystemSpec
from brachium.formats.atomic import write_atomically
from brachium.formats.limits import read_text
from brachium.formats.shop_documents import SYSTEM_TABLE
from brachium.formats.shop_tables import systems_from_csv, systems_to_csv
from brachium.speech.language import ENGLISH
from brachium.speech.languages import language_names
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField, Switch
from brachium.ui.widgets.labels import button, label, row_of
from brachium.ui.widgets.number_fields import number_field
from brachium.ui.widgets.setting_group import SettingGroup

TAX = (("included", "Prices hold the tax"), ("apart", "Tax comes on top"))


class ShopRulesPanel:
    """Groups of settings that the page lays out; everything holds from the moment it is set, views follow."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.rules, self.money = self._rules_group(), self._money_group()
        self.reports, self.tables = self._reports_group(), self._tables_group()

    def _rules_group(self) -> SettingGroup:
        group = SettingGroup("Rules of the shop", "evidence derating worth threshold")
        self.threshold = number_field("Evidence from", 0.5, 0.99, lambda v: self._keep("evidence_threshold", v), "0.85",
                                      "Probability from which a claim counts as known")  # fmt: skip
        self.derating = number_field("Supplies' age, off [%]", 0, 60, lambda v: self._keep("age_derating", v, 100), "0",
                                     "The shop's own setting, not a fact")  # fmt: skip
        self.worth = number_field("100 EUR must bring [%]", 0, 100, lambda v: self._keep("worth_per_eur", v, 10_000),
                                  "10", "Below it no further step is recommended")  # fmt: skip
        group.body.addLayout(row_of(self.threshold, self.derating, self.worth, stretch=False))
        return group

    def _money_group(self) -> SettingGroup:
        group = SettingGroup("Money", "tax currency rates exchange")
        self.tax = number_field("Tax [%]", 0, 40, self._keep_tax, "0", "Named on offers")
        self.tax_switch = Switch(TAX, self._set_tax, "Tax")
        self.rates = LineField("Other currencies, in EUR", self._set_rates, "USD 0.92, GBP 1.17",
                               "An offer without a rate is not weighed")  # fmt: skip
        group.body.addLayout(row_of(self.tax, self.rates, stretch=False))
        group.body.addWidget(self.tax_switch)
        return group

    def _reports_group(self) -> SettingGroup:
        group = SettingGroup("Reports", "language currency papers")
        self.language = ChoiceField("Language of reports", list(language_names().items()),
                                    lambda key: self._speak("report_language", key))  # fmt: skip
        self.currency = ChoiceField("Their currency", (), lambda key: self._speak("report_currency", key))
        group.body.addLayout(row_of(self.language, self.currency, stretch=False))
        return group

    def _tables_group(self) -> SettingGroup:
        group = SettingGroup("Table of systems", "support floors ceilings csv")
        self.systems = label("", "soft", True)
        self.read = button("Read a table of systems…", self._ask_systems, "", "CSV: floors, ceilings, end of support")
        self.export = button("Export it…", self._ask_export, "quiet")
        group.body.addWidget(self.systems)
        group.body.addLayout(row_of(self.read, self.export))
        return group

    def show_shop(self) -> None:
        """Show the rules as they are now."""
        rules = self._session.workspace.shop_rules()
        self.threshold.show_value(phrase("{threshold:g}", threshold=rules.threshold))
        self.derating.show_value(phrase("{age_derating:g}", age_derating=100 * rules.age_derating))
        self.worth.show_value(phrase("{worth_per_eur:g}", worth_per_eur=10000 * rules.worth_per_eur))
        self.tax.show_value(phrase("{float:g}", float=100 * float(rules.tax.rate)))
        self.tax_switch.show_value("included" if rules.tax.included else "apart")
        settings = settings_of(self._session.workspace)
        self.rates.show_value(rates_text(settings.rates))
        day = settings.rates_day
        self.rates.caption.setText(
            say(phrase("Other currencies, in EUR{more}", more=phrase(", typed on {day}", day=day) if day else ""))
        )
        self.currency.set_choices([(c, c) for c in (OWN_CURRENCY, *settings.rates)])
        self.language.show_value(settings.report_language or ENGLISH)
        self.currency.show_value(settings.report_currency or OWN_CURRENCY)
        open_ends = sum(not s.support_ends for s in rules.systems)
        tail = phrase(", {open_ends} without an end of support", open_ends=open_ends) if open_ends else ""
        self.systems.setText(
            say(phrase("{systems} in the table{tail}.", systems=many(len(rules.systems), "system"), tail=tail))
        )

    def _keep(self, name: str, value: Decimal | None, parts: int = 1) -> None:
        """Keep a share that is shown as so many parts of one; None puts it back to its default."""
        share = None if value is None else min(max(float(value) / parts, 0.0), 1.0)
        self._set(**{name: share})

    def _keep_tax(self, value: Decimal | None) -> None:
        rate = min(max((value or Decimal(0)) / 100, Decimal(0)), Decimal(1))
        self._set(tax=replace(settings_of(self._session.workspace).tax, rate=rate))

    def _set(self, **changes: object) -> None:
        keep_settings(self._session.workspace, **changes)
        self._again()

    def _set_rates(self, text: str) -> str | None:
        """Keep the rates; a wrong entry is named and changes nothing."""
        try:
            rates = read_rates(text)
        except ValueError as error:
            return phrase("{error}.", error=error)
        self._session.workspace.set_rates(rates)
        self.show_shop()
        return None

    def _speak(self, key: str, value: str) -> None:
        """Language and currency of reports from now on; a job can have its own."""
        keep_settings(self._session.workspace, **{key: value})

    def _set_tax(self, key: str) -> None:
        self._set(tax=replace(settings_of(self._session.workspace).tax, included=key != "apart"))

    def _again(self) -> None:
        self.show_shop()
        if self._session.job_id:
            self._session.workspace.refresh(self._session.job_id)

    def _ask_systems(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.tables, say("Table of systems"), str(Path.home()), say("CSV (*.csv);;All (*)")
        )
        if name:
            self.read_systems(Path(name))

    def read_systems(self, path: Path) -> None:
        """Check the table, then keep it; a bad one leaves the old one."""

        def arrived(systems: tuple[SystemSpec, ...]) -> None:
            self._session.workspace.keep(SYSTEM_TABLE, systems)
            self._session.say("The table of systems is kept.")
            self._again()

        self._session.read(lambda _: systems_from_csv(read_text(path), path.name), arrived)

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self.tables, say("Table of systems"), str(Path.home() / "systems.csv"), say("CSV (*.csv)")
        )
        if not name:
            return
        try:
            write_atomically(Path(name), systems_to_csv(self._session.workspace.shop_rules().systems).encode())
        except Problem as problem:
            self._session.report(problem)
        else:
            self._session.say(phrase("The table of systems is in {name}.", name=name))
