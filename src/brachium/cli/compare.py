"""`brachium compare`: two or more runs of one machine, from run files or sensor logs."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import Room, Units, app, print_problem, units_of

if TYPE_CHECKING:
    from brachium.app.files.compare_files import LoadedRun
    from brachium.core.prove.comparison import Comparison


@app.command()
def compare(
    runs: Annotated[list[Path], typer.Argument(help="Run files or sensor logs of one machine, the first one first.")],
    room_before: Room = None,
    room_after: Room = None,
    unit: Units = None,
    history: Annotated[
        list[Path] | None, typer.Option(help="Earlier runs (files or folders): what they teach about the spread.")
    ] = None,
    html: Annotated[Path | None, typer.Option(help="Write the comparison as one HTML file.")] = None,
    json_file: Annotated[Path | None, typer.Option("--json", help="Write the figures as JSON.")] = None,
) -> None:
    """Compare runs of the same machine: ratios with intervals, heat verdict, and what is refused."""
    with print_problem():
        from brachium.app.files.compare_files import compare_all, load_history, load_run
        from brachium.core.base.problems import ExpectedProblem

        if len(runs) < 2:
            raise ExpectedProblem("one run was named", "compare", "Name two or more, the first one first.")
        units = units_of(unit)
        loaded = [
            load_run(path, "before" if k == 0 else "after", units, room_before if k == 0 else room_after)
            for k, path in enumerate(runs)
        ]
        _warn(loaded)
        comparisons = compare_all([x.run for x in loaded], load_history(history or []))
        for number, comparison in enumerate(comparisons, 2):
            if len(comparisons) > 1:
                typer.echo(f"{'' if number == 2 else chr(10)}{number}. {loaded[number - 1].path.name}")
            _print(comparison)
        _write(comparisons, html, json_file)


def _warn(loaded: list[LoadedRun]) -> None:
    for one in loaded:
        for text in one.damaged:
            typer.echo(f"{one.path}: {text}.", err=True)
        if not one.run.complete:
            typer.echo(f"{one.path}: this run is not complete.", err=True)


def _print(comparison: Comparison) -> None:
    from brachium.core.base.units import number
    from brachium.core.prove.gain_words import gain_band
    from brachium.core.prove.offered_causes import offered_causes
    from brachium.core.prove.verdict_words import headline, subline

    typer.echo(headline(comparison))
    typer.echo(subline(comparison))
    for gain in comparison.gains:
        if gain.result is None:
            typer.echo(f"  {gain.test.title:34} not compared: {gain.excluded}")
            continue
        figures = f"{number(gain.before)}, then {number(gain.after)} {gain.test.unit}"
        band = gain_band(gain.test, gain.result)
        typer.echo(f"  {gain.test.title:34} {figures:32} {band:24} {gain.judgement.sentence}")
    _print_heat(comparison)
    for cause in offered_causes(comparison):
        typer.echo(f"  may be the cause: {cause}")
    for difference in comparison.differences:
        typer.echo(f"  differs: {difference.name} {difference.before}, then {difference.after}; {difference.text}")


def _print_heat(comparison: Comparison) -> None:
    from brachium.core.prove.heat_results import sustained_words

    heat = comparison.heat
    if heat.refusal:
        typer.echo(f"  no heat verdict: {heat.refusal}")
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
        if sustained_words(heat):
            typer.echo(f"  {sustained_words(heat)}")
    for warning in heat.warnings:
        typer.echo(f"  note: {warning}")


def _write(comparisons: tuple[Comparison, ...], html: Path | None, json_file: Path | None) -> None:
    import json

    from brachium.app.files.compare_files import comparison_plain
    from brachium.formats.atomic import write_atomically

    if json_file is not None:
        text = json.dumps(comparison_plain(comparisons), ensure_ascii=False, indent=1) + "\n"
        write_atomically(json_file, text.encode())
        typer.echo(f"figures in {json_file}")
    if html is not None:
        from brachium.app.reports.full_report import comparison_html

        write_atomically(html, comparison_html(comparisons).encode())
        typer.echo(f"report in {html}")
