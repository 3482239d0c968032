"""Predictions corrected by the shop's own record: empirical Bayes on the logarithm of measured over predicted.

The bias of all changes is shrunk towards none, that of a kind of change towards that of all: few jobs change little.
With n jobs the weight is n / (n + 15): a shop without any bias then loses at most 2 % of its accuracy whatever n is,
because the error grows by the square root of 1 + n / (n + 15)^2. The spread is widened or narrowed so that 80 % of
measured gains fall into the band: the 80 % quantile of the residuals in units of the band, shrunk likewise.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp, log

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.band import Band
from brachium.core.learn.assumptions import PRIOR_JOBS
from brachium.core.learn.outcomes import JobOutcome
from brachium.core.record.correction import NONE, Correction

Z80 = 1.2816
MOST = 0.7  # of a logarithm: a wilder bias is a slip of the record


def correction_of(outcomes: Sequence[JobOutcome]) -> Correction:
    """What the shop's record says; nothing without jobs that were both predicted and measured."""
    jobs = [o for o in outcomes if o.predicted is not None and o.measured is not None and o.measured > 0]
    if not jobs:
        return NONE
    errors = _errors(jobs)
    bias = _shrunk(errors, 0.0)
    per_change = bias / max(float(np.mean([max(len(o.changes), 1) for o in jobs])), 1.0)
    groups: dict[str, list[float]] = {}
    for o in jobs:
        for c in o.changes:
            if c.brought.mid > 0 and c.predicted.mid > 0:
                groups.setdefault(c.group, []).append(log(c.brought.mid / c.predicted.mid))
    by_group = {g: _shrunk(np.array(e), per_change) for g, e in groups.items()}
    first = Correction(by_group, per_change, 1.0, len(jobs))
    return Correction(by_group, per_change, _spread(jobs, first), len(jobs))


def _errors(jobs: Sequence[JobOutcome]) -> FloatArray:
    found = [log(o.measured / o.predicted.mid) for o in jobs if o.predicted is not None and o.measured is not None]
    return np.asarray(np.clip(np.array(found), -MOST, MOST))


def _shrunk(errors: FloatArray, towards: float) -> float:
    n = errors.size
    weight = n / (n + PRIOR_JOBS)
    return float(towards + weight * (np.mean(np.clip(errors, -MOST, MOST)) - towards))


def _spread(jobs: Sequence[JobOutcome], first: Correction) -> float:
    """Factor on the band's width: the 80 % quantile of the residuals in its own units, shrunk towards one."""
    found = []
    for o in jobs:
        if o.predicted is None or o.measured is None:
            continue
        middle = log(o.predicted.mid) + first.of([c.group for c in o.changes])
        error = log(o.measured) - middle
        half = log(o.predicted.high / o.predicted.mid) if error > 0 else log(o.predicted.mid / o.predicted.low)
        found.append(abs(error) / max(half, 1e-3))
    n = len(found)
    rank = min(int(np.ceil(0.8 * (n + 1))), n)
    quantile = sorted(found)[rank - 1]
    weight = n / (n + PRIOR_JOBS)
    return float(np.clip(exp(weight * log(max(quantile, 0.05))), 0.4, 4.0))


def coverage(outcomes: Sequence[JobOutcome], correction: Correction = NONE) -> tuple[int, int]:
    """(measured gains inside the 80 % band, jobs that were both predicted and measured)."""
    inside = total = 0
    for o in outcomes:
        if o.predicted is None or o.measured is None:
            continue
        band = correction.applied(
            Band(o.predicted.low, o.predicted.mid, o.predicted.high), [c.group for c in o.changes]
        )
        inside += band.low <= o.measured <= band.high
        total += 1
    return inside, total
