"""The one next best action of a job, with its time and whether it needs a person."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import phrase
from brachium.core.base.units import minutes
from brachium.core.cause.start.assess import cannot_run
from brachium.core.condition.findings import kind_of, stopping
from brachium.core.record.job import CONNECTED, IMPORTED, KEPT, LOCAL, Hold, Job, Stage
from brachium.core.stage.latches import Progress

PROBE_MIN, LOG_MIN, TYPED_MIN = (
    4,
    2,
    2,
)  # a person's minutes: to start a stick and take its file, to drop a log, to type


@dataclass(frozen=True)
class NextAction:
    """`command` is the id in the command registry; `stage` the page it belongs to."""

    title: str
    detail: str
    command: str
    stage: Stage


@dataclass(frozen=True)
class StartCheck:
    """The next check of a machine that does not start: a person's minutes, and whether the machine is opened for it."""

    title: str
    minutes: float
    opens: bool


def next_action(
    job: Job, progress: Progress, run_minutes: float, next_step: tuple[str, float] | None, work_shut: str = "",
    start_check: StartCheck | None = None,
) -> NextAction:  # fmt: skip
    """What to do now. `run_minutes` is the length of a run, `next_step` title and minutes of the next work step,
    `work_shut` what the before Work waits for, `start_check` the next check of a machine that does not start."""
    return (
        _standing_still(job) or _after_the_work(job, progress, run_minutes)
        or _at_the_start(job, progress, run_minutes, start_check)
        or _work(job, next_step, work_shut)
        or _measure_after(job, run_minutes)
    )  # fmt: skip


def _measure_after(job: Job, run_minutes: float) -> NextAction:
    if not _connected(job):
        return NextAction("Get figures of the after", _ways(run_minutes, "after"), "go.prove", Stage.PROVE)
    words = phrase("{run_minutes}, runs by itself; same conditions as before", run_minutes=minutes(run_minutes))
    return NextAction("Measure the after", words, "measure.start_after", Stage.PROVE)


def _connected(job: Job) -> bool:
    """Whether a run can be started from here."""
    return job.bench in CONNECTED


def _ways(run_minutes: float, role: str) -> str:
    """How a machine that is not connected gets figures, the way that tells most first."""
    return phrase(
        "the probe on a stick, {run_minutes} by itself and {probe_min} min of yours; else its logs, "
        "{log_min} min; else three numbers typed as {role}, {typed_min} min",
        run_minutes=minutes(run_minutes),
        probe_min=PROBE_MIN,
        log_min=LOG_MIN,
        role=role,
        typed_min=TYPED_MIN,
    )


def _standing_still(job: Job) -> NextAction | None:
    """What a machine needs that goes on by no step of its own: it is dangerous, it waits, it has left."""
    stop = stopping(job.findings)
    if stop is not None:
        words = "isolate the machine, follow the caution; the job goes on when the finding is gone"
        return NextAction(phrase("{title}: stop", title=kind_of(stop).title), words, "condition.show", Stage.TAKE_IN)
    if job.hold is not None:
        return _held(job.hold)
    if job.handed_over:
        when = phrase("Look again on {look_again}", look_again=job.look_again) if job.look_again else "Handed over"
        return NextAction(when, "measured again, it says how it aged", "go.hand_over", Stage.HAND_OVER)
    return None


def _after_the_work(job: Job, progress: Progress, run_minutes: float) -> NextAction | None:
    """What follows from an after-run, and from logs where the record is made of them."""
    if job.bench == IMPORTED and not progress.has_after:
        side = "after" if progress.has_before else "before"
        return NextAction(
            phrase("Drop the {side} log on the window", side=side),
            "sensor log as CSV; 1 min of yours",
            "log.import",
            Stage.PROVE,
        )
    if not progress.has_after:
        return None
    if progress.after_refused and job.bench != IMPORTED and _connected(job):
        detail = phrase(
            "{after_refused}: put it back as it was; {run_minutes}, runs by itself",
            after_refused=progress.after_refused,
            run_minutes=minutes(run_minutes),
        )
        return NextAction("Measure the after again, as before", detail, "measure.start_after", Stage.PROVE)
    return NextAction("Save the hand-over report", "PDF and HTML; 2 min of yours", "report.save", Stage.HAND_OVER)


def _at_the_start(
    job: Job, progress: Progress, run_minutes: float, start_check: StartCheck | None
) -> NextAction | None:
    """Record, data and before-run."""
    if not job.machine.identity.model or not (job.machine.fitted or job.bench == LOCAL):
        return NextAction("Record the machine", "model and what is in its slots", "go.take_in", Stage.TAKE_IN)
    if progress.has_before:
        return None
    if start_check is not None and not job.plan and (job.data_safe.state.may_open or not start_check.opens):
        return _start_path(job, start_check)
    if not job.data_safe.state.settled:
        words = "backed up and verified, or declared not needed; 1 min of yours"
        return NextAction("Settle the owner's data", words, "data.backed_up", Stage.TAKE_IN)
    if job.before_skipped or cannot_run(job.tried):
        return None
    if not _connected(job):
        return NextAction("Get figures of the before", _ways(run_minutes, "before"), "go.measure", Stage.MEASURE)
    words = phrase("{run_minutes}, runs by itself; case stays closed", run_minutes=minutes(run_minutes))
    return NextAction("Measure the before", words, "measure.start", Stage.MEASURE)


def _start_path(job: Job, check: StartCheck) -> NextAction:
    asked = "{check} {minutes} of yours" if check.title.endswith("?") else "{check}; {minutes} of yours"
    words = phrase(asked, check=check.title, minutes=minutes(check.minutes))
    title = "Find why it does not start" if cannot_run(job.tried) or job.no_before else "Find why it stops"
    return NextAction(title, words, "cause.start", Stage.FIND_CAUSE)


def _work(job: Job, next_step: tuple[str, float] | None, work_shut: str) -> NextAction | None:
    """A plan and its steps."""
    if not job.plan:
        words = "see what fits and what it would bring; 5 min of yours"
        return NextAction("Choose parts", words, "go.choose", Stage.CHOOSE)
    if next_step is None:
        return None
    if work_shut:
        return NextAction("Work is not open yet", work_shut, "go.work", Stage.WORK)
    return NextAction(
        next_step[0], phrase("about {next_step} of yours", next_step=minutes(next_step[1])), "work.tick", Stage.WORK
    )


def _held(hold: Hold) -> NextAction:
    """A machine that stands still is taken up again by a person; a donor gives its parts."""
    if hold.on == KEPT:
        return NextAction("Pull a part to the shelf", "choose its slot on the board", "go.take_in", Stage.TAKE_IN)
    what = phrase("{on}{more}", on=hold.on.lower(), more=phrase(": {note}", note=hold.note) if hold.note else "")
    return NextAction("Take it up again", what, "job.resume", Stage.TAKE_IN)
