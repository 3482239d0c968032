"""The track record in figures: what kinds of change brought, what rarely paid, minutes, value by machine."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log
from statistics import median

from brachium.core.learn.outcomes import JobOutcome

FEW = 3  # below this nothing is called rare


@dataclass(frozen=True)
class KindRecord:
    """One kind of change over all jobs: medians of what was predicted and brought (ratios), the share of jobs in which
    it brought less than its price asks for, the median price [EUR]."""

    group: str
    count: int
    predicted: float
    brought: float
    unpaid: float
    price: float

    @property
    def rarely_pays(self) -> bool:
        """Whether most of them did not bring what their price asks for."""
        return self.count >= FEW and self.unpaid > 0.5


@dataclass(frozen=True)
class MachineRecord:
    """One kind of machine: jobs, median gain, median cost [EUR], gain of work per 100 EUR."""

    kind: str
    count: int
    gain: float
    cost: float
    per_100: float


@dataclass(frozen=True)
class Minutes:
    """Real over estimated attended minutes: median and how many jobs logged them."""

    ratio: float | None
    count: int


def by_kind(outcomes: Sequence[JobOutcome], worth_per_eur: float) -> tuple[KindRecord, ...]:
    """Most frequent first."""
    groups = dict.fromkeys(c.group for o in outcomes for c in o.changes)
    out = []
    for group in groups:
        own = [c for o in outcomes for c in o.changes if c.group == group]
        unpaid = sum(c.brought.mid - 1.0 < worth_per_eur * c.price for c in own) / len(own)
        out.append(
            KindRecord(
                group, len(own), exp(median(log(c.predicted.mid) for c in own)),
                exp(median(log(max(c.brought.mid, 1e-3)) for c in own)), unpaid, median(c.price for c in own),
            )
        )  # fmt: skip
    return tuple(sorted(out, key=lambda k: -k.count))


def by_machine(outcomes: Sequence[JobOutcome]) -> tuple[MachineRecord, ...]:
    """Best value first."""
    measured = [o for o in outcomes if o.measured is not None and o.cost > 0]
    out = []
    for kind in dict.fromkeys(o.kind for o in measured):
        own = [o for o in measured if o.kind is kind]
        value = median(100.0 * ((o.measured or 1.0) - 1.0) / o.cost for o in own)
        gain, cost = median(o.measured or 1.0 for o in own), median(o.cost for o in own)
        out.append(MachineRecord(kind.value, len(own), gain, cost, value))
    return tuple(sorted(out, key=lambda m: -m.per_100))


@dataclass(frozen=True)
class Sales:
    """Sold over likely price, median, how many machines; sold less the work's cost, summed [EUR], how many losses."""

    ratio: float | None
    count: int
    margin: float
    losses: int


def sales_of(outcomes: Sequence[JobOutcome]) -> Sales:
    sold = [o for o in outcomes if o.sold is not None]
    known = [(o.sold or 0.0) / o.resale_likely for o in sold if o.resale_likely]
    margins = [(o.sold or 0.0) - o.cost for o in sold]
    return Sales(median(known) if known else None, len(sold), sum(margins), sum(m < 0 for m in margins))


def minutes_of(outcomes: Sequence[JobOutcome]) -> Minutes:
    own = [o.real_min / o.planned_min for o in outcomes if o.planned_min > 0 and o.real_min > 0]
    return Minutes(median(own) if own else None, len(own))
