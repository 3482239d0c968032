"""What is recorded of a drive that goes in or comes out: how the system moves, what becomes of the old one, its
erasure."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from brachium.core.drives.assumptions import BRIDGE_MB_S


class Way(StrEnum):
    """How the system comes to the new drive."""

    COPY = "copy the old drive"
    FRESH = "install anew"
    IMAGE = "restore the image"  # never chosen: the old drive fails and is not read a second time


class Pulled(StrEnum):
    """What becomes of the drive that comes out."""

    OWNER = "back to the owner"
    STAYS = "stays in the machine"
    SHELF = "onto the shelf, erased first"
    ERASED = "erased, then out of the house"


@dataclass(frozen=True)
class Transfer:
    """What was decided: way, used bytes where typed [GiB], rate of the bridge [MB/s], minutes for the owner's programs
    after a fresh installation, what becomes of the old drive."""

    way: Way = Way.COPY
    used_gib: float | None = None
    bridge_mb_s: float = BRIDGE_MB_S
    programs_min: float = 30.0
    pulled: Pulled = Pulled.OWNER


class EraseMethod(StrEnum):
    OVERWRITE = "overwritten once, whole"
    COMMAND = "the drive's own erase command"
    KEY = "encryption key destroyed"
    DESTROYED = "destroyed by a licensed taker"


class Verified(StrEnum):
    """How it was checked that nothing is left."""

    SAMPLES = "samples read back from all over"
    WHOLE = "read back whole"
    PAPER = "the taker's certificate"


@dataclass(frozen=True)
class Erasure:
    """The record: which drive, how, how verified, by whom and when; all of it is needed."""

    drive: str
    method: EraseMethod
    verified: Verified
    who: str
    when: str
    note: str = ""
