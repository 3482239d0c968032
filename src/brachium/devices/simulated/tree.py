"""The system tree of a simulated machine: what a kernel would show there, for the scan to read like any other."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive, DriveInterface
from brachium.devices.simulated.firmware import entry_point, module_data, tables

WORDS = {300.0: "3.0 Gbps", 150.0: "1.5 Gbps", 600.0: "6.0 Gbps"}


@dataclass(frozen=True)
class TreeBattery:
    """Energy in Wh; a health below 1 is wear."""

    design_wh: float
    full_wh: float
    cycles: int = 0


@dataclass(frozen=True)
class TreeState:
    """What the record does not hold: battery, links that came up slow (by bay), modules that are not found."""

    battery: TreeBattery | None = None
    mains: bool = True
    slow_links: Mapping[str, str] = field(default_factory=dict)
    unseen: frozenset[str] = frozenset()
    uefi: bool = True


def write_tree(machine: Machine, state: TreeState, root: Path) -> Path:
    """Write the tree below `root`, which must be empty or absent; returns it."""
    _TreeWriter(root).whole(machine, state)
    return root


class _TreeWriter:
    def __init__(self, root: Path) -> None:
        self._root = root

    def whole(self, machine: Machine, state: TreeState) -> None:
        self._firmware(machine, state)
        self._modules(machine, state)
        self._processor(machine)
        self._drives(machine, state)
        self._power(state)
        self._put("/proc/meminfo", f"MemTotal: {int(0.96 * machine.configuration().memory_bytes()) // 1024} kB")
        self._put("/etc/os-release", f'PRETTY_NAME="{machine.identity.system or "Linux on a stick"}"')

    def _put(self, name: str, content: object) -> Path:
        path = self._root / name.lstrip("/")
        path.parent.mkdir(parents=True, exist_ok=True)
        if isinstance(content, bytes):
            path.write_bytes(content)
        else:
            path.write_text(f"{content}\n", encoding="utf-8")
        return path

    def _firmware(self, machine: Machine, state: TreeState) -> None:
        table = tables(machine, state.unseen)
        self._put("/sys/firmware/dmi/tables/DMI", table)
        self._put("/sys/firmware/dmi/tables/smbios_entry_point", entry_point(table))
        if state.uefi:
            self._put("/sys/firmware/efi/efivars/SecureBoot-1", b"\x06\x00\x00\x00\x00")

    def _modules(self, machine: Machine, state: TreeState) -> None:
        modules = machine.configuration().modules()
        for number, slot in enumerate(machine.slots):
            module = modules.get(slot.id)
            data = module_data(module) if module is not None and slot.id not in state.unseen else None
            if data is not None:
                self._put(f"/sys/bus/i2c/devices/0-{0x50 + number:04x}/eeprom", data)

    def _processor(self, machine: Machine) -> None:
        chip = machine.processor
        threads, cores = chip.threads or 1, chip.cores or 1
        self._put("/proc/cpuinfo", "\n".join(f"processor\t: {k}\nmodel name\t: {chip.name}" for k in range(threads)))
        for k in range(threads):
            folder = f"/sys/devices/system/cpu/cpu{k}"
            self._put(f"{folder}/topology/physical_package_id", 0)
            self._put(f"{folder}/topology/core_id", k % cores)
        self._put("/sys/class/hwmon/hwmon0/name", "chip")

    def _drives(self, machine: Machine, state: TreeState) -> None:
        """Drives in the order of their bays; a bay's link is what came up, which a bad cable may have slowed."""
        drives = machine.configuration().drives()
        ports = nvme = 0
        for bay in machine.bays:
            drive = drives.get(bay.id)
            if drive is None:
                continue
            if bay.interface is DriveInterface.NVME:
                self._nvme(nvme, drive)
                nvme += 1
            else:
                ports += 1
                link = state.slow_links.get(bay.id) or WORDS.get(bay.link_mb_s or 0.0, "<unknown>")
                self._sata(ports, drive, link)

    def _sata(self, port: int, drive: Drive, link: str) -> None:
        name = f"sd{chr(96 + port)}"
        self._block(f"/sys/devices/pci0/ata{port}/host{port}/block/{name}", name, drive)
        self._put(f"/sys/class/ata_link/link{port}/sata_spd", link)
        words = [0] * 256
        text = drive.name.encode("ascii", "replace")[:40].ljust(40)
        words[27:47] = [int.from_bytes(text[k : k + 2], "big") for k in range(0, 40, 2)]
        words[76], words[217] = 0x000E, 0x1518 if drive.rotational else 1
        self._put(f"/sys/class/ata_device/dev{port}.0/id", " ".join(f"{w:04x}" for w in words))

    def _nvme(self, number: int, drive: Drive) -> None:
        folder = f"/sys/devices/pci0/nvme/nvme{number}/nvme{number}n1"
        self._block(folder, f"nvme{number}n1", drive)
        self._put(f"{folder}/device/model", drive.name)
        for kind in ("current", "max"):
            self._put(f"{folder}/device/device/{kind}_link_speed", "8.0 GT/s PCIe")
            self._put(f"{folder}/device/device/{kind}_link_width", 4)

    def _block(self, folder: str, name: str, drive: Drive) -> None:
        self._put(f"{folder}/size", drive.size_bytes // 512)
        self._put(f"{folder}/queue/rotational", int(drive.rotational))
        link = self._root / "sys/block" / name
        link.parent.mkdir(parents=True, exist_ok=True)
        link.symlink_to(self._root / folder.lstrip("/"))

    def _power(self, state: TreeState) -> None:
        self._put("/sys/class/power_supply/AC/type", "Mains")
        self._put("/sys/class/power_supply/AC/online", int(state.mains))
        if state.battery is not None:
            folder = "/sys/class/power_supply/BAT0"
            for key, value in (("type", "Battery"), ("present", 1), ("energy_full", round(1e6 * state.battery.full_wh)),
                               ("energy_full_design", round(1e6 * state.battery.design_wh)),
                               ("cycle_count", state.battery.cycles)):  # fmt: skip
                self._put(f"{folder}/{key}", value)
