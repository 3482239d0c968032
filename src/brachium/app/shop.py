"""Opening a shop: its database, lanes and price list; the demo shop is filled in when new."""

from __future__ import annotations

from pathlib import Path

from brachium.app.lanes import Lanes, Post, at_once
from brachium.app.workspace import Workspace
from brachium.demo.shop import demo_catalogue


def open_shop(path: Path, demo: bool, post: Post = at_once) -> Workspace:
    """Open a shop file. Raises ExpectedProblem or EnvironmentProblem; the file is left as it was then."""
    lanes = Lanes(post)
    try:
        workspace = Workspace(path, lanes, demo_catalogue())
    except BaseException:
        lanes.close()
        raise
    if demo and not workspace.job_ids():
        from brachium.demo.newsroom import newsroom_job

        for job in (newsroom_job(),):
            workspace.add_job(job)
    return workspace
