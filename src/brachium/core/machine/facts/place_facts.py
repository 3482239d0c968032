"""What can be recorded of places whose part has no entry of its own: socket, supply, battery, card and fan places."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.machine.card_parts import RadioKey
from brachium.core.machine.cooling_parts import FanPlug
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import (
    ADAPTER,
    BATTERY,
    BOARD,
    GRAPHICS,
    RADIO,
    SECOND_BATTERY,
    SOCKET,
    SUPPLY,
    BootMode,
    DriveMode,
    PasteState,
)  # fmt: skip

COOLING = "cooling"
YES_NO = (True, False)


@dataclass(frozen=True)
class FactSpec:
    """A fact by its path in the record, name, unit; `values` to choose from, empty = typed; `whole` = a count."""

    key: str
    title: str
    unit: str = ""
    values: tuple[object, ...] = ()
    text: bool = False
    whole: bool = False


_SINGLE: dict[str, tuple[FactSpec, ...]] = {
    SOCKET: (
        FactSpec("platform.board.soldered", "Soldered", values=YES_NO),
        FactSpec("platform.board.socket", "Socket", text=True),
        FactSpec("platform.board.power_w", "Board", "W"),
        FactSpec("processor.single_rate", "Rate, one"),
        FactSpec("processor.all_rate", "Rate, all"),
    ),
    COOLING: (
        FactSpec("parts.cooler.rated_w", "Cooler rated for", "W"),
        FactSpec("platform.case.cooler_mm", "Room for a cooler", "mm"),
        FactSpec("platform.contacts.chips", "Chips under it", whole=True),
        FactSpec("platform.contacts.pad_mm", "Pads", "mm"),
    ),
    SUPPLY: (
        FactSpec("parts.supply.rated_w", "Rated", "W"),
        FactSpec("parts.supply.rated_12v_w", "Its 12 V", "W"),
        FactSpec("platform.case.supply_form", "Form", text=True),
        FactSpec("platform.board.own_plugs", "Maker's own plugs", values=YES_NO),
    ),
    BOARD: (
        FactSpec("platform.board.form", "Outline", text=True),
        FactSpec("platform.board.drive_mode", "SATA mode", values=tuple(DriveMode)),
        FactSpec("platform.board.nvme_start", "Starts from NVMe", values=YES_NO),
        FactSpec("platform.system.boot_mode", "Boot mode", values=tuple(BootMode)),
    ),
    ADAPTER: (FactSpec("platform.power.adapter_w", "Asks for", "W"),
              FactSpec("platform.power.usb_c", "By USB-C", values=YES_NO)),
    BATTERY: (
        FactSpec("platform.power.battery_inside", "Under the cover", values=YES_NO),
        FactSpec("parts.battery.full_wh", "When full", "Wh"),
        FactSpec("parts.battery.design_wh", "By design", "Wh"),
    ),
    SECOND_BATTERY: (
        FactSpec("parts.battery-2.full_wh", "When full", "Wh"),
        FactSpec("parts.battery-2.design_wh", "By design", "Wh"),
    ),
    GRAPHICS: (
        FactSpec("parts.graphics.memory_bytes", "Memory", "GiB"), FactSpec("parts.graphics.bus_bits", "Bus", "bit",
                                                                           whole=True),
        FactSpec("parts.graphics.power_w", "Power", "W"), FactSpec("parts.graphics.driver", "Driver", text=True),
    ),
    RADIO: (
        FactSpec("platform.radio.key", "Edge key", values=tuple(RadioKey)),
        FactSpec("platform.radio.antennas", "Antennas", whole=True),
        FactSpec("platform.radio.plug", "Antenna plug", text=True),
    ),
}  # fmt: skip


def facts_of(machine: Machine, place_id: str) -> tuple[FactSpec, ...]:
    """What can be recorded of a place; empty where the place is one for memory, drives or leads."""
    if place_id in _SINGLE:
        return _SINGLE[place_id]
    if any(c.id == place_id for c in machine.platform.cards):
        stem = f"platform.cards.{place_id}"
        return (
            FactSpec(f"{stem}.generation", "PCIe generation", whole=True), FactSpec(f"{stem}.wired", "Lanes wired",
                                                                                    whole=True),
            FactSpec(f"{stem}.length_mm", "Room", "mm"), FactSpec(f"{stem}.thickness", "Thickness free", whole=True),
        )  # fmt: skip
    if any(c.id == place_id for c in machine.platform.chips):
        stem = f"platform.chips.{place_id}"
        return (
            FactSpec(f"{stem}.bare_die", "Bare die", values=YES_NO), FactSpec(f"{stem}.paste", "Paste or pad",
                                                                              values=tuple(PasteState)),
            FactSpec(f"{stem}.pad_min_mm", "Pad, least", "mm"), FactSpec(f"{stem}.pad_max_mm", "Pad, most", "mm"),
        )  # fmt: skip
    if any(h.id == place_id for h in machine.platform.headers):
        stem = f"platform.headers.{place_id}"
        return (
            FactSpec(f"{stem}.plug", "Plug", values=tuple(FanPlug)), FactSpec(f"{stem}.size_mm", "Frame", "mm"),
            FactSpec(f"{stem}.thickness_mm", "Thickness", "mm"), FactSpec(f"{stem}.current_a", "Current", "A"),
        )  # fmt: skip
    return ()
