"""The work of one job: what its plan generates, its drive moves, the end of the pulled drive, and edits by hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.plan.candidates import Candidate
from brachium.core.record.drive_records import Pulled
from brachium.core.record.drive_states import bad_sectors, drive_states, failing_places
from brachium.core.record.job import Job
from brachium.core.work.edits import apply_edits
from brachium.core.work.erasure import erase_plan
from brachium.core.work.hazards import Tag, hazards_at
from brachium.core.work.seen import Seen
from brachium.core.work.step import Gate, Mode, Step
from brachium.core.work.steps import steps_for
from brachium.core.work.transfer import replaced_drives

ERASE = "erase"


def work_of(
    job: Job, chosen: tuple[Candidate, ...], preconditions: tuple[str, ...], used_bytes: int | None = None
) -> tuple[Step, ...]:
    """The steps of a job's plan, empty without one. `used_bytes` of the old system drive as the before-run noted it."""
    if not chosen:
        return ()
    seen = Seen(bad_sectors(job), frozenset(f.kind for f in job.findings))
    steps = steps_for(job.machine, chosen, preconditions, job.transfer, used_bytes, failing_places(job), seen)
    return apply_edits((*steps, *_erasing(job, chosen, steps)), job.plan_edits, job.machine.kind)


def _erasing(job: Job, chosen: Sequence[Candidate], steps: Sequence[Step]) -> list[Step]:
    """One step for each drive that leaves, when everything was seen on the new one."""
    if job.transfer.pulled not in (Pulled.SHELF, Pulled.ERASED):
        return []
    found = hazards_at(frozenset({Tag.ERASE}), job.machine.kind)
    last = steps[-1].id if steps else ""
    out = []
    states = drive_states(job)
    for k, (place, drive) in enumerate(replaced_drives(job.machine, chosen)):
        plan = erase_plan(drive, states.get(place))
        out.append(
            Step(
                ERASE if k == 0 else f"{ERASE}-{k + 1}",
                phrase("Erase the {drive}", drive=drive.name),
                phrase(
                    "On another machine, its own system never started: {method}, {verified}. Read the drive's own "
                    "number twice before you start. Write the record.",
                    method=plan.method.value,
                    verified=plan.verified.value,
                ),
                "bridge",
                (),
                6,
                round(plan.unattended_min),
                Gate.DATA_SAFE,
                "cannot be taken back",
                True,
                Mode.BENCH,
                (last,) if last else (),
                "",
                frozenset({Tag.ERASE}),
            )
        )
    return [
        replace(s, cautions=tuple(h.words for h in found), signs=tuple(h.sign for h in found)) for s in out
    ]  # fmt: skip
