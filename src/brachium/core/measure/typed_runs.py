"""Typed results as runs: beside what was measured of their configuration, or a run of their own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from types import MappingProxyType

from brachium.core.base.arrays import frozen
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.own_tests import BETWEEN, OwnResult, OwnTest
from brachium.core.measure.run import MeasuredSession, Protocol, Repeat, Run, Trace
from brachium.core.measure.typed_conditions import with_typed_conditions

Stated = Mapping[str, Mapping[str, str]]  # conditions by the key of a configuration
NOTHING_STATED: Stated = MappingProxyType({})
BARE = Protocol("Typed by hand", 1, (), (), 0, 1)


def is_typed(run: Run) -> bool:
    """Whether a run holds nothing but typed results."""
    return run.protocol == BARE


def with_own(
    run: Run | None, role: str, tests: Sequence[OwnTest], results: Sequence[OwnResult], stated: Stated = NOTHING_STATED
) -> Run | None:  # fmt: skip
    """The run of a role with the owner's results beside the measured ones; the stored run is left as it is.

    Without a run the results make one of their own, under the conditions that were `stated` for its configuration. None
    where there is nothing at all.
    """
    of_role = [r for r in results if r.role == role]
    return _beside(run or _typed_run(role, role, of_role, stated), tests, of_role) if of_role else run


def between_with_own(
    runs: Sequence[Run], tests: Sequence[OwnTest], results: Sequence[OwnResult], stated: Stated = NOTHING_STATED
) -> tuple[Run, ...]:  # fmt: skip
    """Configurations between before and after: measured `runs` in order with the results typed for their names, then
    those that were typed alone, each before the first measured one that is later."""
    of_name: dict[str, list[OwnResult]] = {}
    for result in results:
        if result.role == BETWEEN:
            of_name.setdefault(result.configuration, []).append(result)
    out = [_beside(r, tests, of_name.pop(r.configuration, [])) for r in runs]
    for number, (name, mine) in enumerate(of_name.items(), 1):
        typed = _beside(_typed_run(f"{BETWEEN}-{number}", name, mine, stated), tests, mine)
        place = next((k for k, r in enumerate(out) if not is_typed(r) and r.taken_at > typed.taken_at), len(out))
        out.insert(place, typed)
    return tuple(out)


def _beside(run: Run, tests: Sequence[OwnTest], results: Sequence[OwnResult]) -> Run:
    """A run with results of tests that are still there."""
    by_id = {t.id: t for t in tests}
    mine = [r for r in results if r.test_id in by_id]
    used = {r.test_id for r in mine}
    sessions = {s.number: s for s in run.sessions}
    for result in mine:
        session = sessions.get(result.session) or MeasuredSession(result.session, _bare_trace())
        repeat = _repeat(result, by_id[result.test_id])
        sessions[result.session] = replace(session, repeats=(*session.repeats, repeat))
    specs = tuple(t.spec() for t in tests if t.id in used)
    return replace(run, tests=(*run.tests, *specs), sessions=tuple(sessions[k] for k in sorted(sessions)))


def _typed_run(stem: str, configuration: str, results: Sequence[OwnResult], stated: Stated) -> Run:
    """A run that holds nothing yet, dated by the last of its results."""
    when = max(r.when for r in results)
    conditions = with_typed_conditions(Conditions(), stated.get(results[0].key, {}))
    return Run(f"own-{stem}", configuration, BARE, conditions, (), (), when, "typed by hand")


def _repeat(result: OwnResult, test: OwnTest) -> Repeat:
    """A result that counts unless it was called invalid, or was taken before the test was changed."""
    stale = result.version != test.version
    why = result.invalid or ("taken under other settings of the test" if stale else "")
    return Repeat(test.key, result.value, not why, why)


def _bare_trace() -> Trace:
    return Trace(frozen([]), (), ())
