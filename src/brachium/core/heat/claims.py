"""What a joint heat fit allows one to say, and what must be refused, each with its reason.

Half-widths (95 %) of a change, with D = reference power x total resistance before:
    paste    sqrt((1.96 se)^2 + (0.013 D)^2 + (0.125 change)^2 + (0.05 change of the airflow)^2)
    airflow  sqrt((1.96 se)^2 + (0.025 D)^2 + (0.20 change)^2 + (0.10 change of the paste)^2)
The added terms stand for model mismatch (docs/decisions/0021); without a fan column they are 1.25 and 4 times as wide.
A change is claimed from 1.5 half-widths on.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase, upper_first
from brachium.core.base.units import number, percent, pm, signed_zero
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.heat.assumptions import (
    AIRFLOW_TERMS,
    CLAIM_FACTOR,
    LIMITED_CLOCK,
    LIMITED_POWER,
    MIN_TAUS,
    NO_FAN_AIRFLOW,
    NO_FAN_PASTE,
    PASTE_TERMS,
    PLATEAU_TAUS,
    ROOM_DIFFERENCE_K,
    SEPARATE_K,
    SHARES_K,
)
from brachium.core.heat.fan_work import FanWork, fan_work
from brachium.core.heat.fit import CannotFit, HeatFit, PreparedTrace, fit_prepared, prepare
from brachium.core.heat.throttle import HeldBack, ThrottleFinding, find_throttling
from brachium.core.heat.trace import HeatTrace, find_load, plateau_power_w
from brachium.core.heat.what_if import Base, base_of

SIDES = ("before", "after")


class ClaimKind(StrEnum):
    CHANGED = "changed"
    NO_CHANGE = "no change seen"
    CANNOT_SEPARATE = "cannot separate"


@dataclass(frozen=True)
class HeatClaim:
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
    base: Base | None = None


@dataclass(frozen=True)
class HeatVerdict:
    """Two runs of one machine compared. `refusal` is filled where nothing at all may be said."""

    stairs: tuple[Stair, Stair] | None
    throttles: tuple[ThrottleFinding, ThrottleFinding] | None
    paste: HeatClaim | None
    airflow: HeatClaim | None
    total: HeatClaim | None
    helped_more: str
    power_ref_w: float
    fan_ref_rpm: float
    peaks_c: tuple[float, float] | None
    warnings: tuple[str, ...]
    refusal: str
    fan: FanWork | None = None


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
    stair = _stair(_Pair(fit, (run,), (0,)), 0)
    base = base_of(trace, run, fit, throttle)
    return HeatReading(stair, throttle, fit.power_ref_w, fit.fan_ref_rpm, run.fan_is_proxy, run.notes, "", base)


def compare(before: tuple[HeatTrace, ...], after: tuple[HeatTrace, ...]) -> HeatVerdict:
    """Compare the sessions of two runs of the same machine, all fitted together.

    Never raises: refusals are part of the answer.
    """
    sides = tuple([0] * len(before) + [1] * len(after))
    prepared: list[PreparedTrace] = []
    for side, trace in zip(sides, before + after, strict=True):
        try:
            prepared.append(prepare(trace))
        except CannotFit as problem:
            return refused(phrase("{sides}: {problem}", sides=SIDES[side], problem=problem))
    rooms = [float(np.mean([r.room_c for r, s in zip(prepared, sides, strict=True) if s == k])) for k in (0, 1)]
    if abs(rooms[0] - rooms[1]) > ROOM_DIFFERENCE_K:
        gap = abs(rooms[0] - rooms[1])
        return refused(phrase("the rooms differ by {gap:.0f} K; rises are comparable up to 10 K only", gap=gap))
    throttles = (
        _worst_throttle(before, prepared[: len(before)]),
        _worst_throttle(after, prepared[len(before) :]),
    )
    return _judge(_Pair(fit_prepared(tuple(prepared)), tuple(prepared), sides), throttles, before, after)


@dataclass(frozen=True)
class SeriesStairs:
    """Heat stairs of any number of configurations at one power and fan speed, fitted together; a refusal where not."""

    stairs: tuple[Stair, ...]
    power_ref_w: float
    fan_ref_rpm: float
    refusal: str = ""


def stairs_of_series(groups: Sequence[tuple[HeatTrace, ...]]) -> SeriesStairs:
    """Fit all sessions of all configurations of one machine together. Never raises."""
    prepared: list[PreparedTrace] = []
    sides: list[int] = []
    for side, group in enumerate(groups):
        if not group:
            return SeriesStairs(
                (), np.nan, np.nan, phrase("configuration {side} sampled no temperature", side=side + 1)
            )
        for trace in group:
            try:
                prepared.append(prepare(trace))
            except CannotFit as problem:
                return SeriesStairs(
                    (), np.nan, np.nan, phrase("configuration {side}: {problem}", side=side + 1, problem=problem)
                )
            sides.append(side)
    rooms = [r.room_c for r in prepared]
    if max(rooms) - min(rooms) > ROOM_DIFFERENCE_K:
        gap = max(rooms) - min(rooms)
        return SeriesStairs(
            (), np.nan, np.nan, phrase("the rooms differ by {gap:.0f} K; rises are comparable up to 10 K only", gap=gap)
        )
    if any(r.power_is_proxy for r in prepared):
        return SeriesStairs((), np.nan, np.nan, "power was not logged, so no kelvin at a stated power can be given")
    pair = _Pair(fit_prepared(tuple(prepared)), tuple(prepared), tuple(sides))
    stairs = tuple(_stair(pair, k) for k in range(len(groups)))
    return SeriesStairs(stairs, pair.fit.power_ref_w, pair.fit.fan_ref_rpm)


def _worst_throttle(traces: tuple[HeatTrace, ...], runs: list[PreparedTrace]) -> ThrottleFinding:
    found = [find_throttling(trace, run.load) for trace, run in zip(traces, runs, strict=True)]
    return max(found, key=lambda f: f.share)


@dataclass(frozen=True)
class _Pair:
    """A joint fit with the side (0 before, 1 after) of each of its traces."""

    fit: HeatFit
    runs: tuple[PreparedTrace, ...]
    sides: tuple[int, ...]

    def of_side(self, side: int) -> tuple[int, ...]:
        return tuple(k for k, s in enumerate(self.sides) if s == side)

    def step_k(self, side: int, parts: tuple[int, ...]) -> float:
        """Mean step of a side at the reference power [K]; parts: 0 chip to sink, 1 sink to room."""
        models = [self.fit.runs[k].model for k in self.of_side(side)]
        steps = [sum((m.r_fast_k_w, m.r_slow_k_w)[p] for p in parts) for m in models]
        return self.fit.power_ref_w * float(np.mean(steps))


def _judge(
    pair: _Pair,
    throttles: tuple[ThrottleFinding, ThrottleFinding],
    before: tuple[HeatTrace, ...],
    after: tuple[HeatTrace, ...],
) -> HeatVerdict:
    fit = pair.fit
    stairs = (_stair(pair, 0), _stair(pair, 1))
    reference = pair.step_k(0, (0, 1))
    gates = _Gates.of(pair, throttles)
    narrow, widen = (NO_FAN_PASTE, NO_FAN_AIRFLOW) if fit.fan_is_proxy else (1.0, 1.0)
    paste = _claim(pair, "paste and mounting", (0,), reference, gates.paste, narrow)
    airflow = _claim(pair, "fins, fan and vents", (1,), reference, gates.airflow, widen)
    total = _claim(pair, "both together", (0, 1), reference, gates.total, widen)
    limited = limited_words((before[0], after[0]), throttles)
    peaks = None if limited else (_peak_c(before), _peak_c(after))
    return HeatVerdict(
        stairs, throttles, paste, airflow, total, _helped_more(paste, airflow), fit.power_ref_w,
        fit.fan_ref_rpm, peaks, (*((limited,) if limited else ()), *_warnings(pair, stairs)), "",
        fan_work(fit, pair.runs, pair.sides),
    )  # fmt: skip


def limited_words(traces: tuple[HeatTrace, HeatTrace], throttles: tuple[ThrottleFinding, ThrottleFinding]) -> str:
    """That one of two runs ran at far less power and clock than the other: its temperatures say nothing beside the
    other's, its resistances do; empty where neither did."""
    watts = [plateau_power_w(t, load) if (load := find_load(t)) is not None else None for t in traces]
    clocks = [t.sustained_clock_mhz for t in throttles]
    if watts[0] is None or watts[1] is None or not clocks[0] or not clocks[1]:
        return ""
    power, clock = watts[1] / watts[0], clocks[1] / clocks[0]
    side = 1 if power < 1.0 else 0
    power, clock = (power, clock) if side else (1.0 / power, 1.0 / clock)
    if power > LIMITED_POWER or clock > LIMITED_CLOCK or throttles[side].kind is HeldBack.THERMAL:
        return ""
    return phrase(
        "{sides} it ran at {power:.0f} % of the power and {clock:.0f} % less clock: held down, so that "
        "temperatures are not compared; resistances are",
        sides=SIDES[side],
        power=100 * power,
        clock=100 * (1 - clock),
    )


