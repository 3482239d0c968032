"""Which machine stands in which group of the rail."""

from __future__ import annotations

from brachium.core.job.job import DataState, Job
from brachium.core.units import many
from brachium.ui.session import Session
from brachium.ui.shell.rail import GROUPS, RailEntry


def rail_entries(session: Session, wanted: str = "") -> tuple[RailEntry, ...]:
    """Headings with their machines; empty groups are left out.

    `wanted` keeps those whose name, model, serial or goal holds all its words; only a search shows archived ones.
    """
    groups: dict[str, list[RailEntry]] = {g: [] for g in GROUPS}
    words = wanted.lower().split()
    for job_id in session.workspace.job_ids():
        job = session.workspace.job(job_id)
        if (job.archived and not words and job_id != session.job_id) or not _holds(job, words):
            continue
        group, note = _place(session, job_id)
        groups[group].append(RailEntry(session.workspace.job(job_id).name, note, job_id))
    out: list[RailEntry] = []
    for name, entries in groups.items():
        if entries:
            out += [RailEntry(name, heading=True), *entries]
    out += [
        RailEntry("Shop", heading=True),
        RailEntry("Parts shelf", many(len(session.shelf.parts), "part"), page="shelf"),
    ]
    return tuple(out)


def _holds(job: Job, words: list[str]) -> bool:
    identity = job.machine.identity
    text = f"{job.name} {identity.maker} {identity.model} {identity.serial} {job.goal}".lower() if words else ""
    return all(word in text for word in words)


def _place(session: Session, job_id: str) -> tuple[str, str]:
    job, view = session.workspace.job(job_id), session.workspace.view(job_id)
    active = session.measure.active
    if active is not None and active.job_id == job_id:
        return GROUPS[1], f"measuring the {active.role}"
    if job.archived:
        return GROUPS[5], f"since {job.archived[:10]}"
    if job.handed_over:
        return GROUPS[4], "handed over"
    if view is None:
        return GROUPS[0], ""
    if job.data_safe.state is DataState.RESCUE:
        return GROUPS[0], "open to rescue the data"
    if job.data_safe.state is DataState.OPEN and job.machine.fitted:
        return GROUPS[3], "data not settled"
    return GROUPS[0], view.stage.value
