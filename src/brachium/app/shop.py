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
    workspace.recovered = workspace.recover_runs()
    if demo and not workspace.job_ids():
        add_demo_jobs(workspace)
    return workspace


def add_demo_jobs(workspace: Workspace) -> str:
    """Take the demo shop in, where it is not there yet; returns the id of the newsroom laptop."""
    from brachium.app.demo_record import add_record
    from brachium.app.demo_shop import add_newsroom, add_others, add_shelf

    if not workspace.job_ids():
        add_shelf(workspace)
        add_record(workspace)
    first = add_newsroom(workspace)
    add_others(workspace)
    return first
