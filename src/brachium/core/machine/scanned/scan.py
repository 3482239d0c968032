"""What a machine says of itself, field by field, with the raw value and what it was read from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True)
class ScannedField:
    """One field with the raw value and what it was read from."""

    key: str
    value: str | int | float
    raw: str
    source: str


@dataclass(frozen=True)
class ScannedPlace:
    """A memory slot as the firmware lists it; size 0 = empty, None = unknown. Speeds in MT/s, voltage in mV."""

    handle: int
    size_bytes: int | None = None
    form: str | None = None
    type: str | None = None
    locator: str | None = None
    bank: str | None = None
    speed_mts: int | None = None
    configured_mts: int | None = None
    configured_mv: int | None = None
    part: str | None = None
    ecc: bool | None = None
    ranks: int | None = None
    buffering: str | None = None
    size_at_least: bool = False
    perhaps_soldered: bool = False


@dataclass(frozen=True)
class ScannedModule:
    """A memory module's own word (SPD). `volts` are all voltages it is rated for; doubtful where the checksum fails."""

    at: str
    generation: str
    size_bytes: int | None = None
    speed_mts: int | None = None
    volts: tuple[float, ...] = ()
    part: str | None = None
    checksum_ok: bool = True
    ranks: int | None = None
    width: int | None = None
    ecc: bool | None = None
    buffering: str | None = None
    cas: int | None = None


@dataclass(frozen=True)
class ScannedDrive:
    """A whole drive. `link` and `link_max` as the kernel words them: "6.0 Gbps", "gen 3 x4"."""

    name: str
    kind: str
    size_bytes: int | None = None
    model: str | None = None
    serial: str | None = None
    firmware: str | None = None
    rotational: bool | None = None
    link: str | None = None
    link_max: str | None = None
    counters: Mapping[str, int] = field(default_factory=dict)  # the drive's own, by the names of drive_health
    unreadable: tuple[str, ...] = ()  # counters in a coding of the drive's own
    failed: tuple[int, ...] = ()  # attributes that the drive itself calls failed
    temperature_c: int | None = None


@dataclass(frozen=True)
class ScannedBattery:
    """Full and design capacity in one unit (Wh or Ah); `health` = full / design, may exceed 1."""

    present: bool
    full: float | None = None
    design: float | None = None
    unit: str = ""
    health: float | None = None
    cycles: int | None = None
    full_wh: float | None = None
    design_wh: float | None = None
    volts: float | None = None
    name: str | None = None


@dataclass(frozen=True)
class ScannedSlot:
    """A card or M.2 slot as the firmware lists it; its lanes are the connector's, and `usage` may lie."""

    name: str | None = None
    kind: str | None = None
    lanes: int | None = None
    usage: str | None = None
    address: str | None = None


@dataclass(frozen=True)
class ScannedDevice:
    """A PCI device with its link: what it runs at now, what it could."""

    address: str
    kind: str | None = None
    link: str | None = None
    link_max: str | None = None
    name: str | None = None
    id: str | None = None


@dataclass(frozen=True)
class ScannedAdapter:
    """A mains adapter as the kernel sees it."""

    name: str
    online: bool


@dataclass(frozen=True)
class ScannedPack:
    """A battery as the firmware lists it: design figures only."""

    name: str | None = None
    maker: str | None = None
    design_mwh: int | None = None


@dataclass(frozen=True)
class ScannedSupply:
    """A power supply or adapter as the firmware lists it."""

    name: str | None = None
    maker: str | None = None
    max_w: int | None = None


@dataclass(frozen=True)
class Absent:
    """What could not be read, why, and the command that would fill it (empty where none would)."""

    what: str
    why: str
    command: str = ""


@dataclass(frozen=True)
class Scan:
    """One reading of a machine."""

    MERGES_WHOLE = True  # half of one reading and half of another are none

    fields: tuple[ScannedField, ...] = ()
    places: tuple[ScannedPlace, ...] = ()
    drives: tuple[ScannedDrive, ...] = ()
    batteries: tuple[ScannedBattery, ...] = ()
    memory_max_bytes: int | None = None
    absent: tuple[Absent, ...] = ()
    notes: tuple[str, ...] = field(default=())
    modules: tuple[ScannedModule, ...] = ()
    slots: tuple[ScannedSlot, ...] = ()
    devices: tuple[ScannedDevice, ...] = ()
    adapters: tuple[ScannedAdapter, ...] = ()
    packs: tuple[ScannedPack, ...] = ()
    supplies: tuple[ScannedSupply, ...] = ()
    sensors: tuple[str, ...] = ()

    def field(self, key: str) -> ScannedField | None:
        return next((f for f in self.fields if f.key == key), None)

    def text(self, key: str) -> str:
        found = self.field(key)
        return str(found.value) if found is not None else ""
