"""What would change if paste, fins, fan, room or power did: the steady state of today against a changed one."""

from __future__ import annotations

from dataclasses import dataclass

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
        clock = f"{number(self.changed.clock_mhz / 1000.0, 3)} GHz sustained"
        if abs(gain) >= 0.005:
            clock += f" ({'+' if gain > 0 else '−'}{percent(abs(gain), 1)})"
        return f"{clock}, chip at {self.changed.chip_c:.0f} °C"


def steady(base: Base, changes: Changes, today: WhatIfOutcome | None = None) -> Steady:
    """Solve the changed state, and today's unless it is at hand."""
    return Steady(base, today if today is not None else solve(base, Changes()), solve(base, changes))


def because_of(state: Steady) -> Because:
    """The steady states and what they rest on."""
    base, today, changed = state.base, state.today, state.changed
    facts = (
        Fact("today", f"{today.clock_mhz:.0f} MHz, {today.chip_c:.0f} °C", Origin.COMPUTED),
        Fact("changed", f"{changed.clock_mhz:.0f} MHz, {changed.chip_c:.0f} °C", Origin.COMPUTED),
        Fact("power", f"{today.power_w:.1f} to {changed.power_w:.1f} W", Origin.COMPUTED),
        Fact("fan", f"{number(today.fan_rpm, 3)} to {number(changed.fan_rpm, 3)} /min", Origin.COMPUTED),
        Fact("chip to heatsink", f"{base.model.r_fast_k_w:.2f} K/W", Origin.FITTED),
        Fact("heatsink to room", f"{base.model.r_slow_k_w:.2f} K/W", Origin.FITTED),
    )
    held = "held back by heat" if changed.held_back else "not held back"
    return Because(
        state.words, "two-node steady state",
        "Room + power x resistance = chip; the clock falls until that is at the limit, the fan follows its curve.",
        facts, held, "", tuple(f"{a[:1].upper()}{a[1:]}." for a in assumptions(base)),
    )  # fmt: skip
