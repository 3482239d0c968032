"""The bench of a job as it was computed, and one whole run on it as fast as it computes."""

from __future__ import annotations

from brachium.app.bench.benches import bench_for
from brachium.app.bench.run_roles import TITLES
from brachium.app.bench.runner import Runner
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.run import Run
from brachium.core.measure.workloads import STANDARD
from brachium.core.record.protocol_of_job import chosen_protocol
from brachium.devices.protocols import Bench


def bench_of(view: JobView, role: str, speed: float | None) -> Bench | None:
    """The bench that a job's machine stands on, as a role asks for it. Raises as `bench_for` does."""
    put_back = view.measured.after is not None and bool(view.standing.progress.after_refused)
    return bench_for(view.job, role, speed, view.choice.chosen(), put_back)


def measure_headless(view: JobView, role: str, taken_at: str) -> Run:
    """One whole run on the job's simulated machine, as fast as it computes."""
    bench = bench_of(view, role, None)
    if bench is None:
        raise ExpectedProblem("this machine is not connected", "measure", "Import its logs instead.")
    return Runner(bench, chosen_protocol(view.job, STANDARD)).execute(f"{view.job.id}-{role}-1", TITLES[role], taken_at)
