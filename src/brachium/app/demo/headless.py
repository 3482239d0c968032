"""The demo job from take in to hand over, without a window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from brachium.app.demo.demo_shop import add_newsroom, fill_demo_shop
from brachium.app.measure.simulated_run import measure_headless
from brachium.app.reports.full_report import ReportFiles, write_report
from brachium.app.reports.report_speech import speech_of
from brachium.app.reports.work_sheet import write_work_sheet
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import AFTER, BEFORE, Workspace
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.base.units import money, percent, ratio_band
from brachium.core.cause.assess import strength
from brachium.core.prove.verdict_words import headline
from brachium.core.record.job import DataSafe, DataState, StepDone
from brachium.core.work.last_chance import LastMark, open_items
from brachium.demo.newsroom import JOB_ID
from brachium.formats.atomic import check_folder
from brachium.formats.ids import file_stem

PLAN = ("mem-4-l", "ssd-480@bay-main", "svc-clean", "svc-paste")
DAYS = ("2026-11-24 09:10", "2026-11-24 10:30", "2026-11-25 09:20")
Say = Callable[[str], None]


def run_demo_job(shop: Path, say: Say, others: bool = True) -> tuple[Workspace, JobView]:
    """Take the newsroom laptop through all stages in a new shop file; the caller closes the workspace.

    Without `others` it is the only machine of the shop.
    """
    workspace = open_shop(shop, fill=fill_demo_shop if others else None)
    workspace.lanes.drain("compute")
    add_newsroom(workspace)
    failures: list[Exception] = []
    workspace.on_problem.append(failures.append)
    if workspace.run(JOB_ID, BEFORE) is not None:
        workspace.close()
        raise ExpectedProblem("this demo was already run", str(shop), "Name an empty folder.")
    job = workspace.job(JOB_ID)
    say(phrase("Take in      {job}: {goal}, {budget}", job=job.name, goal=job.goal, budget=money(job.budget or 0)))  # type: ignore[arg-type]
    safe = DataSafe(DataState.BACKED_UP, "the bench", DAYS[0], "bench disk 2", "143 GB", "every file read back", True)
    workspace.edit("data state changed", replace(job, data_safe=safe))
    _raise_unsaved(workspace, failures)  # before measuring on a disk that takes nothing
    view = _measure(workspace, BEFORE, DAYS[0], say)
    for cause in view.causes.assessment.called:
        say(
            phrase(
                "Find cause   {kind}: {strength}, {cost_frac} of the time",
                kind=cause.kind.title,
                strength=strength(cause),
                cost_frac=percent(cause.cost_frac),
            )
        )
    workspace.edit("planned", replace(workspace.job(JOB_ID), plan=PLAN))
    view = workspace.compute_now(JOB_ID)
    if view.choice.prediction is not None:
        band = view.choice.prediction.band
        say(
            phrase(
                "Choose       {total}, predicted {ratio_band}",
                total=money(view.choice.cost.total),
                ratio_band=ratio_band(band.low, band.mid, band.high),
            )
        )
    job = workspace.job(JOB_ID)
    waived = tuple((c.item.id, LastMark.WAIVED.value) for c in open_items(job, True, [s.id for s in view.work.steps]))
    workspace.edit("before you open it", replace(job, last_chance=(*job.last_chance, *waived)))
    done = tuple(StepDone(s.id, DAYS[1], s.attended_min + (k % 3)) for k, s in enumerate(view.work.steps))
    workspace.edit("work done", replace(workspace.job(JOB_ID), steps_done=done))
    say(phrase("Work         {count} steps, {sum:.0f} min logged", count=len(done), sum=sum(d.minutes for d in done)))
    view = _measure(workspace, AFTER, DAYS[2], say)
    if view.proof.comparison is not None:
        say(phrase("Prove        {headline}", headline=headline(view.proof.comparison)))
    for target in view.proof.targets:
        say(
            phrase(
                "             {target}: {target2} ({figures})",
                target=target.words,
                target2=target.target.words,
                figures=target.figures,
            )
        )
    _raise_unsaved(workspace, failures)
    return workspace, view


def _raise_unsaved(workspace: Workspace, failures: list[Exception]) -> None:
    """Close the shop and raise what went wrong where not all is kept."""
    workspace.lanes.drain("store")
    try:
        workspace.writes.raise_unsaved()
        if failures:
            raise failures[0]
    except Exception:
        workspace.close()
        raise


def write_demo_report(view: JobView, folder: Path, say: Say) -> ReportFiles:
    """Write the hand-over report of the demo job."""
    files = write_report(view, folder, DAYS[2][:10])
    write_work_sheet(view, folder / "work-sheet.pdf")
    say(phrase("Hand over    {pdf} and {html}, for owner and buyer beside it", pdf=files.pdf, html=files.html.name))
    return files


def write_other_reports(workspace: Workspace, folder: Path, say: Say) -> None:
    """The reports of every other machine of the shop, each in a folder of its own. Raises EnvironmentProblem."""
    others = [job_id for job_id in workspace.job_ids() if job_id != JOB_ID]
    for job_id in others:
        check_folder(folder / file_stem(job_id))
        view = workspace.compute_now(job_id)
        write_report(view, folder / file_stem(job_id), DAYS[2][:10], speech_of(workspace, view.job))
    say(phrase("             and those of {count} other machines in {folder}", count=len(others), folder=folder))


def _measure(workspace: Workspace, role: str, taken_at: str, say: Say) -> JobView:
    run = measure_headless(workspace.compute_now(JOB_ID), role, taken_at)
    workspace.add_run(JOB_ID, role, run)
    samples = sum(s.trace.time_s.size for s in run.sessions)
    say(
        phrase(
            "Measure      {role}: {count} sessions, {samples} samples, {count2} tests",
            role=role,
            count=len(run.sessions),
            samples=samples,
            count2=len(run.tests),
        )
    )
    return workspace.compute_now(JOB_ID)
