"""Measured: what the runs of a job say by themselves, and how it is measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType

from brachium.app.bench.benches import expected_minutes, offered_here
from brachium.app.bench.run_roles import AFTER, BEFORE, LATER
from brachium.app.view.read_once import day_once, flags_once
from brachium.core.measure.history import History, learn_spreads
from brachium.core.measure.reference import ReferenceBand, outside_reference, within_reference
from brachium.core.measure.run import Protocol, Run
from brachium.core.measure.run_checks import Flag
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import smallest_provable
from brachium.core.measure.typed_runs import between_with_own, with_own
from brachium.core.measure.workloads import TESTS, spread_for
from brachium.core.record.job import Job
from brachium.core.record.protocol_of_job import protocol_of
from brachium.core.use.day_of_use import DayOfUse


@dataclass(frozen=True)
class JobRuns:
    """The runs of a job and what others say about them.

    `between` arrived between before and after: they tell the changes apart. `history` are earlier runs without the two
    compared: they teach how much sessions scatter. `doubts` are doubts of dates by run id. `day_before` and `day_after`
    are the watched days, all of one side together.
    """

    before: Run | None = None
    after: Run | None = None
    between: Sequence[Run] = ()
    later: Run | None = None
    history: Sequence[History] = ()
    references: Mapping[str, ReferenceBand] = field(default_factory=lambda: MappingProxyType({}))
    doubts: Mapping[str, str] = field(default_factory=lambda: MappingProxyType({}))
    day_before: Run | None = None
    day_after: Run | None = None


@dataclass(frozen=True)
class Measured:
    """Runs are None where they do not exist yet.

    `shown_before`, `shown_after` and `shown_later` hold the owner's own results beside the measured ones, and so does
    `shown_between`, the configurations on the way, measured or typed; the runs stay as captured.
    `known` are spreads by test that the history taught, `spreads` those or the usual ones. `offered` are keys of tests
    that the bench can do, `missing` (what, why) of what it cannot; `outside` is a sentence by test.
    `beside_others` says of every test with a band whether its result is as good as theirs. `day_before` and `day_after`
    are what the watched days say, `watched` their runs.
    """

    before: Run | None
    after: Run | None
    later: Run | None
    shown_before: Run | None
    shown_after: Run | None
    shown_later: Run | None
    shown_between: tuple[Run, ...]
    known: Mapping[str, Spread]
    spreads: Mapping[str, Spread]
    protocol: Protocol
    offered: tuple[str, ...]
    missing: tuple[tuple[str, str], ...]
    run_minutes: float
    flags_before: tuple[Flag, ...]
    flags_after: tuple[Flag, ...]
    outside: Mapping[str, str]
    beside_others: Mapping[str, bool]
    watched: tuple[Run | None, Run | None]
    day_before: DayOfUse | None
    day_after: DayOfUse | None

    @property
    def configurations(self) -> tuple[Run, ...]:
        """Every configuration of the machine from before to after, in order."""
        return tuple(r for r in (self.shown_before, *self.shown_between, self.shown_after) if r is not None)

    def provable(self, test: str) -> float:
        """Smallest gain of a test (0.05 = 5 %) that the protocol proves on this machine, before and after alike."""
        return smallest_provable(self.spreads[test], self.protocol.sessions, self.protocol.repeats)


def measured_of(job: Job, runs: JobRuns) -> Measured:
    """What Measure shows."""
    shown = tuple(History((run,), True) for run in (runs.before, runs.after) if run is not None)
    known = learn_spreads((*runs.history, *shown))
    offered, missing = offered_here(job)
    shown_before = with_own(runs.before, BEFORE, job.own_tests, job.own_results, job.own_conditions)
    return Measured(
        runs.before, runs.after, runs.later, shown_before,
        with_own(runs.after, AFTER, job.own_tests, job.own_results, job.own_conditions),
        with_own(runs.later, LATER, job.own_tests, job.own_results, job.own_conditions),
        between_with_own(runs.between, job.own_tests, job.own_results, job.own_conditions),
        known, {t.key: known.get(t.key) or spread_for(t.key) for t in TESTS}, protocol_of(job), offered, missing,
        expected_minutes(job), _flagged(runs.before, runs.doubts), _flagged(runs.after, runs.doubts),
        outside_reference(shown_before, runs.references) if shown_before is not None else {},
        within_reference(shown_before, runs.references) if shown_before is not None else {},
        (runs.day_before, runs.day_after), _day(runs.day_before), _day(runs.day_after),
    )  # fmt: skip


def _day(run: Run | None) -> DayOfUse | None:
    return day_once(run) if run is not None else None


def _flagged(run: Run | None, doubts: Mapping[str, str]) -> tuple[Flag, ...]:
    """What stands out in a run, doubt of its date first."""
    if run is None:
        return ()
    doubt = (Flag("date", doubts[run.id]),) if run.id in doubts else ()
    return (*doubt, *flags_once(run))
