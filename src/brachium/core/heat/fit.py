"""Joint fit of the two-node model to one run or to a pair (or series) of runs of one machine.

Shared over the runs: both capacities, fan exponent and fan offset. Per run: R_fast, R_slow at the common
reference fan speed, room offset, start temperature. Residuals are pseudo-Huber at three sigma on the data
only; weak priors hold room offset, fan exponent and fan offset. The covariance is that of the linearised
problem; `claims.py` widens it for what the model leaves out.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import log

from brachium.core.base.arrays import BoolArray, FloatArray, filled, smoothed
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.heat.assumptions import (
    FAN_OFFSET_PRIOR,
    HUBER_SIGMAS,
    PROXY_EXPONENT,
    PROXY_FAN_RANGE_RPM,
    PROXY_FAN_RPM,
    PROXY_IDLE_W,
    PROXY_LOAD_W,
    SIGMA_K,
)
from brachium.core.heat.model import TwoNode, simulate, time_constants_s
from brachium.core.heat.trace import (
    HeatTrace,
    LoadPhase,
    find_load,
    plateau_fan_rpm,
    plateau_power_w,
    usable_mask,
)

N_SHARED = 4
N_OWN = 4
_LOW_SHARED = (log(1.0), log(15.0), 0.0, log(0.01))
_HIGH_SHARED = (log(80.0), log(2500.0), 1.6, log(2.0))
_LOW_OWN = (log(0.02), log(0.05), -6.0, -8.0)
_HIGH_OWN = (log(4.0), log(5.0), 6.0, 8.0)


class CannotFit(ValueError):  # noqa: N818 - an answer, not a bug
    """The trace does not hold what the fit needs; the message says what is missing."""


@dataclass(frozen=True)
class PreparedTrace:
    """One trace ready for the fit: full arrays, shape (n_samples,), with the mask of usable temperatures."""

    time_s: FloatArray
    temp_c: FloatArray
    power_w: FloatArray
    fan_rpm: FloatArray
    mask: BoolArray
    room_c: float
    load: LoadPhase
    plateau_w: float
    plateau_rpm: float
    idle_w: float
    fan_is_proxy: bool
    power_is_proxy: bool
    notes: tuple[str, ...]
    sink_power_w: FloatArray | None = None


@dataclass(frozen=True)
class RunFit:
    """Fitted values of one run: the model at the reference fan speed and the fit to the trace."""

    model: TwoNode
    room_offset_k: float
    tau_fast_s: float
    tau_slow_s: float
    load_s: float
    rms_k: float
    fitted_c: FloatArray
    sink_c: FloatArray


@dataclass(frozen=True)
class HeatFit:
    """Joint fit of `runs`; `covariance` is over the free parameters, `index` finds a run's own block."""

    runs: tuple[RunFit, ...]
    fan_ref_rpm: float
    power_ref_w: float
    covariance: FloatArray
    fan_is_proxy: bool
    power_is_proxy: bool
    notes: tuple[str, ...]

    def own_index(self, run: int, which: int) -> int:
        """Column of a run's own parameter: 0 ln R_fast, 1 ln R_slow, 2 room offset, 3 start offset."""
        return N_SHARED + N_OWN * run + which


def prepare(trace: HeatTrace) -> PreparedTrace:
    """Check and complete one trace. Raises CannotFit with what is missing, in words."""
    load = find_load(trace)
    if load is None:
        raise CannotFit("no load phase found: utilisation or power never rises and stays up for 20 s")
    if trace.room_c is None:
        raise CannotFit("the room temperature is not known; without it there is no heat claim")
    mask, notes = usable_mask(trace, load)
    if int(mask.sum()) < 40:
        raise CannotFit(phrase("only {int} usable temperature samples, at least 40 are needed", int=int(mask.sum())))
    power, power_is_proxy = _power(trace)
    fan, fan_is_proxy = _fan(trace)
    held = HeatTrace(trace.time_s, trace.temp_c, power_w=power, fan_rpm=fan)
    plateau_w = plateau_power_w(held, load)
    plateau_rpm = plateau_fan_rpm(held, load)
    if plateau_w is None or plateau_rpm is None or plateau_w <= 0.0:
        raise CannotFit("no power over the load phase")
    before = trace.time_s < load.start_s
    idle_w = float(np.median(power[before])) if int(before.sum()) > 5 else float(power[0])
    return PreparedTrace(
        trace.time_s, trace.temp_c, power, fan, mask, trace.room_c, load, plateau_w, plateau_rpm,
        idle_w, fan_is_proxy, power_is_proxy, notes, _other(trace),
    )  # fmt: skip


