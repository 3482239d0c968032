"""The owner's data settled, so that a machine may be measured."""

from __future__ import annotations

from dataclasses import replace

from brachium.app.shop.workspace import Workspace
from brachium.core.record.job import DataSafe, DataState
from brachium.demo.newsroom import JOB_ID


def settle(workspace: Workspace, job_id: str = JOB_ID) -> None:
    """Declare that nothing needs saving."""
    job = workspace.job(job_id)
    workspace.edit("data settled", replace(job, data_safe=DataSafe(DataState.NOT_NEEDED)))
