"""What a changed fan speed did between two runs, told apart from what was done to the heat path.

By the fitted law R_slow(n): at the reference power the fan's share of a cooler chip is P (R_slow(n before) - R_slow(n
after)), with the heatsink as it is after. Only where the fan was logged, and its law shows in the runs.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import nan

from brachium.core.base.arrays import filled, smoothed
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.base.units import pm
from brachium.core.heat.assumptions import CURVE_CHANGED, FAN_CHANGED, FAN_LAW_MISMATCH, FAN_LAW_SURE
from brachium.core.heat.fit import HeatFit, PreparedTrace
from brachium.core.heat.model import TwoNode, slow_resistance

EXPONENT = 2  # column of the fan's exponent among the shared parameters
SETTLED_S, WIDTH = 60.0, 15  # into the load, after which speed follows temperature; samples that are smoothed


@dataclass(frozen=True)
class FanWork:
    """Fan speeds under load [1/min]; by what the chip is cooler through the fan alone [K], with its 95 % half-width.

    NaN where the fan's law does not show; `same_c` is a temperature at which its curve gives another speed."""

    before_rpm: float
    after_rpm: float
    cooler_k: float
    half_width_k: float
    same_c: float | None = None
    same_rpm: tuple[float, float] = (nan, nan)

    @property
    def words(self) -> str:
        """One sentence."""
        text = phrase(
            "the fan turns {before_rpm:.0f}, then {after_rpm:.0f} /min under load",
            before_rpm=self.before_rpm,
            after_rpm=self.after_rpm,
        )
        if np.isfinite(self.cooler_k):
            side = "cooler" if self.cooler_k > 0 else "warmer"
            text += phrase(
                ": {pm} {side} are the fan's work, not the paste's",
                pm=pm(abs(self.cooler_k), self.half_width_k, "K"),
                side=side,
            )
        else:
            text += ": how much of the change is its work cannot be told from these runs"
        if self.same_c is not None:
            at = phrase(
                "at {same_c:.0f} °C it turned {same_rpm:.0f}, then {same_rpm2:.0f} /min",
                same_c=self.same_c,
                same_rpm=self.same_rpm[0],
                same_rpm2=self.same_rpm[1],
            )
            text += phrase("; its curve was changed, {at}", at=at)
        return text


def fan_work(fit: HeatFit, runs: Sequence[PreparedTrace], sides: Sequence[int]) -> FanWork | None:
    """None where the fan was not logged, or turns alike on both sides at the same temperature and under load."""
    if fit.fan_is_proxy:
        return None
    of = [[k for k, s in enumerate(sides) if s == side] for side in (0, 1)]
    before, after = (float(np.mean([runs[k].plateau_rpm for k in own])) for own in of)
    curve = _curve([[runs[k] for k in own] for own in of])
    faster = abs(np.log(max(after, 1.0) / max(before, 1.0))) >= np.log(FAN_CHANGED)
    if not faster and curve is None:
        return None
    cooler, half = _cooler(fit, of[1], before, after) if faster else (np.nan, np.nan)
    same_c, speeds = curve if curve is not None else (None, (np.nan, np.nan))
    return FanWork(before, after, cooler, half, same_c, speeds)


def _cooler(fit: HeatFit, after_runs: Sequence[int], before: float, after: float) -> tuple[float, float]:
    """(fall of the chip by the fan, its half-width) [K]; NaN where the fan's law does not show."""
    sure = 1.96 * float(np.sqrt(max(fit.covariance[EXPONENT, EXPONENT], 0.0)))
    if sure > FAN_LAW_SURE or min(before, after) < 0.12 * fit.fan_ref_rpm:
        return np.nan, np.nan

    def fall(shift: float) -> float:
        found = []
        for k in after_runs:
            model: TwoNode = fit.runs[k].model
            moved = replace(model, fan_exponent=model.fan_exponent + shift)
            slow = slow_resistance(moved, np.array([before, after]))
            found.append(fit.power_ref_w * float(slow[0] - slow[1]))
        return float(np.mean(found))

    value = fall(0.0)
    of_law = 0.5 * abs(fall(sure) - fall(-sure))
    return value, float(np.hypot(of_law, FAN_LAW_MISMATCH * value))


def _curve(sides: Sequence[Sequence[PreparedTrace]]) -> tuple[float, tuple[float, float]] | None:
    """A temperature that both sides had for long with another fan speed; None where the curve is the same."""
    points = []
    for runs in sides:
        temps, speeds = [], []
        for run in runs:
            late = (run.time_s > run.load.start_s + SETTLED_S) & (run.time_s <= run.load.end_s)
            temps.append(smoothed(filled(run.temp_c), WIDTH)[late])
            speeds.append(smoothed(run.fan_rpm, WIDTH)[late])
        points.append((np.concatenate(temps), np.concatenate(speeds)))
    low = max(np.percentile(t, 5.0) for t, _ in points)
    high = min(np.percentile(t, 95.0) for t, _ in points)
    if high < low - 1.0:
        return None
    middle = float(0.5 * (low + high))
    near = [s[np.abs(t - middle) <= 1.0] for t, s in points]
    if min(n.size for n in near) < WIDTH:
        return None
    speeds_at = float(np.median(near[0])), float(np.median(near[1]))
    ratio = max(speeds_at[1], 1.0) / max(speeds_at[0], 1.0)
    return (middle, speeds_at) if abs(np.log(ratio)) >= np.log(CURVE_CHANGED) else None
