"""Scales and round ticks for figures."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray


@dataclass(frozen=True)
class Scale:
    """Maps values low..high onto pixels start..end (either may run backwards); `log` for ratios."""

    low: float
    high: float
    start: float
    end: float
    log: bool = False

    def __call__(self, value: float) -> float:
        return float(self.many(np.array([value]))[0])

    def many(self, values: FloatArray) -> FloatArray:
        """Pixels of many values, same shape; clipped to one span beyond the ends."""
        low, high = self.low, self.high
        if self.log:
            values, low, high = np.log(np.maximum(values, 1e-12)), math.log(self.low), math.log(self.high)
        share = (values - low) / (high - low)
        out: FloatArray = self.start + np.clip(share, -1.0, 2.0) * (self.end - self.start)
        return out


def round_ticks(low: float, high: float, wanted: int = 4) -> tuple[float, ...]:
    """Round values inside low..high, about `wanted` of them."""
    span = max(high - low, 1e-9)
    raw = span / max(wanted, 1)
    power = 10.0 ** math.floor(math.log10(raw))
    step = next(m * power for m in (1.0, 2.0, 2.5, 5.0, 10.0) if m * power >= raw - 1e-12)
    first = math.ceil(low / step - 1e-9) * step
    count = int((high - first) / step + 1e-9) + 1
    return tuple(first + k * step for k in range(count))


def decimated(time: FloatArray, values: FloatArray, columns: int) -> tuple[FloatArray, FloatArray]:
    """Thin a long series to its minimum and maximum per pixel column, keeping its look; NaN dropped."""
    good = np.isfinite(values)
    time, values = time[good], values[good]
    if time.size <= 2 * columns or columns < 4:
        return time, values
    edges = np.linspace(0, time.size, columns + 1).astype(np.int64)
    low = np.minimum.reduceat(values, edges[:-1])
    high = np.maximum.reduceat(values, edges[:-1])
    middle = time[np.minimum((edges[:-1] + edges[1:]) // 2, time.size - 1)]
    first_low = np.arange(columns) % 2 == 0
    out = np.empty(2 * columns)
    out[0::2] = np.where(first_low, low, high)
    out[1::2] = np.where(first_low, high, low)
    return np.repeat(middle, 2), out
