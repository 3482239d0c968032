"""The report: self-contained, the same figures as the window, honest about what is not there."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree

import pytest

from brachium.app.reports.full_report import report_content, write_report
from brachium.app.reports.offer import likely, offer_content, write_offer
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.figures.base.drawing import Text
from brachium.core.figures.base.theme import DARK
from brachium.core.heat.claims import refused
from brachium.core.record.job import LatchLift, Stage
from brachium.core.record.kept_plans import NamedPlan, Replacement
from brachium.report.html import render_html
from brachium.report.svg import drawing_to_svg


def test_html_is_whole_and_fetches_nothing(finished_view: JobView) -> None:
    html = render_html(report_content(finished_view, "2026-11-25"))
    assert not re.findall(r'(?:src|href)="(?!data:)[^"#]', html)
    outside = [u for u in re.findall(r"https?://[^\s\"')<]+", html) if "www.w3.org" not in u]
    assert outside == []
    assert html.count("@font-face") == 6 and html.count("<svg") == 4
    for words in (
        "22 % (16 to 28) more sustained work",
        "480 GB SATA SSD",
        "93.47 EUR",
        "starts in under 25 s",
        "23.4 °C",
        "Felted lint, slight: Vents and fan",
        "Failed when tried: Fan turns",
    ):
        assert words in html, words


def test_report_and_window_draw_from_one_figure(finished_view: JobView) -> None:
    content = report_content(finished_view)
    for _, drawing in content.figures:
        svg = drawing_to_svg(drawing)
        root = ElementTree.fromstring(svg)
        texts = [t.text for t in root.iter("{http://www.w3.org/2000/svg}text")]
        assert texts == [i.text for i in drawing.items if isinstance(i, Text)]
        assert root.attrib["width"] == f"{drawing.width:.0f}"
        assert DARK.film in drawing_to_svg(drawing, DARK)


def test_files_are_written_and_a_blocked_folder_is_named(finished_view: JobView, tmp_path: Path) -> None:
    files = write_report(finished_view, tmp_path / "out", "2026-11-25")
    assert files.pdf.read_bytes().startswith(b"%PDF-") and files.pdf.stat().st_size > 20_000
    assert "2026-11-25" in files.html.read_text()
    (tmp_path / "blocked").write_text("x")
    with pytest.raises(EnvironmentProblem, match="blocked"):
        write_report(finished_view, tmp_path / "blocked")


def test_lifted_latches_and_refusals_stand_on_the_page(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None
    job = replace(finished_view.job, lifts=(LatchLift(Stage.MEASURE, "drive <empty>, owner present", "today"),))
    blind = replace(
        finished_view,
        job=job,
        proof=replace(finished_view.proof, comparison=replace(comparison, heat=refused("before: room not known"))),
    )
    html = render_html(report_content(blind))
    assert "drive &lt;empty&gt;, owner present" in html and "room not known" in html
    assert html.count("<svg") == 3, "no heat stair without a verdict"


def test_without_an_after_run_no_gain_is_claimed(finished_view: JobView) -> None:
    content = report_content(
        replace(
            finished_view,
            measured=replace(finished_view.measured, after=None),
            proof=replace(finished_view.proof, comparison=None, targets=()),
        )
    )
    assert content.figures == () and content.heat == ()
    assert "No after-run" in content.headline
    assert "no gain is claimed" in content.limits[0]


def test_an_offer_says_each_plan_in_plain_words(finished_view: JobView, tmp_path: Path) -> None:
    view = finished_view
    assert view.choice.weighed is not None
    kept = (NamedPlan("Plan A", view.job.plan), NamedPlan("Plan B", view.choice.weighed.front.recommended.ids))
    other = Replacement(260.0, 2.2, 90.0, "", 5.0, 3.0, 40.0)
    offered = replace(view, job=replace(view.job, kept_plans=kept, other_machine=other))
    content = offer_content(offered, "2026-11-25")
    assert [p.title for p in content.plans] == ["Plan A", "Plan B"] and content.plans[0].price == "93.47 EUR"
    assert "memory is too small for the task" in content.found
    assert "of the time it takes now; in 8 of 10 such cases between" in content.plans[0].brings
    words = {r.label: r.value for r in content.plans[0].odds}
    assert words["starts in under 25 s"].startswith("nearly certain")
    assert any("a year against" in r for r in content.remarks)
    files = write_offer(offered, tmp_path, "2026-11-25")
    assert files.pdf.read_bytes().startswith(b"%PDF") and "Plan B: " in files.html.read_text()


def test_without_a_plan_there_is_no_offer_but_a_proposal(finished_view: JobView) -> None:
    bare = replace(finished_view, job=replace(finished_view.job, plan=(), kept_plans=()))
    assert [p.title for p in offer_content(bare).plans] == ["Our proposal"]
    with pytest.raises(ExpectedProblem, match="there is no plan to offer"):
        offer_content(replace(bare, choice=replace(bare.choice, weighed=None)))


def test_a_chance_in_words() -> None:
    assert likely(None) == "cannot be predicted" and likely(0.97) == "nearly certain (97 %)"
    assert [likely(c).split(" (")[0] for c in (0.8, 0.6, 0.5, 0.2, 0.0)] == [
        "likely", "more likely than not", "an even chance", "unlikely", "very unlikely",
    ]  # fmt: skip
