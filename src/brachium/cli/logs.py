"""`brachium import-log`: a foreign sensor log, read and kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import Room, Units, app, print_problem, units_of

if TYPE_CHECKING:
    from brachium.app.files.import_logs import LogPreview


@app.command("import-log")
def import_log(
    log: Annotated[Path, typer.Argument(help="Delimited sensor log.")],
    room: Room = None,
    unit: Units = None,
    keep: Annotated[str, typer.Option(help="Shop file or URL to keep the log in.")] = "",
    job: Annotated[str, typer.Option(help="Record to keep it under; empty makes a new one.")] = "",
    role: Annotated[str, typer.Option("--as", help="before or after; guessed from the name.")] = "",
    name: Annotated[str, typer.Option(help="Its configuration, such as: cleaned; the file's name otherwise.")] = "",
    condition: Annotated[
        list[str] | None, typer.Option(help="A condition of it, such as fan=quiet; as often as there are any.")
    ] = None,
) -> None:
    """Read a sensor log: what was recognised, the load found, the heat figures of this one run."""
    with print_problem():
        preview = replace(_read(log, unit, role), configuration=name, stated=_stated(condition or ()))
        _print_preview(preview, room)
        if keep is not None:
            _keep(preview, room, keep, job)


def _read(log: Path, unit: list[str] | None, role: str = "") -> LogPreview:
    from brachium.app.files.import_logs import read_log
    from brachium.core.base.problems import ExpectedProblem

    if role not in ("", "before", "after"):
        raise ExpectedProblem(f"{role!r} is neither before nor after", "--as", "Name one of the two.")
    return read_log(log, role, units_of(unit))


def _stated(conditions: Sequence[str]) -> dict[str, str]:
    from brachium.core.base.problems import ExpectedProblem
    from brachium.core.measure.typed_conditions import stated_from

    try:
        return stated_from(conditions)
    except ValueError as problem:
        raise ExpectedProblem(str(problem), "--condition", "State it as name=value.") from problem


def _print_preview(preview: LogPreview, room: float | None) -> None:
    from brachium.app.files.import_logs import log_to_run
    from brachium.core.base.units import pm
    from brachium.core.heat.claims import read_one
    from brachium.core.heat.run_traces import heat_traces
    from brachium.core.measure.typed_conditions import stated_text
    from brachium.formats.log_columns import ROLE_NAMES

    log = preview.log
    typer.echo(
        f"{log.path.name}: {log.trace.time_s.size} samples, load of {preview.load_s:.0f} s, read as {preview.role}"
    )
    if preview.note:
        typer.echo(f"  note: {preview.note}")
    for column in log.columns:
        typer.echo(f"  {ROLE_NAMES[column.role]:18} {column.header} [{column.unit}]")
    for number, text in log.bad_lines[:10]:
        typer.echo(f"  line {number} left out: {text}")
    if len(log.bad_lines) > 10:
        typer.echo(f"  and {len(log.bad_lines) - 10} more lines left out")
    run = log_to_run(preview, "preview", room)
    shown = run.conditions.room_c
    typer.echo(f"  room               {shown:.1f} °C, {run.conditions.room_note}" if shown is not None
               else "  room               not known: state it with --room")  # fmt: skip
    if preview.stated:
        typer.echo(f"  conditions         {stated_text(preview.stated)}")
    reading = read_one(heat_traces(run)[0])
    if reading.throttle is not None:
        typer.echo(f"  held back          {reading.throttle.kind.value}: {reading.throttle.share:.0%} of the load")
        if reading.throttle.sustained_clock_mhz:
            typer.echo(f"  sustained clock    {reading.throttle.sustained_clock_mhz:.0f} MHz")
    if reading.stair is not None:
        stair = reading.stair
        typer.echo(f"  total resistance   {pm(stair.total_k_w, stair.total_half_k_w, 'K/W')}")
        step = pm(stair.chip_to_sink_k, stair.chip_to_sink_half_k, "K")
        typer.echo(f"  chip to heatsink   {step} at {reading.power_ref_w:.1f} W")
        typer.echo(f"  heatsink to room   {pm(stair.sink_to_room_k, stair.sink_to_room_half_k, 'K')}")
    elif reading.refusal:
        typer.echo(f"  no heat figures    {reading.refusal}")


def _keep(preview: LogPreview, room: float | None, shop: str, job: str) -> None:
    from brachium.app.files.import_logs import keep_logs
    from brachium.app.shop.open_shop import open_shop
    from brachium.core.base.problems import ExpectedProblem

    workspace = open_shop(shop)
    failures: list[Exception] = []
    workspace.on_problem.append(failures.append)
    try:
        if job and job not in workspace.job_ids():
            known = ", ".join(workspace.job_ids()) or "none yet"
            raise ExpectedProblem(f"there is no record {job!r}", str(shop), f"Known: {known}.")
        kept = keep_logs(workspace, (preview,), {preview.role: room}, job)
        workspace.lanes.drain("store")
        workspace.writes.raise_unsaved()
    finally:
        workspace.close()
    if failures:
        raise failures[0]
    typer.echo(f"kept in {shop} as {preview.role}-run of {kept}")
