"""`brachium watch`: goes along with real days of use on the machine that the program stands on."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brachium.cli.common import app


@app.command()
def watch(
    agreed_by: Annotated[str, typer.Option(help="Who agreed to it: a desk or a room. Asked otherwise.")] = "",
    hours: Annotated[float, typer.Option(help="How long [h].")] = 24.0,
    out: Annotated[Path, typer.Option(help="Folder that the file goes to.")] = Path(),
    configuration: Annotated[str, typer.Option(help="What state the machine is in.")] = "as taken in",
) -> None:
    """Record a row every 15 s of how busy this machine is, with the owner's consent. Ctrl+C ends; all is kept."""
    from brachium_probe.watching.watch import watch as watched

    asked = ["--hours", f"{hours:g}", "--out", str(out), "--configuration", configuration]
    asked += ["--agreed-by", agreed_by] if agreed_by else []
    raise typer.Exit(watched(asked))
