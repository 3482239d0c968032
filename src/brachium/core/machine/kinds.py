"""Kinds of machine: what comes through the door, and which of them are alike in build."""

from __future__ import annotations

from enum import StrEnum


class MachineKind(StrEnum):
    """Kind by build; `NOT_KNOWN` is a machine whose kind nobody said."""

    LAPTOP = "laptop"
    SMALL_DESKTOP = "small desktop"
    TOWER = "tower"
    ALL_IN_ONE = "all-in-one"
    HANDHELD = "handheld"
    MINI_PC = "mini PC"
    TABLET = "two-in-one or glued tablet"
    WORKSTATION = "workstation"
    STORAGE_BOX = "rack or storage box"
    RETRO = "retro machine"
    NOT_KNOWN = "not known"

    @property
    def build(self) -> MachineKind:
        """The kind that it is drawn, opened and looked over like; a machine of unknown kind like a tower."""
        return ALIKE.get(self, self)


ALIKE = {
    MachineKind.MINI_PC: MachineKind.SMALL_DESKTOP, MachineKind.TABLET: MachineKind.LAPTOP,
    MachineKind.WORKSTATION: MachineKind.TOWER, MachineKind.STORAGE_BOX: MachineKind.TOWER,
    MachineKind.RETRO: MachineKind.TOWER, MachineKind.NOT_KNOWN: MachineKind.TOWER,
}  # fmt: skip
PORTABLE = (MachineKind.LAPTOP, MachineKind.TABLET, MachineKind.HANDHELD)  # run from a battery
ON_ADAPTER = (*PORTABLE, MachineKind.MINI_PC)  # fed by an adapter outside
