"""The command line: every main job without a window."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.core.problems import Problem

if TYPE_CHECKING:
    from brachium.app.importing import LogPreview
    from brachium.core.measure.comparison import Comparison

app = typer.Typer(
    help="Brachium: plan, fit, measure and prove upgrades of ageing machines.", no_args_is_help=False,
    add_completion=False, pretty_exceptions_enable=False,
)  # fmt: skip
Room = Annotated[float | None, typer.Option(help="Room temperature [°C] where the log has none.")]
Units = Annotated[list[str] | None, typer.Option("--unit", help="Unit of a column, such as temp=f or power=mw.")]


@contextmanager
def _said() -> Iterator[None]:
    """Problems for people go to standard error in a sentence, with exit code 1."""
    try:
        yield
    except Problem as problem:
        typer.echo(problem.text, err=True)
        raise typer.Exit(1) from problem


def default_shop() -> Path:
    from platformdirs import user_data_path

    return user_data_path("brachium") / "shop.db"


@app.callback(invoke_without_command=True)
def start(context: typer.Context) -> None:
    """Open the window on your shop."""
    if context.invoked_subcommand is None:
        from brachium.ui.run import run

        raise typer.Exit(run(default_shop(), demo=False))


@app.command("open")
def open_file(shop: Annotated[Path, typer.Argument(help="Shop file to open or make.")]) -> None:
    """Open the window on a shop file."""
    from brachium.ui.run import run

    raise typer.Exit(run(shop, demo=False))


@app.command()
def demo(
    headless: Annotated[bool, typer.Option(help="Without a window: the whole job, report and pictures.")] = False,
    out: Annotated[Path | None, typer.Option(help="Folder for the demo shop, report and pictures.")] = None,
) -> None:
    """Start on the demo shop, or take its machine through all stages without a window."""
    if not headless:
        from brachium.ui.run import run

        folder = out or default_shop().parent
        raise typer.Exit(run(folder / "demo-shop.db", demo=True))
    with _said():
        _headless(out or Path("demo-out"))


def _headless(folder: Path) -> None:
    from brachium.app.headless import run_demo_job, write_demo_report
    from brachium.formats.atomic import check_folder

    check_folder(folder)
    shop = folder / "demo-shop.db"
    for old in (shop, Path(f"{shop}-wal"), Path(f"{shop}-shm")):
        old.unlink(missing_ok=True)
    workspace, view = run_demo_job(shop, typer.echo)
    try:
        write_demo_report(view, folder, typer.echo)
    finally:
        workspace.close()
    from brachium.ui.pictures import take_pictures

    take_pictures(shop, folder, typer.echo)
    typer.echo(f"Everything is in {folder.resolve()}")


@app.command("import-log")
def import_log(
    log: Annotated[Path, typer.Argument(help="Delimited sensor log.")],
    room: Room = None,
    unit: Units = None,
    keep: Annotated[Path | None, typer.Option(help="Shop file to keep the log in.")] = None,
    job: Annotated[str, typer.Option(help="Record to keep it under; empty makes a new one.")] = "",
    role: Annotated[str, typer.Option("--as", help="before or after; guessed from the name.")] = "",
) -> None:
    """Read a sensor log: what was recognised, the load found, the heat figures of this one run."""
    with _said():
        preview = _read(log, unit, role)
        _print_preview(preview, room)
        if keep is not None:
            _keep(preview, room, keep, job)


def _read(log: Path, unit: list[str] | None, role: str = "") -> LogPreview:
    from brachium.app.importing import read_log
    from brachium.core.problems import ExpectedProblem

    units: dict[str, str] = {}
    for pair in unit or []:
        column, _, name = pair.partition("=")
        if not name:
            raise ExpectedProblem(f"{pair!r} is not column=unit", "--unit", "Write it like temp=f.")
        units[column] = name
    if role not in ("", "before", "after"):
        raise ExpectedProblem(f"{role!r} is neither before nor after", "--as", "Name one of the two.")
    return read_log(log, role, units)


def _print_preview(preview: LogPreview, room: float | None) -> None:
    from brachium.app.importing import log_to_run
    from brachium.core.heat.claims import read_one
    from brachium.core.measure.heat_view import heat_traces
    from brachium.core.units import pm
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
    reading = read_one(heat_traces(run)[0])
    if reading.throttle is not None:
        typer.echo(f"  held back          {reading.throttle.kind.value}: {reading.throttle.share:.0%} of the load")
    if reading.stair is not None:
        stair = reading.stair
        typer.echo(f"  total resistance   {pm(stair.total_k_w, stair.total_half_k_w, 'K/W')}")
        step = pm(stair.chip_to_sink_k, stair.chip_to_sink_half_k, "K")
        typer.echo(f"  chip to heatsink   {step} at {reading.power_ref_w:.1f} W")
        typer.echo(f"  heatsink to room   {pm(stair.sink_to_room_k, stair.sink_to_room_half_k, 'K')}")
    elif reading.refusal:
        typer.echo(f"  no heat figures    {reading.refusal}")


def _keep(preview: LogPreview, room: float | None, shop: Path, job: str) -> None:
    from brachium.app.importing import keep_logs
    from brachium.app.shop import open_shop
    from brachium.core.problems import ExpectedProblem

    workspace = open_shop(shop, demo=False)
    failures: list[Exception] = []
    workspace.on_problem.append(failures.append)
    try:
        if job and job not in workspace.job_ids():
            known = ", ".join(workspace.job_ids()) or "none yet"
            raise ExpectedProblem(f"there is no record {job!r}", str(shop), f"Known: {known}.")
        kept = keep_logs(workspace, (preview,), {preview.role: room}, job)
        workspace.lanes.drain("store")
    finally:
        workspace.close()
    if failures:
        raise failures[0]
    typer.echo(f"kept in {shop} as {preview.role}-run of {kept}")


@app.command()
def compare(
    before: Annotated[Path, typer.Argument(help="Sensor log before.")],
    after: Annotated[Path, typer.Argument(help="Sensor log after, same machine.")],
    room_before: Room = None,
    room_after: Room = None,
    unit: Units = None,
) -> None:
    """Compare two sensor logs of the same machine: heat verdict with intervals, and what is refused."""
    with _said():
        from brachium.app.importing import log_to_run
        from brachium.core.measure.comparison import compare_runs

        runs = [
            log_to_run(_read(path, unit, role), role, room)
            for path, role, room in ((before, "before", room_before), (after, "after", room_after))
        ]
        _print_comparison(compare_runs(runs[0], runs[1]))


def _print_comparison(comparison: Comparison) -> None:
    from brachium.core.job.verdict_words import headline, subline

    heat = comparison.heat
    typer.echo(headline(comparison))
    typer.echo(subline(comparison))
    if heat.refusal:
        return
    typer.echo(f"At {heat.power_ref_w:.1f} W and {heat.fan_ref_rpm:.0f} /min, same machine assumed:")
    for name, claim in (
        ("paste and mounting", heat.paste),
        ("fins, fan and vents", heat.airflow),
        ("both", heat.total),
    ):
        if claim is not None:
            typer.echo(f"  {name:20} {claim.text}")
    typer.echo(f"  {heat.helped_more}")
    if heat.throttles is not None:
        for name, found in zip(("before", "after"), heat.throttles, strict=True):
            typer.echo(f"  held back {name:10} {found.kind.value}, {found.share:.0%} of the load")
    for difference in comparison.differences:
        typer.echo(f"  differs: {difference.name} {difference.before}, then {difference.after}; {difference.text}")
    for warning in heat.warnings:
        typer.echo(f"  note: {warning}")


def main() -> None:
    """Entry point."""
    app()


if __name__ == "__main__":
    main()
