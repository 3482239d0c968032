"""What doing some candidates at once takes: the minutes of a person and what is used up."""

from __future__ import annotations

from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate
from brachium.core.record.money import NO_PRICES, Prices
from brachium.core.work.consumables import cost_of_uses, uses_of
from brachium.core.work.step_kinds.preconditions import precondition_step
from brachium.core.work.steps import steps_for


class Effort:
    """(attended minutes, consumables [EUR]) of candidates on a machine; `added_min` come on top of any work.

    A set of candidates is planned once: the tables of plans ask for the same sets again and again.
    """

    def __init__(self, machine: Machine, prices: Prices = NO_PRICES, added_min: float = 0.0) -> None:
        self._machine, self._prices, self._added_min = machine, prices, added_min
        self._known: dict[tuple[str, ...], tuple[float, float]] = {}

    def __call__(self, chosen: tuple[Candidate, ...]) -> tuple[float, float]:
        key = tuple(c.id for c in chosen)
        if key not in self._known:
            self._known[key] = self._of(chosen)
        return self._known[key]

    def _of(self, chosen: tuple[Candidate, ...]) -> tuple[float, float]:
        if not chosen:
            return 0.0, 0.0
        steps = steps_for(self._machine, chosen, ())
        used = float(cost_of_uses(uses_of(self._machine, steps), self._prices)) if self._prices else 0.0
        return sum(s.attended_min for s in steps) + self._added_min, used

    def first_min(self, needs: tuple[str, ...]) -> float:
        """Attended minutes of preconditions."""
        return sum(precondition_step(k, need).attended_min for k, need in enumerate(needs))