def _peak_c(traces: tuple[HeatTrace, ...]) -> float:
    return max(float(np.nanmax(trace.temp_c)) for trace in traces)


@dataclass(frozen=True)
class _Gates:
    """Reasons to refuse each claim; an empty string lets it pass."""

    paste: str
    airflow: str
    total: str

    @staticmethod
    def of(pair: _Pair, throttles: tuple[ThrottleFinding, ThrottleFinding]) -> _Gates:
        if pair.fit.power_is_proxy:
            reason = "power was not logged, so no kelvin at a stated power can be given"
            if any(t.kind not in (HeldBack.NONE, HeldBack.NOT_KNOWN) for t in throttles):
                reason += ", and with a falling clock utilisation does not stand in for it"
            return _Gates(reason, reason, reason)
        short = _short_load(pair)
        fan = _fan_stops(pair)
        return _Gates("", short or fan, short)


def _short_load(pair: _Pair) -> str:
    for side, run in zip(pair.sides, pair.fit.runs, strict=True):
        if run.load_s < MIN_TAUS * run.tau_slow_s:
            need = MIN_TAUS * run.tau_slow_s
            return phrase(
                "the load {sides} lasted {load_s:.0f} s; the heatsink needs at least {need:.0f} s (1.5 times its "
                "{tau_slow_s:.0f} s) before its airflow shows",
                sides=SIDES[side],
                load_s=run.load_s,
                need=need,
                tau_slow_s=run.tau_slow_s,
            )
    return ""


