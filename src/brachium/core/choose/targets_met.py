"""Whether a plan meets the owner's targets with the asked chance, and whether any plan could."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import product

import numpy as np

from brachium.core.base.arrays import BoolArray, FloatArray
from brachium.core.choose.assumptions import ASKED
from brachium.core.choose.plan_space import Plan
from brachium.core.choose.target_odds import (
    HELD_BACK,
    PEAK,
    START,
    SUSTAINED,
    OddsGround,
    met_draws,
    speed_for,
)
from brachium.core.measure.own_tests import PREFIX
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.record.target import Target

HEAT = (Group.BOARD, Group.PASTE, Group.CLEANING, Group.PROCESSOR, Group.COOLER)
SEEN = (*HEAT, Group.MEMORY, Group.DRIVE, Group.CARD)
READS: Mapping[str, tuple[Group, ...]] = {
    HELD_BACK: HEAT, PEAK: HEAT, SUSTAINED: HEAT, START: (*HEAT, Group.DRIVE),
    "mem_bandwidth": (Group.BOARD, Group.PROCESSOR, Group.MEMORY), "drive_seq": (Group.BOARD, Group.DRIVE),
    "drive_rand_q1": (Group.BOARD, Group.DRIVE),
}  # fmt: skip
OTHERS = (*HEAT, Group.MEMORY, Group.DRIVE)
# kinds of change that speed-ups hang on together, and those speed-ups: worked out once for all plans that share them
SPEEDS: tuple[tuple[tuple[Group, ...], tuple[str, ...]], ...] = (
    (HEAT, ("all", "chip", "single", "cooling")),
    ((Group.BOARD, Group.MEMORY, Group.DRIVE), ("random", "sequential", "paging")),
    ((Group.BOARD, Group.PROCESSOR, Group.MEMORY), ("memory",)),
    ((Group.CARD,), ("graphics",)),
)


def groups_read(target: Target) -> tuple[Group, ...]:
    """The kinds of change that a target's figure hangs on."""
    return READS.get(target.key, SEEN if target.key.startswith(PREFIX) else OTHERS)


class TargetsMet:
    """Asks of plans; those alike in everything that a target's figure hangs on are computed once for it."""

    def __init__(self, ground: OddsGround, found: Iterable[Candidate], targets: Sequence[Target]) -> None:
        self._ground = ground
        self._targets = tuple(sorted(targets, key=lambda t: len(groups_read(t))))  # what is quickly refused comes first
        self._found = {c.id: c for c in found if c.group in SEEN}
        self._traits: dict[str, Hashable] = {c.id: _trait(c) for c in self._found.values()}
        self._known: dict[Hashable, BoolArray | None] = {}
        self._parts: dict[Hashable, Mapping[str, FloatArray]] = {}

    @property
    def predictable(self) -> bool:
        """Whether any target can be predicted at all."""
        return any(self._met(t, ()) is not None for t in self._targets)

    def __call__(self, plan: Plan) -> bool:
        chosen = [self._found[i] for i in plan.ids if i in self._found]
        return _enough(self._met(t, tuple(chosen)) for t in self._targets)

    def _met(self, target: Target, chosen: tuple[Candidate, ...]) -> BoolArray | None:
        """In which draws a plan meets a target; None where that cannot be predicted."""
        groups = groups_read(target)
        matter = tuple(c for c in chosen if c.group in groups)
        key = target, tuple(self._traits[c.id] for c in matter)
        if key not in self._known:
            self._known[key] = met_draws(self._ground, target, self._speed(matter))
        return self._known[key]

    def _speed(self, chosen: tuple[Candidate, ...]) -> Mapping[str, FloatArray]:
        """Speed-ups of a plan, put together of those that its changes of some kinds bring."""
        out: dict[str, FloatArray] = {}
        for groups, names in SPEEDS:
            matter = tuple(c for c in chosen if c.group in groups)
            key = tuple(self._traits[c.id] for c in matter)
            if (names, key) not in self._parts:
                found = speed_for(self._ground, matter, self._targets) if matter else {}
                self._parts[names, key] = {k: v for k, v in found.items() if k in names}
            out |= self._parts[names, key]
        return out

    def reachable(self, usable: Iterable[str]) -> bool:
        """Whether some plan might meet them: false is certain. Every speed-up is taken at the best of its options, draw
        by draw, which no plan can beat; `usable` are the ids of candidates that may be part of a plan."""
        by_group: dict[Group, list[tuple[Candidate, ...]]] = {g: [()] for g in SEEN}
        for candidate in (self._found[i] for i in usable if i in self._found):
            by_group[candidate.group].append((candidate,))
        return any(
            self._all_met(self._best(board, chip, by_group))
            for board, chip in product(by_group[Group.BOARD], by_group[Group.PROCESSOR])
        )

    def _all_met(self, speed: Mapping[str, FloatArray]) -> bool:
        return _enough(met_draws(self._ground, t, speed) for t in self._targets)

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


def _enough(met: Iterable[BoolArray | None]) -> bool:
    """Whether all that can be predicted is met together in as many draws as asked; the first that is not ends the
    work."""
    together: BoolArray | None = None
    for draws in met:
        if draws is not None:
            together = draws if together is None else together & draws
            if together.mean() < ASKED:
                return False
    return True


def _largest(speeds: Iterable[Mapping[str, FloatArray]]) -> dict[str, FloatArray]:
    """Draw by draw the largest of each; what one does not change is 1 there."""
    out: dict[str, FloatArray] = {}
    for speed in speeds:
        for key, value in speed.items():
            out[key] = np.maximum(out.get(key, np.ones(1)), value)
    return out
