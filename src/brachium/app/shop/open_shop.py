"""Opening a shop: its database, lanes and price list; the demo shop is filled in when new."""

from __future__ import annotations

from pathlib import Path

from brachium.app.shop.lanes import Lanes, Post, at_once
from brachium.app.shop.recover_runs import recover_runs
from brachium.app.shop.shop_record import OUTCOMES_KEY
from brachium.app.shop.workspace import SHELF_KEY, Workspace
from brachium.demo.shop import demo_catalogue
from brachium.store.backups import backup_if_due

FILLED_KEY, FILLED = "demo_shop", "whole"


def open_shop(path: Path, demo: bool, post: Post = at_once) -> Workspace:
    """Open a shop file. Raises ExpectedProblem or EnvironmentProblem; the file is left as it was then."""
    lanes = Lanes(post)
    try:
        workspace = Workspace(path, lanes, demo_catalogue())
    except BaseException:
        lanes.close()
        raise
    try:
        workspace.recovered = recover_runs(workspace)
        if demo and workspace.setting(FILLED_KEY) != FILLED:
            add_demo_jobs(workspace)
        if workspace.job_ids() and not workspace.database.cramped:
            lanes.submit("store", lambda: backup_if_due(path), None, workspace.report)
    except BaseException:
        workspace.close()
        raise
    return workspace


def add_demo_jobs(workspace: Workspace) -> str:
    """Take the demo shop in, or what a start that was stopped left out; returns the id of the newsroom laptop.

    That it is whole is noted last, behind all that it consists of.
    """
    from brachium.app.demo.demo_record import add_record
    from brachium.app.demo.demo_shop import add_newsroom, add_others, add_shelf

    if not workspace.setting(SHELF_KEY):
        add_shelf(workspace)
    if not workspace.setting(OUTCOMES_KEY):
        add_record(workspace)
    first = add_newsroom(workspace)
    add_others(workspace)
    workspace.lanes.submit("compute", lambda: None, lambda _: workspace.save_setting(FILLED_KEY, FILLED))
    return first
