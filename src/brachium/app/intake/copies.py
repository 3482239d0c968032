"""Records copied and put away: duplicates, batches of identical machines, the archive."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.app.shop.free_job_id import free_job_id
from brachium.app.shop.workspace import Workspace
from brachium.core.base.marks import as_new
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.base.why import Origin
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.record.job import Job

READ_OFF = (Origin.SCANNED, Origin.MEASURED, Origin.LOGGED, Origin.FITTED, Origin.COMPUTED)


def copy_of(job: Job, job_id: str, name: str, serial: str = "") -> Job:
    """A new record of another machine of the model: only what is marked as the model's own is carried over.

    What was read off or measured on the first one is no more than assumed of the second.
    """
    machine = as_new(job.machine)
    origins = {key: Origin.ASSUMED if origin in READ_OFF else origin for key, origin in machine.origins.items()}
    machine = replace(machine, identity=replace(machine.identity, serial=serial), origins=origins)
    return replace(as_new(job, id=job_id, name=name), machine=machine)


def new_record(workspace: Workspace) -> str:
    """An empty record for a machine that is entered by hand; returns its id."""
    job = Job(free_job_id(workspace, "machine"), "New machine", Machine(kind=MachineKind.NOT_KNOWN))
    workspace.add_job(job)
    return job.id


def duplicate(workspace: Workspace, job_id: str) -> str:
    """A copy of a record without its runs; returns its id."""
    job = workspace.job(job_id)
    name = phrase("{job}, copy", job=job.name)
    made = copy_of(job, free_job_id(workspace, name), name)
    workspace.add_job(made)
    return made.id


def take_in_batch(workspace: Workspace, job_id: str, lines: Sequence[str]) -> tuple[str, ...]:
    """One copy for every serial number (a line each). Raises ExpectedProblem naming the line that is there twice."""
    serials = [(number, line.strip()) for number, line in enumerate(lines, 1) if line.strip()]
    seen = {card.serial: card.name for card in workspace.cards() if card.serial}
    for number, serial in serials:
        if serial in seen:
            raise ExpectedProblem(
                phrase("{serial} is there already ({seen})", serial=serial, seen=seen[serial]),
                phrase("line {number}", number=number),
                "Take it out; nothing was taken in.",
            )
        seen[serial] = phrase("line {number}", number=number)
    job = workspace.job(job_id)
    out = []
    for _, serial in serials:
        name = phrase("{model} {serial}", model=job.machine.identity.model or job.name, serial=serial)
        made = copy_of(job, free_job_id(workspace, name), name, serial)
        workspace.add_job(made)
        out.append(made.id)
    return tuple(out)
