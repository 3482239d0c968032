"""A step of the work: what to do, with what, which caution, what must be true before, what taking it back costs."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

STATIC = "Wear the anti-static strap and clip it to bare metal."
MAINS = "Unplug the adapter and remove the battery before any cover; never open a power supply."
CELL = (
    "A swollen, hot or dented battery stops the job: do not press, pierce or charge it; isolate it, follow local rules."
)
DUST = "Blow dust outdoors or at an extraction, with a mask. Hold the fan blades still."
SPIRIT = "Isopropyl alcohol burns: air the room, no flame, no spark."
EDGES = "Sheet-metal edges cut; the heatsink may still be hot."


class Gate(StrEnum):
    """What must be true before a step; `gates.py` judges it."""

    DATA_SAFE = "the owner's data is settled"
    BEFORE_RUN = "the before-run is kept"
    OPENED = "the machine is unplugged and open"
    ALL_BEFORE = "every step before it is ticked"


@dataclass(frozen=True)
class Step:
    """One step. `gate` is what must be true before it may be ticked; `undo` what taking it back costs."""

    id: str
    title: str
    detail: str
    tools: str = ""
    cautions: tuple[str, ...] = ()
    attended_min: float = 2.0
    unattended_min: float = 0.0
    gate: Gate | None = None
    undo: str = ""
    no_return: bool = False
