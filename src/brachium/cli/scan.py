"""`brachium scan`: what this machine, or a captured system tree, says about itself."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import app, print_problem
from brachium.core.machine.scan import ScannedBattery, ScannedDrive, ScannedPlace

if TYPE_CHECKING:
    from brachium.core.machine.scan import Scan


@app.command()
def scan(
    root: Annotated[Path, typer.Option(help="A captured system tree instead of the live one.")] = Path("/"),
    json_file: Annotated[Path | None, typer.Option("--json", help="Write everything that was read as JSON.")] = None,
) -> None:
    """Read what the machine says about itself: identity, memory places, drives, batteries, firmware."""
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
        if json_file is not None:
            write_atomically(json_file, (json.dumps(found, ensure_ascii=False, indent=1) + "\n").encode())
        _print(scan_from_plain(found, str(root)))


def _print(found: Scan) -> None:
    for field in found.fields:
        typer.echo(f"  {field.key:24} {field.value}   [{field.source}]")
    for place in found.places:
        typer.echo(f"  {place.locator or 'memory place':24} {_place_words(place)}".rstrip())
    for drive in found.drives:
        typer.echo(f"  {drive.name:24} {_drive_words(drive)}")
    for battery in found.batteries:
        typer.echo(f"  {'battery':24} {_battery_words(battery)}")
    for absent in found.absent:
        typer.echo(f"  not read: {absent.what}: {absent.why}. {absent.command}".rstrip(), err=True)
    for note in found.notes:
        typer.echo(f"  note: {note}", err=True)


def _place_words(place: ScannedPlace) -> str:
    from brachium.core.base.units import gib

    size = "not known" if place.size_bytes is None else gib(place.size_bytes) if place.size_bytes else "empty"
    return f"{size} {place.type or ''} {place.speed_mts or ''}"


def _drive_words(drive: ScannedDrive) -> str:
    from brachium.core.base.units import drive_size

    size = drive_size(drive.size_bytes) if drive.size_bytes else "no medium"
    link = f", link {drive.link or 'not known'} of {drive.link_max or 'not known'}" if drive.link_max else ""
    return f"{size} {drive.kind} {drive.model or ''}{link}"


def _battery_words(battery: ScannedBattery) -> str:
    from brachium.core.base.units import percent

    health = percent(battery.health) if battery.health is not None else "not known"
    return f"health {health}" if battery.present else "not fitted"
