"""What each state of a sign says: the chance of seeing it with a cause, and on a machine that is well.

A sign's weight for a cause is ln(P(state | cause) / P(state | well)), cut at +-4.5 so that no single sign settles a
matter alone. A cause that a sign does not list sees it as a machine does that is well: weight 0. The chances are the
shop's starting assumptions; they add up to one over the states of a sign. Sources: handbook rules, and physics where a
state follows from it (a missing battery cannot make the chip hot).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import log

from brachium.core.cause.kinds import HEAT

CUT = 4.5
Chances = tuple[float, ...]


@dataclass(frozen=True)
class Sign:
    """A question with a few answers (states). `well` and each of `given` are chances over the states."""

    id: str
    title: str
    states: tuple[str, ...]
    well: Chances
    given: Mapping[str, Chances]

    def chances(self, cause: str) -> Chances:
        """Chances of the states with a cause; empty id = a machine that is well."""
        return self.given.get(cause, self.well)

    def weight(self, state: str, cause: str) -> float:
        """What a state says for a cause, in natural log-odds against a machine that is well."""
        if state not in self.states or cause not in self.given:
            return 0.0
        k = self.states.index(state)
        return max(-CUT, min(CUT, log(self.given[cause][k] / self.well[k])))


def sign(id_: str, title: str, states: str, well: Chances, **given: Chances) -> Sign:
    """A sign from its states, parted by "|"."""
    return Sign(id_, title, tuple(states.split("|")), well, given)


def _each(causes: tuple[str, ...], chances: Chances) -> dict[str, Chances]:
    return dict.fromkeys(causes, chances)


SIGNS: tuple[Sign, ...] = (
    sign("held", "Held back under load", "not|by heat|far from its limit", (0.95, 0.02, 0.03),
          **_each(HEAT, (0.10, 0.88, 0.02)), battery=(0.06, 0.01, 0.93), adapter=(0.10, 0.01, 0.89),
          governor=(0.40, 0.01, 0.59)),
    sign("top_clock", "Its highest clock", "as rated|below its rating", (0.97, 0.03), governor=(0.04, 0.96),
          battery=(0.75, 0.25), adapter=(0.90, 0.10)),
    sign("split", "Where the heat falls", "mostly chip to heatsink|evenly|mostly heatsink to room",
          (0.08, 0.72, 0.20), paste=(0.80, 0.18, 0.02), fins=(0.02, 0.40, 0.58), fan=(0.04, 0.50, 0.46),
          place=(0.03, 0.45, 0.52), cooler=(0.10, 0.70, 0.20)),
    sign("power", "Power while not held back", "as designed|above its design|well below",
          (0.84, 0.05, 0.11), cooler=(0.20, 0.78, 0.02), battery=(0.39, 0.01, 0.60), adapter=(0.39, 0.01, 0.60),
          governor=(0.30, 0.01, 0.69)),
    sign("fan_speed", "Fan at the load's end", "near its highest|far below its highest",
          (0.80, 0.20), fan=(0.03, 0.97), paste=(0.95, 0.05), fins=(0.95, 0.05), place=(0.95, 0.05),
          cooler=(0.95, 0.05)),
    sign("battery", "Battery", "in order|missing or worn out", (0.93, 0.07), battery=(0.03, 0.97)),
    sign("adapter", "Adapter", "strong enough|weak or not recognised", (0.96, 0.04), adapter=(0.08, 0.92)),
    sign("profile", "Power profile", "balanced or faster|saving", (0.95, 0.05), governor=(0.08, 0.92)),
    sign("channels", "Memory channels", "all filled|one empty", (0.99, 0.01), channels=(0.01, 0.99)),
    sign("rate", "Memory bandwidth against its channels", "as they allow|well under",
          (0.95, 0.05), slow_memory=(0.06, 0.94)),
    sign("stall", "The task waits for storage", "hardly|much", (0.95, 0.05), memory=(0.06, 0.94), bits=(0.10, 0.90),
          disk=(0.45, 0.55), dying=(0.15, 0.85), cable=(0.25, 0.75), full=(0.40, 0.60), link=(0.80, 0.20)),
    sign("memory_use", "Memory in use during the task", "room left|full", (0.94, 0.06), memory=(0.05, 0.95),
          bits=(0.08, 0.92)),
    sign("system", "Memory that the system can use", "all of it|a part", (0.98, 0.02), bits=(0.03, 0.97)),
    sign("memory_test", "Memory test", "nothing found|wrong words", (0.995, 0.005), bad_memory=(0.25, 0.75)),
    sign("counted", "Memory seen against what is fitted", "all seen|some not seen", (0.985, 0.015),
          bad_memory=(0.50, 0.50), bits=(0.80, 0.20)),
    sign("drive_kind", "System drive", "flash|disk with an arm", (0.70, 0.30), disk=(0.01, 0.99)),
    sign("drive_rate", "Drive against its kind",
         "as its kind gives|slow in small reads|slow in long reads|slow in both",
          (0.94, 0.02, 0.02, 0.02), dying=(0.10, 0.14, 0.06, 0.70), cable=(0.08, 0.04, 0.18, 0.70),
          link=(0.08, 0.02, 0.84, 0.06), full=(0.14, 0.66, 0.03, 0.17)),
    sign("health", "Drive's own counters", "clean|media faults|interface errors",
          (0.93, 0.02, 0.05), dying=(0.06, 0.91, 0.03), cable=(0.05, 0.02, 0.93)),
    sign("link", "Links of drives and graphics", "at its highest|below its highest", (0.96, 0.04), link=(0.05, 0.95),
          cable=(0.45, 0.55)),
    sign("space", "Free space on the system drive", "enough|hardly any", (0.95, 0.05), full=(0.01, 0.99)),
    sign("graphics", "Graphics in the task", "with room left|fully busy, processor waits", (0.94, 0.06),
          graphics=(0.05, 0.95)),
    sign("cap", "Frame times", "free|on one even step", (0.95, 0.05), cap=(0.04, 0.96)),
    sign("calm", "Calm phases", "calm|other programs at work", (0.95, 0.05), background=(0.06, 0.94)),
    sign("vents", "Vents as taken in", "nothing found|blocked or covered", (0.95, 0.05), place=(0.45, 0.55),
          fins=(0.85, 0.15)),
    sign("dirt", "Dirt as taken in", "none or slight|felted or much", (0.88, 0.12), fins=(0.30, 0.70),
          fan=(0.75, 0.25)),
    sign("noise", "Fan as taken in", "quiet or plain|noisy or stuck", (0.90, 0.10), fan=(0.30, 0.70),
          fins=(0.75, 0.25), paste=(0.80, 0.20), place=(0.80, 0.20), cooler=(0.80, 0.20)),
    sign("drive_noise", "Drive as taken in", "quiet|noisy or cable loose", (0.96, 0.04), dying=(0.65, 0.35),
          cable=(0.70, 0.30)),
)  # fmt: skip
BY_ID = {s.id: s for s in SIGNS}
