"""Opening a shop: its database, lanes and price list, and what follows from a view made and a job handed over."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from brachium.app.shop.consumables import draw_down
from brachium.app.shop.lanes import Lanes, Post, at_once
from brachium.app.shop.recover_runs import recover_runs
from brachium.app.shop.shop_record import forget_job, learn_from
from brachium.app.shop.workspace import Workspace
from brachium.demo.shop import demo_catalogue
from brachium.store.backups import backup_if_due


def open_shop(path: Path, post: Post = at_once, fill: Callable[[Workspace], object] | None = None) -> Workspace:
    """Open a shop file; `fill` takes in what a new one begins with, or what a start that was stopped left out.

    Raises ExpectedProblem or EnvironmentProblem; the file is left as it was then.
    """
    lanes = Lanes(post)
    try:
        workspace = Workspace(path, lanes, demo_catalogue())
    except BaseException:
        lanes.close()
        raise
    try:
        connect_followers(workspace)
        workspace.recovered = recover_runs(workspace)
        if fill is not None:
            fill(workspace)
        if workspace.job_ids() and not workspace.database.cramped:
            lanes.submit("store", lambda: backup_if_due(path), None, workspace.report)
    except BaseException:
        workspace.close()
        raise
    return workspace


def connect_followers(workspace: Workspace) -> None:
    """Ticked steps draw down consumables; a job that is handed over teaches the shop, a hand-over taken back does
    not."""
    workspace.on_view_made.append(lambda view: draw_down(workspace, view))
    workspace.on_handed_over.append(lambda view: learn_from(workspace, view, view.job.handed_over))
    workspace.on_taken_back.append(lambda job_id: forget_job(workspace, job_id))
