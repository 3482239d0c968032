"""What each state of a sign says: the chance of seeing it with a cause, and on a machine that is well.

A sign's weight for a cause is ln(P(state | cause) / P(state | well)), cut at +-4.5 so that no single sign settles a
matter alone, but for the decisive ones: what cures, or is seen with certainty, calls its cause by itself. A cause that
a sign does not list sees it as a machine does that is well: weight 0. The chances are the shop's starting assumptions;
they add up to one over the states of a sign. Sources: handbook rules, and physics where a state follows from it (a
missing battery cannot make the chip hot).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import log

from brachium.core.cause.kinds import HEAT

CUT, DECISIVE = 4.5, 9.0
Chances = tuple[float, ...]


@dataclass(frozen=True)
class Sign:
    """A question with a few answers (states). `well` and each of `given` are chances over the states; `decides` names
    the cause that a state calls alone. One that `names_one` has one answer whatever is wrong: of two causes it shows
    one, so that a cause that explains it takes it from the others."""

    id: str
    title: str
    states: tuple[str, ...]
    well: Chances
    given: Mapping[str, Chances]
    decides: Mapping[str, str] = field(default_factory=dict)
    names_one: bool = False

    def chances(self, cause: str) -> Chances:
        """Chances of the states with a cause; empty id = a machine that is well."""
        return self.given.get(cause, self.well)

    def ratio(self, state: str, cause: str) -> float:
        """Chance of a state with a cause over that on a machine that is well."""
        if state not in self.states or cause not in self.given:
            return 1.0
        k = self.states.index(state)
        return self.given[cause][k] / self.well[k]

    def weight(self, state: str, cause: str) -> float:
        """What a state says for a cause, in natural log-odds against a machine that is well."""
        if state not in self.states or cause not in self.given:
            return 0.0
        if self.decides.get(state) == cause:
            return DECISIVE
        return max(-CUT, min(CUT, log(self.ratio(state, cause))))


def sign(id_: str, title: str, states: str, well: Chances, **given: Chances) -> Sign:
    """A sign from its states, parted by "|"; one with a cause behind "=>" decides for it."""
    parts = [part.partition("=>") for part in states.split("|")]
    decides = {state: cause for state, _, cause in parts if cause}
    return Sign(id_, title, tuple(state for state, _, _ in parts), well, given, decides)


def _each(causes: tuple[str, ...], chances: Chances) -> dict[str, Chances]:
    return dict.fromkeys(causes, chances)


SIGNS: tuple[Sign, ...] = (
    sign("held", "Held back under load", "not|by heat|far from its limit", (0.965, 0.01, 0.025),
          **_each(HEAT, (0.10, 0.88, 0.02)), battery=(0.06, 0.01, 0.93), adapter=(0.10, 0.01, 0.89),
          governor=(0.40, 0.01, 0.59), boost_off=(0.45, 0.01, 0.54), external=(0.10, 0.01, 0.89),
          regulators=(0.10, 0.02, 0.88)),
    sign("top_clock", "Its highest clock", "as rated|below its boost|below its base clock", (0.96, 0.03, 0.01),
          governor=(0.04, 0.56, 0.40), battery=(0.60, 0.15, 0.25), adapter=(0.85, 0.11, 0.04),
          boost_off=(0.03, 0.93, 0.04), external=(0.35, 0.25, 0.40), regulators=(0.92, 0.07, 0.01)),
    sign("split", "Temperature drops", "mostly chip to heatsink|evenly|mostly heatsink to room",
          (0.08, 0.72, 0.20), paste=(0.80, 0.18, 0.02), fins=(0.02, 0.40, 0.58), fan=(0.04, 0.50, 0.46),
          place=(0.03, 0.45, 0.52), cooler=(0.10, 0.70, 0.20), pipe=(0.10, 0.50, 0.40)),
    sign("power", "Power while not held back", "as designed|above its design|well below",
          (0.84, 0.05, 0.11), cooler=(0.20, 0.78, 0.02), battery=(0.39, 0.01, 0.60), adapter=(0.39, 0.01, 0.60),
          governor=(0.30, 0.01, 0.69), boost_off=(0.30, 0.01, 0.69), external=(0.20, 0.01, 0.79),
          regulators=(0.45, 0.01, 0.54)),
    sign("fan_speed", "Fan at the load's end", "near its highest|far below its highest",
          (0.80, 0.20), fan=(0.03, 0.97), paste=(0.95, 0.05), fins=(0.95, 0.05), place=(0.95, 0.05),
          cooler=(0.95, 0.05), pipe=(0.95, 0.05)),
    sign("battery", "Battery", "in order|missing or worn out", (0.93, 0.07), battery=(0.03, 0.97)),
    sign("adapter", "Adapter", "strong enough|weak or not recognised", (0.96, 0.04), adapter=(0.08, 0.92)),
    sign("profile", "Power profile", "balanced or faster|saving", (0.95, 0.05), governor=(0.08, 0.92)),
    sign("boost", "Boost", "on|off", (0.985, 0.015), boost_off=(0.04, 0.96)),
    sign("channels", "Memory channels", "all filled|one empty", (0.99, 0.01), channels=(0.01, 0.99)),
    sign("rate", "Memory bandwidth against its channels", "as they allow|well under",
          (0.95, 0.05), slow_memory=(0.06, 0.94)),
    sign("stall", "The task waits for storage", "hardly|much", (0.95, 0.05), memory=(0.06, 0.94), bits=(0.10, 0.90),
          disk=(0.45, 0.55), dying=(0.15, 0.85), cable=(0.25, 0.75), full=(0.40, 0.60), link=(0.80, 0.20),
          worn=(0.45, 0.55), hot_drive=(0.75, 0.25), shingled=(0.45, 0.55), drive_mode=(0.60, 0.40)),
    sign("memory_use", "Memory in use during the task", "room left|full", (0.94, 0.06), memory=(0.05, 0.95),
          bits=(0.08, 0.92)),
    sign("system", "Memory that the system can use", "all of it|a part", (0.98, 0.02), bits=(0.03, 0.97)),
    sign("memory_test", "Memory test", "nothing found|memory errors=>bad_memory", (0.995, 0.005),
          bad_memory=(0.25, 0.75)),
    sign("counted", "Memory seen against what is fitted", "all seen|some not seen", (0.985, 0.015),
          bad_memory=(0.50, 0.50), bits=(0.80, 0.20)),
    sign("drive_kind", "System drive", "flash|hard disk", (0.70, 0.30), disk=(0.01, 0.99)),
    sign("drive_rate", "Drive against its kind",
         "as its kind gives|slow in small reads|slow in long reads|slow in both",
          (0.97, 0.01, 0.01, 0.01), dying=(0.10, 0.14, 0.06, 0.70), cable=(0.08, 0.04, 0.18, 0.70),
          link=(0.08, 0.02, 0.84, 0.06), full=(0.14, 0.66, 0.03, 0.17), worn=(0.10, 0.15, 0.20, 0.55),
          hot_drive=(0.12, 0.03, 0.80, 0.05), shingled=(0.25, 0.65, 0.02, 0.08), drive_mode=(0.30, 0.60, 0.04, 0.06)),
    sign("health", "SMART data", "clean|media faults=>dying|interface errors",
          (0.93, 0.02, 0.05), dying=(0.06, 0.91, 0.03), cable=(0.05, 0.02, 0.93)),
    sign("wear", "Life of the solid-state drive", "much left|nearly used up", (0.97, 0.03), worn=(0.50, 0.50)),
    sign("drive_heat", "Drive's own temperature", "below 65 °C|65 °C or more", (0.97, 0.03), hot_drive=(0.30, 0.70)),
    sign("link", "Links of drives", "at their highest|below their highest", (0.96, 0.04), link=(0.05, 0.95),
          cable=(0.45, 0.55)),
    sign("gpu_link", "Lanes of the graphics card", "all of them|fewer than it could", (0.97, 0.03),
          gpu_width=(0.04, 0.96)),
    sign("space", "Free space on the system drive", "enough|hardly any", (0.95, 0.05), full=(0.01, 0.99)),
    sign("graphics", "Graphics in the task", "with room left|fully busy, processor waits", (0.94, 0.06),
          graphics=(0.05, 0.95), gpu_memory=(0.30, 0.70), gpu_driver=(0.50, 0.50), gpu_width=(0.45, 0.55)),
    sign("gpu_driver", "Graphics driver", "the chip's own|basic or none", (0.97, 0.03), gpu_driver=(0.15, 0.85)),
    sign("task_processor", "The task keeps the processor busy", "a part of the time|nearly all of it", (0.45, 0.55),
          slow_chip=(0.04, 0.96), memory=(0.90, 0.10), bits=(0.90, 0.10), graphics=(0.95, 0.05)),
    sign("task_free", "The task waits for something outside", "hardly|a good part of its time", (0.94, 0.06),
          network=(0.15, 0.85), cap=(0.60, 0.40)),
    sign("stutter", "Stutters in the frames", "few|many", (0.93, 0.07), gpu_memory=(0.25, 0.75)),
    sign("band_processor", "Processor beside machines like it", "as they do|below them", (0.96, 0.04),
          **_each(HEAT, (0.60, 0.40)), battery=(0.30, 0.70), adapter=(0.35, 0.65), governor=(0.25, 0.75),
          boost_off=(0.25, 0.75), external=(0.15, 0.85), regulators=(0.40, 0.60), background=(0.60, 0.40)),
    sign("band_memory", "Memory beside machines like it", "as they do|below them", (0.96, 0.04),
          channels=(0.15, 0.85), slow_memory=(0.20, 0.80)),
    sign("band_drive", "Drive beside machines like it", "as they do|below them", (0.95, 0.05), dying=(0.25, 0.75),
          cable=(0.30, 0.70), link=(0.30, 0.70), full=(0.40, 0.60), worn=(0.30, 0.70), hot_drive=(0.45, 0.55),
          shingled=(0.45, 0.55), drive_mode=(0.35, 0.65), disk=(0.50, 0.50)),
    sign("band_heat", "Heat and noise beside machines like it", "as theirs|worse than theirs", (0.96, 0.04),
          **_each(HEAT, (0.30, 0.70))),
    sign("wish", "What the owner asked of the task's time", "met, or not asked|not met", (0.90, 0.10),
          slow_chip=(0.15, 0.85)),
    sign("cap", "Frame times", "free|on one even step", (0.95, 0.05), cap=(0.04, 0.96)),
    sign("calm", "Calm phases", "calm|other programs at work", (0.95, 0.05), background=(0.06, 0.94),
          updates=(0.06, 0.94)),
    sign("starts", "Starts by itself", "it does|stops before the system", (0.985, 0.015), start_setting=(0.12, 0.88),
          dying=(0.80, 0.20), bad_memory=(0.92, 0.08)),
    sign("stays", "Stays on under load", "it does|restarts or goes off", (0.985, 0.015), supply=(0.10, 0.90),
          bad_memory=(0.85, 0.15), **_each(("paste", "fins", "fan", "pipe"), (0.95, 0.05))),
    sign("vents", "Vents as taken in", "nothing found|blocked or covered", (0.95, 0.05), place=(0.45, 0.55),
          fins=(0.85, 0.15)),
    sign("dirt", "Dirt as taken in", "none or slight|felted or much", (0.88, 0.12), fins=(0.30, 0.70),
          fan=(0.75, 0.25)),
    sign("noise", "Fan as taken in", "quiet or plain|noisy or stuck", (0.90, 0.10), fan=(0.30, 0.70),
          fins=(0.75, 0.25), paste=(0.80, 0.20), place=(0.80, 0.20), cooler=(0.80, 0.20), pipe=(0.75, 0.25)),
    sign("drive_noise", "Drive as taken in", "quiet|noisy or cable loose", (0.96, 0.04), dying=(0.65, 0.35),
          cable=(0.70, 0.30)),
)  # fmt: skip
BY_ID = {s.id: s for s in SIGNS}
