"""Runs on the machine that the program stands on: journal, recovery of a run that was cut off, further sessions."""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path

from brachium.app.bench.resume_run import Rest
from brachium.app.bench.runner import Runner, offered_tests
from brachium.core.base.problems import ExpectedProblem, from_os_error
from brachium.core.base.text import phrase
from brachium.core.measure.run import Protocol, Run
from brachium.devices.live.bench import LiveBench
from brachium.devices.live.stay_awake import stay_awake
from brachium.devices.protocols import Bench
from brachium.formats.records import RunDocument
from brachium_probe.journal import JournalWriter

SYNC_S = 4.0


@dataclass(frozen=True)
class LocalOptions:
    """What a run on this machine needs to know beforehand."""

    protocol: Protocol
    folder: Path | None = None
    room_c: float | None = None
    limit_c: float | None = None


def local_bench(options: LocalOptions) -> LiveBench:
    """The bench of this machine. Raises ExpectedProblem where the drive folder cannot serve."""
    return LiveBench(one_session(options.protocol), options.folder, options.room_c, options.limit_c)


def one_session(protocol: Protocol) -> Protocol:
    """On a real machine a session ends with its restart, so a run is one session; more are joined to it."""
    return replace(protocol, sessions=1)


def local_runner(
    bench: Bench, protocol: Protocol, journal_path: Path, head: RunDocument, cancelled: Callable[[], bool],
    paused: Callable[[], bool] = lambda: False, rest: Rest | None = None,
) -> Runner:  # fmt: skip
    """A runner that writes its journal as it goes. Raises EnvironmentProblem where the journal cannot be made."""
    journal = open_journal(journal_path, bench, head)
    return Runner(bench, protocol, cancelled, journal, paused, rest)


def open_journal(path: Path, bench: Bench, head: RunDocument) -> JournalWriter:
    """Begin a journal. Raises EnvironmentProblem; a journal already there is never overwritten."""
    channels = [(c.key, c.unit, c.source) for c in bench.sampler.channels()]
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        return JournalWriter(str(path), head.plain(), channels, SYNC_S)
    except OSError as error:
        raise from_os_error(error, str(path), "Nothing was measured yet.") from error


def head_of(bench: Bench, protocol: Protocol, run_id: str, configuration: str) -> RunDocument:
    """What is known of a run before it begins."""
    taken_at = datetime.now().strftime("%Y-%m-%d %H:%M")
    return RunDocument(
        run_id, configuration, protocol, bench.conditions(), offered_tests(bench, protocol), (), taken_at, "measured",
        False, machine=bench.signature(),
    )  # fmt: skip


def join_sessions(earlier: Run, later: Run) -> Run:
    """A run with one more session. Raises ExpectedProblem where the two do not belong together."""
    place = later.id
    if earlier.machine != later.machine:
        raise ExpectedProblem(
            phrase("another machine: {machine}, then {machine2}", machine=earlier.machine, machine2=later.machine),
            place,
            "Keep the run by itself.",
        )
    if _shape(earlier.protocol) != _shape(later.protocol):
        raise ExpectedProblem(
            phrase(
                "another protocol: {protocol}, then {protocol2}",
                protocol=earlier.protocol.name,
                protocol2=later.protocol.name,
            ),
            place,
            "Measure the session with the same protocol.",
        )
    boots = {s.boot_id for s in earlier.sessions if s.boot_id}
    if boots & {s.boot_id for s in later.sessions}:
        raise ExpectedProblem("the machine was not restarted since the last session", place,
                              "Restart it, let it settle, then measure again.")  # fmt: skip
    first = len(earlier.sessions)
    more = tuple(replace(s, number=first + k) for k, s in enumerate(later.sessions, 1))
    return replace(
        later, sessions=earlier.sessions + more, protocol=replace(later.protocol, sessions=first + len(more)),
        taken_at=earlier.taken_at, configuration=earlier.configuration, checks=earlier.checks + later.checks,
        notes=tuple(dict.fromkeys(earlier.notes + later.notes)), complete=earlier.complete and later.complete,
    )  # fmt: skip


def _shape(protocol: Protocol) -> str:
    return json.dumps([protocol.name, protocol.version, protocol.repeats, [p.duration_s for p in protocol.phases]])


def awake_run(runner: Runner, run_id: str, configuration: str, taken_at: str, here: bool) -> Run:
    """Execute a run; one of the machine it runs on holds that machine's sleep off until it is over."""
    with stay_awake(phrase("measuring: {configuration}", configuration=configuration)) if here else nullcontext():
        return runner.execute(run_id, configuration, taken_at)
