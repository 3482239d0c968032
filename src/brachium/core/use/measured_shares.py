"""How the owner's work spends its time, as the before-run saw it: shares replaced where they were sampled.

Wanted where the timed task stands for all of the owner's work. The run tells one thread, all threads, storage, graphics
and nothing of the machine apart. What it cannot tell apart keeps the profile's own ratio: all threads and memory
bandwidth, small and long reads, a person and the network. Paging is no share of the profile: the prediction takes it
from the stall figures.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.measure.waiting import Limit
from brachium.core.use.profile import UseProfile

TASK = "test own_task"
SAMPLED: tuple[tuple[tuple[str, ...], tuple[str, ...]], ...] = (
    (("thread",), ("single",)),
    (("processor", "held"), ("all", "memory")),
    (("storage",), ("random", "sequential")),
    (("graphics",), ("graphics",)),
    (("free",), ("network", "person")),
)


def measured_use(profile: UseProfile, limits: Sequence[Limit]) -> UseProfile | None:
    """The profile with measured shares; None where the owner's own task was not sampled."""
    limit = next((x for x in limits if x.name == TASK), None)
    if limit is None:
        return None
    seen = {key: sum(limit.shares[k] for k in keys) for keys, names in SAMPLED for key in [names]}
    whole = sum(seen.values())
    if whole <= 0.0:
        return None
    shares: dict[str, float] = {}
    for names, share in seen.items():
        own = sum(profile.shares.get(n, 0.0) for n in names)
        for n in names:
            ratio = profile.shares.get(n, 0.0) / own if own > 0.0 else 1.0 / len(names)
            shares[n] = share / whole * ratio
    return replace(profile, shares=shares, title=phrase("{profile}, as measured", profile=profile.title), measured=True)
