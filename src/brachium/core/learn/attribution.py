"""What each change brought: the measured gain of a job divided among its changes, never more than was measured.

With runs in between the gain of each stretch is measured. Within a stretch that holds several changes each resource's
measured speed-up is divided by the model of the prediction: what a subset of the changes would have done to the
resource, scaled so that all of them together do what was measured. A change's part averages the logarithm of the gain
over all orders of applying the changes (Shapley), so that the parts add up to the measured total. What was measured
and no change explains is the rest.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import factorial
from typing import Any

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.band import Band
from brachium.core.choose.draws import Draws, draw
from brachium.core.choose.predict import speedups_of
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.learn.assumptions import LEAST_S, MOVED
from brachium.core.machine.machine import Machine
from brachium.core.measure.conditions import ALL_TESTS, condition_differences
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Candidate, changed_by
from brachium.core.use.profile import UseProfile

COUNT = 400
RATES = (("all", "sustained"), ("single", "cpu_single"), ("memory", "mem_bandwidth"), ("random", "drive_rand_q1"),
         ("sequential", "drive_seq"))  # fmt: skip


@dataclass(frozen=True)
class Part:
    """One change's part of the gain (1.05 = 5 % more work per time) with its 80 % band; `measured` = alone between two
    runs, else estimated from the model."""

    candidate_id: str
    title: str
    band: Band
    measured: bool


@dataclass(frozen=True)
class Attribution:
    """The measured gain in all, its parts in the order of the work, and what no change explains (1 = nothing)."""

    total: float
    parts: tuple[Part, ...]
    rest: float

    @property
    def estimated(self) -> bool:
        """Whether any part comes from the model."""
        return any(not p.measured for p in self.parts)


@dataclass(frozen=True)
class Stretch:
    """Two runs and the changes that were made between them."""

    before: Run
    after: Run
    figures: BeforeFigures
    figures_after: BeforeFigures
    machine: Machine
    chosen: tuple[Candidate, ...]


def stretches_of(
    machine: Machine, chosen: Sequence[Candidate], done: Mapping[str, str],
    runs: Sequence[tuple[Run, BeforeFigures]],
) -> tuple[Stretch, ...]:  # fmt: skip
    """Runs in time order with the changes made between each pair, told by when their steps were ticked (`done`: step id
    to time). Runs between which nothing changed are passed over; what was never ticked belongs to the last stretch."""
    left = list(chosen)
    current = machine
    out: list[Stretch] = []
    start = runs[0]
    for later in runs[1:]:
        last = later is runs[-1]
        here = [c for c in left if last or (_ticked(c, done) and _ticked(c, done) <= later[0].taken_at)]
        if not here and not last:
            continue
        out.append(Stretch(start[0], later[0], start[1], later[1], current, tuple(here)))
        left = [c for c in left if c not in here]
        for candidate in here:
            for move in candidate.assignments:
                current = current.with_part(move.place_id, move.part)
        start = later
    return tuple(s for s in out if s.chosen)


STEP_OF = {"paste": "paste", "cleaning": "clean"}


def _ticked(candidate: Candidate, done: Mapping[str, str]) -> str:
    """When the step of a candidate was ticked; empty where it was not."""
    step = STEP_OF.get(candidate.group.value, candidate.group.value)
    return max((when for k, when in done.items() if k == step or k.startswith(f"{step}-")), default="")


def measured_speeds(one: Stretch) -> dict[str, float]:
    """Speed-up of each resource between two runs, from the tests that both hold; paging from its own waiting.

    What the conditions forbid to compare is left out; nothing is left where they forbid everything."""
    found = condition_differences(one.before.conditions, one.after.conditions, changed_by(one.chosen))
    out_of_it = {test for d in found for test in d.excludes}
    if ALL_TESTS in out_of_it or not one.before.protocol.measures_like(one.after.protocol):
        return {}
    rates = ((key, _speed(one, test)) for key, test in RATES if test not in out_of_it)
    out = {key: rate for key, rate in rates if rate is not None}
    waits = [_waiting(run, f) for run, f in ((one.before, one.figures), (one.after, one.figures_after))]
    if waits[0] is not None and waits[1] is not None and "own_task" not in out_of_it:
        out["paging"] = max(waits[0] / max(waits[1], LEAST_S), LEAST_S)
    return out


def _speed(one: Stretch, test: str) -> float | None:
    """How much faster one test went, by the medians; None where a run does not hold it."""
    a, b, spec = one.before.results(test), one.after.results(test), one.before.test(test)
    if not a or not b or spec is None:
        return None
    ratio = float(np.median(np.concatenate(b)) / np.median(np.concatenate(a)))
    return ratio if spec.higher_is_better else 1.0 / ratio


def _waiting(run: Run, figures: BeforeFigures) -> float | None:
    """Seconds of the owner's task that go into waiting for paging."""
    results = run.results("own_task")
    if not results or not figures.stall_measured:
        return None
    return figures.stall_share * float(np.median(np.concatenate(results)))


