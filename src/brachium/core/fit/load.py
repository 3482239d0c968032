"""What a configuration draws from its supply, part by part, as sustained load [W].

Typical sustained figures stand for what no label gives: a turning disk 8 W, an SSD 3 W, an NVMe drive 6 W, a memory
module 3 W, board with fans and ports 25 W. Of these 12 V carries everything but memory, SSDs and a share of the board.
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.fit.assumptions import BOARD_12V_W, BOARD_W, DISK_W, MODULE_W, NVME_W, SSD_W
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.parts import DriveInterface


@dataclass(frozen=True)
class LoadPart:
    """One piece of the budget: label, draw in all and from 12 V [W]; `assumed` = a typical figure."""

    label: str
    watts: float
    from_12v: float
    assumed: bool


def load_parts(
    machine: Machine, config: Configuration, processor_w: float, card_w: float = 0.0
) -> tuple[LoadPart, ...]:
    """The budget with a processor's power; `card_w` stands for each card whose power is not known."""
    cards = sum(card_w if c.power_w is None else c.power_w for c in config.cards().values())
    disks = sum(d.rotational for d in config.drives().values())
    fast = sum(d.interface is DriveInterface.NVME for d in config.drives().values())
    other = len(config.drives()) - disks - fast
    modules = len(config.modules())
    parts = (
        LoadPart("processor", processor_w, processor_w, False),
        LoadPart("cards", cards, cards, False),
        LoadPart("drives", disks * DISK_W + other * SSD_W + fast * NVME_W, disks * 0.7 * DISK_W, True),
        LoadPart("memory", modules * MODULE_W, 0.0, True),
        LoadPart("board and fans", BOARD_W, BOARD_12V_W, True),
    )
    return tuple(p for p in parts if p.watts > 0.0)
