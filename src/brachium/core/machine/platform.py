"""What a machine offers beside memory and drives: board, case, heat contacts, card and fan places, system.

None = not known, which is never guessed.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from brachium.core.base.marks import of_machine, of_model, of_stay
from brachium.core.machine.card_parts import RadioKey
from brachium.core.machine.cooling_parts import AirPath, FanPlug

SOCKET, COOLER, BOARD, SUPPLY = "socket", "cooler", "board", "supply"
ADAPTER, BATTERY, RADIO, PASTE, PADS = "adapter", "battery", "radio", "paste", "pads"
GRAPHICS, SECOND_BATTERY = "graphics", "battery-2"
SINGLE_PLACES = {
    SOCKET: "Processor socket", COOLER: "Cooler", BOARD: "Main board", SUPPLY: "Power supply", ADAPTER: "Adapter",
    BATTERY: "Battery", RADIO: "Radio card", PASTE: "Paste", PADS: "Thermal pads",
    GRAPHICS: "Graphics chip", SECOND_BATTERY: "Second battery",
}  # fmt: skip


class BootMode(StrEnum):
    LEGACY = "legacy"
    UEFI = "UEFI"


class DriveMode(StrEnum):
    """Mode of the SATA controller."""

    AHCI = "AHCI"
    LEGACY = "legacy"
    RAID = "RAID"  # drives are hidden from systems without its driver


@dataclass(frozen=True)
class Board:
    """The main board. `families` are the processor families that its chipset lists, `steps` its firmware versions
    in the maker's order, `power_w` what its processor supply was specified for [W]."""

    soldered: bool | None = of_model(None)
    socket: str | None = of_model(None)
    revision: str | None = of_model(None)
    families: tuple[str, ...] | None = of_model(None)
    steps: tuple[str, ...] = of_model(())
    power_w: float | None = of_model(None)
    boot_modes: tuple[BootMode, ...] | None = of_model(None)
    nvme_start: bool | None = of_model(None)
    drive_mode: DriveMode | None = of_machine(None)
    functions: tuple[str, ...] | None = of_model(None)  # of firmware and board that a system may ask for: UEFI, TPM 2.0
    own_plugs: bool | None = of_model(None)
    graphics_outputs: bool | None = of_model(None)
    network_mbit_s: float | None = of_model(None)
    date_cell_weak: bool = of_machine(False)  # noticed; a fresh one goes in at every opening anyway
    bulging_caps: bool = of_machine(False)  # noticed
    cooler_pattern: str | None = of_model(None)
    form: str | None = of_model(None)
    drive_modes: tuple[DriveMode, ...] | None = of_model(None)
    staggered_start: bool | None = of_model(None)  # disks are started one after another


@dataclass(frozen=True)
class Case:
    """The case: room for a cooler and for cards [mm], standoff places, outlines of boards, form of the supply."""

    cooler_mm: float | None = None
    air: AirPath | None = None
    boards: tuple[str, ...] | None = None
    standoffs: int | None = None
    cutout: bool | None = None
    supply_form: str | None = None
    low_profile: bool | None = None


@dataclass(frozen=True)
class Contacts:
    """Heat contacts: area [mm2], whether the die is bare, metal of the plate, contacts that lie bare near it, thickness
    of the pads [mm], how many chips share the heatsink."""

    area_mm2: float | None = None
    bare_die: bool | None = None
    aluminium: bool | None = None
    bare_contacts: bool | None = None
    pad_mm: float | None = None
    chips: int | None = None
    pipe_grooves: bool | None = None
    board_out: bool = False  # on this model the board comes out before the cooler can


class PasteState(StrEnum):
    """What was seen under a cooler."""

    FRESH = "fresh"
    DRY = "dry, cracked"
    PUMPED_OUT = "pumped out"
    PAD = "pad, no paste"
    NONE = "none there"


@dataclass(frozen=True)
class ChipContact:
    """One chip under the plate: whether its die is bare, pad thickness as a range [mm], metal, state of the paste."""

    id: str
    label: str
    bare_die: bool | None = None
    pad_min_mm: float | None = None
    pad_max_mm: float | None = None
    aluminium: bool | None = None
    pipes: bool | None = None
    paste: PasteState | None = None


class HeldBy(StrEnum):
    """What holds a machine shut."""

    SCREWS = "screws"
    CLIPS = "clips"
    BOTH = "screws and clips"
    GLUE = "glue"
    SLIDE = "a sliding panel"


class CoolerHold(StrEnum):
    """What holds the processor's cooler down."""

    SCREWS = "screws"
    BACK_PLATE = "screws into a back plate"
    PUSH_PINS = "push pins"
    CLIP = "a clip with a lever"


