"""What every command shares: the Typer app, problems as sentences, the default shop."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.core.base.problems import Problem

if TYPE_CHECKING:
    from brachium.app.shop.workspace import Workspace

app = typer.Typer(
    help="Brachium: plan, fit, measure and prove upgrades of ageing machines.", no_args_is_help=False,
    add_completion=True, pretty_exceptions_enable=False,
)  # fmt: skip
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


def default_shop() -> Path:
    from platformdirs import user_data_path

    return user_data_path("brachium") / "shop.db"


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


def open_workspace(shop: Path | None, make: bool = False) -> Workspace:
    """A shop file for a command; the user's own where none is named. Raises ExpectedProblem where there is none."""
    from brachium.app.shop.open_shop import open_shop
    from brachium.core.base.problems import ExpectedProblem

    path = shop or default_shop()
    if not make and not path.exists():
        raise ExpectedProblem("there is no such shop file", str(path), "Name one with --shop.")
    return open_shop(path)


def job_of(workspace: Workspace, job: str) -> str:
    """The id of a job; the only one where none is named. Raises ExpectedProblem naming those that there are."""
    from brachium.core.base.problems import ExpectedProblem

    known = workspace.job_ids()
    if job in known:
        return job
    if not job and len(known) == 1:
        return known[0]
    what = f"there is no job {job!r}" if job else f"this shop has {len(known)} jobs"
    raise ExpectedProblem(what, str(workspace.database.path), f"Name one with --job: {', '.join(known) or 'none yet'}.")


def say_json(values: object) -> None:
    """One JSON document on standard output."""
    import json

    typer.echo(json.dumps(values, ensure_ascii=False))
