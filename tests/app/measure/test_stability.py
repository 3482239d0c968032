"""The stability test: an hour of our own workload, what it found, and what it cannot exclude."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from brachium.app.bench.run_roles import AFTER, BEFORE, STABILITY
from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.measure.service import MeasureService
from brachium.app.shared.lanes import Lanes
from brachium.app.shop.workspace import Workspace
from brachium.core.measure.run import RunCheck
from brachium.core.record.job import DataState
from brachium.core.work.stability import stability_of
from brachium.demo.newsroom import JOB_ID
from brachium.demo.shop import demo_catalogue


def test_it_runs_beside_the_runs_that_are_compared_and_says_what_it_found(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "shop.db", Lanes(), demo_catalogue)
    add_newsroom(workspace)
    job = workspace.job(JOB_ID)
    workspace.edit("safe", replace(job, data_safe=replace(job.data_safe, state=DataState.NOT_NEEDED)))
    workspace.compute_now(JOB_ID)
    service = MeasureService(workspace)
    service.start(JOB_ID, STABILITY, None)
    workspace.lanes.drain("bench")
    run = workspace.last_of(JOB_ID, STABILITY)
    assert run is not None and run.complete and run.protocol.name == "Stability"
    assert workspace.run(JOB_ID, BEFORE) is None and workspace.run(JOB_ID, AFTER) is None, (
        "it is no before and no after"
    )
    found = stability_of(run)
    assert found is not None and found.passed and "load 30 min with every result checked" in found.words
    assert any("drives" in c for c in found.cannot)
    bad = RunCheck("mem_test", "Memory test by patterns", False, "2 words differ at 1.2 GiB")
    failed = stability_of(replace(run, checks=(bad,)))
    assert failed is not None and failed.passed is False and "2 words differ" in failed.words
    cut = stability_of(replace(run, complete=False))
    assert cut is not None and cut.passed is None and cut.words.startswith("Not finished")
    assert stability_of(None) is None
    assert workspace.job(JOB_ID).setup.protocol == "standard", "how it is measured stays"
    workspace.close()
