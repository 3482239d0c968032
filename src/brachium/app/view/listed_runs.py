"""Every run of a machine in one list: captured ones, with results typed for them beside, and those typed alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.app.bench.run_roles import AFTER, BEFORE, LATER
from brachium.core.measure.own_tests import BETWEEN
from brachium.core.measure.run import Run
from brachium.core.measure.typed_runs import between_with_own, is_typed, with_own
from brachium.core.record.job import Job
from brachium.store.edits import StoredRun

ORDER = (BEFORE, BETWEEN, AFTER, LATER)


def listed_runs(job: Job, arrived: Sequence[StoredRun]) -> tuple[StoredRun, ...]:
    """In the order in which they arrived; a typed before comes first, a typed after behind what lies between."""
    shown = {s.run.id: s for s in _with_typed(job, arrived)}
    out = [shown.pop(s.run.id, s) for s in arrived]
    for typed in shown.values():
        out.insert(_place(out, typed), typed)
    return tuple(out)


def _with_typed(job: Job, arrived: Sequence[StoredRun]) -> list[StoredRun]:
    """The runs that typed results belong to, and those made of them; between before and after."""
    latest = {role: _latest(arrived, role) for role in (BEFORE, AFTER, LATER)}
    out = []
    for role, stored in latest.items():
        run = with_own(
            stored.run if stored is not None else None, role, job.own_tests, job.own_results, job.own_conditions
        )
        out += [StoredRun(job.id, role, run)] if run is not None else []
    between = {s.run.id: s for s in _between(arrived, latest[BEFORE], latest[AFTER])}
    for run in between_with_own([s.run for s in between.values()], job.own_tests, job.own_results, job.own_conditions):
        known = between.get(run.id)
        found = replace(known, run=run) if known is not None else StoredRun(job.id, BETWEEN, run)
        out.append(found)
    return sorted(out, key=lambda s: ORDER.index(s.role) if is_typed(s.run) else 0)  # each is placed by those before it


def _between(
    arrived: Sequence[StoredRun], before: StoredRun | None, after: StoredRun | None
) -> Sequence[StoredRun]:  # fmt: skip
    start = arrived.index(before) + 1 if before is not None else 0
    end = arrived.index(after) if after is not None else len(arrived)
    return [s for s in arrived[start:end] if s.role in (BEFORE, AFTER) and _counts(s.run)]


def _place(runs: Sequence[StoredRun], typed: StoredRun) -> int:
    """Where a run that was typed alone stands among the others."""
    roles = [s.role for s in runs]
    if typed.role == BEFORE:
        return 0
    if typed.role == BETWEEN:
        start = len(roles) - roles[::-1].index(BEFORE) if BEFORE in roles else 0
        later = (k for k in range(start, len(runs)) if runs[k].run.taken_at > typed.run.taken_at)
        return next(later, len(runs))
    return roles.index(LATER) if typed.role == AFTER and LATER in roles else len(runs)


def _latest(arrived: Sequence[StoredRun], role: str) -> StoredRun | None:
    return next((s for s in reversed(arrived) if s.role == role and _counts(s.run)), None)


def _counts(run: Run) -> bool:
    return run.complete and not run.void_reason
