"""Shelf first: which free parts go to which waiting machine, so that all together gain most, under the fit rules.

For every machine every set of parts is judged that could go in at once: up to two modules into its free memory slots,
and one drive. The value of a set is the logarithm of the machine's median predicted gain, so that values add up over
machines. Which machine takes which set is a set packing (each part once, one set a machine), solved exactly as a mixed
integer program (HiGHS, gap 0).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import combinations, product
from math import exp, log

import numpy as np

from brachium.core.choose.assumptions import LEAST_GAIN
from brachium.core.choose.draws import Draws, draw
from brachium.core.choose.plan_space import NOTHING_SAID
from brachium.core.choose.predict import bands_of
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level, worst
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.machine.part_words import part_title
from brachium.core.machine.parts import Drive, MemoryModule
from brachium.core.plan.candidates import Assignment, Candidate, Group, planned
from brachium.core.record.parts_shelf import PartState, ShelfPart
from brachium.core.use.profile import UseProfile


@dataclass(frozen=True)
class Waiting:
    """A machine that could take parts, with the figures of its before-run."""

    job_id: str
    name: str
    machine: Machine
    profile: UseProfile
    figures: BeforeFigures
    around: Circumstances = NOTHING_SAID


@dataclass(frozen=True)
class Use:
    """Parts of the shelf for one machine: where each goes, and the gain of all of them together."""

    job_id: str
    name: str
    parts: tuple[tuple[str, str, str], ...]  # (part id, title, place)
    gain: float


def best_use(waiting: Sequence[Waiting], shelf: Sequence[ShelfPart]) -> tuple[Use, ...]:
    """The best assignment; parts that are kept for a machine or doubtful take no part. Empty where nothing gains."""
    free = [p for p in shelf if not p.reserved_for and p.state is not PartState.DOUBTFUL]
    uses = [u for machine in waiting for u in possible_uses(machine, free)]
    return tuple(uses[k] for k in _packed(uses, [p.id for p in free]))


def possible_uses(waiting: Waiting, free: Sequence[ShelfPart]) -> tuple[Use, ...]:
    """Every set of parts that fits a machine and brings at least one per cent."""
    draws = draw(waiting.profile, waiting.figures, waiting.machine)
    out = []
    for memory, drive in product(_memory_sets(waiting.machine, free), _drive_sets(waiting.machine, free)):
        placed = (*memory, *drive)
        if placed:
            use = _judged(waiting, placed, draws)
            if use is not None:
                out.append(use)
    return tuple(out)


Placed = tuple[ShelfPart, str]


def _memory_sets(machine: Machine, free: Sequence[ShelfPart]) -> list[tuple[Placed, ...]]:
    """None, one or two modules in the first free places; modules alike but for their id are told apart, as they are."""
    parts = machine.configuration().parts
    places = [s.id for s in machine.slots if s.id not in parts and s.id not in machine.bad_places]
    modules = [p for p in free if isinstance(p.part, MemoryModule)]
    out: list[tuple[Placed, ...]] = [()]
    for count in range(1, min(2, len(places)) + 1):
        out += [tuple(zip(some, places, strict=False)) for some in combinations(modules, count)]
    return out


def _drive_sets(machine: Machine, free: Sequence[ShelfPart]) -> list[tuple[Placed, ...]]:
    drives = [p for p in free if isinstance(p.part, Drive)]
    return [(), *(((p, b.id),) for p in drives for b in machine.bays)]


def _judged(waiting: Waiting, placed: Sequence[Placed], draws: Draws) -> Use | None:
    machine = waiting.machine
    chosen = tuple(_candidate(p, place) for p, place in placed)
    verdicts = evaluate(ALL_RULES, machine, planned(machine, chosen), waiting.around)
    touched = {place for _, place in placed}
    if worst(tuple(v for v in verdicts if touched & set(v.places))) > Level.NEEDS_FIRST:
        return None
    gain = bands_of(machine, chosen, waiting.profile, waiting.figures, draws, waiting.around.heat).mid
    if gain < LEAST_GAIN:
        return None
    parts = tuple((p.id, part_title(p.part), machine.place_label(place)) for p, place in placed)
    return Use(waiting.job_id, waiting.name, parts, gain)


def _candidate(part: ShelfPart, place: str) -> Candidate:
    group = Group.MEMORY if isinstance(part.part, MemoryModule) else Group.DRIVE
    price = part.price or Decimal(0)
    return Candidate(f"{part.id}@{place}", group, part_title(part.part), place, price, (Assignment(place, part.part),))


def _packed(uses: Sequence[Use], part_ids: Sequence[str]) -> list[int]:
    """Indices of the uses to make: each machine one, each part once, the sum of the logarithms largest."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    if not uses:
        return []
    jobs = sorted({u.job_id for u in uses})
    rows = np.zeros((len(jobs) + len(part_ids), len(uses)))
    for k, use in enumerate(uses):
        rows[jobs.index(use.job_id), k] = 1.0
        for part_id, _, _ in use.parts:
            rows[len(jobs) + part_ids.index(part_id), k] = 1.0
    value = np.array([log(u.gain) for u in uses])
    solved = milp(-value, constraints=LinearConstraint(rows, -np.inf, 1.0), integrality=np.ones(len(uses)),
                  bounds=Bounds(0.0, 1.0), options={"mip_rel_gap": 0.0})  # fmt: skip
    return [k for k, x in enumerate(solved.x) if x > 0.5]


def gain_together(uses: Sequence[Use]) -> float:
    """Product of the gains of all machines."""
    return exp(sum(log(u.gain) for u in uses))
