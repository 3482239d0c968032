"""Zones of each kind of machine, where a finding is pinned."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.machine.kinds import MachineKind


@dataclass(frozen=True)
class Zone:
    """A named part of a machine seen from outside or with its cover off."""

    id: str
    title: str


_LAPTOP = (
    Zone("screen", "Screen"),
    Zone("hinges", "Hinges"),
    Zone("keyboard", "Keyboard"),
    Zone("pad", "Pad"),
    Zone("left", "Left side, ports"),
    Zone("right", "Right side, ports"),
    Zone("vents", "Vents and fan"),
    Zone("battery", "Battery"),
    Zone("bottom", "Bottom cover, screws"),
)
_TOWER = (
    Zone("front", "Front, switches, ports"),
    Zone("drives", "Drive cage"),
    Zone("supply", "Power supply"),
    Zone("cooler", "Cooler and fan"),
    Zone("memory", "Memory slots"),
    Zone("cards", "Card slots"),
    Zone("board", "Board, cables"),
    Zone("back", "Back, ports, vents"),
)
_SMALL = (
    Zone("front", "Front, switches, ports"),
    Zone("drives", "Drive cage"),
    Zone("cooler", "Cooler and fan"),
    Zone("memory", "Memory slots"),
    Zone("board", "Board, cables"),
    Zone("supply", "Power supply"),
    Zone("back", "Back, ports, vents"),
)
_ALL_IN_ONE = (
    Zone("screen", "Screen"),
    Zone("camera", "Camera, microphones"),
    Zone("chin", "Lower edge, switches"),
    Zone("vents", "Vents and fan"),
    Zone("ports", "Ports at the back"),
    Zone("stand", "Stand"),
    Zone("back", "Back cover, screws"),
)
_HANDHELD = (
    Zone("screen", "Screen"),
    Zone("left", "Left buttons and stick"),
    Zone("right", "Right buttons and stick"),
    Zone("top", "Upper edge, vents"),
    Zone("bottom", "Lower edge, ports"),
    Zone("battery", "Battery"),
)
ZONES: dict[MachineKind, tuple[Zone, ...]] = {
    MachineKind.LAPTOP: _LAPTOP,
    MachineKind.TOWER: _TOWER,
    MachineKind.SMALL_DESKTOP: _SMALL,
    MachineKind.ALL_IN_ONE: _ALL_IN_ONE,
    MachineKind.HANDHELD: _HANDHELD,
}


def zone_title(kind: MachineKind, zone_id: str) -> str:
    """The name of a zone; its id where this kind of machine has none of that name (the kind was changed)."""
    return next((z.title for z in ZONES[kind.build] if z.id == zone_id), zone_id)
