"""Two-node heat model of chip and heatsink, driven by measured power.

    C1 dT1/dt = P - (T1 - T2)/R_fast
    C2 dT2/dt = (T1 - T2)/R_fast - (T2 - Ta)/R_slow(n) + P_other
    R_slow(n) = R_ref ((n + f n_ref)/(n_ref + f n_ref))^-m

Power is held over each interval (t[k-1], t[k]]; each interval is solved exactly by the closed-form
exponential of its 2 x 2 matrix (distinct real eigenvalues, as for every passive RC ladder), and the
recursion over all samples is one banded triangular system (LAPACK dtbtrs).
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np


@dataclass(frozen=True)
class TwoNode:
    """Parameters: capacities [J/K], resistances [K/W] at the reference fan speed, fan exponent [-]."""

    c1_j_k: float
    c2_j_k: float
    r_fast_k_w: float
    r_slow_k_w: float
    fan_exponent: float
    fan_offset_frac: float
    fan_ref_rpm: float


def slow_resistance(model: TwoNode, fan_rpm: FloatArray) -> FloatArray:
    """R_slow at each fan speed, shape (n_samples,) [K/W]."""
    offset = model.fan_offset_frac * model.fan_ref_rpm
    ratio = (np.maximum(fan_rpm, 0.0) + offset) / (model.fan_ref_rpm + offset)
    return model.r_slow_k_w * np.maximum(ratio, 1e-6) ** (-model.fan_exponent)


def simulate(
    model: TwoNode, time_s: FloatArray, power_w: FloatArray, fan_rpm: FloatArray, start_k: tuple[float, float],
    sink_power_w: FloatArray | None = None,
) -> tuple[FloatArray, FloatArray]:  # fmt: skip
    """Rise of chip and heatsink over room temperature, two arrays of shape (n_samples,) [K].

    `start_k` are the rises at the first sample. `power_w[k]` and `fan_rpm[k]` hold over (t[k-1], t[k]]. `sink_power_w`
    is the heat that another chip puts into the same heatsink.
    """
    from scipy.linalg.lapack import dtbtrs  # late: SciPy is not needed to open the window

    dt = np.diff(time_s)
    power = power_w[1:]
    r_slow = slow_resistance(model, fan_rpm[1:])
    a = 1.0 / (model.c1_j_k * model.r_fast_k_w)
    b = 1.0 / (model.c2_j_k * model.r_fast_k_w)
    c = 1.0 / (model.c2_j_k * r_slow)
    half_trace = -0.5 * (a + b + c)
    q = np.sqrt(np.maximum(half_trace**2 - a * c, 1e-18))
    grow = np.exp((half_trace + q) * dt)
    decay = np.exp((half_trace - q) * dt)
    cosh = 0.5 * (grow + decay)
    sinh_q = 0.5 * (grow - decay) / q
    e11 = cosh + sinh_q * (-a - half_trace)
    e12 = sinh_q * a
    e21 = sinh_q * b
    e22 = cosh + sinh_q * (-(b + c) - half_trace)
    # constant input P/C1 settles at T1 = P (R_fast + R_slow), T2 = P R_slow: x_k = x_inf + E (x - x_inf)
    other = 0.0 if sink_power_w is None else sink_power_w[1:]
    inf2 = (power + other) * r_slow
    inf1 = power * model.r_fast_k_w + inf2
    g1 = inf1 - e11 * inf1 - e12 * inf2
    g2 = inf2 - e21 * inf1 - e22 * inf2
    n = time_s.size
    rhs = np.empty(2 * n)
    rhs[0], rhs[1] = start_k
    rhs[2::2] = g1
    rhs[3::2] = g2
    band = np.zeros((4, 2 * n))
    band[0] = 1.0
    band[2, 0:-2:2] = -e11
    band[1, 1:-2:2] = -e12
    band[3, 0:-2:2] = -e21
    band[2, 1:-2:2] = -e22
    out, info = dtbtrs(band, rhs, uplo="L", diag="U")
    if info != 0:
        raise FloatingPointError("the banded system of the heat model could not be solved")
    return out[0::2], out[1::2]


def time_constants_s(model: TwoNode, fan_rpm: float) -> tuple[float, float]:
    """Fast and slow time constant of the two-node model at one fan speed [s]."""
    r_slow = float(slow_resistance(model, np.array([fan_rpm]))[0])
    a = 1.0 / (model.c1_j_k * model.r_fast_k_w)
    b = 1.0 / (model.c2_j_k * model.r_fast_k_w)
    c = 1.0 / (model.c2_j_k * r_slow)
    half = 0.5 * (a + b + c)
    q = float(np.sqrt(max(half**2 - a * c, 1e-18)))
    return 1.0 / (half + q), 1.0 / (half - q)
