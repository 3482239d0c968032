"""Opening a shop: its database, lanes and price list, and what follows from a view made and a job handed over."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from brachium.app.shared.lanes import Lanes, Post, at_once
from brachium.app.shop.workspace import Workspace
from brachium.formats.ids import JOURNAL_SUFFIX
from brachium.formats.shop_documents import DRAWN
from brachium.store.backups import backup_if_due
from brachium.store.location import Place, ServerPlace, place_of
from brachium.store.roles import Role

if TYPE_CHECKING:
    from brachium.app.shop.shared_shop import SharedShop
    from brachium.app.view.job_view import JobView
    from brachium.core.plan.candidates import CatalogueItem


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
        workspace = Workspace(where, lanes, _standard_prices, bench)
    except BaseException:
        lanes.close()
        raise
    try:
        connect_followers(workspace)
        if any(workspace.journals().glob(f"*{JOURNAL_SUFFIX}")):
            from brachium.app.shop.recover_runs import recover_runs  # late: few starts find one

            workspace.recovered += recover_runs(workspace)
        if fill is not None:
            fill(workspace)
        if isinstance(where, Path) and workspace.job_ids() and not workspace.database.cramped:
            lanes.submit("store", lambda: backup_if_due(where), None, workspace.report)
    except BaseException:
        workspace.close()
        raise
    return workspace


def _standard_prices() -> tuple[CatalogueItem, ...]:
    from brachium.demo.shop import demo_catalogue  # late: read when something is first priced

    return demo_catalogue()


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
    workspace.on_view_made.append(lambda view: _draw_down(workspace, view))
    workspace.on_handed_over.append(lambda view: _learn_from(workspace, view))
    workspace.on_taken_back.append(lambda job_id: _forget_job(workspace, job_id))


def _draw_down(workspace: Workspace, view: JobView) -> None:
    if workspace.database.role < Role.TECHNICIAN:
        return  # the bench that ticks the steps notes it
    if view.job.steps_done or workspace.setting(DRAWN.key):
        from brachium.app.shop.consumables import draw_down  # late, like the others: the window opens without it

        draw_down(workspace, view)


def _learn_from(workspace: Workspace, view: JobView) -> None:
    from brachium.app.shop.shop_record import learn_from

    learn_from(workspace, view, view.job.handed_over)


def _forget_job(workspace: Workspace, job_id: str) -> None:
    from brachium.app.shop.shop_record import forget_job

    forget_job(workspace, job_id)
