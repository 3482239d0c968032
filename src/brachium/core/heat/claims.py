"""What a joint heat fit allows one to say, and what must be refused, each with its reason.

Half-widths (95 %) of a change, with D = reference power x total resistance before:
    paste    sqrt((1.96 se)^2 + (0.009 D)^2 + (0.10 change)^2)
    airflow  sqrt((1.96 se)^2 + (0.020 D)^2 + (0.15 change)^2)
The added terms stand for model mismatch (docs/decisions/0004). A change is claimed from 1.5 half-widths on.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from brachium.core.arrays import FloatArray
from brachium.core.because import Because, Fact, Origin
from brachium.core.heat.fit import CannotFit, HeatFit, PreparedTrace, fit_prepared, prepare
from brachium.core.heat.throttle import HeldBack, ThrottleFinding, find_throttling
from brachium.core.heat.trace import HeatTrace
from brachium.core.units import number, percent, pm, signed_zero

CLAIM_FACTOR = 1.5
MIN_TAUS = 1.5
PLATEAU_TAUS = 3.0
SEPARATE_K = 4.0
SHARES_K = 5.0
ROOM_DIFFERENCE_K = 10.0
PASTE_TERMS = (0.009, 0.10)
AIRFLOW_TERMS = (0.020, 0.15)


class ClaimKind(StrEnum):
    CHANGED = "changed"
    NO_CHANGE = "no change seen"
    CANNOT_SEPARATE = "cannot separate"


@dataclass(frozen=True)
class Claim:
    """One statement on a part of the heat path; positive kelvin = cooler. NaN where nothing may be said."""

    kind: ClaimKind
    value_k: float
    half_width_k: float
    text: str
    because: Because

    @property
    def detectable_k(self) -> float:
        """Smallest change that would have been claimed [K]."""
        return CLAIM_FACTOR * self.half_width_k


@dataclass(frozen=True)
class Stair:
    """Temperature steps of one run at the reference power and fan speed [K], with 95 % half-widths."""

    chip_to_sink_k: float
    chip_to_sink_half_k: float
    sink_to_room_k: float
    sink_to_room_half_k: float
    sink_is_settled: bool
    total_k_w: float
    total_half_k_w: float
    tau_slow_s: float
    load_s: float


@dataclass(frozen=True)
class HeatReading:
    """One run read alone: its stair and whether the chip was held back."""

    stair: Stair | None
    throttle: ThrottleFinding | None
    power_ref_w: float
    fan_ref_rpm: float
    fan_is_proxy: bool
    notes: tuple[str, ...]
    refusal: str


@dataclass(frozen=True)
class HeatVerdict:
    """Two runs of one machine compared. `refusal` is filled where nothing at all may be said."""

    stairs: tuple[Stair, Stair] | None
    throttles: tuple[ThrottleFinding, ThrottleFinding] | None
    paste: Claim | None
    airflow: Claim | None
    total: Claim | None
    helped_more: str
    power_ref_w: float
    fan_ref_rpm: float
    peaks_c: tuple[float, float] | None
    warnings: tuple[str, ...]
    refusal: str


def read_one(trace: HeatTrace) -> HeatReading:
    """Read one trace alone; never raises: a trace that cannot be read has its reason in `refusal`."""
    try:
        run = prepare(trace)
    except CannotFit as problem:
        return HeatReading(None, None, np.nan, np.nan, False, (), str(problem))
    throttle = find_throttling(trace, run.load)
    if run.power_is_proxy:
        text = "power was not logged, so there is no resistance in K/W; only the shape of the curve is known"
        return HeatReading(None, throttle, np.nan, run.plateau_rpm, run.fan_is_proxy, run.notes, text)
    fit = fit_prepared((run,))
    stair = _stair(fit, 0)
    return HeatReading(
        stair, throttle, fit.power_ref_w, fit.fan_ref_rpm, run.fan_is_proxy, run.notes, ""
    )


def compare(before: HeatTrace, after: HeatTrace) -> HeatVerdict:
    """Compare two traces of the same machine; never raises, refusals are part of the answer."""
    prepared: list[PreparedTrace] = []
    for name, trace in (("before", before), ("after", after)):
        try:
            prepared.append(prepare(trace))
        except CannotFit as problem:
            return _refused(f"{name}: {problem}")
    runs = (prepared[0], prepared[1])
    throttles = (find_throttling(before, runs[0].load), find_throttling(after, runs[1].load))
    if abs(runs[0].room_c - runs[1].room_c) > ROOM_DIFFERENCE_K:
        gap = abs(runs[0].room_c - runs[1].room_c)
        return _refused(f"the rooms differ by {gap:.0f} K; rises are comparable up to 10 K only")
    fit = fit_prepared(runs)
    stairs = (_stair(fit, 0), _stair(fit, 1))
    reference = fit.power_ref_w * (fit.runs[0].model.r_fast_k_w + fit.runs[0].model.r_slow_k_w)
    gates = _Gates.of(fit, runs, throttles)
    paste = _claim(fit, "paste and mounting", (0,), reference, gates.paste, 1.0)
    widen = 2.0 if fit.fan_is_proxy else 1.0
    airflow = _claim(fit, "fins, fan and vents", (1,), reference, gates.airflow, widen)
    total = _claim(fit, "both together", (0, 1), reference, gates.total, widen)
    peaks = (float(np.nanmax(before.temp_c)), float(np.nanmax(after.temp_c)))
    return HeatVerdict(
        stairs, throttles, paste, airflow, total, _helped_more(paste, airflow), fit.power_ref_w,
        fit.fan_ref_rpm, peaks, _warnings(fit, runs, stairs), "",
    )  # fmt: skip


@dataclass(frozen=True)
class _Gates:
    """Reasons to refuse each claim; an empty string lets it pass."""

    paste: str
    airflow: str
    total: str

    @staticmethod
    def of(
        fit: HeatFit,
        runs: tuple[PreparedTrace, PreparedTrace],
        throttles: tuple[ThrottleFinding, ThrottleFinding],
    ) -> _Gates:
        if fit.power_is_proxy:
            reason = "power was not logged, so no kelvin at a stated power can be given"
            if any(t.kind is not HeldBack.NONE for t in throttles):
                reason += ", and with a falling clock utilisation does not stand in for it"
            return _Gates(reason, reason, reason)
        short = _short_load(fit)
        fan = _fan_stops(fit, runs)
        return _Gates("", short or fan, short)


def _short_load(fit: HeatFit) -> str:
    for name, run in zip(("before", "after"), fit.runs, strict=True):
        if run.load_s < MIN_TAUS * run.tau_slow_s:
            need = MIN_TAUS * run.tau_slow_s
            return (
                f"the load {name} lasted {run.load_s:.0f} s; the heatsink needs at least {need:.0f} s "
                f"(1.5 times its {run.tau_slow_s:.0f} s) before its airflow shows"
            )
    return ""


def _fan_stops(fit: HeatFit, runs: tuple[PreparedTrace, PreparedTrace]) -> str:
    if fit.fan_is_proxy:
        return ""
    for name, run in zip(("before", "after"), runs, strict=True):
        late = (run.time_s > run.load.end_s - 30.0) & (run.time_s <= run.load.end_s)
        if float(run.fan_rpm[late].min()) < 0.12 * fit.fan_ref_rpm:
            return f"the fan stood still near the end of the load {name}, so equal fan speed has no meaning"
    return ""


def _gradient(fit: HeatFit, parts: tuple[int, ...]) -> tuple[float, FloatArray]:
    """Change before minus after [K] of the chosen steps, and its gradient over the parameters."""
    grad = np.zeros(fit.covariance.shape[0])
    value = 0.0
    for run, sign in ((0, 1.0), (1, -1.0)):
        model = fit.runs[run].model
        for part in parts:
            step = fit.power_ref_w * (model.r_fast_k_w, model.r_slow_k_w)[part]
            value += sign * step
            grad[fit.own_index(run, part)] = sign * step
    return value, grad


def _terms(parts: tuple[int, ...]) -> tuple[float, float]:
    return PASTE_TERMS if parts == (0,) else AIRFLOW_TERMS


def _claim(
    fit: HeatFit, name: str, parts: tuple[int, ...], reference_k: float, refusal: str, widen: float
) -> Claim:
    at = f"{fit.power_ref_w:.1f} W and {number(fit.fan_ref_rpm, 3)} /min"
    if refusal:
        because = Because(f"{name}: cannot separate", "heat claim", refusal[0].upper() + refusal[1:] + ".")
        return Claim(ClaimKind.CANNOT_SEPARATE, np.nan, np.nan, f"cannot separate: {refusal}", because)
    value, grad = _gradient(fit, parts)
    se = float(np.sqrt(max(float(grad @ fit.covariance @ grad), 0.0)))
    of_total, of_change = _terms(parts)
    half = widen * float(np.sqrt((1.96 * se) ** 2 + (of_total * reference_k) ** 2 + (of_change * value) ** 2))
    kind = ClaimKind.CHANGED if abs(value) >= CLAIM_FACTOR * half else ClaimKind.NO_CHANGE
    text = (
        f"{pm(abs(value), half, 'K')} {'less' if value > 0 else 'more'}"
        if kind is ClaimKind.CHANGED
        else f"no change above {CLAIM_FACTOR * half:.1f} K"
    )
    steps = [_step(fit, run, parts) for run in (0, 1)]
    because = Because(
        f"{name[0].upper() + name[1:]}: {text}",
        "two-node heat fit",
        "Both runs were fitted together with the same heat capacities and fan law. "
        f"The steps are compared at {at}.",
        (
            Fact("before", f"{steps[0]:.1f} K", Origin.FITTED),
            Fact("after", f"{steps[1]:.1f} K", Origin.FITTED),
            Fact("reference power", f"{fit.power_ref_w:.1f} W", Origin.MEASURED),
            Fact("fan speed held at", f"{number(fit.fan_ref_rpm, 3)} /min",
                 Origin.ASSUMED if fit.fan_is_proxy else Origin.MEASURED),
            Fact("statistical error", f"{1.96 * se:.2f} K", Origin.FITTED),
            Fact("model mismatch", f"{np.sqrt(max((half / widen) ** 2 - (1.96 * se) ** 2, 0.0)):.2f} K",
                 Origin.ASSUMED),
            Fact("half-width, 95 %", f"± {half:.2f} K", Origin.COMPUTED),
        ),
        f"claimed from 1.5 half-widths: {CLAIM_FACTOR * half:.1f} K",
        "A second session before and after narrows the statistical part only.",
    )  # fmt: skip
    return Claim(kind, value, half, text, because)


def _step(fit: HeatFit, run: int, parts: tuple[int, ...]) -> float:
    model = fit.runs[run].model
    return fit.power_ref_w * sum((model.r_fast_k_w, model.r_slow_k_w)[p] for p in parts)


def _stair(fit: HeatFit, k: int) -> Stair:
    """Steps of one run with twice the mismatch share of a change: an absolute step does not cancel anything."""
    run = fit.runs[k]
    power = fit.power_ref_w
    total = power * (run.model.r_fast_k_w + run.model.r_slow_k_w)
    halves = []
    for part, step in ((0, power * run.model.r_fast_k_w), (1, power * run.model.r_slow_k_w)):
        se = float(np.sqrt(max(fit.covariance[fit.own_index(k, part), fit.own_index(k, part)], 0.0))) * step
        halves.append(float(np.sqrt((1.96 * se) ** 2 + (2.0 * (PASTE_TERMS, AIRFLOW_TERMS)[part][0] * total) ** 2)))
    half_total = float(np.hypot(*halves)) / power
    return Stair(
        power * run.model.r_fast_k_w, halves[0], power * run.model.r_slow_k_w, halves[1],
        run.load_s >= PLATEAU_TAUS * run.tau_slow_s, total / power, half_total, run.tau_slow_s, run.load_s,
    )  # fmt: skip


def _helped_more(paste: Claim, airflow: Claim) -> str:
    if ClaimKind.CANNOT_SEPARATE in (paste.kind, airflow.kind):
        return "Which of the two helped more cannot be said."
    if ClaimKind.CHANGED not in (paste.kind, airflow.kind):
        return "Neither step of the heat path changed by more than can be seen."
    gap = paste.value_k - airflow.value_k
    whole = paste.value_k + airflow.value_k
    if abs(gap) < SEPARATE_K:
        return "Paste and airflow helped about alike: the gains differ by less than 4 K."
    more, less = ("Paste", "airflow") if gap > 0 else ("Airflow", "paste")
    text = f"{more} helped more than {less}"
    if whole >= SHARES_K and min(paste.value_k, airflow.value_k) >= 0:
        share = max(paste.value_k, airflow.value_k) / whole
        text += f": about {percent(share)} of {signed_zero(whole, 1)} K"
    return text + "."


def _warnings(
    fit: HeatFit, runs: tuple[PreparedTrace, PreparedTrace], stairs: tuple[Stair, Stair]
) -> tuple[str, ...]:
    out = list(fit.notes)
    if fit.fan_is_proxy:
        out.append("no fan speed was logged: temperature stands in for it, the airflow interval is doubled")
    gap = abs(runs[0].room_c - runs[1].room_c)
    if gap > 5.0:
        out.append(f"the rooms differ by {gap:.1f} K: only rises are compared, not absolute temperatures")
    if min(r.load.idle_s for r in runs) < 20.0:
        out.append("little or no idle was logged before the load")
    if not all(s.sink_is_settled for s in stairs):
        out.append("the heatsink had not fully settled: its step is the fitted asymptote")
    return tuple(dict.fromkeys(out))


def _refused(reason: str) -> HeatVerdict:
    return HeatVerdict(None, None, None, None, None, "", np.nan, np.nan, None, (), reason)
