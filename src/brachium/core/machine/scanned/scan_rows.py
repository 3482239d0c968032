"""Everything that a scan read as rows of text: what, value, raw value, what it was read from."""

from __future__ import annotations

from brachium.core.base.units import drive_size, gib
from brachium.core.machine.scanned.scan import Scan, ScannedBattery, ScannedDrive, ScannedModule, ScannedPlace

Row = tuple[str, str, str, str]
HEADINGS: Row = ("what", "value", "raw", "read from")


# complex: one line a kind of row
def scan_rows(scan: Scan) -> tuple[Row, ...]:
    """All rows, grouped as a person would look for them."""
    rows: list[Row] = [(_name(f.key), _value(f.key, f.value), f.raw, f.source) for f in scan.fields]
    rows += [_place(k, p) for k, p in enumerate(scan.places, 1)]
    rows += [_module(m) for m in scan.modules]
    rows += [_drive(d) for d in scan.drives]
    rows += [row for d in scan.drives for row in _drive_says(d)]
    rows += [row for b in scan.batteries for row in _battery(b)]
    rows += [("battery, design", f"{p.design_mwh / 1000:.1f} Wh" if p.design_mwh else "not told", p.name or "",
              "SMBIOS type 22") for p in scan.packs]  # fmt: skip
    rows += [(f"adapter {a.name}", "plugged in" if a.online else "not plugged in", "", "/sys/class/power_supply")
             for a in scan.adapters]  # fmt: skip
    rows += [("power supply", f"{s.max_w} W" if s.max_w else "rating not told", s.name or "", "SMBIOS type 39")
             for s in scan.supplies]  # fmt: skip
    rows += [(f"card slot {s.name or ''}".strip(), " ".join(str(v) for v in (s.kind, f"x{s.lanes}" if s.lanes else "")
              if v), s.usage or "", "SMBIOS type 9") for s in scan.slots]  # fmt: skip
    rows += [(f"{d.name or 'device'} {d.address}", d.link or "no link data",
              " ".join(w for w in (d.id or "", f"at most {d.link_max}" if d.link_max else "") if w),
              "/sys/bus/pci") for d in scan.devices]  # fmt: skip
    rows += [("sensor chip", name, "", "/sys/class/hwmon") for name in scan.sensors]
    rows += [(a.what.replace(".", " "), "not read", a.why, a.command) for a in scan.absent]
    return tuple(rows)


def _name(key: str) -> str:
    return key.removesuffix("_bytes").replace(".", " ").replace("_", " ")


def _value(key: str, value: str | int | float) -> str:
    return gib(int(value)) if key.endswith("_bytes") else str(value)


def _place(number: int, place: ScannedPlace) -> Row:
    where = f"{place.locator or ''} {place.bank or ''}".strip()
    if not place.size_bytes:
        size = "size not told" if place.size_bytes is None else "empty"
        return (f"memory slot {number}", size, where, "SMBIOS type 17")
    size = f"at least {gib(place.size_bytes)}" if place.size_at_least else gib(place.size_bytes)
    speed = f"{place.configured_mts} of {place.speed_mts} MT/s" if place.configured_mts and place.speed_mts else ""
    about = (f"{size} {place.type or ''}".strip(), speed, f"{place.ranks} ranks" if place.ranks else "",
             place.buffering or "", "ECC" if place.ecc else "")  # fmt: skip
    return (f"memory slot {number}", ", ".join(a for a in about if a), where, "SMBIOS type 17")


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


def _drive_says(drive: ScannedDrive) -> list[Row]:
    """Counters, what is not readable, what the drive calls failed, temperature."""
    own = "SMART data"
    rows: list[Row] = [(f"drive {drive.name}, {key.replace('_', ' ')}", str(value), "", own)
                       for key, value in drive.counters.items()]  # fmt: skip
    rows += [(f"drive {drive.name}, {key.replace('_', ' ')}", "not readable in this drive's coding", "", own)
             for key in drive.unreadable]  # fmt: skip
    rows += [(f"drive {drive.name}, attribute {k}", "failed, by its own threshold", "", own) for k in drive.failed]
    if drive.temperature_c is not None:
        rows.append((f"drive {drive.name}, temperature", f"{drive.temperature_c} °C", "", own))
    return rows


def _battery(battery: ScannedBattery) -> list[Row]:
    """Capacity in the unit that is told, energy by the design voltage beside a charge."""
    known = battery.full and battery.design
    size = f"{battery.full:.1f} of {battery.design:.1f} {battery.unit}" if known else "capacity not told"
    if known and battery.unit == "Ah" and battery.full_wh and battery.design_wh:
        size += f", {battery.full_wh:.1f} of {battery.design_wh:.1f} Wh"
    cycles = f"{battery.cycles} cycles" if battery.cycles else ""
    return [("battery", size if battery.present else "not fitted", cycles, "/sys/class/power_supply")]


def _drive(drive: ScannedDrive) -> Row:
    size = drive_size(drive.size_bytes) if drive.size_bytes else "size not told"
    turning = {True: "disk", False: "SSD", None: "drive"}[drive.rotational]
    link = f", {drive.link} of {drive.link_max}" if drive.link and drive.link_max else ""
    return f"drive {drive.name}", f"{size} {drive.kind} {turning}{link}", drive.model or "", "/sys/block, IDENTIFY"