def attribute(
    stretches: Sequence[Stretch], profile: UseProfile, heat: HeatFacts | None = None
) -> Attribution | None:  # fmt: skip
    """Divide the gain over all stretches; None without any, or where the runs of one cannot be compared.

    All weigh the work as it was before the first."""
    if not stretches or not all(measured_speeds(s) for s in stretches):
        return None
    first = stretches[0]
    draws = draw(profile, first.figures, first.machine, COUNT)
    parts: list[Part] = []
    rest = total = np.zeros(COUNT)
    so_far: dict[str, FloatArray] = {}
    for one in stretches:
        measured = {k: np.full(COUNT, np.log(v)) for k, v in measured_speeds(one).items()}
        begin = _log_gain(draws, so_far)
        after = {k: so_far.get(k, np.zeros(COUNT)) + v for k, v in measured.items()}
        whole = _log_gain(draws, so_far | after)
        shares, left = _divide(one, profile, draws, measured, so_far, heat)
        alone = len(one.chosen) == 1
        parts += [Part(c.id, c.title, Band.of(np.exp(s)), alone) for c, s in zip(one.chosen, shares, strict=True)]
        rest = rest + left
        total = total + (whole - begin)
        so_far = so_far | after
    return Attribution(float(np.exp(np.median(total))), tuple(parts), float(np.exp(np.median(rest))))


def _divide(
    one: Stretch, profile: UseProfile, draws: Draws, measured: Mapping[str, FloatArray],
    so_far: Mapping[str, FloatArray], heat: HeatFacts | None,
) -> tuple[list[FloatArray], FloatArray]:  # fmt: skip
    """(each change's part of the logarithm of the gain, the part that none explains)."""
    own = _with_fit(draws, one)

    def model(subset: tuple[Candidate, ...]) -> dict[str, FloatArray]:
        found = speedups_of(one.machine, subset, profile, one.figures, own, heat)
        return {k: np.log(np.asarray(v)) for k, v in found.items() if k != "chip"}

    everything = model(one.chosen)
    scale = {k: _scale(v, measured[k]) for k, v in everything.items() if k in measured}

    def log_gain(subset: tuple[Candidate, ...]) -> FloatArray:
        speeds = {k: v * scale[k] for k, v in model(subset).items() if k in scale}
        return _log_gain(draws, {**so_far, **{k: so_far.get(k, np.zeros(COUNT)) + v for k, v in speeds.items()}})

    begin = log_gain(())
    explained = log_gain(one.chosen) - begin
    after = {k: so_far.get(k, np.zeros(COUNT)) + v for k, v in measured.items()}
    whole = _log_gain(draws, {**so_far, **after}) - begin
    if len(one.chosen) == 1:  # measured: all of it is this change's
        return [whole], np.zeros(COUNT)
    return [_shapley(c, one.chosen, log_gain) for c in one.chosen], whole - explained


def _scale(model: FloatArray, measured: FloatArray) -> FloatArray:
    """Exponent that makes the model's speed-up the measured one; 1 where the model moves nothing."""
    moves = np.abs(model) > MOVED
    return np.where(moves, measured / np.where(moves, model, 1.0), 1.0)


def _with_fit(draws: Draws, one: Stretch) -> Draws:
    """The fits of both runs say what happened to each step of the heat path: better than any prior."""
    pairs = (("paste", one.figures.r_fast_k_w, one.figures_after.r_fast_k_w),
             ("clean", one.figures.r_slow_k_w, one.figures_after.r_slow_k_w))  # fmt: skip
    known: dict[str, Any] = {
        key: np.full(draws.overlap.size, float(np.clip(after / before, 0.1, 1.05)))
        for key, before, after in pairs
        if before and after
    }
    return replace(draws, **known)


def _log_gain(draws: Draws, log_speeds: Mapping[str, FloatArray]) -> FloatArray:
    return np.log(work_ratio(draws.shares, {k: np.exp(v) for k, v in log_speeds.items()}, draws.overlap))


def _shapley(
    one: Candidate, chosen: tuple[Candidate, ...], log_gain: Callable[[tuple[Candidate, ...]], FloatArray]
) -> FloatArray:
    others = [c for c in chosen if c is not one]
    out = np.zeros(COUNT)
    for size in range(len(chosen)):
        weight = factorial(size) * factorial(len(others) - size) / factorial(len(chosen))
        for subset in combinations(others, size):
            with_it = tuple(c for c in chosen if c is one or c in subset)
            out += weight * (log_gain(with_it) - log_gain(subset))
    return out
