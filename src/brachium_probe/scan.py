"""Reads what a machine says about itself, from a live, captured or simulated system tree, without other programs.

The result is plain data: `fields` (key, value, raw, source), lists of what sits where, `absent` (what, why, command).
"""

from __future__ import annotations

import re
from typing import Dict, List, Tuple

from brachium_probe import counters, facts, startup
from brachium_probe.health import read_health
from brachium_probe.smbios import Table, read_entry_point, read_table
from brachium_probe.smbios_fields import clean, decoded
from brachium_probe.spd import read_spd
from brachium_probe.tree import Tree

Fields = Dict[str, object]
SCAN_VERSION = 1
DMI = "/sys/class/dmi/id"
TABLES = "/sys/firmware/dmi/tables"
AS_ROOT = "start the program or the probe as root (sudo)"
GT_S = {"2.5": 1, "5.0": 2, "5": 2, "8.0": 3, "8": 3, "16.0": 4, "16": 4, "32.0": 5, "32": 5, "64.0": 6}
MOST_IMPOSSIBLE = 20


def scan(tree: Tree) -> Fields:
    """Everything at once. Never raises for what the tree holds: what cannot be read is absent, and why is said."""
    return _Scan(tree).whole()


class _Scan:
    def __init__(self, tree: Tree) -> None:
        self.tree = tree
        self.fields: List[Fields] = []
        self.absent: List[Fields] = []
        self.notes: List[str] = []

    def whole(self) -> Fields:
        tables = self._tables()
        self._identity(tables)
        self._firmware(tables)
        self._start_up()
        self._processor(tables)
        memory = self._memory(tables)
        out: Fields = {
            "version": SCAN_VERSION,
            "memory": memory,
            "modules": self._modules(),
            "drives": self._drives(),
            "slots": tables.get(9, []),
            "pci": self._pci(),
            "batteries": self._batteries(),
            "packs": tables.get(22, []),
            "supplies": tables.get(39, []),
            "adapters": self._adapters(),
            "onboard": tables.get(41, []),
            "sensors": self._sensors(),
        }
        self._add("system.name", facts.system_name(self.tree), "", "/etc/os-release, kernel")
        for name, text in sorted(self.tree.impossible.items())[:MOST_IMPOSSIBLE]:
            self._miss(name, f"“{text}” is no number that can be", "")
        return {**out, "fields": self.fields, "absent": self.absent, "notes": self.notes}

    def _tables(self) -> Dict[int, List[Fields]]:
        entry_data = self.tree.bytes(f"{TABLES}/smbios_entry_point")
        data = self.tree.bytes(f"{TABLES}/DMI")
        if data is None:
            refused = f"{TABLES}/DMI" in self.tree.refused
            why = "the firmware's tables may only be read with more rights" if refused else "no firmware tables here"
            self._miss("firmware tables (places, modules, serial numbers)", why, AS_ROOT if refused else "")
            return {}
        entry = read_entry_point(entry_data) if entry_data is not None else None
        table: Table = read_table(data, entry)
        if table.damaged:
            self.notes.append(f"the firmware's table is damaged: {table.damaged}; {len(table.structures)} read")
        return decoded(table)

    def _identity(self, tables: Dict[int, List[Fields]]) -> None:
        system, board = _first(tables, 1), _first(tables, 2)
        case = _first(tables, 3)
        for key, field, file, fallback in (
            ("identity.maker", "maker", "sys_vendor", board),
            ("identity.model", "product", "product_name", board),
            ("identity.version", "version", "product_version", {}),
            ("identity.serial", "serial", "product_serial", case),
            ("identity.uuid", "uuid", "product_uuid", {}),
            ("identity.family", "family", "product_family", {}),
            ("identity.sku", "sku", "product_sku", {}),
        ):
            self._best(key, system.get(field), file, fallback.get(field), "type 1")
        for key, field, file in (
            ("board.maker", "maker", "board_vendor"),
            ("board.model", "product", "board_name"),
            ("board.serial", "serial", "board_serial"),
        ):
            self._best(key, board.get(field), file, None, "type 2")
        self._best("case.kind", case.get("kind"), "", None, "type 3")
        self._best("case.asset", case.get("asset"), "chassis_asset_tag", None, "type 3")

    def _firmware(self, tables: Dict[int, List[Fields]]) -> None:
        found = _first(tables, 0)
        for key, field, file in (
            ("firmware.vendor", "vendor", "bios_vendor"),
            ("firmware.version", "version", "bios_version"),
            ("firmware.date", "date", "bios_date"),
        ):
            self._best(key, found.get(field), file, None, "type 0")
        uefi = self.tree.exists("/sys/firmware/efi")
        self._add("firmware.mode", "UEFI" if uefi else "legacy", str(uefi), "/sys/firmware/efi")
        if uefi:
            secure = [n for n in self.tree.names("/sys/firmware/efi/efivars") if n.startswith("SecureBoot-")]
            data = self.tree.bytes(f"/sys/firmware/efi/efivars/{secure[0]}") if secure else None
            if data is not None and len(data) >= 5:
                self._add(
                    "firmware.secure_start", "on" if data[4] == 1 else "off", data.hex(), "EFI variable SecureBoot"
                )

    def _start_up(self) -> None:
        """Time from power on to the loader's start: what the loader noted, else the firmware's own table (FPDT)."""
        digits = startup.loader_microseconds(self.tree, "LoaderTimeInitUSec-")
        if digits is not None:
            self._add("startup.firmware_ms", digits // 1000, digits, "EFI variable LoaderTimeInitUSec")
            done = startup.loader_microseconds(self.tree, "LoaderTimeExecUSec-")
            if done is not None and done >= digits:
                self._add("startup.loader_ms", (done - digits) // 1000, done, "EFI variable LoaderTimeExecUSec")
            return
        firmware = startup.firmware_table_s(self.tree)
        if firmware is not None:
            self._add("startup.firmware_ms", round(firmware * 1000), firmware, startup.FPDT)

    def _processor(self, tables: Dict[int, List[Fields]]) -> None:
        name = facts.processor_name(self.tree)
        found = next((p for p in tables.get(4, []) if p.get("populated") is not False), {})
        self._add("processor.name", name or clean(str(found.get("version") or "")), name, "/proc/cpuinfo")
        self._add(
            "processor.threads", facts.thread_count(self.tree) or found.get("threads"), "", "/sys/devices/system/cpu"
        )
        cores = self._cores()
        self._add("processor.cores", cores or found.get("cores"), "", "topology" if cores else "SMBIOS type 4")
        self._add("processor.socket", found.get("socket"), found.get("socket"), "SMBIOS type 4")
        top = self.tree.number("/sys/devices/system/cpu/cpu0/cpufreq/cpuinfo_max_freq")
        self._add("processor.max_mhz", round(top / 1000) if top else None, top, "cpufreq")

    def _cores(self) -> int:
        seen = set()
        for entry in self.tree.names("/sys/devices/system/cpu"):
            if re.match(r"^cpu\d+$", entry):
                folder = f"/sys/devices/system/cpu/{entry}/topology"
                core = self.tree.text(f"{folder}/core_id")
                if core is not None:
                    seen.add((self.tree.text(f"{folder}/physical_package_id"), core))
        return len(seen)

    def _memory(self, tables: Dict[int, List[Fields]]) -> Fields:
        arrays = [a for a in tables.get(16, []) if a.get("system")]
        handles = {a["handle"] for a in arrays}
        places = [d for d in tables.get(17, []) if not handles or d.get("array") in handles]
        total = counters.memory_total_bytes(self.tree)
        self._add("memory.usable_bytes", total, total, "/proc/meminfo")
        limits = [a["max_bytes"] for a in arrays if a.get("max_bytes")]
        return {
            "places": places,
            "max_bytes": sum(limits) if limits else None,  # type: ignore[arg-type]
            "ecc": next((a["ecc"] for a in arrays if a.get("ecc")), None),
            "mapped_bytes": sum(m["size_bytes"] for m in tables.get(19, []) if m.get("size_bytes")) or None,  # type: ignore[misc]
        }

    def _modules(self) -> List[Fields]:
        """SPD bytes where the kernel shows them."""
        out = []
        for bus in self.tree.names("/sys/bus/i2c/devices"):
            name = f"/sys/bus/i2c/devices/{bus}/eeprom"
            data = self.tree.bytes(name) if self.tree.exists(name) else None
            found = read_spd(data) if data else None
            if found is not None:
                if not found["checksum_ok"]:
                    self.notes.append(f"module at {bus}: its checksum is wrong, its data are doubtful")
                out.append({"at": bus, **found})
            elif name in self.tree.refused:
                self._miss("module's own data", "it may only be read with more rights", AS_ROOT)
        return out

    def _drives(self) -> List[Fields]:
        return [self._drive(name) for name in counters.disks(self.tree)]

    def _drive(self, name: str) -> Fields:
        folder = f"/sys/block/{name}"
        sectors = self.tree.number(f"{folder}/size")
        real = self.tree.real(folder)
        rotational = self.tree.number(f"{folder}/queue/rotational")
        nvme = name.startswith("nvme")
        out: Fields = {
            "name": name,
            "size_bytes": int(sectors) * 512 if sectors else None,
            "kind": self._drive_kind(name, real),
            "model": clean(self.tree.text(f"{folder}/device/model")),
            "rotational": None if "usb" in real else bool(rotational),
            "firmware": clean(
                self.tree.text(f"{folder}/device/firmware_rev") or self.tree.text(f"{folder}/device/rev")
            ),
            "serial": clean(self.tree.text(f"{folder}/device/serial")),
            "link": None,
            "link_max": None,
        }
        if nvme:
            out["link"], out["link_max"] = self._pci_link(self.tree.real(f"{folder}/device/device"))
            out["rotational"] = False
        else:
            self._sata_link(real, out)
        out["counters"] = self._counters(name, str(out["kind"]))
        return out

    def _counters(self, name: str, kind: str) -> Dict[str, int]:
        """The drive's own counters, where it can be asked."""
        if kind not in ("NVMe", "SATA"):
            return {}
        found, why = read_health(self.tree, name)
        if why == "rights":
            self._miss(f"counters of drive {name}", "a drive may only be asked with more rights", AS_ROOT)
        elif why:
            self._miss(f"counters of drive {name}", why, "")
        return found

    def _drive_kind(self, name: str, real: str) -> str:
        if name.startswith("nvme"):
            return "NVMe"
        if "/usb" in real:
            return "USB"
        if "/ata" in real:
            return "SATA"
        return {"mm": "card", "vd": "virtual"}.get(name[:2], "unknown")

    def _sata_link(self, real: str, out: Fields) -> None:
        """Negotiated speed of the port, and what the drive itself could do (IDENTIFY word 76)."""
        match = re.search(r"/ata(\d+)/", real + "/")
        if match is None:
            return
        port = match.group(1)
        for link in self.tree.names("/sys/class/ata_link"):
            if link == f"link{port}":
                speed = self.tree.text(f"/sys/class/ata_link/{link}/sata_spd") or ""
                out["link"] = speed if speed and speed != "<unknown>" else None
        for device in self.tree.names("/sys/class/ata_device"):
            if device.startswith(f"dev{port}."):
                words = _identify(self.tree.text(f"/sys/class/ata_device/{device}/id"))
                if words:
                    out.update(_identity_words(words))

    def _pci_link(self, real: str) -> Tuple[str | None, str | None]:
        found = []
        for kind in ("current", "max"):
            speed = (self.tree.text(f"{real}/{kind}_link_speed") or "").split(" ")[0]
            width = self.tree.number(f"{real}/{kind}_link_width")
            known = speed in GT_S and width is not None and 0 < width < 64
            found.append(f"gen {GT_S[speed]} x{int(width or 0)}" if known else None)
        return found[0], found[1]

    def _pci(self) -> List[Fields]:
        out: List[Fields] = []
        for address in self.tree.names("/sys/bus/pci/devices"):
            folder = f"/sys/bus/pci/devices/{address}"
            now, top = self._pci_link(folder)
            out.append({"address": address, "kind": self.tree.text(f"{folder}/class"), "link": now, "link_max": top})
        return out

    def _batteries(self) -> List[Fields]:
        out = []
        for entry in self.tree.names("/sys/class/power_supply"):
            folder = f"/sys/class/power_supply/{entry}"
            if self.tree.text(f"{folder}/type") != "Battery" or self.tree.text(f"{folder}/scope") == "Device":
                continue
            out.append(self._battery(folder))
        return out

    def _battery(self, folder: str) -> Fields:
        """Charge [Ah] and energy [Wh] figures are never mixed; a cycle count of 0 is no count."""
        full, design, unit = self._capacity(folder)
        return {
            "present": self.tree.text(f"{folder}/present") != "0",
            "full": full / 1e6 if full else None,
            "design": design / 1e6 if design else None,
            "unit": unit,
            "health": full / design if full and design else None,
            "cycles": int(self.tree.number(f"{folder}/cycle_count") or 0) or None,
            "chemistry": clean(self.tree.text(f"{folder}/technology")),
        }

    def _capacity(self, folder: str) -> tuple[float | None, float | None, str]:
        """(full, design, unit) from the first pair of figures in one unit."""
        for stem, unit in (("energy", "Wh"), ("charge", "Ah")):
            full, design = (self.tree.number(f"{folder}/{stem}_{kind}") for kind in ("full", "full_design"))
            if full and design:
                return full, design, unit
        return None, None, ""

    def _adapters(self) -> List[Fields]:
        out = []
        for entry in self.tree.names("/sys/class/power_supply"):
            folder = f"/sys/class/power_supply/{entry}"
            if self.tree.text(f"{folder}/type") in ("Mains", "USB"):
                out.append({"name": entry, "online": self.tree.text(f"{folder}/online") == "1"})
        return out

    def _sensors(self) -> List[str]:
        names = [self.tree.text(f"/sys/class/hwmon/{e}/name") for e in self.tree.names("/sys/class/hwmon")]
        return [n for n in names if n]

    def _best(self, key: str, from_table: object, file: str, fallback: object, where: str) -> None:
        """The table's own word, else the kernel's copy of it, else what the board or the case says."""
        name = f"{DMI}/{file}"
        text = self.tree.text(name) if file else None
        if from_table:
            self._add(key, from_table, from_table, f"SMBIOS {where}")
        elif clean(text):
            self._add(key, clean(text), text, name)
        elif fallback:
            self._add(key, fallback, fallback, "SMBIOS type 2 or 3")
        elif file and name in self.tree.refused:
            self._miss(key, "it may only be read with more rights", AS_ROOT)
        elif text:
            self._miss(key, f"the firmware holds only a placeholder ({text})", "")

    def _add(self, key: str, value: object, raw: object, source: str) -> None:
        if value is not None and value != "":
            self.fields.append(
                {"key": key, "value": value, "raw": str(raw if raw is not None else ""), "source": source}
            )

    def _miss(self, what: str, why: str, command: str) -> None:
        line: Fields = {"what": what, "why": why, "command": command}
        if line not in self.absent:
            self.absent.append(line)


def _first(tables: Dict[int, List[Fields]], kind: int) -> Fields:
    found = tables.get(kind)
    return found[0] if found else {}


def _identify(text: str | None) -> List[int]:
    """The 256 words of a drive's IDENTIFY data; empty where they are not all there."""
    try:
        words = [int(w[:40], 16) if re.fullmatch(r"(0x)?[0-9a-fA-F]+", w) else 0 for w in (text or "").split()]
    except ValueError:
        return []
    return words if len(words) == 256 else []


def _identity_words(words: List[int]) -> Fields:
    """Model (words 27-46), serial (10-19), firmware (23-26), turning or not (217), SATA speeds (76)."""

    def chars(first: int, last: int) -> str | None:
        data = b"".join(w.to_bytes(2, "big") for w in words[first : last + 1])
        return clean(data.decode("ascii", "replace"))

    out: Fields = {"model": chars(27, 46), "serial": chars(10, 19), "firmware": chars(23, 26)}
    if words[217] == 1:
        out["rotational"] = False
    elif 0x0401 <= words[217] <= 0xFFFE:
        out["rotational"] = True
    if words[76] not in (0, 0xFFFF):
        speeds = [s for bit, s in ((1, "1.5 Gbps"), (2, "3.0 Gbps"), (3, "6.0 Gbps")) if words[76] >> bit & 1]
        out["link_max"] = speeds[-1] if speeds else None
    return {k: v for k, v in out.items() if v is not None}
