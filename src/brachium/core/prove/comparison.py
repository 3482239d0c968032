"""Two runs of one machine compared: gains per test, heat verdict, conditions that differ, targets."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.text import counted, joined, phrase, upper_first
from brachium.core.base.units import number, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.heat import claims
from brachium.core.heat.claims import HeatVerdict
from brachium.core.heat.run_traces import heat_traces
from brachium.core.heat.throttle import HeldBack
from brachium.core.measure.conditions import ALL_TESTS, NOTHING, Difference, condition_differences
from brachium.core.measure.own_tests import PREFIX
from brachium.core.measure.run import Run, TestSpec
from brachium.core.measure.spread import STATED_DEFAULT, Spread
from brachium.core.measure.statistics import Judgement, RatioResult, Word, adjusted_p_values, judge, ratio_of
from brachium.core.measure.typed_runs import is_typed
from brachium.core.measure.workloads import spread_for
from brachium.core.prove.assumptions import (
    LEVEL_MARGIN_DB,
    LEVEL_SPREAD,
    ROOM_HELD_K,
    SHARED_SPREAD,
    TEMPERATURE_MARGIN_K,
    TEMPERATURE_SPREAD,
)
from brachium.core.prove.gain_words import TEMPERATURE, gain_band, is_level, level_unit

ROOM_NOT_KNOWN = "room not known"
SUSTAINED = ("sustained", "probe_sustained")  # tests that run as long as heat needs


@dataclass(frozen=True)
class Gain:
    """One row of the gain ledger. `result` is None where the test is excluded; `excluded` says why. `hangs_on` names
    conditions that differ and that the result depends on: it is shown, and not claimed."""

    test: TestSpec
    result: RatioResult | None
    judgement: Judgement
    before: float
    after: float
    excluded: str
    because: Because
    hangs_on: tuple[str, ...] = ()


@dataclass(frozen=True)
class Comparison:
    """Everything that two runs of one machine say about each other."""

    before: Run
    after: Run
    gains: tuple[Gain, ...]
    heat: HeatVerdict
    differences: tuple[Difference, ...]

    @property
    def refusal(self) -> str:
        """Why these two runs prove nothing at all about each other; empty where they prove something."""
        if any(g.result is not None for g in self.gains) or not self.heat.refusal:
            return ""
        names = [d.name for d in self.differences if ALL_TESTS in d.excludes]
        return (
            phrase("{names} differ", names=joined(" and ", names))
            if len(names) > 1
            else phrase("{names} differs", names=names[0])
            if names
            else ""
        )

    def gain(self, key: str) -> Gain | None:
        return next((g for g in self.gains if g.test.key == key), None)


def compare_runs(
    before: Run, after: Run, limit_c: float | None = None, spreads: Mapping[str, Spread] | None = None,
    heat: HeatVerdict | None = None, changed: frozenset[str] = NOTHING,
) -> Comparison:  # fmt: skip
    """Compare; excluded results stay listed with their reason, and never take the others with them.

    `spreads` is what the history of machine and shop taught, by test; `heat` a heat verdict that is known already,
    `changed` the conditions that the work itself changed.
    """
    found = (*_run_differences(before, after), *condition_differences(before.conditions, after.conditions, changed))
    known = dict(spreads or {})
    if any(_is_shared(run) for run in (before, after)):
        known = {t.key: _for_shared(known.get(t.key) or spread_for(t.key)) for t in before.tests}
    heat = heat or heat_verdict(before, after, limit_c)
    elsewise = _held_elsewise(before, after, heat)
    raw = [
        (t, None, elsewise) if elsewise and t.key in SUSTAINED
        else (t, *_ratio(t, before, after, found, known.get(t.key) or spread_for(t.key)))
        for t in before.tests
    ]  # fmt: skip
    return Comparison(before, after, tuple(_gains(raw, before, after, found)), heat, found)


def _gains(
    raw: list[tuple[TestSpec, RatioResult | None, str]], before: Run, after: Run, found: tuple[Difference, ...]
) -> Iterator[Gain]:
    """The rows, claims corrected over all of them."""
    queue = iter(adjusted_p_values(tuple(r.p_value for _, r, _ in raw if r is not None)))
    for test, result, reason in raw:
        hangs_on = tuple(_hung(d) for d in found if d.hangs(test.key))
        yield _gain(test, result, reason, next(queue) if result is not None else 1.0, before, after, hangs_on)


def _hung(difference: Difference) -> str:
    return (
        phrase("{difference} not known", difference=difference.name)
        if "not known" in (difference.before, difference.after)
        else difference.name
    )


def _held_elsewise(before: Run, after: Run, heat: HeatVerdict) -> str:
    """Why sustained work is not compared: heat held the machine back, and room or fan differ; empty where it is."""
    if heat.throttles is None or not any(t.kind is HeldBack.THERMAL for t in heat.throttles):
        return ""
    follows = "and heat held it back: what it sustains follows"
    x, y = before.conditions, after.conditions
    if x.room_c is not None and y.room_c is not None and abs(x.room_c - y.room_c) > ROOM_HELD_K:
        return phrase(
            "room differs: {room_c:.1f} °C, then {room_c2:.1f} °C, {follows} the room",
            room_c=x.room_c,
            room_c2=y.room_c,
            follows=follows,
        )
    if x.fan_mode and y.fan_mode and x.fan_mode != y.fan_mode:
        return phrase(
            "fan mode differs: {fan_mode}, then {fan_mode2}, {follows} the fan",
            fan_mode=x.fan_mode,
            fan_mode2=y.fan_mode,
            follows=follows,
        )
    return ""


def judged(test: TestSpec, result: RatioResult, p_adjusted: float, hangs_on: tuple[str, ...]) -> Judgement:
    """The word for a result, corrected; nothing is claimed of one that hangs on a condition that differs."""
    if hangs_on:
        names = joined(" and ", hangs_on)
        if hangs_on == (ROOM_NOT_KNOWN,):
            return Judgement(Word.CANNOT_TELL, phrase("not claimed: {names}", names=names))
        words = counted(len(hangs_on), "not claimed: {names} differs", "not claimed: {names} differ", names=names)
        return Judgement(Word.CANNOT_TELL, words)
    margin = TEMPERATURE_MARGIN_K if test.unit == TEMPERATURE else LEVEL_MARGIN_DB
    return judge(result, p_adjusted, margin if is_level(test) else None, level_unit(test))


def _is_shared(run: Run) -> bool:
    return any(c.key == "host" and c.passed is False for c in run.checks)


def _for_shared(spread: Spread) -> Spread:
    """A machine whose host takes processor time away is not steady; until its own history says how much, assume so."""
    if not spread.is_stated:
        return spread
    source = phrase("{stated_default} for a shared processor", stated_default=STATED_DEFAULT)
    return replace(spread, between=max(spread.between, SHARED_SPREAD), source=source)


def _run_differences(before: Run, after: Run) -> tuple[Difference, ...]:
    """Protocol and machine: tests of another length are other tests, and so are those of another machine.

    The owner's own tests belong to no protocol.
    """
    out = []
    protocols = [
        phrase("{protocol} {version}", protocol=r.protocol.name, version=r.protocol.version) for r in (before, after)
    ]
    given = [tuple(t.key for t in r.tests if not t.key.startswith(PREFIX)) for r in (before, after)]
    if all(given) and not before.protocol.measures_like(after.protocol):
        excluded = (ALL_TESTS,) if len(given[0]) == len(before.tests) else given[0]
        out.append(Difference("protocol", protocols[0], protocols[1], excluded, "tests of another length"))
    machines = [r.machine.rpartition(", ")[0] for r in (before, after)]
    if all(machines) and machines[0] != machines[1]:
        text = "processor or board were changed, or these are two machines"
        out.append(Difference("machine", before.machine, after.machine, (), text))
    return tuple(out)


def _ratio(
    test: TestSpec, before: Run, after: Run, found: tuple[Difference, ...], spread: Spread
) -> tuple[RatioResult | None, str]:
    for difference in found:
        if test.key in difference.excludes or ALL_TESTS in difference.excludes:
            return None, phrase(
                "{difference} differs: {before}, then {after}",
                difference=difference.name,
                before=difference.before,
                after=difference.after,
            )
    other = after.test(test.key)
    for side, run in (("before", before), ("after", after)):
        if not run.results(test.key):
            return None, _no_result(test.key, run, side)
    if other is None:
        return None, "not measured on both sides"
    if other.version != test.version:
        return None, phrase(
            "workload version {version} against {version2}", version=test.version, version2=other.version
        )
    sides = before.results(test.key), after.results(test.key)
    if is_level(test):
        sides, spread = (_as_power(sides[0]), _as_power(sides[1])), _for_levels(spread, test)
    result = ratio_of(*sides, test.higher_is_better, spread)
    return result, "" if result is not None else "a result is not positive"


def _as_power(sessions: tuple[FloatArray, ...]) -> tuple[FloatArray, ...]:
    """Levels [dB] as the powers that they stand for: the difference of two levels is the logarithm of their ratio."""
    return tuple(np.asarray(10.0 ** (x / 10.0)) for x in sessions)


def _for_levels(spread: Spread, test: TestSpec) -> Spread:
    """Readings scatter by decibels or kelvin; a spread learned from them in percent says nothing."""
    scatter = TEMPERATURE_SPREAD if test.unit == TEMPERATURE else LEVEL_SPREAD
    return replace(spread, between=scatter, within=scatter)


def _no_result(key: str, run: Run, side: str) -> str:
    """Why a run has nothing for a test: never measured, or every repeat invalid, or the test itself failed."""
    reasons = [r.reason for s in run.sessions for r in s.repeats if r.test == key and not r.valid]
    failed = [c.detail for c in run.checks if c.key == key and c.passed is False]
    if reasons:
        return phrase("no valid repeat {side}, {reasons}", side=side, reasons=reasons[0])
    return (
        phrase("it failed {side}: {failed}", side=side, failed=failed[0])
        if failed
        else phrase("not measured {side}", side=side)
    )


def _gain(
    test: TestSpec, result: RatioResult | None, reason: str, p_adjusted: float, before: Run, after: Run,
    hangs_on: tuple[str, ...],
) -> Gain:  # fmt: skip
    medians = [_median(run, test.key) for run in (before, after)]
    if result is None:
        because = Because(
            phrase("{test}: not compared", test=test.title),
            "comparability",
            phrase("{reason}.", reason=upper_first(reason)),
        )
        return Gain(test, None, Judgement(Word.CANNOT_TELL, "not compared"), medians[0], medians[1], reason, because)
    verdict = judged(test, result, p_adjusted, hangs_on)
    because = Because(
        phrase("{test}: {gain_band}", test=test.title, gain_band=gain_band(test, result)),
        "ratio of runs, 95 % interval",
        phrase(
            "{about}. Logarithms of the results are compared; every session counts as one, because repeats "
            "within a session share its offset.",
            about=upper_first(test.about),
        ),
        (
            Fact(
                "before, median",
                phrase("{medians} {test}", medians=number(medians[0]), test=test.unit),
                Origin.MEASURED,
            ),
            Fact(
                "after, median", phrase("{medians} {test}", medians=number(medians[1]), test=test.unit), Origin.MEASURED
            ),
            Fact(
                "sessions, repeats",
                phrase(
                    "{sessions} × {repeats} and {sessions2} × {repeats2}",
                    sessions=result.sessions[0],
                    repeats=result.repeats[0] // result.sessions[0],
                    sessions2=result.sessions[1],
                    repeats2=result.repeats[1] // result.sessions[1],
                ),
                Origin.MEASURED,
            ),
            Fact("between sessions", percent(result.between, 1), Origin.COMPUTED),
            Fact("within a session", percent(result.within, 1), Origin.COMPUTED),
            Fact("learned from", result.source, Origin.LOGGED),
            Fact(
                "p, corrected for all tests",
                "under 0.001" if p_adjusted < 0.001 else phrase("{p_adjusted:.3f}", p_adjusted=p_adjusted),
                Origin.COMPUTED,
            ),
        ),
        verdict.sentence,
        "More sessions narrow the interval; more repeats of the same session hardly do.",
    )
    return Gain(test, result, verdict, medians[0], medians[1], "", because, hangs_on)


def _median(run: Run, key: str) -> float:
    results = run.results(key)
    return float(np.median(np.concatenate(results))) if results else float("nan")


def heat_verdict(before: Run, after: Run, limit_c: float | None) -> HeatVerdict:
    """What the traces of two runs say about the heat path, or why they say nothing."""
    found = condition_differences(before.conditions, after.conditions)
    blocked = next((d for d in found if "heat" in d.excludes and d.name != "room"), None)
    traces = [heat_traces(run, limit_c) for run in (before, after)]
    if blocked is not None:
        return claims.refused(phrase("{blocked} differs: {blocked2}", blocked=blocked.name, blocked2=blocked.text))
    for name, side in zip(claims.SIDES, traces, strict=True):
        if not side and is_typed(before if name == claims.SIDES[0] else after):
            return claims.refused(phrase("{name}: typed by hand, nothing was sampled", name=name))
        if not side:
            return claims.refused(
                phrase("{name}: no chip temperature was sampled, this machine shows no sensor for it", name=name)
            )
    return claims.compare(traces[0], traces[1])
