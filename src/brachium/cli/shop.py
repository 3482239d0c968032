"""`brachium shop`: a shop as a whole: moved between a file and a server, its roles on a server."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brachium.cli.common import app, print_problem, shop_place

shop_app = typer.Typer(help="Move a shop, give its benches roles.", no_args_is_help=True)
app.add_typer(shop_app, name="shop")
WHERE = "Shop file, or postgresql://user@server/shop."


@shop_app.command("copy")
def copy(
    source: Annotated[str, typer.Argument(metavar="FROM", help=WHERE)],
    target: Annotated[str, typer.Argument(metavar="TO", help=f"{WHERE} It must be empty.")],
) -> None:
    """Copy a shop, with a checksum of everything. The one that is copied from stays as it is."""
    with print_problem():
        from brachium.core.base.problems import ExpectedProblem
        from brachium.store.copy_shop import copy_shop
        from brachium.store.open_database import open_database

        here, there = shop_place(source), shop_place(target)
        if isinstance(here, Path) and not here.exists():
            raise ExpectedProblem("there is no such shop file", str(here), "Name the shop to copy.")
        origin = open_database(here)
        try:
            copied_to = open_database(there)
            try:
                tables = copy_shop(origin, copied_to)
            finally:
                copied_to.close()
        finally:
            origin.close()
        for table in tables:
            typer.echo(f"  {table.name:8} {table.rows:8} rows  {table.sha256[:16]}")
        typer.echo(f"copied to {there if isinstance(there, Path) else there.shown}, checksums agree")


@shop_app.command("roles")
def roles(server: Annotated[str, typer.Argument(help="postgresql://owner@server/shop")]) -> None:
    """Make the roles counter, technician and owner on a shop's server, with their rights."""
    with print_problem():
        from brachium.core.base.problems import ExpectedProblem
        from brachium.store.location import ServerPlace
        from brachium.store.roles import grant_roles
        from brachium.store.server import ServerDatabase

        place = shop_place(server)
        if not isinstance(place, ServerPlace):
            raise ExpectedProblem("a shop in a file has no roles", str(place), "Name the URL of a server.")
        database = ServerDatabase(place)
        try:
            with database.transaction(writes=True) as c:
                grant_roles(c)
        finally:
            database.close()
        typer.echo("brachium_counter, brachium_technician and brachium_owner have their rights.")
        typer.echo("Give one to a user with: grant brachium_technician to NAME;")
