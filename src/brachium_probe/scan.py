"""Reads what a machine says about itself, from a live, captured or simulated system tree, without other programs.

The result is plain data: `fields` (key, value, raw, source), lists of what sits where, `absent` (what, why, command).
"""

from __future__ import annotations

import re
from typing import Dict, List, Tuple

from brachium_probe import counters, facts, processor, remarks, startup
from brachium_probe.health import Health, read_health
from brachium_probe.smbios.fields import clean, decoded
from brachium_probe.smbios.names import CHASSIS
from brachium_probe.smbios.tables import Table, entry_point_problem, read_entry_point, read_table
from brachium_probe.spd import read_spd
from brachium_probe.tree import Tree
from brachium_probe.words import hex_digits, is_name, is_order_code, pci_class

Fields = Dict[str, object]
SCAN_VERSION = 1
DMI = "/sys/class/dmi/id"
TABLES = "/sys/firmware/dmi/tables"
AS_ROOT = "start the program or the probe as root (sudo)"
GT_S = {"2.5": 1, "5.0": 2, "5": 2, "8.0": 3, "8": 3, "16.0": 4, "16": 4, "32.0": 5, "32": 5, "64.0": 6}
MOST_IMPOSSIBLE = 20
HIDDEN_PATH = re.compile(r"nvme\d+c\d+n\d+$")  # one way of several to an NVMe drive that is listed by its own name


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
        devices = self._pci()
        self.notes += remarks.of_slots(tables.get(9, []), devices)
        out: Fields = {
            "version": SCAN_VERSION,
            "memory": memory,
            "modules": self._modules(),
            "drives": self._drives(),
            "slots": tables.get(9, []),
            "pci": devices,
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
            self._miss("firmware tables (slots, modules, serial numbers)", why, AS_ROOT if refused else "")
            return {}
        entry = read_entry_point(entry_data) if entry_data is not None else None
        table: Table = read_table(data, entry)
        if entry_data is not None and entry is None:
            self.notes.append(f"the firmware's table: {entry_point_problem(entry_data)}")
        if table.damaged:
            self.notes.append(f"the firmware's table is damaged: {table.damaged}; {len(table.structures)} read")
        self.notes += [f"the firmware's table: {remark}" for remark in table.remarks]
        found = decoded(table)
        for number, structure in enumerate(table.structures, 1):
            if structure.bad_strings:
                words = ", ".join(str(n) for n in sorted(set(structure.bad_strings)))
                self.notes.append(f"structure {number} (type {structure.kind}) names string {words}, it has "
                                  f"{len(structure.strings)}")  # fmt: skip
        return found

    def _identity(self, tables: Dict[int, List[Fields]]) -> None:
        system, board = {**_first(tables, 1)}, _first(tables, 2)
        system["board"] = board.get("product")
        case = _first(tables, 3)
        for key, field, file, fallback in (
            ("identity.maker", "maker", "sys_vendor", board),
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
        self._model(system)
        self._case_kind(case)
        self._best("case.asset", case.get("asset"), "chassis_asset_tag", None, "type 3")

    def _model(self, system: Fields) -> None:
        """The selling name; some makers put an order code where it belongs and the name into version or family."""
        words = {key: clean(self.tree.text(f"{DMI}/product_{key}")) for key in ("name", "version", "family")}
        product = system.get("product") or words["name"]
        others = [system.get(key) or words[key] for key in ("version", "family")]
        better = next((o for o in others if o and is_order_code(str(product or "")) and is_name(str(o))), None)
        if better is None:
            board = system.get("board")
            self._best("identity.model", system.get("product"), "product_name", board, "type 1")
            return
        self._add("identity.model", better, better, "SMBIOS type 1, version or family")
        self._add("identity.order_code", product, product, "SMBIOS type 1, product")

    def _case_kind(self, case: Fields) -> None:
        """From the table, else from the kernel's copy of the number, which anybody may read."""
        self._best("case.kind", case.get("kind"), "", None, "type 3")
        number = self.tree.text(f"{DMI}/chassis_type") or ""
        if not case.get("kind") and number.isdecimal() and len(number) < 4:
            self._add("case.kind", CHASSIS.get(int(number) & 0x7F), number, f"{DMI}/chassis_type")

    def _firmware(self, tables: Dict[int, List[Fields]]) -> None:
        found = _first(tables, 0)
        for key, field, file in (
            ("firmware.vendor", "vendor", "bios_vendor"),
            ("firmware.version", "version", "bios_version"),
            ("firmware.date", "date", "bios_date"),
        ):
            self._best(key, found.get(field), file, None, "type 0")
        if found.get("uefi") is not None:
            self._add("firmware.uefi_capable", "yes" if found["uefi"] else "no", found["uefi"], "SMBIOS type 0")
        uefi = self.tree.exists("/sys/firmware/efi")
        if self.tree.exists("/sys/firmware"):  # a tree without it says nothing of how it was started
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
        fitted = [p for p in tables.get(4, []) if p.get("populated") is not False]
        first = fitted[0] if fitted else {}
        self._add("processor.name", name or clean(str(first.get("version") or "")), name, "/proc/cpuinfo")
        threads = facts.thread_count(self.tree) or _sum_of(fitted, "threads")
        self._add("processor.threads", threads, "", "/sys/devices/system/cpu")
        cores, source = processor.cores(self.tree)
        self._add("processor.cores", cores or _sum_of(fitted, "cores"), "", source if cores else "SMBIOS type 4")
        count = processor.packages(self.tree) or len(fitted)
        self._add("processor.count", count if count > 1 else None, count, "topology, SMBIOS type 4")
        self._add("processor.socket", first.get("socket"), first.get("socket"), "SMBIOS type 4, upgrade")
        self._add("processor.place", first.get("place"), first.get("place"), "SMBIOS type 4")
        base = self.tree.number("/sys/devices/system/cpu/cpu0/cpufreq/base_frequency")
        self._add("processor.base_mhz", round(base / 1000) if base else None, base, "cpufreq")
        top = self.tree.number("/sys/devices/system/cpu/cpu0/cpufreq/cpuinfo_max_freq")
        self._add("processor.max_mhz", round(top / 1000) if top else None, top, "cpufreq")

    def _memory(self, tables: Dict[int, List[Fields]]) -> Fields:
        arrays = [a for a in tables.get(16, []) if a.get("system")]
        handles = {a["handle"] for a in arrays}
        places = [d for d in tables.get(17, []) if not handles or d.get("array") in handles]
        total = counters.memory_total_bytes(self.tree)
        self._add("memory.usable_bytes", total, total, "/proc/meminfo")
        limit = _total(arrays, "max_bytes")
        self.notes += remarks.of_memory(places, limit)
        for place in places:
            place["perhaps_soldered"] = remarks.may_be_soldered(place, places)
        return {
            "places": places, "max_bytes": limit, "ecc": next((a["ecc"] for a in arrays if a.get("ecc")), None),
            "mapped_bytes": _total(tables.get(19, []), "size_bytes"),
        }  # fmt: skip

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
        return [self._drive(name) for name in counters.disks(self.tree) if not HIDDEN_PATH.match(name)]

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
        self._health(name, out)
        return out

    def _health(self, name: str, out: Fields) -> None:
        """The SMART data and attributes, where it can be asked."""
        size = out["size_bytes"]
        asked = out["kind"] in ("NVMe", "SATA")
        found = read_health(self.tree, name, size // 512 if isinstance(size, int) else None) if asked else Health()
        if found.why == "rights":
            self._miss(f"counters of drive {name}", "a drive may only be asked with more rights", AS_ROOT)
        elif found.why:
            self._miss(f"counters of drive {name}", found.why, "")
        out["counters"], out["attributes"] = found.counters, found.attributes
        out["unreadable"], out["failed"], out["temperature_c"] = found.unreadable, found.failed, found.temperature_c
        if found.unreadable:
            words = ", ".join(w.replace("_", " ") for w in found.unreadable)
            self.notes.append(f"drive {name}: {words}: not readable in this drive's coding")
        if found.failed:
            words = ", ".join(str(k) for k in found.failed)
            self.notes.append(f"drive {name} itself says that it fails: attribute {words} is at its threshold")

    def _drive_kind(self, name: str, real: str) -> str:
        """What the drive hangs on, by its name and its way through the devices."""
        if name.startswith("nvme"):
            return "NVMe"
        if name.startswith("mmcblk"):
            card = self.tree.text(f"/sys/block/{name}/device/type")
            return {"MMC": "eMMC", "SD": "SD card"}.get(card or "", "card")
        if name.startswith("md"):
            return "RAID"
        for part, kind in (("/usb", "USB"), ("/ata", "SATA"), ("/end_device-", "SAS"), ("/virtio", "virtual")):
            if part in real:
                return kind
        raid = self.tree.text(f"/sys/block/{name}/device/raid_level")
        return "RAID" if raid else {"vd": "virtual", "xv": "virtual"}.get(name[:2], "unknown")

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
            ids = [hex_digits(self.tree.text(f"{folder}/{name}")) for name in
                   ("vendor", "device")]  # fmt: skip
            code = self.tree.text(f"{folder}/class")
            out.append({
                "address": address, "kind": code, "name": pci_class(code), "link": now, "link_max": top,
                "id": ":".join(ids) if all(ids) else None,
            })  # fmt: skip
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
        """Charge [Ah] and energy [Wh] are never mixed; charge becomes energy by the design voltage (`*_wh`)."""
        full, design, unit = self._capacity(folder)
        volts = self._positive(f"{folder}/voltage_min_design")
        to_wh = 1.0 if unit == "Wh" else volts / 1e6 if volts and unit == "Ah" else None
        cycles = self._positive(f"{folder}/cycle_count")
        return {
            "present": self.tree.text(f"{folder}/present") != "0",
            "full": full / 1e6 if full else None,
            "design": design / 1e6 if design else None,
            "unit": unit,
            "full_wh": full / 1e6 * to_wh if full and to_wh else None,
            "design_wh": design / 1e6 * to_wh if design and to_wh else None,
            "volts": volts / 1e6 if volts else None,
            "health": full / design if full and design else None,
            "cycles": int(cycles) if cycles else None,
            "chemistry": clean(self.tree.text(f"{folder}/technology")),
            "name": clean(self.tree.text(f"{folder}/model_name")),
        }

    def _positive(self, name: str) -> float | None:
        """A figure above 0; 0 and -1 stand for one that the firmware does not know."""
        value = self.tree.number(name)
        return value if value is not None and value > 0 else None

    def _capacity(self, folder: str) -> tuple[float | None, float | None, str]:
        """(full, design, unit) in the first unit that both are told in, else in the first that one is."""
        found = []
        for stem, unit in (("energy", "Wh"), ("charge", "Ah")):
            full, design = (self._positive(f"{folder}/{stem}_{kind}") for kind in ("full", "full_design"))
            if full or design:
                found.append((full, design, unit))
        whole = next((f for f in found if f[0] and f[1]), None)
        return whole or (found[0] if found else (None, None, ""))

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


def _total(found: List[Fields], key: str) -> int | None:
    """Sum of what is told; None where nothing is."""
    return sum(v for f in found if isinstance(v := f.get(key), int)) or None


def _sum_of(found: List[Fields], key: str) -> int | None:
    """Sum over processors; None where one does not say."""
    values = [p.get(key) for p in found]
    return sum(values) if values and all(isinstance(v, int) for v in values) else None  # type: ignore[arg-type]


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