def _other(trace: HeatTrace) -> FloatArray | None:
    """Heat of another chip on the same heatsink, where it was logged for most of the time."""
    other = trace.sink_power_w
    if other is None or np.isfinite(other).sum() <= 0.5 * trace.time_s.size:
        return None
    return filled(other)


def _power(trace: HeatTrace) -> tuple[FloatArray, bool]:
    """Measured power, else a proxy from utilisation x (clock / highest clock)^2.5 in arbitrary watts."""
    if trace.power_w is not None and np.isfinite(trace.power_w).sum() > 0.5 * trace.time_s.size:
        return filled(trace.power_w), False
    if trace.util_frac is None:
        raise CannotFit("neither power nor utilisation was logged")
    util = filled(trace.util_frac)
    if trace.clock_mhz is None:
        return PROXY_IDLE_W + PROXY_LOAD_W * util, True
    clock = filled(trace.clock_mhz)
    shape = (clock / max(float(clock.max()), 1.0)) ** PROXY_EXPONENT
    return PROXY_IDLE_W + PROXY_LOAD_W * util * shape, True


def _fan(trace: HeatTrace) -> tuple[FloatArray, bool]:
    """Fan speed, smoothed over 5 samples; without one the smoothed temperature stands in for it."""
    if trace.fan_rpm is not None and np.isfinite(trace.fan_rpm).sum() > 0.5 * trace.time_s.size:
        return smoothed(filled(trace.fan_rpm), 5), False
    temp = smoothed(filled(trace.temp_c), 21)
    warm = np.clip((temp - temp.min()) / max(float(np.ptp(temp)), 1.0), 0.05, 1.0)
    return warm * PROXY_FAN_RANGE_RPM + PROXY_FAN_RPM, True


def start_values(run: PreparedTrace) -> tuple[float, float]:
    """Start values of R_fast and R_slow [K/W]: the late rise, split by the fall 6 to 10 s after load-off."""
    t = run.time_s
    late = (t > run.load.end_s - 30.0) & (t <= run.load.end_s) & run.mask
    top = float(np.median(run.temp_c[late])) if late.any() else float(np.nanmax(run.temp_c))
    step = max(run.plateau_w - run.idle_w, 0.2 * run.plateau_w)
    total = max((top - run.room_c) / run.plateau_w, 0.1)
    shelf = (t > run.load.end_s + 6.0) & (t <= run.load.end_s + 10.0) & run.mask
    fall = top - float(np.median(run.temp_c[shelf])) if shelf.any() else 0.4 * total * step
    r_fast = float(np.clip(fall / step, 0.1 * total, 0.9 * total))
    return r_fast, total - r_fast


def fit(traces: tuple[HeatTrace, ...]) -> HeatFit:
    """Fit one, two or more traces of the same machine together. Raises CannotFit."""
    return fit_prepared(tuple(prepare(trace) for trace in traces))


def fit_prepared(runs: tuple[PreparedTrace, ...]) -> HeatFit:
    """Fit prepared traces; the reference power and fan speed are the means of the runs' plateaus."""
    from scipy.optimize import least_squares

    power_ref = float(np.mean([r.plateau_w for r in runs]))
    fan_ref = max(float(np.mean([r.plateau_rpm for r in runs])), 1.0)
    start = _start_vector(runs)
    fit_fan_offset = any(float(r.fan_rpm.min()) < 0.35 * fan_ref for r in runs)
    low = np.array(_LOW_SHARED + _LOW_OWN * len(runs))
    high = np.array(_HIGH_SHARED + _HIGH_OWN * len(runs))
    start = np.clip(start, low + 1e-6, high - 1e-6)
    free = np.ones(start.size, dtype=bool)
    free[3] = fit_fan_offset

    def expand(x: FloatArray) -> FloatArray:
        full = start.copy()
        full[free] = x
        return full

    def residuals(x: FloatArray) -> FloatArray:
        return _residuals(expand(x), runs, fan_ref)

    solution = least_squares(
        residuals, start[free], bounds=(low[free], high[free]), method="trf", x_scale="jac",
        xtol=1e-6, ftol=1e-7, gtol=1e-6, max_nfev=60,
    )  # fmt: skip
    full = expand(solution.x)
    covariance = np.zeros((start.size, start.size))
    covariance[np.ix_(free, free)] = np.linalg.pinv(solution.jac.T @ solution.jac)
    notes = tuple(note for run in runs for note in run.notes)
    fits = tuple(_run_fit(full, k, run, fan_ref) for k, run in enumerate(runs))
    return HeatFit(
        fits, fan_ref, power_ref, covariance, any(r.fan_is_proxy for r in runs),
        any(r.power_is_proxy for r in runs), notes,
    )  # fmt: skip


