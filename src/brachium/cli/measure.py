"""`brachium measure`: a run on the machine that the program stands on."""

from __future__ import annotations

import signal
import sys
import threading
import time
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import app, print_problem

if TYPE_CHECKING:
    from brachium.app.bench.runner import Runner
    from brachium.core.measure.run import Protocol, Run

LOOK_S = 0.5


@app.command()
def measure(
    out: Annotated[Path, typer.Option(help="Run file to write.")],
    protocol: Annotated[str, typer.Option(help="quick (about 4 min) or standard (about 25 min).")] = "quick",
    folder: Annotated[Path | None, typer.Option(help="Folder on the drive to be tested; without it none is.")] = None,
    room: Annotated[float | None, typer.Option(help="Room temperature at the intake [°C].")] = None,
    limit: Annotated[float | None, typer.Option(help="Stop at this processor temperature [°C].")] = None,
    configuration: Annotated[str, typer.Option(help="What state the machine is in.")] = "as taken in",
    use: Annotated[str, typer.Option(help="What it is used for; the newer tests are chosen by it.")] = "office",
    rate: Annotated[float, typer.Option(help="Samples a second, 1 to 4.")] = 1.0,
    add_to: Annotated[Path | None, typer.Option(help="Earlier run of this machine to add this session to.")] = None,
) -> None:
    """Measure this machine. Ctrl+C stops; what was sampled until then is kept."""
    with print_problem():
        from dataclasses import replace

        from brachium.app.bench.local_runs import join_sessions
        from brachium.core.base.problems import ExpectedProblem
        from brachium.formats.run_file import read_run_file, write_run_file

        chosen = replace(_protocol(protocol, use), rate_hz=rate)
        if not 1.0 <= rate <= 4.0:
            raise ExpectedProblem(f"{rate:g} samples a second", "--rate", "Choose 1 to 4.")
        if out.exists():
            raise ExpectedProblem("something of that name is in the way", str(out), "Choose another name.")
        earlier = read_run_file(add_to).run if add_to is not None else None
        run = _run(out, chosen, folder, room, limit, configuration)
        if earlier is not None and run.complete:
            run = _joined_or_alone(join_sessions, earlier, run)
        write_run_file(run, out)
        _journal(out).unlink(missing_ok=True)
        _print(run, out)
    if not run.complete:
        raise typer.Exit(1)


def _protocol(name: str, use: str) -> Protocol:
    from brachium.core.base.problems import ExpectedProblem
    from brachium.core.measure.workloads import PROTOCOLS
    from brachium.core.use.profile import PROFILES, profile_of
    from brachium.core.use.tests_by_use import chosen_for
    from brachium_probe.counters import memory_total_bytes
    from brachium_probe.tree import Tree

    if name not in PROTOCOLS:
        raise ExpectedProblem(f"there is no protocol {name!r}", "--protocol", f"Known: {', '.join(PROTOCOLS)}.")
    if use not in {p.id for p in PROFILES}:
        raise ExpectedProblem(f"there is no use {use!r}", "--use", f"Known: {', '.join(p.id for p in PROFILES)}.")
    fitted = memory_total_bytes(Tree())
    return chosen_for(PROTOCOLS[name], profile_of(use), fitted / 2**30 if fitted else None)


def _journal(out: Path) -> Path:
    from brachium.formats.run_journal import JOURNAL_SUFFIX

    return out.with_name(out.name + JOURNAL_SUFFIX)


def _run(out: Path, protocol: Protocol, folder: Path | None, room: float | None, limit: float | None,
         configuration: str) -> Run:  # fmt: skip
    from brachium.app.bench.local_runs import LocalOptions, head_of, local_bench, local_runner, one_session
    from brachium.app.bench.runner import run_seconds
    from brachium.core.base.units import minutes, percent
    from brachium.core.measure.statistics import smallest_provable
    from brachium.core.measure.workloads import spread_for
    from brachium.formats.atomic import check_folder

    check_folder(out.parent)
    _rescue(_journal(out))
    bench = local_bench(LocalOptions(protocol, folder, room, limit))
    once = one_session(protocol)
    head = head_of(bench, once, out.stem, configuration)
    for missing in bench.missing():
        typer.echo(f"not measured here: {missing.what}: {missing.why}", err=True)
    provable = smallest_provable(spread_for("sustained"), 1, protocol.repeats)
    typer.echo(f"{protocol.name}: {minutes(run_seconds(bench, once) / 60)}; two such runs prove a gain from "
               f"{percent(provable, 1)} on", err=True)  # fmt: skip
    for text in protocol.cannot:
        typer.echo(f"not with this protocol: {text}", err=True)
    stop = threading.Event()
    runner = local_runner(bench, once, _journal(out), head, stop.is_set)
    return _watched(runner, head.id, configuration, head.taken_at, stop)


