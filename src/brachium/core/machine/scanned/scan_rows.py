"""Everything that a scan read as rows of text: what, value, raw value, what it was read from."""

from __future__ import annotations

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import joined, phrase
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
    rows += [
        (
            "battery, design",
            phrase("{design_mwh:.1f} Wh", design_mwh=p.design_mwh / 1000) if p.design_mwh else "not told",
            p.name or "",
            "SMBIOS type 22",
        )
        for p in scan.packs
    ]
    rows += [
        (
            phrase("adapter {name}", name=a.name),
            "plugged in" if a.online else "not plugged in",
            "",
            "/sys/class/power_supply",
        )
        for a in scan.adapters
    ]
    rows += [
        (
            "power supply",
            phrase("{max_w} W", max_w=s.max_w) if s.max_w else "rating not told",
            s.name or "",
            "SMBIOS type 39",
        )
        for s in scan.supplies
    ]
    rows += [
        (
            phrase("card slot {name}", name=s.name or "").strip(),
            joined(" ", (str(v) for v in (s.kind, phrase("x{lanes}", lanes=s.lanes) if s.lanes else "") if v)),
            s.usage or "",
            "SMBIOS type 9",
        )
        for s in scan.slots
    ]
    rows += [
        (
            phrase("{name} {address}", name=d.name or "device", address=d.address),
            d.link or "no link data",
            joined(
                " ",
                (w for w in (d.id or "", phrase("at most {link_max}", link_max=d.link_max) if d.link_max else "") if w),
            ),
            "/sys/bus/pci",
        )
        for d in scan.devices
    ]
    rows += [("sensor chip", name, "", "/sys/class/hwmon") for name in scan.sensors]
    rows += [(a.what.replace(".", " "), "not read", a.why, a.command) for a in scan.absent]
    return tuple(rows)


def _name(key: str) -> str:
    return key.removesuffix("_bytes").replace(".", " ").replace("_", " ")


def _value(key: str, value: str | int | float) -> str:
    return gib(int(value)) if key.endswith("_bytes") else OwnWords(value)


def _place(number: int, place: ScannedPlace) -> Row:
    where = phrase("{locator} {bank}", locator=place.locator or "", bank=place.bank or "").strip()
    if not place.size_bytes:
        size = "size not told" if place.size_bytes is None else "empty"
        return (phrase("memory slot {number}", number=number), size, where, "SMBIOS type 17")
    size = (
        phrase("at least {size_bytes}", size_bytes=gib(place.size_bytes))
        if place.size_at_least
        else gib(place.size_bytes)
    )
    speed = (
        phrase("{configured_mts} of {speed_mts} MT/s", configured_mts=place.configured_mts, speed_mts=place.speed_mts)
        if place.configured_mts and place.speed_mts
        else ""
    )
    about = (
        phrase("{size} {type}", size=size, type=place.type or "").strip(),
        speed,
        phrase("{ranks} ranks", ranks=place.ranks) if place.ranks else "",
        place.buffering or "",
        "ECC" if place.ecc else "",
    )
    return (
        phrase("memory slot {number}", number=number),
        joined(", ", (a for a in about if a)),
        where,
        "SMBIOS type 17",
    )


def _module(module: ScannedModule) -> Row:
    size = gib(module.size_bytes) if module.size_bytes else "size not told"
    volts = joined(", ", (phrase("{v:g} V", v=v) for v in module.volts))
    doubt = "" if module.checksum_ok else ", doubtful: its checksum is wrong"
    return (
        phrase("module at {at}", at=module.at),
        phrase(
            "{size} {generation}-{speed_mts} {volts}{doubt}",
            size=size,
            generation=module.generation,
            speed_mts=module.speed_mts or "?",
            volts=volts,
            doubt=doubt,
        ),
        (module.part or ""),
        "module's own data (SPD)",
    )


def _drive_says(drive: ScannedDrive) -> list[Row]:
    """Counters, what is not readable, what the drive calls failed, temperature."""
    own = "SMART data"
    rows: list[Row] = [
        (phrase("drive {drive}, {key}", drive=drive.name, key=key.replace("_", " ")), str(value), "", own)
        for key, value in drive.counters.items()
    ]
    rows += [
        (
            phrase("drive {drive}, {key}", drive=drive.name, key=key.replace("_", " ")),
            "not readable in this drive's coding",
            "",
            own,
        )
        for key in drive.unreadable
    ]
    rows += [
        (phrase("drive {drive}, attribute {k}", drive=drive.name, k=k), "failed, by its own threshold", "", own)
        for k in drive.failed
    ]
    if drive.temperature_c is not None:
        rows.append(
            (
                phrase("drive {drive}, temperature", drive=drive.name),
                phrase("{temperature_c} °C", temperature_c=drive.temperature_c),
                "",
                own,
            )
        )
    return rows


def _battery(battery: ScannedBattery) -> list[Row]:
    """Capacity in the unit that is told, energy by the design voltage beside a charge."""
    known = battery.full and battery.design
    size = (
        phrase("{full:.1f} of {design:.1f} {battery}", full=battery.full, design=battery.design, battery=battery.unit)
        if known
        else "capacity not told"
    )
    if known and battery.unit == "Ah" and battery.full_wh and battery.design_wh:
        size += phrase(", {full_wh:.1f} of {design_wh:.1f} Wh", full_wh=battery.full_wh, design_wh=battery.design_wh)
    cycles = phrase("{cycles} cycles", cycles=battery.cycles) if battery.cycles else ""
    return [("battery", size if battery.present else "not fitted", cycles, "/sys/class/power_supply")]


def _drive(drive: ScannedDrive) -> Row:
    size = drive_size(drive.size_bytes) if drive.size_bytes else "size not told"
    turning = {True: "disk", False: "SSD", None: "drive"}[drive.rotational]
    link = (
        phrase(", {link} of {link_max}", link=drive.link, link_max=drive.link_max)
        if drive.link and drive.link_max
        else ""
    )
    return (
        phrase("drive {drive}", drive=drive.name),
        phrase("{size} {kind} {turning}{link}", size=size, kind=drive.kind, turning=turning, link=link),
        drive.model or "",
        "/sys/block, IDENTIFY",
    )
