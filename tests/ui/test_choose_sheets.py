"""Sheets beside the plan: use of time, money, the system to run; the shop's rules; plans named and duplicated."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton

from brachium.app.shop.own_evidence import with_own_jobs
from brachium.core.plan.candidates import CatalogueItem, Group
from brachium.core.plan.price_offer import PriceOffer
from brachium.core.record.evidence import SourceKind
from brachium.ui.pages.choose.money_sheet import MoneySheet
from brachium.ui.pages.choose.system_sheet import SystemSheet
from brachium.ui.pages.choose.use_sheet import UseSheet
from brachium.ui.pages.shop.settings_page import SettingsPage
from tests.core.fit.bench_machines import CHIP
from tests.ui.conftest import Bench


def test_shares_of_time_are_edited_measured_and_taken_back(done: Bench) -> None:
    sheet = done.choose().plan.show_more("use")
    assert isinstance(sheet, UseSheet)
    done.type_in(sheet.fields["all"], "70")
    own = done.job().own_use
    assert (
        own is not None and own.shares["all"] == pytest.approx(0.7) and sum(own.shares.values()) == pytest.approx(1.0)
    )
    done.type_in(sheet.fields["all"], "170")
    assert sheet.fields["all"]._problem.text() == "Between 0 and 100." and done.job().own_use == own
    QTest.mouseClick(sheet.source.buttons["measured"], Qt.MouseButton.LeftButton)
    done.settled()
    view = done.window.session.view()
    assert view is not None and view.causes.profile.measured and sheet.fields["all"].edit.isReadOnly()
    QTest.mouseClick(sheet.reset, Qt.MouseButton.LeftButton)
    assert done.job().own_use is None and not done.job().measured_shares
    sheet.close()


def test_a_sale_and_the_energy_are_worked_out(done: Bench) -> None:
    sheet = done.choose().plan.show_more("money")
    assert isinstance(sheet, MoneySheet)
    assert "in this order" in sheet.margin.text() and "State watts, hours and tariff" in sheet.energy.text()
    for key, text in (("low", "120"), ("likely", "160"), ("high", "190"), ("fee", "10")):
        done.type_in(sheet.fields[key], text)
    assert "Margin " in sheet.margin.text() and "of 100 cases" in sheet.margin.text()
    because = done.window.because.because()
    assert because is not None and because.rule == "resale"
    for key, text in (("idle_w", "20"), ("idle_h", "10"), ("tariff", "0,30")):
        done.type_in(sheet.fields[key], text)
    assert sheet.energy.text().startswith("21.90 EUR a year as it is")
    before = done.window.session.view()
    done.type_in(sheet.vouchers, "10 % from 20; 2 USD")
    assert sheet.vouchers._problem.text().startswith("“2 USD”") and done.job().vouchers == ()
    done.type_in(sheet.vouchers, "10 % from 20; 2 EUR on all")
    done.settled()
    after = done.window.session.view()
    assert before is not None and after is not None
    parts, off = after.choice.cost.parts, after.choice.cost.discount
    assert off == (parts / 10).quantize(Decimal("0.01"), ROUND_HALF_UP) + 2
    assert after.choice.cost.total == before.choice.cost.total - off
    sheet.close()


def test_a_planned_system_is_judged_with_the_plan(done: Bench) -> None:
    sheet = done.choose().plan.show_more("system")
    assert isinstance(sheet, SystemSheet)
    sheet.choice.box.setCurrentIndex(1)
    sheet.choice.box.activated.emit(1)
    done.settled()
    done.until(lambda: "OS-SUPPORT: not known, the end of its security support" in sheet.verdict.text())
    assert done.job().machine.platform.system.planned == "locked-64"
    sheet.close()


def test_the_shops_rules_hold_at_once_and_a_bad_table_changes_nothing(done: Bench, tmp_path: Path) -> None:
    done.window.show_shop("settings")
    page = done.window.shop_pages.page("settings")
    assert isinstance(page, SettingsPage)
    workspace = done.window.session.workspace
    done.type_in(page.rules.threshold, "0.95")
    done.type_in(page.rules.tax, "19")
    QTest.mouseClick(page.rules.tax_switch.buttons["apart"], Qt.MouseButton.LeftButton)
    rules = workspace.shop_rules()
    assert rules.threshold == 0.95 and rules.tax.words(100).startswith("119 EUR with 19 %")  # type: ignore[arg-type]
    dear = PriceOffer("over the sea", Decimal(10), Decimal(5), currency="USD")
    first = workspace.catalogue[0]
    workspace.set_catalogue((replace(first, offers=(dear,)), *workspace.catalogue[1:]))
    done.type_in(page.rules.rates, "USD 0.9, pounds 2")
    assert "“pounds 2”" in page.rules.rates._problem.text() and workspace.catalogue[0].price == first.price
    done.type_in(page.rules.rates, "USD 0.9")
    done.until(lambda: workspace.catalogue[0].price == Decimal("13.50"))
    page.show_shop()
    assert page.rules.rates.caption.text().endswith(f"typed on {date.today().isoformat()}")
    done.type_in(page.rules.threshold, "2")
    assert page.rules.threshold._problem.text() and workspace.shop_rules().threshold == 0.95
    table = tmp_path / "systems.csv"
    table.write_text("id,title,support_ends\nmine,Mine,2031-01-31\n")
    page.rules.read_systems(table)
    done.until(lambda: [s.id for s in workspace.shop_rules().systems] == ["mine"])
    table.write_text("id,title,support_ends\nmine,Mine,whenever\n")
    page.rules.read_systems(table)
    done.until(lambda: "line 2" in " ".join(done.window.next.texts()))
    assert [s.support_ends for s in workspace.shop_rules().systems] == ["2031-01-31"], "the good one stays"
    page.rules.read_systems(tmp_path / "nowhere.csv")
    done.until(lambda: "no such file" in " ".join(done.window.next.texts()))
    assert "1 system in the table" in page.rules.systems.text()


def test_a_kept_plan_is_renamed_and_duplicated(done: Bench) -> None:
    page = done.choose()
    page.take_plan(("mem-4-l",))
    done.settled()
    page.plan.keep_plan()
    done.settled()
    sheet = page.plan.show_plans()
    name = next(e for e in sheet.findChildren(QLineEdit) if e.accessibleName() == "Name of Plan A")
    name.setText("Memory only")
    name.editingFinished.emit()
    assert [k.name for k in done.job().kept_plans] == ["Memory only"]
    sheet.close()
    sheet = page.plan.show_plans()
    copy = next(b for b in sheet.findChildren(QPushButton) if b.text() == "Duplicate")
    QTest.mouseClick(copy, Qt.MouseButton.LeftButton)
    assert [(k.name, k.ids) for k in done.job().kept_plans] == [
        ("Memory only", ("mem-4-l",)),
        ("Plan A", ("mem-4-l",)),
    ]


def test_finished_jobs_of_the_same_model_count_as_evidence_by_themselves(done: Bench) -> None:
    workspace = done.window.session.workspace
    finished = done.job()
    from dataclasses import replace
    from decimal import Decimal

    item = CatalogueItem("cpu", Group.PROCESSOR, "chip", Decimal(9), part=CHIP)
    workspace.set_catalogue((*workspace.catalogue, item))
    workspace.edit("done", replace(finished, plan=("cpu@socket",), handed_over="2026-11-24 10:00"))
    other = replace(finished, id="another", name="Another", handed_over="")
    done_jobs, names = (workspace.job(done.job().id),), {"cpu": CHIP.name}
    claims = with_own_jobs(other, (), done_jobs, names)
    assert [(c.part, [s.kind for s in c.sources]) for c in claims] == [("D4-84", [SourceKind.OWN_JOB])]
    elsewhere = replace(other, machine=replace(other.machine, identity=replace(other.machine.identity, model="Else 1")))
    assert with_own_jobs(elsewhere, (), done_jobs, names) == ()
    workspace.add_job(replace(other, plan=()))
    view = workspace.compute_now("another")
    assert [c.part for c in view.choice.around.claims] == ["D4-84"], "it counts for the next machine of the model"