def _rescue(journal: Path) -> None:
    """A journal left by a killed program becomes a partial run beside the new one."""
    from brachium.formats.run_file import read_run_file, write_run_file

    if not journal.exists():
        return
    stem = journal.name.split(".")[0]
    number = 1
    while (kept := journal.with_name(f"{stem}-cut-off-{number}.json")).exists():
        number += 1
    run = read_run_file(journal).run
    if run.sessions:
        write_run_file(run, kept)
        typer.echo(f"a run was cut off here earlier; what it had sampled is kept in {kept}", err=True)
    journal.unlink()


def _watched(runner: Runner, run_id: str, configuration: str, taken_at: str, stop: threading.Event) -> Run:
    """Run in a thread, say where it stands, let Ctrl+C and a polite kill stop it."""
    from brachium.app.bench.local_runs import awake_run

    runs: list[Run] = []
    failures: list[BaseException] = []

    def work() -> None:
        try:
            runs.append(awake_run(runner, run_id, configuration, taken_at, True))
        except BaseException as error:
            failures.append(error)

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: stop.set())
    worker = threading.Thread(target=work)
    worker.start()
    shown = ""
    while worker.is_alive():
        shown = _say_progress(runner, shown)
        time.sleep(LOOK_S)
    if sys.stderr.isatty():
        typer.echo("", err=True)
    if failures:
        raise failures[0]
    return runs[0]


def _say_progress(runner: Runner, shown: str) -> str:
    """On a terminal one line that changes; elsewhere a line for every phase."""
    from brachium.core.base.units import seconds_left

    p = runner.recorder.snapshot().progress
    if sys.stderr.isatty():
        typer.echo(f"\r{p.phase}, {seconds_left(p.left_s)}    ", err=True, nl=False)
    elif p.phase and p.phase != shown and p.phase != "rest":
        typer.echo(f"{p.phase}, {seconds_left(p.left_s)}", err=True)
    return p.phase


def _joined_or_alone(join: object, earlier: Run, run: Run) -> Run:
    """A session that does not belong to the earlier run is kept by itself, and it is said why."""
    from brachium.core.base.problems import ExpectedProblem

    try:
        return join(earlier, run)  # type: ignore[no-any-return, operator]
    except ExpectedProblem as problem:
        typer.echo(f"not joined to {earlier.id}: {problem.what}. {problem.remedy} This session is kept by itself.",
                   err=True)  # fmt: skip
        return run


def _print(run: Run, out: Path) -> None:
    import numpy as np

    from brachium.core.base.text import many
    from brachium.core.base.units import number, percent

    for test in run.tests:
        results = run.results(test.key)
        if not results:
            reasons = {r.reason for s in run.sessions for r in s.repeats if r.test == test.key and r.reason}
            typer.echo(f"  {test.title:34} no valid repeat" + (f": {'; '.join(sorted(reasons))}" if reasons else ""))
            continue
        values = np.concatenate(results)
        spread = percent(float(np.std(values, ddof=1) / np.mean(values)), 1) if values.size > 1 else ""
        figure = f"{number(float(np.median(values)))} {test.unit}"
        count = many(values.size, "repeat")
        typer.echo(f"  {test.title:34} {figure:18} {count}{f', spread {spread}' if spread else ''}")
    for check in run.checks:
        if check.passed is False:
            typer.echo(f"  {check.title}: {check.detail}", err=True)
    for note in run.notes:
        if note.startswith("stopped"):
            typer.echo(note, err=True)
    typer.echo(f"{'kept' if run.complete else 'stopped; what was sampled is kept'} in {out}")