def _fan_stops(pair: _Pair) -> str:
    if pair.fit.fan_is_proxy:
        return ""
    for side, run in zip(pair.sides, pair.runs, strict=True):
        late = (run.time_s > run.load.end_s - 30.0) & (run.time_s <= run.load.end_s)
        if float(run.fan_rpm[late].min()) < 0.12 * pair.fit.fan_ref_rpm:
            return phrase(
                "the fan stood still near the end of the load {sides}, so equal fan speed has no meaning",
                sides=SIDES[side],
            )
    return ""


def _gradient(pair: _Pair, parts: tuple[int, ...]) -> tuple[float, FloatArray]:
    """Change before minus after [K] of the chosen steps, and its gradient over the parameters."""
    fit = pair.fit
    grad = np.zeros(fit.covariance.shape[0])
    for k, side in enumerate(pair.sides):
        weight = (1.0, -1.0)[side] / len(pair.of_side(side))
        model = fit.runs[k].model
        for part in parts:
            step = fit.power_ref_w * (model.r_fast_k_w, model.r_slow_k_w)[part]
            grad[fit.own_index(k, part)] = weight * step
    return pair.step_k(0, parts) - pair.step_k(1, parts), grad


def _mismatch_k(pair: _Pair, parts: tuple[int, ...], reference_k: float, value_k: float) -> float:
    """What the model's mismatch may add to a change [K]: two nodes give some of one step's change to the other."""
    of_total, of_change, of_other = PASTE_TERMS if parts == (0,) else AIRFLOW_TERMS
    other = tuple({0, 1} - set(parts))
    spilt = _gradient(pair, other)[0] if other else 0.0
    return float(np.sqrt((of_total * reference_k) ** 2 + (of_change * value_k) ** 2 + (of_other * spilt) ** 2))


def _claim(pair: _Pair, name: str, parts: tuple[int, ...], reference_k: float, refusal: str, widen: float) -> HeatClaim:
    fit = pair.fit
    at = phrase(
        "{power_ref_w:.1f} W and {fan_ref_rpm} /min",
        power_ref_w=fit.power_ref_w,
        fan_ref_rpm=number(fit.fan_ref_rpm, 3),
    )
    if refusal:
        because = Because(phrase("{name}: cannot separate", name=name), "heat claim", upper_first(refusal) + ".")
        return HeatClaim(
            ClaimKind.CANNOT_SEPARATE, np.nan, np.nan, phrase("cannot separate: {refusal}", refusal=refusal), because
        )
    value, grad = _gradient(pair, parts)
    se = float(np.sqrt(max(float(grad @ fit.covariance @ grad), 0.0)))
    half = widen * float(np.hypot(1.96 * se, _mismatch_k(pair, parts, reference_k, value)))
    kind = ClaimKind.CHANGED if abs(value) >= CLAIM_FACTOR * half else ClaimKind.NO_CHANGE
    text = (
        phrase("{pm} {which}", pm=pm(abs(value), half, "K"), which="less" if value > 0 else "more")
        if kind is ClaimKind.CHANGED
        else phrase("no change above {claim_factor:.1f} K", claim_factor=max(CLAIM_FACTOR * half, abs(value) + half))
    )
    steps = [pair.step_k(side, parts) for side in (0, 1)]
    because = Because(
        phrase("{name}: {text}", name=upper_first(name), text=text),
        "two-node heat fit",
        phrase(
            "Both runs were fitted together with the same heat capacities and fan law. The steps are compared at {at}.",
            at=at,
        ),
        (
            Fact("before", phrase("{steps:.1f} K", steps=steps[0]), Origin.FITTED),
            Fact("after", phrase("{steps:.1f} K", steps=steps[1]), Origin.FITTED),
            Fact("reference power", phrase("{power_ref_w:.1f} W", power_ref_w=fit.power_ref_w), Origin.MEASURED),
            Fact(
                "fan speed held at",
                phrase("{fan_ref_rpm} /min", fan_ref_rpm=number(fit.fan_ref_rpm, 3)),
                Origin.ASSUMED if fit.fan_is_proxy else Origin.MEASURED,
            ),
            Fact("statistical error", phrase("{se:.2f} K", se=1.96 * se), Origin.FITTED),
            Fact(
                "model mismatch",
                phrase("{sqrt:.2f} K", sqrt=np.sqrt(max((half / widen) ** 2 - (1.96 * se) ** 2, 0.0))),
                Origin.ASSUMED,
            ),
            Fact("half-width, 95 %", phrase("± {half:.2f} K", half=half), Origin.COMPUTED),
        ),
        phrase("claimed from 1.5 half-widths: {claim_factor:.1f} K", claim_factor=CLAIM_FACTOR * half),
        "A second session before and after narrows the statistical part only.",
    )
    return HeatClaim(kind, value, half, text, because)


