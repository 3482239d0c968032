"""Two logarithmic axes: ratios stay alike wherever they stand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from brachium.core.figures.base.scale import Scale


@dataclass(frozen=True)
class LogAxes:
    """Positive x and y (any unit) onto pixels of a figure with margins left, right, top, foot."""

    x: Scale
    y: Scale

    @classmethod
    def over(
        cls, xs: Sequence[float], ys: Sequence[float], size: tuple[float, float],
        margins: tuple[float, float, float, float], room: tuple[float, float] = (0.8, 1.25),
    ) -> LogAxes:  # fmt: skip
        """Over these values; `room` are the factors left below and above on the y axis."""
        (width, height), (left, right, top, foot) = size, margins
        low, high = min(xs), max(xs)
        x = Scale(low, high if high > low else 2.0 * low, left, width - right, True)
        return cls(x, Scale(room[0] * min(ys), room[1] * max(ys), height - foot, top, True))

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Where a pair of values lies [px]."""
        return self.x(x), self.y(y)
