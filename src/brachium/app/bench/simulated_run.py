"""One whole run on a simulated machine, as fast as it computes."""

from __future__ import annotations

from brachium.app.bench.benches import bench_for
from brachium.app.bench.run_roles import TITLES
from brachium.app.bench.runner import Runner
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.run import Run
from brachium.core.measure.workloads import STANDARD


def measure_headless(view: JobView, role: str, taken_at: str) -> Run:
    """One whole run on the job's simulated machine, as fast as it computes."""
    bench = bench_for(view, role, None)
    if bench is None:
        raise ExpectedProblem("this machine is not connected", "measure", "Import its logs instead.")
    return Runner(bench, STANDARD).execute(f"{view.job.id}-{role}-1", TITLES[role], taken_at)
