"""What would change if paste, fins, fan, room or power did: the steady state of today against a changed one."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import phrase, upper_first
from brachium.core.base.units import number, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.heat.what_if import Base, Changes, WhatIfOutcome, assumptions, solve


@dataclass(frozen=True)
class Steady:
    """Both steady states, and what they rest on."""

    base: Base
    today: WhatIfOutcome
    changed: WhatIfOutcome

    @property
    def words(self) -> str:
        """The answer in one line."""
        gain = self.changed.clock_mhz / self.today.clock_mhz - 1.0
        clock = phrase("{clock_mhz} GHz sustained", clock_mhz=number(self.changed.clock_mhz / 1000.0, 3))
        if abs(gain) >= 0.005:
            clock += phrase(" ({mark}{gain})", mark="+" if gain > 0 else "−", gain=percent(abs(gain), 1))
        return phrase("{clock}, chip at {chip_c:.0f} °C", clock=clock, chip_c=self.changed.chip_c)


def steady(base: Base, changes: Changes, today: WhatIfOutcome | None = None) -> Steady:
    """Solve the changed state, and today's unless it is at hand."""
    return Steady(base, today if today is not None else solve(base, Changes()), solve(base, changes))


def because_of(state: Steady) -> Because:
    """The steady states and what they rest on."""
    base, today, changed = state.base, state.today, state.changed
    facts = (
        Fact(
            "today",
            phrase("{clock_mhz:.0f} MHz, {chip_c:.0f} °C", clock_mhz=today.clock_mhz, chip_c=today.chip_c),
            Origin.COMPUTED,
        ),
        Fact(
            "changed",
            phrase("{clock_mhz:.0f} MHz, {chip_c:.0f} °C", clock_mhz=changed.clock_mhz, chip_c=changed.chip_c),
            Origin.COMPUTED,
        ),
        Fact(
            "power",
            phrase("{power_w:.1f} to {power_w2:.1f} W", power_w=today.power_w, power_w2=changed.power_w),
            Origin.COMPUTED,
        ),
        Fact(
            "fan",
            phrase(
                "{fan_rpm} to {fan_rpm2} /min", fan_rpm=number(today.fan_rpm, 3), fan_rpm2=number(changed.fan_rpm, 3)
            ),
            Origin.COMPUTED,
        ),
        Fact("chip to heatsink", phrase("{r_fast_k_w:.2f} K/W", r_fast_k_w=base.model.r_fast_k_w), Origin.FITTED),
        Fact("heatsink to room", phrase("{r_slow_k_w:.2f} K/W", r_slow_k_w=base.model.r_slow_k_w), Origin.FITTED),
    )
    held = "held back by heat" if changed.held_back else "not held back"
    return Because(
        state.words, "two-node steady state",
        "Room + power x resistance = chip; the clock falls until that is at the limit, the fan follows its curve.",
        facts, held, "", tuple(phrase("{a}.", a=upper_first(a)) for a in assumptions(base)),
    )  # fmt: skip