def _stair(pair: _Pair, side: int) -> Stair:
    """Steps of one side with twice the mismatch share of a change: an absolute step does not cancel anything."""
    fit = pair.fit
    own = pair.of_side(side)
    power = fit.power_ref_w
    total = pair.step_k(side, (0, 1))
    steps = [pair.step_k(side, (part,)) for part in (0, 1)]
    halves = []
    for part, terms in ((0, PASTE_TERMS), (1, AIRFLOW_TERMS)):
        index = [fit.own_index(k, part) for k in own]
        variance = float(fit.covariance[np.ix_(index, index)].sum()) / len(own) ** 2
        halves.append(float(np.hypot(1.96 * steps[part] * np.sqrt(max(variance, 0.0)), 2.0 * terms[0] * total)))
    runs = [fit.runs[k] for k in own]
    settled = all(r.load_s >= PLATEAU_TAUS * r.tau_slow_s for r in runs)
    return Stair(
        steps[0], halves[0], steps[1], halves[1], settled, total / power, float(np.hypot(halves[0], halves[1])) / power,
        float(np.mean([r.tau_slow_s for r in runs])), float(np.mean([r.load_s for r in runs])),
    )  # fmt: skip


def _helped_more(paste: HeatClaim, airflow: HeatClaim) -> str:
    if ClaimKind.CANNOT_SEPARATE in (paste.kind, airflow.kind):
        return "Which of the two helped more cannot be said."
    if ClaimKind.CHANGED not in (paste.kind, airflow.kind):
        return "Neither step of the heat path changed by more than can be seen."
    gap = paste.value_k - airflow.value_k
    whole = paste.value_k + airflow.value_k
    if abs(gap) < SEPARATE_K:
        return "Paste and airflow helped about alike: the gains differ by less than 4 K."
    more, less = ("Paste", "airflow") if gap > 0 else ("Airflow", "paste")
    text = phrase("{more} helped more than {less}", more=more, less=less)
    if whole >= SHARES_K and min(paste.value_k, airflow.value_k) >= 0:
        share = max(paste.value_k, airflow.value_k) / whole
        text += phrase(
            ": {more} of {whole} K",
            more="nearly all" if share > 0.95 else phrase("about {share}", share=percent(share)),
            whole=signed_zero(whole, 1),
        )
    return text + "."


def _warnings(pair: _Pair, stairs: tuple[Stair, Stair]) -> tuple[str, ...]:
    fit, runs = pair.fit, pair.runs
    out = list(fit.notes)
    if fit.fan_is_proxy:
        out.append("no fan speed was logged: temperature stands in for it, the airflow interval is four times as wide")
    gap = abs(runs[0].room_c - runs[-1].room_c)
    if gap > 5.0:
        out.append(
            phrase("the rooms differ by {gap:.1f} K: only rises are compared, not absolute temperatures", gap=gap)
        )
    if min(r.load.idle_s for r in runs) < 20.0:
        out.append("little or no idle was logged before the load")
    if not all(s.sink_is_settled for s in stairs):
        out.append("the heatsink had not fully settled: its step is the fitted asymptote")
    return tuple(dict.fromkeys(out))


def refused(reason: str) -> HeatVerdict:
    """A verdict that says nothing but why."""
    return HeatVerdict(None, None, None, None, None, "", np.nan, np.nan, None, (), reason)
