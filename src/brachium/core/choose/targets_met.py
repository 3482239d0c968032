"""Whether a plan meets the owner's targets with the asked chance, and whether any plan could."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import product

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.choose.assumptions import ASKED
from brachium.core.choose.plan_space import Plan
from brachium.core.choose.predict import speedups_of
from brachium.core.choose.target_odds import OddsGround, chances_of
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.record.target import Target

SEEN = (Group.BOARD, Group.MEMORY, Group.DRIVE, Group.PASTE, Group.CLEANING, Group.PROCESSOR, Group.COOLER, Group.CARD)


class TargetsMet:
    """Asks of plans; those alike in everything that odds look at are computed once."""

    def __init__(self, ground: OddsGround, found: Iterable[Candidate], targets: Sequence[Target]) -> None:
        self._ground, self._targets = ground, targets
        self._found = {c.id: c for c in found if c.group in SEEN}
        self._traits: dict[str, Hashable] = {c.id: _trait(c) for c in self._found.values()}
        self._known: dict[Hashable, bool] = {}

    @property
    def predictable(self) -> bool:
        """Whether any target can be predicted at all."""
        return any(True for _ in chances_of(self._ground, {}, self._targets))

    def __call__(self, plan: Plan) -> bool:
        seen = tuple(i for i in plan.ids if i in self._found)
        key = tuple(self._traits[i] for i in seen)
        if key not in self._known:
            self._known[key] = _enough(self._chances(tuple(self._found[i] for i in seen)))
        return self._known[key]

    def _chances(self, chosen: tuple[Candidate, ...]) -> Iterator[float]:
        return chances_of(self._ground, self._speed(chosen), self._targets)

    def _speed(self, chosen: tuple[Candidate, ...]) -> dict[str, FloatArray]:
        g = self._ground
        return speedups_of(g.machine, chosen, g.profile, g.figures, g.draws, g.heat)

    def reachable(self, usable: Iterable[str]) -> bool:
        """Whether some plan might meet them: false is certain. Every speed-up is taken at the best of its options, draw
        by draw, which no plan can beat; `usable` are the ids of candidates that may be part of a plan."""
        by_group: dict[Group, list[tuple[Candidate, ...]]] = {g: [()] for g in SEEN}
        for candidate in (self._found[i] for i in usable if i in self._found):
            by_group[candidate.group].append((candidate,))
        return any(
            _enough(chances_of(self._ground, self._best(board, chip, by_group), self._targets))
            for board, chip in product(by_group[Group.BOARD], by_group[Group.PROCESSOR])
        )

    def _best(
        self, board: tuple[Candidate, ...], chip: tuple[Candidate, ...],
        by_group: Mapping[Group, list[tuple[Candidate, ...]]],
    ) -> dict[str, FloatArray]:  # fmt: skip
        """Each speed-up at its best with a board and a processor."""
        cooling = product(by_group[Group.COOLER], by_group[Group.PASTE][:2], by_group[Group.CLEANING][:2])
        cards = _largest(self._speed((*board, *chip, *c)) for c in by_group[Group.CARD])
        best = _largest(self._speed((*board, *chip, *cooler, *p, *c)) for cooler, p, c in cooling)
        memory = _largest(self._speed((*board, *chip, *m)) for m in by_group[Group.MEMORY])
        drives = _largest(self._speed((*board, *d)) for d in by_group[Group.DRIVE])
        paging = memory.get("paging", np.ones(1)) * drives.get("paging", np.ones(1))
        rates = {k: v for k, v in (memory | drives).items() if k in ("memory", "random", "sequential")}
        graphics = {k: v for k, v in cards.items() if k == "graphics"}
        return best | graphics | rates | ({"paging": paging} if "paging" in memory or "paging" in drives else {})


def _trait(candidate: Candidate) -> Hashable:
    parts = tuple((a.place_id, replace(a.part, name="") if a.part is not None else None) for a in candidate.assignments)
    return parts, candidate.services


def _enough(chances: Iterable[float]) -> bool:
    """Whether every chance is as large as asked; the first that is not ends the work."""
    return all(c >= ASKED for c in chances)


def _largest(speeds: Iterable[Mapping[str, FloatArray]]) -> dict[str, FloatArray]:
    """Draw by draw the largest of each; what one does not change is 1 there."""
    out: dict[str, FloatArray] = {}
    for speed in speeds:
        for key, value in speed.items():
            out[key] = np.maximum(out.get(key, np.ones(1)), value)
    return out
