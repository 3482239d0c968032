"""What every command shares: the Typer app, problems as sentences, the default shop."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer

from brachium.core.base.problems import Problem

app = typer.Typer(
    help="Brachium: plan, fit, measure and prove upgrades of ageing machines.", no_args_is_help=False,
    add_completion=False, pretty_exceptions_enable=False,
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
