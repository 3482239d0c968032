"""Preconditions of a plan in the order in which they are met, and those that wait for each other in a circle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.verdict import Level, Verdict


@dataclass(frozen=True)
class Chain:
    """`order` = first things first; `circle` names preconditions that wait for each other, empty = none do."""

    order: tuple[str, ...]
    circle: tuple[str, ...] = ()


def precondition_chain(verdicts: Sequence[Verdict]) -> Chain:
    """The preconditions of verdicts with what each comes after."""
    graph: dict[str, dict[str, None]] = {}
    for verdict in verdicts:
        if verdict.precondition:
            graph.setdefault(verdict.precondition, {}).update(dict.fromkeys(verdict.after))
    try:
        return Chain(tuple(TopologicalSorter(graph).static_order()))
    except CycleError as error:
        return Chain((), tuple(dict.fromkeys(error.args[1])))


def circle_verdict(circle: tuple[str, ...]) -> Verdict:
    """A circle as a verdict: refused, with what waits for what."""
    sentence = phrase("impossible: {value}", value=joined(" waits for ", (*circle, circle[0])))
    facts = tuple(Fact("waits", name, Origin.COMPUTED) for name in circle)
    text = "Preconditions that wait for each other can never be met."
    because = Because(sentence, "preconditions", text, facts, "refused", "Another part, or another way to one of them.")
    return Verdict("preconditions", Level.REFUSED, (), sentence, because)
