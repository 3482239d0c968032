"""Do the intervals of heat claims hold the truth on machines of five nodes that the fit does not know?

`python -m benchmarks.heat_pairs [pairs [seed]]`: pairs of unchanged, repasted, cleaned machines and both, four loggers,
with and without a fan column. A line per logger and column: how often the interval holds the truth, how often
something untouched is claimed, how often a change of 3 K or more is found.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass
from multiprocessing import get_context

import numpy as np

from brachium.core.heat.claims import ClaimKind, HeatClaim, compare
from tests.support.five_nodes import BOTH, FINS, FORMATS, PASTE, FivePair, five_pairs

FOUND_K = 3.0


@dataclass(frozen=True)
class Told:
    """What was said of one pair: errors, half-widths, true changes [K] of paste and airflow; NaN = nothing said."""

    logger: int
    kind: int
    changed: int
    errors_k: tuple[float, float]
    halves_k: tuple[float, float]
    truths_k: tuple[float, float]
    claimed: tuple[bool, bool]


def judged(pair: FivePair, number: int) -> Told | None:
    """Compare a pair and hold it against the truth; None where nothing at all may be said."""
    verdict = compare((pair.before,), (pair.after,))
    if verdict.paste is None or verdict.airflow is None:
        return None
    true = pair.true_k(verdict.power_ref_w, verdict.fan_ref_rpm)
    claims: tuple[HeatClaim, HeatClaim] = (verdict.paste, verdict.airflow)
    return Told(
        pair.logger, number % 3, pair.changed, (claims[0].value_k - true[0], claims[1].value_k - true[1]),
        (claims[0].half_width_k, claims[1].half_width_k), true,
        (claims[0].kind is ClaimKind.CHANGED, claims[1].kind is ClaimKind.CHANGED),
    )  # fmt: skip


def all_told(count: int, seed: int, fan: bool) -> list[Told]:
    """Every pair that something is said of."""
    pairs = five_pairs(count, seed, fan)
    with get_context("spawn").Pool(2) as pool:
        found = pool.starmap(judged, zip(pairs, range(count), strict=True), chunksize=8)
    return [t for t in found if t is not None]


def line(title: str, told: list[Told], part: int) -> str:
    """One line of the table."""
    said = [t for t in told if np.isfinite(t.errors_k[part])]
    inside = np.mean([abs(t.errors_k[part]) <= t.halves_k[part] for t in said])
    kinds = ((PASTE, BOTH), (FINS, BOTH))[part]
    untouched = [t for t in said if t.changed not in kinds]
    large = [t for t in said if t.changed in kinds and abs(t.truths_k[part]) >= FOUND_K]
    false, found = (np.mean([t.claimed[part] for t in some]) if some else np.nan for some in (untouched, large))
    error = np.median([abs(t.errors_k[part]) for t in said])
    half = np.median([t.halves_k[part] for t in said])
    return (
        f"| {title} | {len(said)} | {100 * inside:.0f} % | {100 * false:.1f} % of {len(untouched)} "
        f"| {100 * found:.0f} % of {len(large)} | {error:.2f} K | {half:.1f} K |"
    )


def main(count: int = 240, seed: int = 5) -> None:
    """Print the tables."""
    print("| | pairs | holds the truth | untouched claimed | 3 K found | median error | half-width |")
    print("|---|---|---|---|---|---|---|")
    for fan in (True, False):
        told = all_told(count, seed, fan)
        column = "fan logged" if fan else "no fan column"
        for part, name in enumerate(("paste", "airflow")):
            print(line(f"{name}, {column}, all", told, part), flush=True)
            for kind, machine in enumerate(("laptops", "small desktops", "towers")):
                print(line(f"{name}, {column}, {machine}", [t for t in told if t.kind == kind], part))
            for logger, words in enumerate(FORMATS):
                print(line(f"{name}, {column}, {words}", [t for t in told if t.logger == logger], part))


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:]))
