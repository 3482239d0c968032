"""How often unchanged machines are said to have changed, and how often a true gain is found.

`python -m benchmarks.null_pairs` simulates pairs of runs whose log results are configuration + session + repeat, learns
the spread as the program does, and judges them as the program does.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from brachium.core.base.arrays import FloatArray, frozen
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.history import History, learn_spread
from brachium.core.measure.run import MeasuredSession, Repeat, Run, Trace
from brachium.core.measure.statistics import Spread, Word, judge, ratio_of
from brachium.core.measure.workloads import STANDARD, spec_of, spread_for

TEST = "cpu_all"
PAIRS = 500


@dataclass(frozen=True)
class Case:
    """Noise of a kind of machine: relative spread of sessions and of repeats, true gain, earlier runs of the shop."""

    title: str
    between: float
    within: float
    gain: float
    sessions: int
    repeats: int
    history: int


CASES = (
    Case("no change, 1 % between, 1 % within, no history", 0.01, 0.01, 0.0, 2, 5, 0),
    Case("no change, 1 % between, 1 % within, 20 runs of history", 0.01, 0.01, 0.0, 2, 5, 20),
    Case("no change, 2 % between, 1 % within, 20 runs of history", 0.02, 0.01, 0.0, 2, 5, 20),
    Case("no change, 0.5 % between, 2 % within, 20 runs of history", 0.005, 0.02, 0.0, 2, 5, 20),
    Case("no change, 3 % between, 3 % within, no history", 0.03, 0.03, 0.0, 2, 5, 0),
    Case("5 % gain, 0.5 % between, 2 % within, 20 runs of history", 0.005, 0.02, 0.05, 2, 5, 20),
    Case("5 % gain, 0.5 % between, 2 % within, no history", 0.005, 0.02, 0.05, 2, 5, 0),
)


def results(case: Case, rng: np.random.Generator, gain: float = 0.0) -> tuple[FloatArray, ...]:
    """Results of one run, per session."""
    return tuple(
        frozen(100.0 * (1 + gain) * np.exp(rng.normal(0, case.between) + rng.normal(0, case.within, case.repeats)))
        for _ in range(case.sessions)
    )


def history(case: Case, rng: np.random.Generator) -> tuple[History, ...]:
    """Earlier runs of other machines of the shop."""
    bare = Trace(frozen([]), (), ())
    out = []
    for k in range(case.history):
        sessions = tuple(
            MeasuredSession(n, bare, tuple(Repeat(TEST, float(v)) for v in values))
            for n, values in enumerate(results(case, rng), 1)
        )
        run = Run(f"h{k}", "", STANDARD, Conditions(), (spec_of(TEST),), sessions, "", "")
        out.append(History((run,), own=False))
    return tuple(out)


def claimed(case: Case, seed: int, pairs: int = PAIRS) -> float:
    """Share of pairs for which a difference is claimed; each shop has a history of its own."""
    rng = np.random.default_rng(seed)
    count = 0
    for _ in range(pairs):
        spread: Spread = learn_spread(TEST, 1, history(case, rng)) if case.history else spread_for(TEST)
        result = ratio_of(results(case, rng), results(case, rng, case.gain), True, spread)
        assert result is not None
        word = judge(result, result.p_value).word
        count += word is Word.BETTER if case.gain > 0 else word in (Word.BETTER, Word.WORSE)
    return count / pairs


def main() -> None:
    """Print one line per case."""
    print("| pairs of runs | claimed |\n|---|---|")
    for seed, case in enumerate(CASES, 1):
        print(f"| {case.title} | {100 * claimed(replace(case), seed):.1f} % |")


if __name__ == "__main__":
    main()
