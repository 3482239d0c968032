"""What every command shares: the Typer app, problems as sentences, the default shop."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.start import default_shop
from brachium.core.base.problems import Problem

if TYPE_CHECKING:
    from brachium.app.shop.workspace import Workspace
    from brachium.store.location import Place

app = typer.Typer(
    help="Brachium: plan, fit, measure and prove upgrades of ageing machines.", no_args_is_help=False,
    add_completion=True, pretty_exceptions_enable=False,
)  # fmt: skip
Shop = Annotated[
    str, typer.Option("--shop", help="Shop file, or postgresql://user@server/shop; yours where none is named.")
]
Room = Annotated[float | None, typer.Option(help="Room temperature [°C] where the log has none.")]
Units = Annotated[list[str] | None, typer.Option("--unit", help="Unit of a column, such as temp=f or power=mw.")]


@contextmanager
def print_problem() -> Iterator[None]:
    """Problems for people go to standard error in a sentence, with exit code 1."""
    try:
        yield
    except Problem as problem:
        typer.echo(problem.text, err=True)
        raise typer.Exit(1) from problem


def units_of(pairs: list[str] | None) -> dict[str, str]:
    """Units stated as column=unit. Raises ExpectedProblem."""
    from brachium.core.base.problems import ExpectedProblem

    units: dict[str, str] = {}
    for pair in pairs or []:
        column, _, name = pair.partition("=")
        if not name:
            raise ExpectedProblem(f"{pair!r} is not column=unit", "--unit", "Write it like temp=f.")
        units[column] = name
    return units


def shop_place(shop: str) -> Place:
    """Where the shop lies that a command names; the user's own file where none is named. Raises ExpectedProblem."""
    from brachium.store.location import place_of

    return place_of(shop) if shop else default_shop()


def open_workspace(shop: str, make: bool = False) -> Workspace:
    """A shop for a command. Raises ExpectedProblem where there is none."""
    from brachium.app.shop.open_shop import open_shop
    from brachium.core.base.problems import ExpectedProblem

    place = shop_place(shop)
    if isinstance(place, Path) and not make and not place.exists():
        raise ExpectedProblem("there is no such shop file", str(place), "Name one with --shop.")
    return open_shop(place)


def job_of(workspace: Workspace, job: str) -> str:
    """The id of a job; the only one where none is named. Raises ExpectedProblem naming those that there are."""
    from brachium.core.base.problems import ExpectedProblem

    known = workspace.job_ids()
    if job in known:
        return job
    if not job and len(known) == 1:
        return known[0]
    what = f"there is no job {job!r}" if job else f"this shop has {len(known)} jobs"
    raise ExpectedProblem(what, workspace.database.shown, f"Name one with --job: {', '.join(known) or 'none yet'}.")


def say_json(values: object) -> None:
    """One JSON document on standard output."""
    import json

    typer.echo(json.dumps(values, ensure_ascii=False))
