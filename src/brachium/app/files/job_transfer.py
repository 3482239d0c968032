"""Jobs and runs carried from one shop to another."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from brachium.app.bench.run_roles import DAY_AFTER, DAY_BEFORE, TITLES
from brachium.app.intake.local_job import with_scan
from brachium.app.shop.free_job_id import free_job_id
from brachium.app.shop.reading import ShopReading
from brachium.app.shop.store_queue import Ticket
from brachium.app.shop.workspace import AFTER, BEFORE, Workspace
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import joined, many, phrase
from brachium.core.machine.machine import Identity, Machine
from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.run import Run
from brachium.core.record.job import IMPORTED, Job
from brachium.core.use.watched_rows import WATCH
from brachium.formats.job_archive import ArchivedRun, ReadArchive, read_archive, write_archive
from brachium.formats.read_run import ReadRun
from brachium.formats.records import job_to_json, run_to_json
from brachium.formats.run_file import is_run_file, read_run_file
from brachium.store.edits import StoredRun


@dataclass(frozen=True)
class Taken:
    """What was taken in: the job's id, one sentence, what had to be left out; not `fresh` = it was here already."""

    job_id: str
    said: str
    damaged: tuple[str, ...] = ()
    fresh: bool = True
    tickets: tuple[Ticket, ...] = ()  # of what is on its way to the disk; it is taken in once all of them are kept


def export_job(workspace: ShopReading, job_id: str, path: Path) -> int:
    """Write a job with all its runs; returns how many. Raises EnvironmentProblem, nothing half written."""
    runs = [ArchivedRun(s.role, s.run) for s in workspace.all_runs(job_id)]
    job = workspace.job(job_id)
    write_archive(job, runs, path, {p.id: workspace.photo(p.id) for p in job.photos})
    return len(runs)


@dataclass(frozen=True)
class Carried:
    """A file that was read: an archive, or a run by itself."""

    path: Path
    archive: ReadArchive | None = None
    run: ReadRun | None = None
    same: bool = False  # the shop holds this very archive already
    twin: str = ""  # the job that holds this very run


def read_carried(path: Path, shop: ShopReading, cancelled: Callable[[], bool] = lambda: False) -> Carried:
    """Read a job archive or a run file and hold it against the shop. Raises ExpectedProblem or EnvironmentProblem."""
    if not is_run_file(path):
        if path.suffix.lower() == ".json":
            read_run_file(path)  # says what is wrong with it
        archive = read_archive(path, cancelled)
        here = archive.job.id in shop.job_ids()
        return Carried(path, archive=archive, same=here and _same(shop, archive.job, archive.runs))
    read = read_run_file(path)
    if not read.run.sessions:
        raise ExpectedProblem("the run was cut off before anything was sampled", str(path), "Measure again.")
    return Carried(path, run=read, twin=shop.twin(read.run))


def keep_carried(workspace: Workspace, carried: Carried, job_id: str = "", role: str = BEFORE) -> Taken:
    """Keep what was read; nothing is kept twice. Raises ExpectedProblem."""
    if carried.archive is not None:
        return _keep_archive(workspace, carried.archive, carried.same)
    assert carried.run is not None
    return _keep_run(workspace, carried, carried.run, job_id, role)


def take_in(workspace: Workspace, path: Path, job_id: str = "", role: str = BEFORE) -> Taken:
    """Read and keep in one go; for the command line."""
    return keep_carried(workspace, read_carried(path, workspace.reading()), job_id, role)


def _keep_archive(workspace: Workspace, archive: ReadArchive, same: bool) -> Taken:
    """All of it in one transaction, or nothing."""
    job = archive.job
    here = job.id in workspace.job_ids()
    if here and not same:
        job = replace(job, id=free_job_id(workspace, job.id), name=phrase("{job}, carried here", job=job.name))
    elif here:
        return Taken(job.id, phrase("{job} is here already, with the same runs.", job=job.name), archive.damaged, False)
    runs = tuple(
        StoredRun(
            job.id,
            a.role,
            a.run if job.id == archive.job.id else replace(a.run, id=f"{job.id}-{number}"),
        )
        for number, a in enumerate(archive.runs, 1)
    )
    ticket = workspace.add_whole(job, runs, archive.photos, "taken in")
    said = phrase("{job} is taken in with {runs}.", job=job.name, runs=many(len(archive.runs), "run"))
    return Taken(job.id, said, archive.damaged, tickets=(ticket,))


