"""Spread between and within sessions, learned from what was measured before.

A stated default counts as a session or two; sessions of other machines of the shop are worth so many at the most,
because machines differ; the machine's own sessions count in full. So the default fades as the history grows. How far
this machine may differ from those that it was learned from is carried along: the fewer and the less alike, the more.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.text import joined, many, phrase
from brachium.core.measure.assumptions import DOUBT_ALIKE, DOUBT_OTHER, DOUBT_OWN, SHOP_DF, STRAY_CAP
from brachium.core.measure.run import Run
from brachium.core.measure.spread import STATED_DEFAULT, Spread
from brachium.core.measure.workloads import spread_for


@dataclass(frozen=True)
class History:
    """Runs of one machine in one configuration, taken together. `own` = the machine in question, `alike` = one of the
    same hardware."""

    runs: tuple[Run, ...]
    own: bool
    alike: bool = False

    @property
    def doubt(self) -> float:
        """By how much the machine in question may differ from this one [of the logarithm of its spread]."""
        return DOUBT_OWN if self.own else DOUBT_ALIKE if self.alike else DOUBT_OTHER


@dataclass(frozen=True)
class _Scatter:
    """Sums of squares of logarithms with their degrees of freedom; `sessions` counts what went in."""

    between: float = 0.0
    between_df: float = 0.0
    within: float = 0.0
    within_df: float = 0.0
    repeats: float = 0.0
    sessions: int = 0

    def plus(self, other: _Scatter) -> _Scatter:
        return _Scatter(*(a + b for a, b in zip(_fields(self), _fields(other), strict=True)))  # type: ignore[arg-type]

    def at_most(self, df: float) -> _Scatter:
        """The same scatter weighed down to so many degrees of freedom."""
        b = min(1.0, df / self.between_df) if self.between_df else 1.0
        w = min(1.0, 3 * df / self.within_df) if self.within_df else 1.0
        return _Scatter(b * self.between, b * self.between_df, w * self.within, w * self.within_df, self.repeats,
                        self.sessions)  # fmt: skip


def learn_spreads(histories: Sequence[History]) -> Mapping[str, Spread]:
    """The spread of every test that any of the histories holds."""
    tests = {t.key: t for history in histories for run in history.runs for t in run.tests if run.results(t.key)}
    return {t.key: learn_spread(t.key, t.version, histories) for t in tests.values()}


def learn_spread(test: str, version: int, histories: Sequence[History]) -> Spread:
    """The spread of one test (one version of its workload)."""
    own, shop = _Scatter(), _Scatter()
    doubts: list[tuple[float, float, bool]] = []  # (weight, doubt, own)
    for history in histories:
        steady = [_steady(_results(run, test, version)) for run in history.runs]
        found = _scatter([x for sessions, _ in steady for x in sessions], sum(lines for _, lines in steady))
        own, shop = (own.plus(found), shop) if history.own else (own, shop.plus(found))
        if found.sessions:
            doubts.append((found.between_df + found.within_df, history.doubt, history.own))
    start = spread_for(test)
    if not doubts:
        return start
    both = own.plus(shop.at_most(SHOP_DF))
    within_df = start.within_df + both.within_df
    within = (start.within_df * start.within**2 + both.within) / within_df
    repeats = both.repeats / both.sessions
    # the scatter of session means holds the repeat noise too; what exceeds it is the sessions' own
    excess = max(both.between - both.between_df * within / max(repeats, 1.0), 0.0)
    between_df = start.between_df + both.between_df
    between = (start.between_df * start.between**2 + excess) / between_df
    return Spread(
        float(np.sqrt(between)), between_df, float(np.sqrt(within)), within_df, _source(own, shop), _doubt(own, doubts)
    )  # fmt: skip


def _doubt(own: _Scatter, doubts: Sequence[tuple[float, float, bool]]) -> float:
    """Variance of what was learned against this machine: by weight, more where it was learned from few others."""
    if own.between_df >= SHOP_DF:
        return DOUBT_OWN
    weights = np.array([w for w, _, _ in doubts])
    squares = np.array([d**2 for _, d, _ in doubts])
    others = sum(not is_own for _, _, is_own in doubts)
    few = 1.0 + 1.0 / others if others else 1.0
    return float(np.sqrt(few * (weights * squares).sum() / weights.sum())) if weights.sum() else DOUBT_OTHER


def _scatter(sessions: Sequence[FloatArray], lines: int) -> _Scatter:
    """Sums of squares around each session's median; strays teach no more than STRAY_CAP deviations."""
    logs = [np.log(x) for x in sessions if x.size and np.all(x > 0)]
    if not logs:
        return _Scatter()
    centres = np.array([float(np.median(x)) if x.size > 2 else float(x.mean()) for x in logs])
    away = np.concatenate([x - c for x, c in zip(logs, centres, strict=True)])
    repeated = np.concatenate([np.full(x.size, x.size > 1) for x in logs])
    if repeated.any():
        # a middle repeat lies on its own median: of n repeats the deviation is read from n - 1
        moved = np.abs(away[repeated & (away != 0.0)])
        far = STRAY_CAP * 1.4826 * float(np.median(moved)) if moved.size else 0.0
        away = np.clip(away, -far, far)
    return _Scatter(
        float(((centres - centres.mean()) ** 2).sum()), float(len(logs) - 1), float((away**2).sum()),
        float(sum(x.size - 1 for x in logs) - lines), float(sum(x.size for x in logs)), len(logs),
    )  # fmt: skip


def _results(run: Run, test: str, version: int) -> tuple[FloatArray, ...]:
    spec = run.test(test)
    return run.results(test) if spec is not None and spec.version == version and not run.void_reason else ()


def _steady(sessions: tuple[FloatArray, ...]) -> tuple[tuple[FloatArray, ...], int]:
    """The results of one run without the line that its sessions share over their repeats, and the degrees it costs.

    Machines that all warm up would otherwise teach that repeats scatter more than they do.
    """
    free = sum(x.size - 1 for x in sessions)
    if free < 2 or not all(np.all(x > 0) for x in sessions):
        return sessions, 0
    order = [np.arange(x.size) - (x.size - 1) / 2.0 for x in sessions]
    slope = sum(float(o @ np.log(x)) for o, x in zip(order, sessions, strict=True)) / sum(float(o @ o) for o in order)
    return tuple(x * np.exp(-slope * o) for o, x in zip(order, sessions, strict=True)), 1


def _fields(s: _Scatter) -> tuple[float, ...]:
    return s.between, s.between_df, s.within, s.within_df, s.repeats, s.sessions


def _source(own: _Scatter, shop: _Scatter) -> str:
    parts = []
    if own.sessions:
        parts.append(phrase("{sessions} of this machine", sessions=many(own.sessions, "session")))
    if shop.sessions:
        parts.append(phrase("{sessions} of the shop", sessions=many(shop.sessions, "session")))
    return joined(" and ", parts) or STATED_DEFAULT
