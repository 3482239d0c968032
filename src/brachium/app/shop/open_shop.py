"""Opening a shop: its database, lanes and price list, and what follows from a view made and a job handed over."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from brachium.app.shared.lanes import Lanes, Post, at_once
from brachium.app.shop.consumables import draw_down
from brachium.app.shop.recover_runs import recover_runs
from brachium.app.shop.shop_record import forget_job, learn_from
from brachium.app.shop.workspace import Workspace
from brachium.demo.shop import demo_catalogue
from brachium.store.backups import backup_if_due
from brachium.store.location import Place, ServerPlace, place_of

if TYPE_CHECKING:
    from brachium.app.shop.shared_shop import SharedShop


def open_shop(
    place: Path | str | Place, post: Post = at_once, fill: Callable[[Workspace], object] | None = None, bench: str = "",
) -> Workspace:  # fmt: skip
    """Open a shop, a file or a URL of a server; `bench` is what this one is called there.

    `fill` takes in what a new one begins with, or what a start that was stopped left out. Raises ExpectedProblem or
    EnvironmentProblem; the shop is left as it was then.
    """
    where = place if isinstance(place, ServerPlace) else place_of(place)
    lanes = Lanes(post)
    try:
        workspace = Workspace(where, lanes, demo_catalogue(), bench)
    except BaseException:
        lanes.close()
        raise
    try:
        connect_followers(workspace)
        workspace.recovered += recover_runs(workspace)
        if fill is not None:
            fill(workspace)
        if isinstance(where, Path) and workspace.job_ids() and not workspace.database.cramped:
            lanes.submit("store", lambda: backup_if_due(where), None, workspace.report)
    except BaseException:
        workspace.close()
        raise
    return workspace


def join_benches(workspace: Workspace) -> SharedShop | None:
    """Hear of the other benches from now on; None where the shop is a file, which nobody else has open."""
    if not workspace.shared:
        return None
    from brachium.store.server import ServerDatabase  # late: a shop file needs none of it

    if not isinstance(workspace.database, ServerDatabase):
        return None
    from brachium.app.shop.shared_shop import SharedShop

    shared = SharedShop(workspace, workspace.database)
    shared.start()
    return shared


def connect_followers(workspace: Workspace) -> None:
    """Ticked steps draw down consumables; a job that is handed over teaches the shop, a hand-over taken back does
    not."""
    workspace.on_view_made.append(lambda view: draw_down(workspace, view))
    workspace.on_handed_over.append(lambda view: learn_from(workspace, view, view.job.handed_over))
    workspace.on_taken_back.append(lambda job_id: forget_job(workspace, job_id))
