"""Parts that can sit in a machine's places, and services done to it. All by standard class, brandless."""

from __future__ import annotations

from enum import StrEnum

from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.card_parts import Card, RadioCard
from brachium.core.machine.cooling_parts import Cooler, Fan, Pad, Paste
from brachium.core.machine.drive_part import BayForm, Drive, DriveInterface
from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.power_parts import Adapter, Battery, Supply
from brachium.core.machine.processor_part import ProcessorPart

__all__ = [
    "BayForm", "Drive", "DriveInterface", "MemoryForm", "MemoryGeneration", "MemoryModule", "Part", "Service",
]  # fmt: skip

Part = (
    MemoryModule | Drive | ProcessorPart | Cooler | Fan | Paste | Pad | Card | RadioCard | Supply | Adapter | Battery
    | BoardPart
)  # fmt: skip


class Service(StrEnum):
    """Work on the machine that is not a part."""

    NEW_PASTE = "new paste"
    CLEAN_FINS = "fins and fan cleaned"
    LOWER_VOLTAGE = "voltage lowered"