@dataclass(frozen=True)
class Build:
    """How the machine is put together: what holds it shut, heads and number of its screws, trim that breaks, what lies
    over other parts inside, a ribbon that still holds the lid when it is open."""

    held_by: HeldBy | None = None
    screw_head: str | None = None
    screws: int | None = None
    trim_breaks: bool | None = None
    processor_lock: str | None = None  # lever, screw lock
    cooler_hold: CoolerHold | None = None
    lid_ribbon: bool | None = None
    glass_glued: bool | None = None
    optical_over: bool | None = None
    shroud: bool | None = None


@dataclass(frozen=True)
class FirmwareSettings:
    """What is set in the firmware now; noted before it may forget them."""

    secure_start: bool | None = None
    start_order: str | None = None
    memory_profile: str | None = None
    fan_curve: str | None = None
    virtualisation: bool | None = None
    power_on_after_mains: bool | None = None
    date_kept: bool | None = None


@dataclass(frozen=True)
class CardSlot:
    """A place for a card: lanes of the connector and wired, PCIe generation, room [mm] and in thicknesses, power [W].

    `excludes` are places that are switched off while it is used; `outside` = a box on a cable, with its own supply.
    """

    id: str
    label: str
    lanes: int | None = None
    wired: int | None = None
    generation: int | None = None
    open_end: bool | None = None
    length_mm: float | None = None
    thickness: int | None = None
    power_w: float | None = None
    excludes: tuple[str, ...] = ()
    outside: bool = False


@dataclass(frozen=True)
class FanHeader:
    """A fan's plug on the board and its place in the case."""

    id: str
    label: str
    plug: FanPlug | None = None
    current_a: float | None = None
    size_mm: float | None = None
    thickness_mm: float | None = None
    needs_speed: bool | None = None


@dataclass(frozen=True)
class RadioPlace:
    """The place of the radio card: key, antennas there, their plug, ids that firmware allows (empty = any), whether
    it is wired to a processor that holds half of a radio."""

    key: RadioKey | None = None
    antennas: int | None = None
    plug: str | None = None
    allowed: tuple[str, ...] | None = None
    processor_bus: bool | None = None


@dataclass(frozen=True)
class PowerInput:
    """A laptop's power input: adapter power that it identifies for full speed [W] and its [V], USB-C or a plug of its
    own, whether its battery sits inside, under the cover, or comes out from outside, and what it asks of a
    battery: nominal voltage [V] and plug."""

    adapter_w: float | None = None
    usb_c: bool | None = None
    battery_inside: bool | None = None
    adapter_v: float | None = None
    plug: str | None = None
    polarity: str | None = None
    battery_v: float | None = None
    battery_plug: str | None = None


@dataclass(frozen=True)
class InstalledSystem:
    """The system as installed: bits, address extension, the edition's memory ceiling [byte], start mode, bytes used.

    `ceiling_bytes` None = the edition has none.
    """

    bits: int | None = of_model(None)
    extension: bool | None = of_model(None)
    ceiling_bytes: int | None = of_model(None)
    boot_mode: BootMode | None = of_machine(None)
    used_bytes: int | None = of_machine(None)
    edition: str | None = of_machine(None)
    encrypted: bool | None = of_machine(None)
    drivers: tuple[str, ...] | None = of_machine(None)
    updates_pending: bool | None = of_machine(None)
    services: tuple[str, ...] | None = of_machine(None)
    planned: str = of_stay("")  # id of the system it is to run, from the table of systems; empty = stays as it is


@dataclass(frozen=True)
class Platform:
    """Everything of a machine beside memory and drives."""

    board: Board = of_model(factory=Board)
    case: Case = of_model(factory=Case)
    contacts: Contacts = of_model(factory=Contacts)
    cards: tuple[CardSlot, ...] = of_model(())
    headers: tuple[FanHeader, ...] = of_model(())
    radio: RadioPlace = of_model(factory=RadioPlace)
    power: PowerInput = of_model(factory=PowerInput)
    system: InstalledSystem = of_model(factory=InstalledSystem)
    chips: tuple[ChipContact, ...] = of_model(())  # under the cooler, beside the processor
    build: Build = of_model(factory=Build)
    settings: FirmwareSettings = of_machine(factory=FirmwareSettings)
    panel_px: tuple[int, ...] | None = of_model(None)
    panel_in: float | None = of_model(None)
    cache_pairs: tuple[tuple[str, ...], ...] = of_model(())  # drive bays that are seen as one: cache pairs and arrays
