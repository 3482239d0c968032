"""A step of the work: what to do, with what, which caution, what must be true before, what taking it back costs."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from brachium.core.work.hazards import Tag


class Gate(StrEnum):
    """What must be true before a step, beside the steps that it needs; `gates.py` judges it."""

    DATA_SAFE = "the owner's data is settled"
    LAST_CHANCE = "the before-run is kept and what can only be done before opening done"


class Mode(StrEnum):
    """In which state of the machine a step is done."""

    BENCH = "beside the machine"
    RUNNING = "closed and running"
    OPEN = "unplugged and open"


class Motion(StrEnum):
    """Which way the hands move what the step touches; the picture draws it."""

    NONE = ""
    OUT = "lifted off"
    IN = "pressed straight in"
    SLANT = "in at a slant, then flat"
    SLIDE = "slid in"
    TURN = "turned"


@dataclass(frozen=True)
class Step:
    """One step. `gate` is what must be true before it may be ticked; `needs` the steps before it; `undo` what taking it
    back costs. `layer` is what it takes off ("-") or puts back ("+"), such as "-cover"."""

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
    mode: Mode = Mode.OPEN
    needs: tuple[str, ...] = ()
    layer: str = ""
    tags: frozenset[Tag] = frozenset()
    signs: tuple[str, ...] = ()  # one for each caution
    places: tuple[str, ...] = ()  # where the hands go, by the machine's place ids
    motion: Motion = Motion.NONE
