"""Which planned parts are not fitted yet, by the steps that are done."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable

from brachium.core.plan.candidates import Group

UNDER_COOLER_STEP = "paste"  # refits the cooler: the new one goes on with it, and so does the paste


def not_fitted(chosen: Iterable[tuple[str, Group]], done: Collection[str]) -> tuple[str, ...]:
    """Of (choice, its kind of change) in the order of the plan those whose step is not among the ids of steps `done`.

    A second part of a kind has a step of its own, numbered from 2, as the steps of a plan are.
    """
    seen: Counter[str] = Counter()
    left = []
    for choice, group in chosen:
        step = UNDER_COOLER_STEP if group in (Group.COOLER, Group.PASTE) else group.value
        seen[step] += step != UNDER_COOLER_STEP
        own = step if seen[step] < 2 else f"{step}-{seen[step]}"
        if own not in done:
            left.append(choice)
    return tuple(left)
