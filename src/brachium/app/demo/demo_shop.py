"""The demo shop: the newsroom laptop as it comes in, the other machines with what was measured on them, the shelf."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from brachium.app.bench.run_roles import DAY_AFTER, DAY_BEFORE
from brachium.app.demo.demo_record import add_record
from brachium.app.intake.scanning import scan_of
from brachium.app.measure.days import simulated_day
from brachium.app.measure.simulated_run import measure_headless
from brachium.app.shop.kept import keep_settings, settings_of
from brachium.app.shop.workspace import AFTER, BEFORE, Workspace
from brachium.app.view.job_view import compute_view
from brachium.app.view.measured import JobRuns
from brachium.core.record.job import SIMULATED, Job, StepDone
from brachium.demo import playout
from brachium.demo.donors import demo_shelf
from brachium.demo.machines import OTHERS, TREES
from brachium.demo.newsroom import newsroom_job
from brachium.demo.shop import demo_catalogue
from brachium.formats.job_archive import ArchivedRun, ReadArchive, read_archive
from brachium.formats.shop_documents import OUTCOMES, SHELF
from brachium.store.edits import StoredRun

ARCHIVES = Path(__file__).parents[2] / "demo" / "jobs"
MEASURED, WORKED, AGAIN = "2026-11-23 10:20", "2026-11-23 14:10", "2026-11-24 08:30"


def fill_demo_shop(workspace: Workspace) -> None:
    """Take the demo shop in, or what a start that was stopped left out."""
    if not settings_of(workspace).demo_filled:
        add_demo_jobs(workspace)


def add_demo_jobs(workspace: Workspace) -> str:
    """Take in what of the demo shop is not there; returns the id of the newsroom laptop.

    That it is whole is noted last, behind all that it consists of.
    """
    if not workspace.setting(SHELF.key):
        add_shelf(workspace)
    if not workspace.setting(OUTCOMES.key):
        add_record(workspace)
    first = add_newsroom(workspace)
    add_others(workspace)
    workspace.lanes.submit("compute", lambda: None, lambda _: keep_settings(workspace, demo_filled=True))
    return first


def add_newsroom(workspace: Workspace) -> str:
    """Take the newsroom laptop in; returns its id."""
    job = newsroom_job()
    if job.id not in workspace.job_ids():
        workspace.add_job(job)
    return job.id


def add_others(workspace: Workspace) -> None:
    """Take in every other machine of the demo shop with its runs: read in a lane, kept one after the other."""
    known = set(workspace.job_ids())

    def keep(archive: ReadArchive) -> None:
        job_id = archive.job.id
        runs = tuple(StoredRun(job_id, a.role, a.run) for a in archive.runs)
        workspace.add_whole(archive.job, runs, archive.photos, "taken in")

    for make in OTHERS:
        path = ARCHIVES / f"{make().id}.zip"
        if path.stem not in known:
            workspace.lanes.submit("compute", lambda p=path: read_archive(p), keep, workspace.report)  # type: ignore[misc]


def add_shelf(workspace: Workspace) -> None:
    """Put the parts pulled from the donors on the shelf; for a shop that has none yet."""
    workspace.shelf_parts = demo_shelf()
    workspace.keep(SHELF, workspace.shelf_parts)


def measure_demo_job(job: Job) -> tuple[Job, tuple[ArchivedRun, ...]]:
    """A job of the demo shop with its scan and the runs that it has at its stage."""
    if job.simulated_as in TREES:
        job = replace(job, scan=scan_of(job))
    if job.bench != SIMULATED:
        return job, ()
    before = measure_headless(compute_view(job, JobRuns(), demo_catalogue()), BEFORE, MEASURED)
    view = compute_view(job, JobRuns(before), demo_catalogue())
    day = simulated_day(view, DAY_BEFORE, f"{job.id}-{DAY_BEFORE.replace(' ', '-')}-1", MEASURED)
    runs = (ArchivedRun(BEFORE, before), ArchivedRun(DAY_BEFORE, day))
    if job.id != playout.JOB_ID:
        return job, runs
    done = tuple(StepDone(s.id, WORKED, s.attended_min) for s in view.work.steps)
    job = replace(job, steps_done=done)
    view = compute_view(job, JobRuns(before), demo_catalogue())
    after = measure_headless(view, AFTER, AGAIN)
    later = simulated_day(view, DAY_AFTER, f"{job.id}-{DAY_AFTER.replace(' ', '-')}-1", AGAIN)
    return job, (*runs, ArchivedRun(AFTER, after), ArchivedRun(DAY_AFTER, later))
