"""What of a record is still open, what matters most in front: usual slots nobody saw, facts that verdicts wait for."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from brachium.app.view.job_view import JobView
from brachium.core.fit.recorded_facts import OF_PART, can_record
from brachium.core.fit.verdict import Gap
from brachium.core.machine.machine import Machine
from brachium.core.machine.typical_places import is_typical
from brachium.core.record.job import Job

MOST_FACTS = 3


@dataclass(frozen=True)
class StillOpen:
    """`unseen` are usual slots and bays that nobody has seen, by id; `facts` those that most parts wait for, each with
    how many."""

    unseen: tuple[str, ...]
    facts: tuple[tuple[Gap, int], ...]


def still_open(job: Job, view: JobView | None) -> StillOpen:
    """Facts are known once the parts were judged; before that none is asked for."""
    machine = job.machine
    unseen = tuple(p for p in _places(machine) if is_typical(machine, p))
    if view is None or not machine.fitted:
        return StillOpen(unseen, ())
    asked = (v.gap for o in view.choice.offers for v in o.verdicts if v.gap is not None)
    waiting = Counter(g for g in asked if OF_PART not in g.key and can_record(job, g))
    by_key: dict[str, tuple[Gap, int]] = {}
    for gap, count in waiting.items():
        by_key[gap.key] = (gap, count + by_key.get(gap.key, (gap, 0))[1])
    most = sorted(by_key.values(), key=lambda g: (-g[1], g[0].minutes, g[0].key))
    return StillOpen(unseen, tuple(most[:MOST_FACTS]))


def _places(machine: Machine) -> tuple[str, ...]:
    slots, bays, cards = machine.slots, machine.bays, machine.platform.cards
    return (*(s.id for s in slots), *(b.id for b in bays), *(c.id for c in cards))
