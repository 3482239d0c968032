"""The work on paper: every step once, numbered, with its picture and its cautions, on two pages at most."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import pytest

from brachium.app.reports.work_section import work_rows
from brachium.app.reports.work_sheet import MOST_PAGES, work_sheet, write_work_sheet
from brachium.app.view.job_view import JobView
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.work.plan_edits import Hint, PlanEdits
from brachium.core.record.work.trouble import Trouble
from brachium.core.work.steps import steps_for
from tests.support.every_plan import builds, task


def planned_view(
    view: JobView, kind: MachineKind, build: str, tasks: tuple[str, ...], needs: tuple[str, ...]
) -> JobView:
    """The view with another machine's work in it."""
    machine = builds(kind)[build]
    steps = steps_for(machine, tuple(task(machine, n) for n in tasks), needs)
    return replace(view, job=replace(view.job, machine=machine, steps_done=()), work=replace(view.work, steps=steps))


@pytest.mark.parametrize(("kind", "build", "tasks", "needs"), [
    (MachineKind.TOWER, "worst", ("board", "processor", "memory", "card", "supply", "drive", "clean"),
     ("new CMOS battery", "firmware 2.0", "image of the failing drive")),
    (MachineKind.ALL_IN_ONE, "worst", ("drive", "clean", "paste", "memory"), ("image of the failing drive",)),
    (MachineKind.HANDHELD, "unsaid", ("adapter",), ()),
])  # fmt: skip
def test_the_longest_work_is_two_pages(
    finished_view: JobView, tmp_path: Path, kind: MachineKind, build: str, tasks: tuple[str, ...],
    needs: tuple[str, ...],
) -> None:  # fmt: skip
    view = planned_view(finished_view, kind, build, tasks, needs)
    assert write_work_sheet(view, tmp_path / "sheet.pdf") <= MOST_PAGES
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")


def test_every_step_stands_once_and_points_at_its_cautions(finished_view: JobView) -> None:
    hinted = replace(finished_view.job, plan_edits=PlanEdits(hints=(Hint("memory", "clip is stiff"),)))
    view = replace(finished_view, job=hinted)
    sheet = work_sheet(view)
    assert [s.number for s in sheet.steps] == list(range(1, len(view.work.whole) + 1))
    assert len(set(sheet.cautions)) == len(sheet.cautions) > 2
    for row, step in zip(sheet.steps, view.work.whole, strict=True):
        told = [sheet.cautions[int(m.lstrip("!")) - 1] for m in row.cautions.split()]
        assert told == list(step.cautions) and row.title == step.title and row.figure.title == step.title
    assert next(s for s in sheet.steps if s.note).note == "last time: clip is stiff"
    assert all(s.done for s in sheet.steps[:-1]) and not sheet.steps[-1].done, "the after-run is never ticked on paper"


def test_trouble_stands_in_the_report_with_what_it_cost(finished_view: JobView) -> None:
    met = (
        Trouble("open", "stripped", "2026-11-26", 12.0, Decimal("0.40"), "rear left"),
        Trouble("memory", "missing", "2026-11-26", 8.0),
    )
    rows = work_rows(replace(finished_view, job=replace(finished_view.job, troubles=met)))
    told = {r.label: (r.value, str(r.note)) for r in rows}
    assert told["Stripped screw"] == ("12 min, 0.40 EUR", "rear left")
    assert told["Missing part"] == ("8 min", "Fit 4 GiB DDR3L-1600 SO-DIMM"), "no price is not a price of nothing"
