"""The overheating ladder stops where a configuration keeps what the owner asked for, typed ones among them."""

from __future__ import annotations

from dataclasses import replace

from brachium.app.view.job_view import compute_view
from brachium.app.view.measured import JobRuns
from brachium.core.measure.own_tests import BETWEEN, KINDS, OwnResult
from brachium.core.record.job import Job
from brachium.core.record.target import Target
from brachium.demo.newsroom import newsroom_job


def _met_by(job: Job) -> str:
    return compute_view(job, JobRuns(), ()).causes.met_by


def test_the_first_typed_configuration_that_keeps_the_target_ends_the_ladder() -> None:
    test = replace(next(k for k in KINDS if k.id == "chipload"), id="chipload-1")
    target = Target(test.key, test.title, 85.0, "°C", True)

    def typed(role: str, name: str, *values: float) -> list[OwnResult]:
        return [OwnResult(test.id, role, v, configuration=name) for v in values]

    results = [*typed("before", "", 96, 95.5, 96.2), *typed(BETWEEN, "vents blown out", 93, 92.6, 93.3),
               *typed(BETWEEN, "cleaned", 78, 77.5, 78.2), *typed("after", "", 71, 70.7, 71.2)]  # fmt: skip
    job = replace(newsroom_job(), targets=(target,), own_tests=(test,), own_results=tuple(results))
    assert _met_by(job) == "cleaned"
    assert _met_by(replace(job, targets=(replace(target, limit=60.0),))) == ""
    assert _met_by(replace(job, targets=())) == "", "nothing was asked"
