"""What a repaste brings here: learned from the shop's own repastes by kind of machine, never from a compound's
advertisement.

Each finished repaste gives a change of the resistance from chip to plate [K/W] with its half-width, from the fit of
the pair of runs. Jobs of a kind are shrunk towards the mean of all (empirical Bayes, normal-normal): with few of the
kind the expectation stays near what repastes bring in general. Spread between jobs and between kinds by the method of
moments, the measuring error taken off.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import phrase
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.work.repaste import Repaste

LEAST = 3  # repastes before anything is predicted
Z80 = 1.2816


@dataclass(frozen=True)
class Expectation:
    """10th, 50th, 90th percentile of the fall in kelvin at a power; from how many repastes, of the kind and in all."""

    low_k: float
    mid_k: float
    high_k: float
    at_w: float
    of_kind: int
    in_all: int

    @property
    def words(self) -> str:
        source = phrase("{of_kind} of this kind, {in_all} in all", of_kind=self.of_kind, in_all=self.in_all)
        return phrase(
            "{mid_k:.1f} K cooler at {at_w:.0f} W ({low_k:.1f} to {high_k:.1f}; {source})",
            mid_k=self.mid_k,
            at_w=self.at_w,
            low_k=self.low_k,
            high_k=self.high_k,
            source=source,
        )


def expectation(history: Sequence[Repaste], kind: MachineKind, at_w: float) -> Expectation | None:
    """What a repaste is expected to bring on a kind of machine at a power; None with fewer than three to learn from."""
    known = [r for r in history if r.at_w > 0 and np.isfinite(r.change_k)]
    if len(known) < LEAST or not at_w > 0:
        return None
    change = np.array([r.change_k / r.at_w for r in known])
    error = np.array([max(r.half_k, 0.05) / 1.96 / r.at_w for r in known])
    names = list(dict.fromkeys(r.kind for r in known))
    groups = [np.array([r.kind is k for r in known]) for k in names]
    jobs, kinds = _variances(change, error, groups)
    means = np.array([change[g].mean() for g in groups])
    of_means = kinds + np.array([jobs / g.sum() + np.mean(error[g] ** 2) / g.sum() for g in groups])
    own = names.index(kind) if kind in names else None
    mid, var = _shrunk_mean(means, of_means, kinds, own)
    spread = float(np.sqrt(jobs + var))
    low, high = mid - Z80 * spread, mid + Z80 * spread
    count = int(groups[own].sum()) if own is not None else 0
    return Expectation(low * at_w, mid * at_w, high * at_w, at_w, count, len(known))


def _shrunk_mean(means: FloatArray, of_means: FloatArray, kinds: float, own: int | None) -> tuple[float, float]:
    """(mean of a kind shrunk towards that of all, its variance); `own` is the kind's index, None where it is new."""
    mean, mean_var = float(np.sum(means / of_means) / np.sum(1.0 / of_means)), float(1.0 / np.sum(1.0 / of_means))
    if own is None:
        return mean, mean_var + kinds
    trust = float(kinds / of_means[own])
    mid = mean + trust * (float(means[own]) - mean)
    return mid, float(trust * (of_means[own] - kinds) + (1.0 - trust) ** 2 * mean_var)


def _variances(change: FloatArray, error: FloatArray, groups: list[npt.NDArray[np.bool_]]) -> tuple[float, float]:
    """Variance between jobs of a kind and between kinds, by moments (one-way), the measuring error taken off.

    With one kind only, kinds are taken to differ as much as jobs do."""
    sizes = np.array([g.sum() for g in groups], dtype=float)
    means = np.array([change[g].mean() for g in groups])
    floor = (0.1 * abs(float(change.mean()))) ** 2
    inner = float(sum(np.sum((change[g] - m) ** 2) for g, m in zip(groups, means, strict=True)))
    free = change.size - len(groups)
    within = inner / free if free > 0 else float(np.var(change, ddof=1))
    jobs = max(within - float(np.mean(error**2)), floor)
    if len(groups) < 2:
        return jobs, jobs
    grand = float(np.sum(sizes * means) / change.size)
    among = float(np.sum(sizes * (means - grand) ** 2)) / (len(groups) - 1)
    usual = (change.size - float(np.sum(sizes**2)) / change.size) / (len(groups) - 1)
    return jobs, max((among - within) / usual, floor)