def _start_vector(runs: tuple[PreparedTrace, ...]) -> FloatArray:
    own: list[float] = []
    c1: list[float] = []
    c2: list[float] = []
    for run in runs:
        r_fast, r_slow = start_values(run)
        own += [float(np.log(r_fast)), float(np.log(r_slow)), 0.0, 0.0]
        c1.append(float(np.clip(4.0 / r_fast, 4.0, 40.0)))
        c2.append(float(np.clip(120.0 / r_slow, 60.0, 700.0)))
    shared = [np.log(np.mean(c1)), np.log(np.mean(c2)), 0.6, np.log(FAN_OFFSET_PRIOR)]
    return np.array(shared + own, dtype=np.float64)


def _model(params: FloatArray, k: int, fan_ref: float) -> tuple[TwoNode, float, float]:
    c1, c2, m, ln_f = params[:N_SHARED]
    ln_fast, ln_slow, room, start = params[N_SHARED + N_OWN * k : N_SHARED + N_OWN * (k + 1)]
    node = TwoNode(
        float(np.exp(c1)), float(np.exp(c2)), float(np.exp(ln_fast)), float(np.exp(ln_slow)),
        float(m), float(np.exp(ln_f)), fan_ref,
    )  # fmt: skip
    return node, float(room), float(start)


def _predict(params: FloatArray, k: int, run: PreparedTrace, fan_ref: float) -> tuple[FloatArray, FloatArray]:
    node, room, start = _model(params, k, fan_ref)
    base = run.room_c + room
    first = run.temp_c[run.mask][:8]
    chip0 = float(first.mean()) + start - base
    sink0 = chip0 - node.r_fast_k_w * run.idle_w
    chip, sink = simulate(node, run.time_s, run.power_w, run.fan_rpm, (chip0, sink0), run.sink_power_w)
    return chip + base, sink + base


def _residuals(params: FloatArray, runs: tuple[PreparedTrace, ...], fan_ref: float) -> FloatArray:
    parts: list[FloatArray] = []
    for k, run in enumerate(runs):
        chip, _ = _predict(params, k, run, fan_ref)
        scaled = (chip[run.mask] - run.temp_c[run.mask]) / SIGMA_K
        parts.append(_pseudo_huber(scaled))
        parts.append(np.array([params[N_SHARED + N_OWN * k + 2] / 0.7]))
    parts.append(np.array([(params[2] - 0.65) / 0.35, (params[3] - np.log(FAN_OFFSET_PRIOR)) / 0.8]))
    return np.concatenate(parts)


def _pseudo_huber(scaled: FloatArray) -> FloatArray:
    """Signed root of the pseudo-Huber loss, so that half its square is the loss."""
    d = HUBER_SIGMAS
    return np.sign(scaled) * d * np.sqrt(2.0 * (np.sqrt(1.0 + (scaled / d) ** 2) - 1.0))


def _run_fit(params: FloatArray, k: int, run: PreparedTrace, fan_ref: float) -> RunFit:
    node, room, _ = _model(params, k, fan_ref)
    chip, sink = _predict(params, k, run, fan_ref)
    fast, slow = time_constants_s(node, run.plateau_rpm)
    rms = float(np.sqrt(np.mean((chip[run.mask] - run.temp_c[run.mask]) ** 2)))
    return RunFit(node, room, fast, slow, run.load.duration_s, rms, chip, sink)
