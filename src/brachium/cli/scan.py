"""`brachium scan`: what this machine, or a captured system tree, says about itself."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import app, print_problem

if TYPE_CHECKING:
    from brachium.core.machine.scanned.scan import Scan


@app.command()
def scan(
    root: Annotated[Path, typer.Option(help="A captured system tree instead of the live one.")] = Path("/"),
    json_file: Annotated[
        Path | None, typer.Option("--json", help="Write everything that was read as JSON; - for the screen.")
    ] = None,
) -> None:
    """Read what the machine says about itself: identity, memory slots, drives, batteries, firmware."""
    with print_problem():
        import json

        from brachium.core.base.problems import ExpectedProblem
        from brachium.formats.atomic import write_atomically
        from brachium.formats.scan_plain import scan_from_plain
        from brachium_probe import scan as scanner
        from brachium_probe.tree import Tree

        if not (root / "sys").is_dir() and not (root / "proc").is_dir():
            raise ExpectedProblem("this is no system tree: it has neither sys nor proc", str(root), "Name its root.")
        found = scanner.scan(Tree(str(root)))
        if json_file == Path("-"):
            typer.echo(json.dumps(found, ensure_ascii=False, indent=1))
            return
        if json_file is not None:
            write_atomically(json_file, (json.dumps(found, ensure_ascii=False, indent=1) + "\n").encode())
        _print(scan_from_plain(found, str(root)))


def _print(found: Scan) -> None:
    """Rows for a person; what could not be read, remarks, and once what more rights would add, on standard error."""
    from brachium.core.machine.scanned.scan_rows import scan_rows

    for what, value, raw, source in scan_rows(found):
        if value != "not read":
            behind = f" ({raw})" if raw and raw != value else ""
            typer.echo(f"  {what:28} {value}{behind}   [{source}]")
    for absent in found.absent:
        typer.echo(f"  not read: {absent.what}: {absent.why}", err=True)
    for note in found.notes:
        typer.echo(f"  note: {note}", err=True)
    for hint in dict.fromkeys(a.command for a in found.absent if a.command):
        typer.echo(f"  To read more: {hint}.", err=True)
