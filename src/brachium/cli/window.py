"""`brachium`, `brachium open`, `brachium demo`: the window, and the demo job without one."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brachium.cli.common import Shop, app, print_problem, shop_place
from brachium.cli.start import default_shop, open_window

Bench = Annotated[str, typer.Option(help="What this bench is called in a shop of several.")]


@app.callback(invoke_without_command=True)
def start(context: typer.Context) -> None:
    """Open the window on your shop."""
    if context.invoked_subcommand is None:
        raise typer.Exit(open_window(default_shop()))


@app.command("open")
def open_file(
    shop: Annotated[str, typer.Argument(help="Shop file to open or make, or postgresql://user@server/shop.")],
    bench: Bench = "",
) -> None:  # fmt: skip
    """Open the window on a shop."""
    with print_problem():
        place = shop_place(shop)
    raise typer.Exit(open_window(place, bench))


@app.command("window")
def window_with(
    files: Annotated[list[Path] | None, typer.Argument(help="Run files, job archives or logs to take in.")] = None,
    shop: Shop = "",
    bench: Bench = "",
) -> None:
    """Open the window on your shop and take these files in, as a file manager asks for it."""
    with print_problem():
        place = shop_place(shop)
    raise typer.Exit(open_window(place, bench, tuple(files or ())))


@app.command()
def demo(
    headless: Annotated[bool, typer.Option(help="Without a window: the whole job, report and pictures.")] = False,
    out: Annotated[Path | None, typer.Option(help="Folder for the demo shop, report and pictures.")] = None,
) -> None:
    """Start on the demo shop, or take its machine through all stages without a window."""
    if not headless:
        folder = out or default_shop().parent
        raise typer.Exit(open_window(folder / "demo-shop.db", demo=True))
    with print_problem():
        _headless(out or Path("demo-out"))


def _headless(folder: Path) -> None:
    from brachium.app.demo.headless import run_demo_job, write_demo_report, write_other_reports
    from brachium.formats.atomic import check_folder

    check_folder(folder)
    shop = folder / "demo-shop.db"
    for old in (shop, Path(f"{shop}-wal"), Path(f"{shop}-shm")):
        old.unlink(missing_ok=True)
    workspace, view = run_demo_job(shop, typer.echo)
    try:
        write_demo_report(view, folder, typer.echo)
        write_other_reports(workspace, folder / "reports", typer.echo)
    finally:
        workspace.close()
    from brachium.ui.pictures import take_pictures

    take_pictures(shop, folder, typer.echo)
    typer.echo(f"Everything is in {folder.resolve()}")
