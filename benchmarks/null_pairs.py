"""How often unchanged machines are said to have changed, and how often a true gain is found.

`python -m benchmarks.null_pairs` makes pairs of runs for every cell of spreads, repeats, sessions, kinds of noise and
histories, learns the spread as the program does and judges them as the program does. The noise is not the model's:
repeats are normal, with the tails of a t of three degrees, skewed by slow outliers or warming up differently in each
session; sessions are normal or have tails. `--pairs 500` is the number of pairs a cell.
"""

from __future__ import annotations

import argparse
from dataclasses import dataclass, replace
from itertools import product

import numpy as np

from brachium.core.base.arrays import FloatArray, frozen
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.history import History, learn_spread
from brachium.core.measure.run import MeasuredSession, Repeat, Run, Trace
from brachium.core.measure.session_model import difference
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import ALPHA, adjusted_p_values
from brachium.core.measure.workloads import STANDARD, spec_of, spread_for

TEST = "cpu_all"
PAIRS, SHOPS, HISTORY_RUNS, PAGE = 500, 100, 20, 10
NOISE = ("normal", "t3", "skewed", "warming")
HISTORIES = ("no", "right", "half", "half between")
SPREADS, REPEATS, SESSIONS = (0.005, 0.01, 0.02, 0.03), (2, 3, 5), (1, 2, 3)


@dataclass(frozen=True)
class Cell:
    """One kind of machine: relative deviations, numbers, kind of noise of the repeats, history, true gain."""

    between: float
    within: float
    repeats: int
    sessions: int
    noise: str = "normal"
    history: str = "no"
    gain: float = 0.0
    session_tails: bool = False


def repeats_of(cell: Cell, rng: np.random.Generator, shape: tuple[int, ...]) -> FloatArray:
    """Noise of repeats with the cell's deviation, shape (..., sessions, repeats)."""
    sd = cell.within
    if cell.noise == "t3":
        return np.asarray(sd * rng.standard_t(3, shape) / np.sqrt(3.0))
    if cell.noise == "skewed":  # one repeat in seven is slowed by other work, by five deviations in the mean
        slowed = np.where(rng.random(shape) < 0.15, rng.exponential(5.0 * sd, shape), 0.0)
        return np.asarray(rng.normal(0.0, 0.8 * sd, shape) - slowed)
    noise = rng.normal(0.0, sd, shape)
    if cell.noise == "warming":
        amount = 0.02 * rng.uniform(0.5, 1.5, (*shape[:-1], 1))
        noise = noise - amount * np.exp(-np.arange(shape[-1]) / 1.5)
    return np.asarray(noise)


def logs_of(cell: Cell, rng: np.random.Generator, pairs: int) -> FloatArray:
    """Logarithms of so many pairs, before first; shape (pairs, 2 sessions, repeats)."""
    shape = (pairs, 2 * cell.sessions)
    offset = rng.standard_t(3, shape) / np.sqrt(3.0) if cell.session_tails else rng.normal(size=shape)
    logs = cell.between * offset[..., None] + repeats_of(cell, rng, (*shape, cell.repeats))
    logs[:, cell.sessions :] += np.log1p(cell.gain)
    return logs


def learned(cell: Cell, rng: np.random.Generator) -> Spread:
    """What the program learns from other machines of a shop; `half` = machines half as wild, in both spreads or in the
    one between sessions."""
    if cell.history == "no":
        return spread_for(TEST)
    between = cell.between * (1.0 if cell.history == "right" else 0.5)
    within = cell.within * (0.5 if cell.history == "half" else 1.0)
    like = replace(cell, between=between, within=within, sessions=1, repeats=3, gain=0.0)
    bare = Trace(frozen([]), (), ())
    found = []
    for k, logs in enumerate(logs_of(like, rng, HISTORY_RUNS)):
        sessions = tuple(
            MeasuredSession(n, bare, tuple(Repeat(TEST, float(np.exp(v))) for v in row))
            for n, row in enumerate(logs, 1)
        )
        run = Run(f"h{k}", "", STANDARD, Conditions(), (spec_of(TEST),), sessions, "", "")
        found.append(History((run,), own=False))
    return learn_spread(TEST, 1, found)


def p_values(cell: Cell, seed: int, pairs: int = PAIRS) -> FloatArray:
    """Two-sided values of so many pairs, shared out over shops that each have a history of their own."""
    rng = np.random.default_rng(seed)
    after = np.repeat([False, True], cell.sessions)
    shops = SHOPS if cell.history != "no" else 1
    return np.concatenate(
        [
            difference(logs_of(cell, rng, pairs // shops), after, learned(cell, rng)).two_sided()
            for _ in range(shops)
        ]
    )  # fmt: skip


def pages_claimed(values: FloatArray) -> float:
    """Share of pages of ten unchanged tests on which anything at all is claimed after correction."""
    pages = values[: values.size // PAGE * PAGE].reshape(-1, PAGE)
    return float(np.mean([min(adjusted_p_values(tuple(page))) < ALPHA for page in pages]))


def table(pairs: int, tails: bool = False) -> None:
    """Print one line per history and number of sessions."""
    print("| history | sessions a side | cells | claimed, mean | worst cell | cells over 7 % | pages of ten, mean |")
    print("|---|---|---|---|---|---|---|")
    for history, sessions in product(HISTORIES, SESSIONS):
        claims, pages, names = [], [], []
        for seed, (between, within, repeats, noise) in enumerate(product(SPREADS, (0.01, 0.0), REPEATS, NOISE)):
            cell = Cell(between, within or between, repeats, sessions, noise, history, session_tails=tails)
            values = p_values(cell, seed, pairs)
            claims.append(float((values < ALPHA).mean()))
            pages.append(pages_claimed(values))
            names.append(f"{100 * between:g} % and {100 * cell.within:g} %, {repeats} repeats, {noise}")
        worst = int(np.argmax(claims))
        over = sum(c > 0.07 for c in claims)
        print(
            f"| {history} | {sessions} | {len(claims)} | {100 * np.mean(claims):.1f} % | {100 * claims[worst]:.1f} % "
            f"({names[worst]}) | {over} | {100 * np.mean(pages):.1f} % |", flush=True,
        )  # fmt: skip


def power(pairs: int) -> None:
    """Print how often a true gain of 5 % is found by two sessions of five, 1 % between and 1 % within."""
    print("| history | noise | 5 % found |\n|---|---|---|")
    for history, noise in product(("no", "right"), NOISE):
        values = p_values(Cell(0.01, 0.01, 5, 2, noise, history, 0.05), 1234, pairs)
        print(f"| {history} | {noise} | {100 * float((values < ALPHA).mean()):.1f} % |", flush=True)


def main() -> None:
    """Print the tables."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--pairs", type=int, default=PAIRS)
    pairs = parser.parse_args().pairs
    table(pairs)
    print("\nSessions with tails (t of three degrees):\n")
    table(pairs, tails=True)
    print()
    power(8 * pairs)


if __name__ == "__main__":
    main()
