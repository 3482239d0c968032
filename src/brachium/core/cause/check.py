"""One check: what is done, how long it takes, which answers it can give and what each says."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.cause.signs import Sign

BESIDE = 0.15  # of an attended minute, that one costs which runs by itself
# Rungs of the overheating ladder, cheapest first
SURFACE, OUTSIDE, STAND, FAN, OPEN, PASTE, LIMITS, ACCEPTED = range(1, 9)
HOT = "Hot heatsinks: let it cool before you touch it."
LIVE = "Shut down, unplug, take the battery out or unplug it first, hold the power button 10 s; wrist strap."
DUST = "Blow outdoors or at an extraction, with a mask; hold the fan's blades still."


@dataclass(frozen=True)
class Check:
    """A sign that costs time: minutes of a person, minutes that run by themselves, how it is done, cautions.

    `rung` is its place on the overheating ladder (0 = not on it), `opens` whether the machine is opened for it,
    `loads_drive` whether a drive is read or copied at length, which a dying one may not survive. `moot` are signs
    in the states ("" = any) that say already what the check would; `tools` what is needed for it.
    """

    sign: Sign
    how: str
    attended_min: float
    unattended_min: float = 0.0
    caution: str = ""
    rung: int = 0
    opens: bool = False
    loads_drive: bool = False
    moot: tuple[tuple[str, str], ...] = ()
    tools: str = ""

    @property
    def id(self) -> str:
        return self.sign.id

    @property
    def title(self) -> str:
        return self.sign.title

    @property
    def cost_min(self) -> float:
        """What it costs: minutes that run by themselves count little."""
        return self.attended_min + BESIDE * self.unattended_min
