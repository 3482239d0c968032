"""What nobody stated is not said: no record complete, no drive clean, no entry unfit before somebody looked."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtTest import QTest

from brachium.app.shop.waiting_fits import waiting_fits
from brachium.app.view.cause_headlines import drives_headline
from brachium.core.drives.readings import HealthReading
from brachium.core.record.job import Stage
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.shop.price_columns import columns_of
from brachium.ui.pages.take_in.take_in_page import TakeInPage

from .conftest import Bench


def test_a_blank_record_is_never_said_to_be_complete(empty: Bench) -> None:
    empty.window.records.take_by_hand()
    page = empty.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    titles = {page.machine.open._title.text()}
    empty.settled()
    titles.add(page.machine.open._title.text())
    assert titles == {"What is in it is still open"}


def test_a_drive_that_was_not_read_is_not_counted_as_clean(empty: Bench) -> None:
    empty.window.records.take_by_line("laptop; 4gb ddr3l; 500gb hdd; second bay 240gb ssd")
    empty.until(lambda: bool(empty.job().machine.configuration().drives()))
    job = empty.job()
    first, *rest = job.machine.configuration().drives()
    assert rest and "nothing against" not in drives_headline(job), "nothing was read yet"
    clean = {"reallocated": 0, "pending": 0, "uncorrectable": 0, "interface": 0}
    read = replace(job, health=(HealthReading(first, "2026-12-01", clean),))
    said = drives_headline(read)
    assert said == f"1 drive read, nothing against any; {len(rest)} not read"


def test_what_fits_a_waiting_machine_and_what_nobody_knows_are_told_apart(empty: Bench) -> None:
    empty.window.records.take_by_line("laptop; 4gb ddr3l; 500gb hdd; 35w")
    empty.until(lambda: bool(empty.job().machine.fitted))
    empty.settled()
    workspace = empty.window.session.workspace
    fits = waiting_fits(workspace.reading())
    assert fits.machines == 1 and fits.counts and fits.open, "some fit, of some nobody knows"
    assert not set(fits.counts) & set(fits.open)
    (column,) = (c for c in columns_of((), "", fits) if c.title == "Fits waiting")
    unsure = next(i for i in workspace.catalogue if i.id in fits.open)
    assert column.value(unsure) == "0 of 1, 1 open"


def test_a_line_goes_into_its_own_record_whatever_is_in_view_by_then(fresh: Bench) -> None:
    session = fresh.window.session
    first = session.job_id
    fresh.window.records.take_by_line("laptop; 4gb ddr3l; 500gb hdd; 35w")
    made = session.job_id
    session.select_job(first)
    fresh.until(lambda: bool(session.workspace.job(made).machine.fitted))
    assert session.job_id == first


def test_a_new_size_does_not_drop_a_paper_that_is_being_made(done: Bench) -> None:
    done.window.session.select_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    done.paper(page.preview)
    before = page.preview.pdf()
    page.preview.show_paper(lambda: before + b"\n")
    page.preview._draw()
    QTest.qWait(10)
    done.until(lambda: page.preview.pdf() != before)
    assert done.paper(page.preview)
