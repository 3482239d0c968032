"""How much the shop's own record moves a prediction."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import exp, log
from types import MappingProxyType

from brachium.core.base.band import Band


@dataclass(frozen=True)
class Correction:
    """Bias of the logarithm of the gain by kind of change, `rest` for kinds without a record; factor on the band's
    width; from how many jobs."""

    by_group: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))
    rest: float = 0.0
    spread: float = 1.0
    count: int = 0

    def of(self, groups: Sequence[str]) -> float:
        """Bias of a plan with changes of these kinds."""
        return sum(self.by_group.get(g, self.rest) for g in groups)

    def applied(self, band: Band, groups: Sequence[str]) -> Band:
        """A band moved and widened or narrowed about its middle."""
        if not groups or not self.count:
            return band
        mid = log(band.mid) + self.of(groups)
        low, high = log(band.mid / band.low) * self.spread, log(band.high / band.mid) * self.spread
        return Band(exp(mid - low), exp(mid), exp(mid + high))


NONE = Correction()
