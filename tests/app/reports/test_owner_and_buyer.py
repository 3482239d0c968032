"""Reports for three readers: the owner's one page in plain words, the buyer's without anything of the owner."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path

from weasyprint import HTML

from brachium.app.reports.buyer_report import buyer_content
from brachium.app.reports.full_report import report_content, write_report
from brachium.app.reports.owner_report import brought, owner_content
from brachium.app.view.job_view import JobView
from brachium.core.record.drive_records import EraseMethod, Erasure, Verified
from brachium.core.record.work.screws import ScrewGroup
from brachium.report.html import render_buyer, render_owner, with_font_files
from brachium.report.speech import Speech
from brachium.speech.languages import languages


def test_the_owners_page_is_one_page_in_plain_words(finished_view: JobView) -> None:
    content = owner_content(finished_view, "2026-11-25")
    html = render_owner(content)
    assert len(HTML(string=html).render().pages) == 1
    assert content.headline.startswith("Your work takes ") and len(content.figures) == 3
    heat, tests = content.brought[:3], content.brought[3:]
    assert heat[0] == "Heat no longer slows it down under long load." and "MHz instead of" in heat[1]
    assert heat[2].startswith("At the same power the chip is ") and heat[2].endswith(" K cooler.")
    assert tests[0] == "It starts 3.4 times as fast." and tests[1].startswith("Your own task is done")
    assert content.cost == "93.47 EUR" and "It cost 93.47 EUR" in html
    for jargon in ("p, corrected", "K/W", "log-odds", "sessions"):
        assert jargon not in html, jargon
    assert brought(None) == ()
    bare = owner_content(replace(finished_view, proof=replace(finished_view.proof, comparison=None, attribution=None)))
    assert "not measured in a way" in bare.headline and bare.figures == ()


def test_the_buyers_sheet_holds_the_machine_and_nothing_of_the_owner(finished_view: JobView) -> None:
    view = finished_view
    html = render_buyer(buyer_content(view, "2026-11-25"))
    job = view.job
    for private in (job.name, job.goal, job.machine.identity.serial, job.data_safe.where, job.data_safe.who,
                    *(t.title for t in job.targets), *job.condition):  # fmt: skip
        assert not private or private not in html, private
    assert "480 GB, shown as 447 GiB" in html and "8 GiB" in html, "as it is after the work"
    assert "Memory: one full pass after the work" in html and "failed when it came in" in html
    open_job = replace(job, steps_done=())
    before = buyer_content(replace(view, job=open_job), "2026-11-25")
    assert "4 GiB" in {r.value for r in before.specification}, "as it was found while nothing is done"


def test_the_technicians_report_says_how_it_was_done(finished_view: JobView) -> None:
    record = Erasure("disk, main drive bay", EraseMethod.OVERWRITE, Verified.SAMPLES, "kl", "2026-11-25")
    job = replace(finished_view.job, screws=(ScrewGroup("cover", 9, back=8),), erasures=(record,))
    content = report_content(replace(finished_view, job=job))
    rows = {r.label: (r.value, r.note) for r in content.work}
    assert rows["screws"] == ("8 of 9 back", "counted on the way back") and "hands on" in rows
    assert [(r.label, r.value) for r in content.drives] == [("disk, main drive bay", "overwritten once, whole")]
    assert not any("still holds your data" in w for w in content.watch), "it was erased"
    assert any("What each change brought" in name for name, _ in content.figures)


def test_all_three_are_written_at_once(finished_view: JobView, tmp_path: Path) -> None:
    files = write_report(finished_view, tmp_path, "2026-11-25")
    assert files.pdf.exists()
    for name in ("report", "owner", "buyer"):
        html = (tmp_path / f"{name}.html").read_text(encoding="utf-8")
        assert (tmp_path / f"{name}.pdf").read_bytes().startswith(b"%PDF")
        assert html.count("data:font/ttf") == 6 and "file:" not in html, "the PDF alone reads files"
        shown = with_font_files(html)
        assert "data:font" not in shown and shown.count("file:") == 6 and len(shown) < len(html) / 4


def test_the_owners_page_keeps_its_figures_in_a_longer_language(finished_view: JobView, tmp_path: Path) -> None:
    french = Speech(languages()["fr"], "GBP", Decimal("1.17"), "2026-11-20")
    job = replace(finished_view.job, remarks={"owner": "Merci de votre patience. " * 4})
    write_report(replace(finished_view, job=job), tmp_path, "2026-11-25", french)
    html = (tmp_path / "owner.html").read_text(encoding="utf-8")
    assert html.count("<figure>") == 3 and len(HTML(string=html).render().pages) == 1
    job = replace(job, remarks={"owner": "Merci de votre patience. " * 90})
    write_report(replace(finished_view, job=job), tmp_path, "2026-11-25", french)
    html = (tmp_path / "owner.html").read_text(encoding="utf-8")
    assert html.count("<figure>") < 3 and len(HTML(string=html).render().pages) == 1, "words go before figures"
