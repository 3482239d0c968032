"""Foreign logs into the shop: read, preview, keep as runs of a new or an existing record."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from pathlib import Path

from brachium.app.files.log_presets import LogPresets
from brachium.app.shop.free_job_id import free_job_id
from brachium.app.shop.workspace import AFTER, BEFORE, Workspace
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.machine.machine import Machine
from brachium.core.measure.run import Run
from brachium.core.measure.typed_conditions import with_typed_conditions
from brachium.core.record.job import IMPORTED, Job
from brachium.formats.log_columns import Reading
from brachium.formats.log_join import join_logs
from brachium.formats.log_run import run_from_log
from brachium.formats.sensor_log import SensorLog, UnknownColumns, read_sensor_log
from brachium.store.edits import StoredRun


@dataclass(frozen=True)
class LogPreview:
    """A log that was read and holds a load, with the role guessed from its name; `note` says what it lacks.

    `configuration` is a person's name for it, `stated` the conditions that a person states.
    """

    log: SensorLog
    role: str
    load_s: float
    run: Run
    note: str = ""
    reading: Reading = field(default_factory=Reading)
    configuration: str = ""
    stated: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class UnreadLog:
    """A log whose columns a person has to name first."""

    path: Path
    headers: tuple[str, ...]
    problem: str
    reading: Reading = field(default_factory=Reading)


def preview_logs(
    paths: Sequence[Path], presets: LogPresets, readings: Mapping[Path, Reading] | None = None
) -> tuple[LogPreview | UnreadLog, ...]:
    """Read logs as was said, else as remembered for such a heading, else as found. Raises Problem."""
    return tuple(_preview(p, presets, (readings or {}).get(p)) for p in paths)


def _preview(path: Path, presets: LogPresets, stated: Reading | None) -> LogPreview | UnreadLog:
    try:
        if stated is not None:
            return _as_stated(path, stated)
        found = read_log(path)
        kept = presets.reading(found.log.headers)
        return read_log(path, reading=kept) if kept is not None else found
    except UnknownColumns as unknown:
        kept = presets.reading(unknown.headers) if stated is None else None
        if kept is not None:
            return read_log(path, reading=kept)
        return UnreadLog(path, unknown.headers, unknown.what, stated or Reading())


def _as_stated(path: Path, reading: Reading) -> LogPreview | UnreadLog:
    """While columns are being named a log without a load is no failure: the column that shows it may come next."""
    log = read_sensor_log(path, reading=reading)
    try:
        return _previewed(log, _guess_role(path), reading)
    except ExpectedProblem as problem:
        return UnreadLog(path, log.headers, problem.what, reading)


def joined_preview(first: LogPreview, second: SensorLog) -> LogPreview:
    """The first log with what only the second one holds. Raises ExpectedProblem."""
    return _previewed(join_logs(first.log, second), first.role, first.reading)


def read_log(
    path: Path, role: str = "", units: Mapping[str, str] | None = None, reading: Reading = Reading()
) -> LogPreview:
    """Read a log and check that it holds a load. Raises ExpectedProblem or EnvironmentProblem."""
    return _previewed(read_sensor_log(path, units, reading), role or _guess_role(path), reading)


def _previewed(log: SensorLog, role: str, reading: Reading) -> LogPreview:
    run = run_from_log(log, "preview", "", "")
    load = run.sessions[0].trace.phase("load")
    assert load is not None  # run_from_log refuses a log without one
    return LogPreview(log, role, load.end_s - load.start_s, run, _lacking(run), reading)


def _lacking(run: Run) -> str:
    """A log that breaks off under load may have been cut short; said, because half a load looks like a whole one."""
    load, cool = (run.sessions[0].trace.phase(name) for name in ("load", "cool-down"))
    if load is not None and cool is None:
        return phrase(
            "ends {end_s:.0f} s into the load, with no cool-down: it may have been cut short",
            end_s=load.end_s - load.start_s,
        )
    return ""


def log_to_run(preview: LogPreview, run_id: str, room_c: float | None) -> Run:
    """The run of a previewed log under the conditions that were stated; it is dated by the file."""
    taken = datetime.fromtimestamp(preview.log.path.stat().st_mtime).strftime("%Y-%m-%d %H:%M")
    name = preview.configuration or phrase("log {stem}", stem=preview.log.path.stem)
    run = run_from_log(preview.log, run_id, name, taken, room_c)
    return replace(run, conditions=with_typed_conditions(run.conditions, preview.stated))


def keep_logs(
    workspace: Workspace, previews: tuple[LogPreview, ...], rooms: Mapping[str, float | None], job_id: str = ""
) -> str:
    """Keep logs as runs of a record; without one a new record is made. Returns its id.

    `rooms` is by the name of the file, else by role; of several logs of after each is a configuration of its own.
    """
    if not job_id:
        job = new_record(workspace, previews)
        runs = tuple(
            StoredRun(
                job.id,
                p.role,
                log_to_run(p, f"{job.id}-{p.role}-{number}", _room_of(p, rooms)),
            )
            for number, p in enumerate(previews, 1)
        )
        workspace.add_whole(job, runs, {}, "taken in")
        return job.id
    for preview in previews:
        number = workspace.next_run_number(job_id)
        run = log_to_run(
            preview,
            f"{job_id}-{preview.role}-{number}",
            _room_of(preview, rooms),
        )
        workspace.add_run(job_id, preview.role, run)
    return job_id


def _room_of(preview: LogPreview, rooms: Mapping[str, float | None]) -> float | None:
    return rooms.get(preview.log.path.name, rooms.get(preview.role))


def new_record(workspace: Workspace, previews: tuple[LogPreview, ...]) -> Job:
    """A record for logs alone, named by what their file names share."""
    stem = re.sub(r"[-_ ]*(before|after|vorher|nachher|old|new)$", "", previews[0].log.path.stem, flags=re.IGNORECASE)
    job_id = free_job_id(workspace, stem)
    name = stem.replace("-", " ").replace("_", " ").strip().capitalize() or "Imported log"
    taken = {card.name for card in workspace.cards()}
    number = 2
    while name in taken and f"{name} {number}" in taken:
        number += 1
    shown = phrase("{name} {number}", name=name, number=number) if name in taken else name
    return Job(job_id, shown, Machine(), "imported sensor logs", bench=IMPORTED)


def _guess_role(path: Path) -> str:
    return AFTER if re.search(r"after|nachher|new", path.stem, re.IGNORECASE) else BEFORE