def _same(workspace: ShopReading, job: Job, runs: tuple[ArchivedRun, ...]) -> bool:
    try:
        if job_to_json(workspace.job(job.id)) != job_to_json(job):
            return False
    except Problem:  # a record that cannot be read is not this one
        return False
    here = {(s.role, run_to_json(s.run)) for s in workspace.all_runs(job.id)}
    return {(r.role, run_to_json(r.run)) for r in runs} <= here


def _keep_run(workspace: Workspace, carried: Carried, read: ReadRun, job_id: str, role: str) -> Taken:
    path, twin = carried.path, carried.twin
    if role not in TITLES:
        raise ExpectedProblem(
            phrase("{role!r} is none of {title}", role=role, title=joined(", ", TITLES)), "role", "Name one of them."
        )
    if job_id and job_id not in workspace.job_ids():
        known = joined(", ", workspace.job_ids()) or "none yet"
        raise ExpectedProblem(
            phrase("there is no record {job_id!r}", job_id=job_id), str(path), phrase("Known: {known}.", known=known)
        )
    if twin in workspace.job_ids():
        return Taken(
            twin, phrase("This run is here already, under {name}.", name=workspace.card(twin).name), read.damaged, False
        )
    if not job_id and read.scan is not None:
        job_id, role = _known(workspace, read.scan, role)
    if is_watch(read.run):
        role = day_role(workspace, job_id, role)
    if not job_id:
        job = replace(_record(workspace, read), measured_shares=is_watch(read.run))
        stored = StoredRun(job.id, role, replace(read.run, id=f"{job.id}-{role}-1"))
        ticket = workspace.add_whole(job, (stored,), {}, "taken in")
        return Taken(job.id, _said(read.run, role, job.name), read.damaged, tickets=(ticket,))
    if read.scan is not None:
        workspace.edit("scanned", with_scan(workspace.job(job_id), read.scan))
    if is_watch(read.run):
        _void_shorter(workspace, read.run, job_id, role)
    number = workspace.next_run_number(job_id)
    ticket = workspace.add_run(job_id, role, replace(read.run, id=f"{job_id}-{role}-{number}"))
    if role == DAY_BEFORE and not workspace.job(job_id).measured_shares:
        workspace.edit("use as watched", replace(workspace.job(job_id), measured_shares=True))
    said = _said(read.run, role, workspace.job(job_id).name)
    return Taken(job_id, said, read.damaged, tickets=(ticket,))


def _void_shorter(workspace: Workspace, run: Run, job_id: str, role: str) -> None:
    """A watch that went on since it was taken in counts once."""
    for stored in workspace.all_runs(job_id):
        same = stored.role == role and stored.run.taken_at == run.taken_at and stored.run.notes[:1] == run.notes[:1]
        if same and is_watch(stored.run) and not stored.run.void_reason:
            workspace.void_run(job_id, stored.run.id, "it went on and was taken in again")


def is_watch(run: Run) -> bool:
    """Whether a run is a watched day and no measurement."""
    return run.protocol.name == WATCH


def day_role(workspace: Workspace, job_id: str, role: str) -> str:
    """Before or after: as it is said, else after where the after-run is there."""
    if role in (DAY_BEFORE, DAY_AFTER):
        return role
    later = role == AFTER or (bool(job_id) and workspace.run(job_id, AFTER) is not None)
    return DAY_AFTER if later else DAY_BEFORE


def _said(run: Run, role: str, name: str) -> str:
    if not is_watch(run):
        return phrase("The run is kept as {role}-run of {name}.", role=role, name=name)
    hours = sum(float(s.trace.time_s[-1]) for s in run.sessions if s.trace.time_s.size) / 3600.0
    follows = "; Choose starts from them" if role == DAY_BEFORE else ""
    return phrase(
        "{hours:.1f} h of use are kept as {title} of {name}{follows}.",
        hours=hours,
        title=TITLES[role],
        name=name,
        follows=follows,
    )


def _known(workspace: Workspace, scan: Scan, role: str) -> tuple[str, str]:
    """(job, role) of the machine with this serial number; a second run of it is its after. Empty where it is new."""
    serial = scan.text("identity.serial")
    job_id = next((c.id for c in workspace.cards() if serial and c.serial == serial), "")
    return job_id, AFTER if job_id and workspace.run(job_id, BEFORE) is not None else role


def _record(workspace: Workspace, read: ReadRun) -> Job:
    """A record for a run alone: what the machine said of itself, else named by the run's signature."""
    model = read.scan.text("identity.model") if read.scan is not None else ""
    name = model or read.run.machine.split(",")[0] or "Measured machine"
    job = Job(free_job_id(workspace, name), name, Machine(identity=Identity(model="" if model else name)),
              "measured elsewhere", bench=IMPORTED)  # fmt: skip
    return with_scan(job, read.scan) if read.scan is not None else job
