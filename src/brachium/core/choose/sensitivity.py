"""Which unknown widens the predicted band most, and whether knowing it would change the recommended plan.

Each unknown is held at its median in the common draws, and the band is taken again: the share by which it narrows is
what knowing it exactly would bring. The choice is tried with the unknown at its 10th and 90th percentile: if the
recommended plan is the same at both, measuring it changes no decision.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from brachium.core.base.band import Band
from brachium.core.base.text import phrase
from brachium.core.choose.draws import Draws
from brachium.core.choose.paging import paging_held
from brachium.core.choose.predict import bands_of
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate
from brachium.core.use.profile import UseProfile

LEAST = 0.05
UNKNOWNS: tuple[tuple[str, str, str], ...] = (
    ("shares", "how the owner's work spends its time", "time the owner's own task with the sampler on"),
    ("paging", "how much memory the work needs", "read the memory in use while the owner works"),
    ("paste", "whether the paste is at fault", "make the checks of the ladder in Find cause"),
    ("clean", "whether the fins are at fault", "look through the grille, then clean"),
    ("exponent", "how power rises with the clock", "a longer load that is held back"),
    ("overlap", "how much of the work overlaps", "time the owner's own task before and after"),
    ("channel_use", "how much of the memory's rate the work uses", "a module borrowed, the task timed"),
    ("latency", "how fast the new drive answers", "measure it from the shelf first"),
    ("rate", "how fast the new drive moves data", "measure it from the shelf first"),
    ("die", "how well heat leaves the new processor", "another job with the same processor"),
    ("sink", "how well the new cooler sheds heat", "measure it on another machine first"),
    ("rated", "how far rated work rates hold here", "time the owner's own task before and after"),
)


@dataclass(frozen=True)
class Unknown:
    """One unknown: the share by which the band narrows without it, and whether it decides which plan is best."""

    key: str
    title: str
    how: str
    narrows: float
    decides: bool

    @property
    def words(self) -> str:
        """What it is worth to know it."""
        end = "and it could change the choice" if self.decides else "but it would not change the choice"
        narrower = phrase("knowing it would make the band {narrows:.0f} % narrower", narrows=100 * self.narrows)
        return phrase(
            "Widest unknown: {title}; {narrower}, {end} ({how})",
            title=self.title,
            narrower=narrower,
            end=end,
            how=self.how,
        )


def widest_unknown(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None, recommended: Callable[[Draws], tuple[str, ...]],
) -> Unknown | None:  # fmt: skip
    """The unknown that widens a plan's band most; None for an empty plan, or where none matters.

    `recommended` gives the recommended plan's ids with other draws.
    """
    if not chosen:
        return None
    whole = _width(bands_of(machine, chosen, profile, figures, draws, heat))
    if whole <= 0.0:
        return None
    found = []
    for key, title, how in UNKNOWNS:
        narrow = _width(bands_of(machine, chosen, profile, figures, figures_held(draws, key, 50.0), heat))
        found.append((1.0 - narrow / whole, key, title, how))
    share, key, title, how = max(found)
    if share < LEAST:
        return None
    plans = [recommended(figures_held(draws, key, at)) for at in (10.0, 90.0)]
    return Unknown(key, title, how, share, set(plans[0]) != set(plans[1]))


def figures_held(draws: Draws, key: str, percentile: float) -> Draws:
    """The draws with one unknown held at a percentile; shares are held each at its own and made whole again."""
    if key == "shares":
        fixed = {k: float(np.percentile(v, percentile)) for k, v in draws.shares.items()}
        whole = sum(fixed.values())
        return replace(draws, shares={k: np.full(v.size, fixed[k] / whole) for k, v in draws.shares.items()})
    if key == "paging":
        return replace(draws, paging=paging_held(draws.paging, percentile))
    values = getattr(draws, key)
    one: dict[str, Any] = {key: np.full(values.size, float(np.percentile(values, percentile)))}
    return replace(draws, **one)


def _width(band: Band) -> float:
    return float(np.log(band.high / band.low))
