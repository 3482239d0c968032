"""Measuring from the window or the command line: one run at a time, in the bench lane, stoppable."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from brachium.app.bench.resume_run import Rest, can_continue, continue_run, rest_of
from brachium.app.bench.run_roles import AFTER, STABILITY, TITLES
from brachium.app.shop.workspace import Workspace, now_text
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.core.measure.run import Protocol, Run
from brachium.core.measure.typed_conditions import with_typed_conditions
from brachium.core.measure.workloads import STABLE
from brachium.core.record.job import LOCAL, Job, Stage

if TYPE_CHECKING:
    from brachium.app.bench.recorder import LiveView
    from brachium.app.bench.runner import Runner
    from brachium.app.view.job_view import JobView
    from brachium.devices.protocols import Bench


@dataclass(frozen=True)
class ActiveRun:
    """The run in progress. `joins` is the run that this session is added to, empty for a new one.

    `rest` is what a run that was cut off lacks, None for any other.
    """

    job_id: str
    role: str
    joins: str = ""
    rest: Rest | None = None


def _for_role(view: JobView | None, role: str) -> JobView | None:
    """A stability test has a protocol of its own, whatever the machine is measured with."""
    if view is None or role != STABILITY:
        return view
    setup = replace(view.job.setup, protocol="own", own=STABLE)
    return replace(view, job=replace(view.job, setup=setup))


class MeasureService:
    """Starts and stops runs; a finished run is kept in the workspace, a stopped one as incomplete.

    Every run is written to a journal beside the shop file as it goes on; one that a killed program left is recovered
    when the shop is opened.
    """

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._runner: Runner | None = None
        self._bench: Bench | None = None
        self._stop = threading.Event()
        self._pause = threading.Event()
        self._journal: Path | None = None
        self.active: ActiveRun | None = None
        self.on_finished: list[Callable[[ActiveRun, Run | None, Exception | None], None]] = []

    def start(self, job_id: str, role: str, speed: float | None, go_on: bool = False) -> None:
        """Begin a run, or go on with the one that was cut off.

        Raises ExpectedProblem or EnvironmentProblem where the machine cannot be measured now.
        """
        from brachium.app.bench.local_runs import awake_run, head_of, local_runner, one_session
        from brachium.app.measure.simulated_run import bench_of
        from brachium.core.record.protocol_of_job import protocol_of

        if self.active is not None:
            raise ExpectedProblem("a run is in progress", "Measure", "Stop it or let it finish.")
        view = _for_role(self._workspace.view(job_id), role)
        bench = bench_of(view, role, speed) if view is not None else None
        if view is None or bench is None:
            raise ExpectedProblem("this machine is not connected", "Measure",
                                  "Drop a before and an after sensor log on the window instead.")  # fmt: skip
        if view.job.bench == LOCAL and not self._workspace.is_here(job_id):
            raise ExpectedProblem("this record is of the PC at another bench", view.job.name, "Measure it there.")
        shut = self._shut(job_id, role)
        if shut:
            raise ExpectedProblem(phrase("not yet: {shut}", shut=shut), "Measure", "Nothing was started.")
        protocol = protocol_of(view.job)
        cut = self.cut_off(job_id, role) if go_on else None
        joins = cut.id if cut is not None else self.waiting_session(job_id, role)
        if view.job.bench == LOCAL:
            protocol = one_session(protocol)
        rest = rest_of(cut, protocol, bench.boot_id()) if cut is not None else None
        run_id = f"{job_id}-{role}-{self._workspace.next_run_number(job_id)}"
        title = TITLES[role]
        head = head_of(bench, protocol, run_id, title)
        head = replace(
            head, taken_at=now_text(), conditions=with_typed_conditions(head.conditions, view.job.setup.typed)
        )
        job = self._workspace.job(job_id)
        self._stop.clear()
        self._pause.clear()
        self._journal = self._workspace.journal_path(job_id, role, run_id)
        self._runner = runner = local_runner(
            bench, protocol, self._journal, head, self._stop.is_set, self._pause.is_set, rest
        )
        self._bench = bench
        self.active = active = ActiveRun(job_id, role, joins, rest)
        self._workspace.lanes.submit(
            "bench",
            lambda: awake_run(runner, run_id, title, head.taken_at, job.bench == LOCAL),
            lambda run: self._finished(active, self._stated(active, run), None),
            lambda error: self._finished(active, None, error),
        )

    def _shut(self, job_id: str, role: str) -> str:
        """What the before the run waits for; empty where the run may begin."""
        workspace = self._workspace
        problem = workspace.stage_problem(job_id, Stage.MEASURE)
        return problem or (workspace.stage_problem(job_id, Stage.PROVE) if role == AFTER else "")

    def _stated(self, active: ActiveRun, run: Run) -> Run:
        """The run under the conditions that a person stated."""
        typed = self._workspace.job(active.job_id).setup.typed
        return replace(run, conditions=with_typed_conditions(run.conditions, typed))

    def cut_off(self, job_id: str, role: str) -> Run | None:
        """The run of a role if it was cut off and its present protocol can go on with it."""
        job = self._workspace.job(job_id)
        kept = [s.run for s in self._workspace.all_runs(job_id) if s.role == role and not s.run.void_reason]
        run = kept[-1] if kept else None
        if run is None or not can_continue(run):
            return None
        same = (run.protocol.name, run.protocol.version) == (self.protocol(job).name, self.protocol(job).version)
        return run if same else None

    def waiting_session(self, job_id: str, role: str) -> str:
        """The run of a real machine that still waits for a session after a restart; empty where none does."""
        job, run = self._workspace.job(job_id), self._workspace.run(job_id, role)
        if job.bench != LOCAL or run is None or not run.complete or run.protocol.name != self.protocol(job).name:
            return ""
        return run.id if len(run.sessions) < self.protocol(job).sessions else ""

    def protocol(self, job: Job) -> Protocol:
        from brachium.core.record.protocol_of_job import protocol_of

        return protocol_of(job)

    @property
    def paused(self) -> bool:
        """Whether the run waits, or will after the present test."""
        return self._pause.is_set()

    def pause(self, wait: bool) -> None:
        """Let the run wait after the present test, or go on."""
        if wait and self.active is not None:
            self._pause.set()
        else:
            self._pause.clear()

    def stop(self) -> None:
        """Ask the run to stop after the present sample."""
        self._stop.set()
        self._pause.clear()
        self.set_speed(None)

    def set_speed(self, speed: float | None) -> None:
        if self._bench is not None:
            self._bench.clock.set_speed(speed)

    def speed(self) -> float | None:
        return self._bench.clock.speed if self._bench is not None else None

    def live(self) -> LiveView | None:
        """A copy of what was sampled so far; None while nothing runs."""
        return self._runner.recorder.snapshot() if self._runner is not None and self.active is not None else None

    def samples(self) -> tuple[int, int]:
        """(session, samples in it): changes exactly when there is something new to draw."""
        if self._runner is None:
            return 0, 0
        return self._runner.recorder.mark()

    def _finished(self, active: ActiveRun, run: Run | None, error: Exception | None) -> None:
        self.active = None
        journal, self._journal = self._journal, None

        def kept() -> None:
            if journal is not None:
                journal.unlink(missing_ok=True)

        if run is not None and run.sessions:
            error = self._keep(active, run, kept) or error
        elif run is not None:
            kept()  # nothing was sampled
        for listener in self.on_finished:
            listener(active, run, error)

    def _keep(self, active: ActiveRun, run: Run, kept: Callable[[], None]) -> Exception | None:
        """Keep a run, as a further session of an earlier one where it is that; else by itself, and say why.

        Its journal goes only once the run is on disk.
        """
        from brachium.app.bench.local_runs import join_sessions

        runs = {s.run.id: s.run for s in self._workspace.all_runs(active.job_id)}
        earlier = runs.get(active.joins)
        problem: Exception | None = None
        if active.joins and (run.complete or active.rest) and earlier is not None:
            try:
                rest = active.rest
                run = continue_run(earlier, run, rest) if rest is not None else join_sessions(earlier, run)
                self._workspace.void_run(active.job_id, earlier.id, phrase("joined into {run}", run=run.id))
            except Problem as said:
                problem = said
        self._workspace.add_run(active.job_id, active.role, run, kept)
        return problem
