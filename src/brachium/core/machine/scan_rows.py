"""Everything that a scan read as rows of text: what, value, raw value, what it was read from."""

from __future__ import annotations

from brachium.core.base.units import drive_size, gib
from brachium.core.machine.scan import Scan, ScannedDrive, ScannedModule, ScannedPlace

Row = tuple[str, str, str, str]
HEADINGS: Row = ("what", "value", "raw", "read from")


# complex: one line a kind of row
def scan_rows(scan: Scan) -> tuple[Row, ...]:
    """All rows, grouped as a person would look for them."""
    rows: list[Row] = [(_name(f.key), _value(f.key, f.value), f.raw, f.source) for f in scan.fields]
    rows += [_place(k, p) for k, p in enumerate(scan.places, 1)]
    rows += [_module(m) for m in scan.modules]
    rows += [_drive(d) for d in scan.drives]
    rows += [(f"drive {d.name}, {key.replace('_', ' ')}", str(value), "", "the drive's own counters")
             for d in scan.drives for key, value in d.counters.items()]  # fmt: skip
    rows += [
        ("battery", f"{b.full:.1f} of {b.design:.1f} {b.unit}" if b.full and b.design else "capacity not told",
         f"{b.cycles} cycles" if b.cycles else "", "/sys/class/power_supply")
        for b in scan.batteries
    ]  # fmt: skip
    rows += [("battery, design", f"{p.design_mwh / 1000:.1f} Wh" if p.design_mwh else "not told", p.name or "",
              "SMBIOS type 22") for p in scan.packs]  # fmt: skip
    rows += [(f"adapter {a.name}", "plugged in" if a.online else "not plugged in", "", "/sys/class/power_supply")
             for a in scan.adapters]  # fmt: skip
    rows += [("power supply", f"{s.max_w} W" if s.max_w else "rating not told", s.name or "", "SMBIOS type 39")
             for s in scan.supplies]  # fmt: skip
    rows += [(f"card place {s.name or ''}".strip(), " ".join(str(v) for v in (s.kind, f"x{s.lanes}" if s.lanes else "")
              if v), s.usage or "", "SMBIOS type 9") for s in scan.slots]  # fmt: skip
    rows += [(f"device {d.address}", d.link or "no link data", f"at most {d.link_max}" if d.link_max else "",
              "/sys/bus/pci") for d in scan.devices]  # fmt: skip
    rows += [("sensor chip", name, "", "/sys/class/hwmon") for name in scan.sensors]
    rows += [(a.what.replace(".", " "), "not read", a.why, a.command) for a in scan.absent]
    return tuple(rows)


def _name(key: str) -> str:
    return key.removesuffix("_bytes").replace(".", " ").replace("_", " ")


def _value(key: str, value: str | int | float) -> str:
    return gib(int(value)) if key.endswith("_bytes") else str(value)


def _place(number: int, place: ScannedPlace) -> Row:
    size = "size not told" if place.size_bytes is None else gib(place.size_bytes) if place.size_bytes else "empty"
    rates = place.size_bytes and place.configured_mts and place.speed_mts
    speed = f", {place.configured_mts} of {place.speed_mts} MT/s" if rates else ""
    kind = f" {place.type}" if place.type and place.size_bytes else ""
    return (
        f"memory place {number}",
        f"{size}{kind}{speed}",
        f"{place.locator or ''} {place.bank or ''}".strip(),
        "SMBIOS type 17",
    )


def _module(module: ScannedModule) -> Row:
    size = gib(module.size_bytes) if module.size_bytes else "size not told"
    volts = ", ".join(f"{v:g} V" for v in module.volts)
    doubt = "" if module.checksum_ok else ", doubtful: its checksum is wrong"
    return (
        f"module at {module.at}",
        f"{size} {module.generation}-{module.speed_mts or '?'} {volts}{doubt}",
        (module.part or ""),
        "module's own data (SPD)",
    )


def _drive(drive: ScannedDrive) -> Row:
    size = drive_size(drive.size_bytes) if drive.size_bytes else "size not told"
    turning = {True: "disk", False: "SSD", None: "drive"}[drive.rotational]
    link = f", {drive.link} of {drive.link_max}" if drive.link and drive.link_max else ""
    return f"drive {drive.name}", f"{size} {drive.kind} {turning}{link}", drive.model or "", "/sys/block, IDENTIFY"
