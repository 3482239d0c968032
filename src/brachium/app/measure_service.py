"""Measuring from the window or the command line: one run at a time, in the bench lane, stoppable."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from brachium.app.workspace import BEFORE, Workspace, now_text
from brachium.core.measure.run import Run
from brachium.core.problems import ExpectedProblem

if TYPE_CHECKING:
    from brachium.app.measuring import LiveView, Runner
    from brachium.devices.simulated.bench import SimulatedBench


@dataclass(frozen=True)
class ActiveRun:
    """The run in progress."""

    job_id: str
    role: str


class MeasureService:
    """Starts and stops runs; a finished run is kept in the workspace, a stopped one as incomplete."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._runner: Runner | None = None
        self._bench: SimulatedBench | None = None
        self._stop = threading.Event()
        self.active: ActiveRun | None = None
        self.on_finished: list[Callable[[ActiveRun, Run | None, Exception | None], None]] = []

    def start(self, job_id: str, role: str, speed: float | None) -> None:
        """Begin a run. Raises ExpectedProblem where the machine cannot be measured now."""
        from brachium.app.benches import bench_for
        from brachium.app.measuring import Runner
        from brachium.core.measure.tests import STANDARD

        if self.active is not None:
            raise ExpectedProblem("a run is in progress", "Measure", "Stop it or let it finish.")
        view = self._workspace.view(job_id)
        bench = bench_for(view, role, speed) if view is not None else None
        if bench is None:
            raise ExpectedProblem("this machine is not connected", "Measure",
                                  "Drop a before and an after sensor log on the window instead.")  # fmt: skip
        self._stop.clear()
        self._bench = bench
        self._runner = runner = Runner(bench, STANDARD, self._stop.is_set)
        self.active = active = ActiveRun(job_id, role)
        number = 1 + sum(1 for _ in self._workspace.all_runs(job_id))
        title = "as taken in" if role == BEFORE else "after the work"
        run_id, taken_at = f"{job_id}-{role}-{number}", now_text()
        self._workspace.lanes.submit(
            "bench",
            lambda: runner.execute(run_id, title, taken_at),
            lambda run: self._finished(active, run, None),
            lambda error: self._finished(active, None, error),
        )

    def stop(self) -> None:
        """Ask the run to stop after the present sample."""
        self._stop.set()
        self.set_speed(None)

    def set_speed(self, speed: float | None) -> None:
        if self._bench is not None:
            self._bench.clock.set_speed(speed)

    def speed(self) -> float | None:
        return self._bench.clock.speed if self._bench is not None else None

    def live(self) -> LiveView | None:
        """A copy of what was sampled so far; None while nothing runs."""
        return self._runner.recorder.snapshot() if self._runner is not None and self.active is not None else None

    def _finished(self, active: ActiveRun, run: Run | None, error: Exception | None) -> None:
        self.active = None
        if run is not None and run.sessions:
            self._workspace.add_run(active.job_id, active.role, run)
        for listener in self.on_finished:
            listener(active, run, error)
