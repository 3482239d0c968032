"""What Find cause starts from, gathered from a job; and what a check, a reading or a try adds to it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.cause.assess import Assessment, assess
from brachium.core.cause.cures import with_chances
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.cause.known import Known
from brachium.core.cause.start.assess import assess_start, does_not_start
from brachium.core.drives.health import DriveVerdict, judge
from brachium.core.drives.readings import HealthReading
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.run import Run
from brachium.core.prove.target_results import judge_alone
from brachium.core.record.checks import CheckDone, SwapTry
from brachium.core.record.drive_states import failing_places
from brachium.core.record.job import PRACTICE_PREFIX, Job
from brachium.core.record.use_of_job import typed_use
from brachium.core.stage.before_start import power_warnings


def known_of(
    job: Job, run: Run | None, figures: BeforeFigures | None, beside_others: Mapping[str, bool] | None = None
) -> Known:  # fmt: skip
    """All that is known of a machine when its cause is looked for; `beside_others` against the results of its like."""
    adapter = next((w for w in power_warnings(job) if "adapter" in w.lower()), "")
    return Known(
        job.machine, run, figures, (), job.scan, job.findings, job.tried, drive_verdicts(job),
        tuple(r for r in job.own_results if r.role == "before"), adapter, failing_places(job), job.health,
        beside_others or {}, job.swap_tries, _wish_met(job, run),
    )  # fmt: skip


def _wish_met(job: Job, run: Run | None) -> bool | None:
    """Whether the before-run keeps what was asked of the owner's task; None where nothing was, or nobody can tell."""
    if run is None:
        return None
    asked = tuple(t for t in job.targets if t.key in ("own_task", "sustained") or t.key.startswith("own:task"))
    found = [r.met for r in judge_alone(asked, run, job.machine.processor.limit_c)]
    return None if None in found or not found else all(found)


def drive_verdicts(job: Job) -> Mapping[str, DriveVerdict]:
    """A verdict for every place with a drive."""
    cabled = job.machine.kind not in PORTABLE
    return {
        place: judge([h for h in job.health if h.place == place], cabled)
        for place in job.machine.configuration().drives()
    }


def assessment_of(
    job: Job, run: Run | None, figures: BeforeFigures | None, beside_others: Mapping[str, bool] | None = None
) -> Assessment:  # fmt: skip
    return assess(known_of(job, run, figures, beside_others), typed_use(job), job.checks)


def start_assessment(job: Job) -> Assessment:
    """What keeps it from starting, or would."""
    return assess_start(known_of(job, None, None), job.checks)


def no_start(job: Job) -> bool:
    """Whether anything says that it does not start, or stops early; practice machines have no such path."""
    if job.simulated_as.startswith(PRACTICE_PREFIX):
        return False
    return does_not_start(job.tried, job.checks, job.no_before)


def readings_of(job: Job, scan: Scan, when: str) -> tuple[HealthReading, ...]:
    """Counters of a scan as readings of the drives in the record: each goes to the first place whose drive it matches.

    A drive matches by its model's name, else by its size within 2 %.
    """
    left = dict(job.machine.configuration().drives())
    out = []
    for drive in (d for d in scan.drives if d.counters):
        place = next((p for p, x in left.items() if drive.model and drive.model in x.name), "") or next(
            (p for p, x in left.items() if drive.size_bytes and abs(x.size_bytes / drive.size_bytes - 1.0) < 0.02), ""
        )
        if place:
            left.pop(place)
            out.append(HealthReading(place, when, dict(drive.counters), phrase("scan of {drive}", drive=drive.name)))
    return tuple(out)


def figures_with_chances(job: Job, run: Run, figures: BeforeFigures) -> BeforeFigures:
    """The figures with what Find cause says of their cures: predictions start from them."""
    return with_chances(figures, assessment_of(job, run, figures), job.machine.processor.base_mhz)


def with_check(job: Job, done: CheckDone) -> Job:
    """The job with a check made; the same check made again replaces its answer."""
    return replace(job, checks=(*(c for c in job.checks if c.check != done.check), done))


def without_check(job: Job, check_id: str) -> Job:
    return replace(job, checks=tuple(c for c in job.checks if c.check != check_id))


def complaint_of(job: Job) -> str:
    """What the owner complains of, in the words of the check; empty where nobody asked."""
    return next((c.answer for c in job.checks if c.check == COMPLAINT.id), "")


def with_complaint(job: Job, words: str, when: str) -> Job:
    """The job with what brought the owner; empty words take it back."""
    if not words:
        return without_check(job, COMPLAINT.id)
    return with_check(job, CheckDone(COMPLAINT.id, words, COMPLAINT.attended_min, when))


def with_reading(job: Job, reading: HealthReading) -> Job:
    return replace(job, health=(*job.health, reading))


def with_try(job: Job, tried: SwapTry) -> Job:
    return replace(job, swap_tries=(*job.swap_tries, tried))


def with_proven_faults(job: Job, places: frozenset[str], parts: frozenset[str]) -> Job:
    """The job with places proven dead and parts proven faulty in its record (MEM-BAD, STO-HEALTH)."""
    machine = replace(
        job.machine, bad_places=tuple(sorted({*job.machine.bad_places, *places})),
        bad_parts=tuple(sorted({*job.machine.bad_parts, *parts})),
    )  # fmt: skip
    return replace(job, machine=machine)
