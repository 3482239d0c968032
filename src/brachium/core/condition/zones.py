"""Zones of the drawing of each kind of machine, where a finding is pinned; boxes in shares of the drawing."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.machine.kinds import MachineKind


@dataclass(frozen=True)
class Zone:
    """A named part of a machine seen from outside or with its cover off."""

    id: str
    title: str
    x: float
    y: float
    w: float
    h: float


_LAPTOP = (
    Zone("screen", "Screen", 0.18, 0.02, 0.64, 0.36),
    Zone("hinges", "Hinges", 0.18, 0.38, 0.64, 0.06),
    Zone("keyboard", "Keyboard", 0.20, 0.46, 0.60, 0.24),
    Zone("pad", "Pad", 0.40, 0.72, 0.20, 0.12),
    Zone("left", "Left side, ports", 0.06, 0.46, 0.12, 0.40),
    Zone("right", "Right side, ports", 0.82, 0.46, 0.12, 0.40),
    Zone("vents", "Vents and fan", 0.20, 0.72, 0.18, 0.24),
    Zone("battery", "Battery", 0.62, 0.72, 0.18, 0.12),
    Zone("bottom", "Bottom cover, screws", 0.40, 0.86, 0.40, 0.10),
)
_TOWER = (
    Zone("front", "Front, switches, ports", 0.04, 0.06, 0.16, 0.88),
    Zone("drives", "Drive cage", 0.22, 0.06, 0.22, 0.40),
    Zone("supply", "Power supply", 0.22, 0.70, 0.30, 0.24),
    Zone("cooler", "Cooler and fan", 0.48, 0.10, 0.20, 0.26),
    Zone("memory", "Memory slots", 0.70, 0.10, 0.12, 0.26),
    Zone("cards", "Card slots", 0.46, 0.42, 0.36, 0.24),
    Zone("board", "Board, cables", 0.54, 0.70, 0.28, 0.24),
    Zone("back", "Back, ports, vents", 0.84, 0.06, 0.12, 0.88),
)
_SMALL = (
    Zone("front", "Front, switches, ports", 0.04, 0.10, 0.14, 0.80),
    Zone("drives", "Drive cage", 0.20, 0.10, 0.24, 0.36),
    Zone("cooler", "Cooler and fan", 0.48, 0.12, 0.22, 0.36),
    Zone("memory", "Memory slots", 0.72, 0.12, 0.10, 0.36),
    Zone("board", "Board, cables", 0.20, 0.52, 0.36, 0.38),
    Zone("supply", "Power supply", 0.58, 0.56, 0.24, 0.34),
    Zone("back", "Back, ports, vents", 0.84, 0.10, 0.12, 0.80),
)
_ALL_IN_ONE = (
    Zone("screen", "Screen", 0.12, 0.04, 0.76, 0.56),
    Zone("camera", "Camera, microphones", 0.42, 0.00, 0.16, 0.04),
    Zone("chin", "Lower edge, switches", 0.12, 0.60, 0.76, 0.08),
    Zone("vents", "Vents and fan", 0.12, 0.72, 0.22, 0.12),
    Zone("ports", "Ports at the back", 0.66, 0.72, 0.22, 0.12),
    Zone("stand", "Stand", 0.38, 0.70, 0.24, 0.28),
    Zone("back", "Back cover, screws", 0.12, 0.86, 0.22, 0.12),
)
_HANDHELD = (
    Zone("screen", "Screen", 0.24, 0.18, 0.52, 0.52),
    Zone("left", "Left buttons and stick", 0.04, 0.18, 0.18, 0.52),
    Zone("right", "Right buttons and stick", 0.78, 0.18, 0.18, 0.52),
    Zone("top", "Upper edge, vents", 0.24, 0.06, 0.52, 0.10),
    Zone("bottom", "Lower edge, ports", 0.24, 0.72, 0.52, 0.10),
    Zone("battery", "Battery", 0.30, 0.84, 0.40, 0.12),
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
