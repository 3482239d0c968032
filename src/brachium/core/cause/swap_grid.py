"""Swap grid: which module, place, drive, cable or port is at fault, in the fewest tries.

A try puts elements together (modules into places, or one drive on one cable at one port) and either works or fails. It
fails exactly if a faulty element takes part. Hypotheses are all sets of one faulty element, and of two where asked for;
tries rule them out. The next try is optimal in the expected number of tries for equally likely hypotheses (exact
dynamic programming over the sets of hypotheses left) as long as there are few; beyond that it halves what is left.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, product

from brachium.core.record.checks import SwapTry

EXACT_UP_TO = 9
Hypothesis = frozenset[str]


@dataclass(frozen=True)
class Axis:
    """One kind of element, such as modules or memory slots; `ids` are unique over all axes."""

    title: str
    ids: tuple[str, ...]


@dataclass(frozen=True)
class GridState:
    """Hypotheses left, the next try as rows, the tries expected from here, whether the tries contradict each other."""

    left: tuple[Hypothesis, ...]
    proposal: tuple[tuple[str, ...], ...]
    expected_tries: float
    contradiction: bool

    @property
    def proven(self) -> frozenset[str]:
        """Elements that are faulty under every hypothesis left; empty while several are."""
        return frozenset.intersection(*self.left) if self.left else frozenset()

    @property
    def cleared(self) -> bool:
        return len(self.left) == 1


def solve_grid(axes: Sequence[Axis], tries: Sequence[SwapTry], faults: int = 1, together: bool = True) -> GridState:
    """What the tries prove and what to try next.

    `together` = several rows may be tried at once and give one answer (memory); else one row a try (drives).
    """
    everything = hypotheses(axes, faults)
    left = tuple(h for h in everything if all(is_consistent(h, t) for t in tries))
    if not left:
        return GridState((), (), 0.0, True)
    offered = possible_tries(axes, together)
    if len(left) == 1:
        return GridState(left, (), 0.0, False)
    best, expected = _best(left, offered)
    return GridState(left, best, expected, False)


def hypotheses(axes: Sequence[Axis], faults: int) -> tuple[Hypothesis, ...]:
    """All sets of one to `faults` faulty elements."""
    ids = [i for axis in axes for i in axis.ids]
    return tuple(frozenset(c) for k in range(1, faults + 1) for c in combinations(ids, k))


def is_consistent(hypothesis: Hypothesis, tried: SwapTry) -> bool:
    return bool(hypothesis & tried.elements) != tried.worked


@lru_cache(maxsize=64)
def _tries(axes: tuple[tuple[str, ...], ...], together: bool) -> tuple[tuple[tuple[str, ...], ...], ...]:
    if not together or len(axes) != 2:
        return tuple((row,) for row in product(*axes))
    first, second = axes
    most = min(len(first), len(second))
    return tuple(
        tuple(zip(a, b, strict=True))
        for k in range(1, most + 1)
        for a in combinations(first, k)
        for b in combinations(second, k)
    )


def possible_tries(axes: Sequence[Axis], together: bool) -> tuple[tuple[tuple[str, ...], ...], ...]:
    """All tries that differ in which elements take part. Which module sits in which of the places does not matter."""
    return _tries(tuple(a.ids for a in axes), together)


def _best(
    left: tuple[Hypothesis, ...], offered: tuple[tuple[tuple[str, ...], ...], ...]
) -> tuple[tuple[tuple[str, ...], ...], float]:
    masks = _masks(left, offered)
    whole = (1 << len(left)) - 1
    if len(left) <= EXACT_UP_TO:
        value, chosen = _Exact(tuple(masks)).of(whole)
        return (masks[chosen] if chosen else ()), value
    chosen = min(masks, key=lambda m: _unevenness(m, whole))
    return masks[chosen], _halving(len(left))


def _masks(
    left: tuple[Hypothesis, ...], offered: tuple[tuple[tuple[str, ...], ...], ...]
) -> dict[int, tuple[tuple[str, ...], ...]]:
    """Tries by which hypotheses they would make fail; of equal ones the smallest, and none that tells nothing."""
    out: dict[int, tuple[tuple[str, ...], ...]] = {}
    whole = (1 << len(left)) - 1
    for rows in offered:
        used = {e for row in rows for e in row}
        mask = sum(1 << k for k, h in enumerate(left) if h & used)
        if mask not in (0, whole) and mask not in out:
            out[mask] = rows
    return out


def _unevenness(mask: int, whole: int) -> int:
    return abs(2 * mask.bit_count() - whole.bit_count())


def _halving(count: int) -> float:
    """Expected tries if every try halved what is left: a lower bound."""
    whole = count.bit_length() - 1
    return whole + 2.0 * (count - (1 << whole)) / count


class _Exact:
    """Fewest expected tries for a set of hypotheses, as a bit mask, by trying all."""

    def __init__(self, masks: tuple[int, ...]) -> None:
        self._masks = masks
        self._known: dict[int, tuple[float, int]] = {}

    def of(self, left: int) -> tuple[float, int]:
        """(expected tries, mask of the best first try; 0 where nothing tells the rest apart)."""
        count = left.bit_count()
        if count <= 1:
            return 0.0, 0
        if left not in self._known:
            best = (float("inf"), 0)
            for mask in self._masks:
                failing = left & mask
                if failing in (0, left):
                    continue
                a, b = failing.bit_count(), count - failing.bit_count()
                if 1.0 + (a * (a > 1) + b * (b > 1)) / count >= best[0]:
                    continue  # cannot be better even if every further set took one try
                value = 1.0 + (a * self.of(failing)[0] + b * self.of(left & ~mask)[0]) / count
                if value < best[0]:
                    best = (value, mask)
            self._known[left] = best if best[1] else (0.0, 0)
        return self._known[left]
