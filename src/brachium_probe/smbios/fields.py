"""What the structures of an SMBIOS table say, field by field (DMTF DSP0134, clause 7), placeholders taken out."""

from __future__ import annotations

from typing import Callable, Dict, List, Tuple

from brachium_probe.smbios.names import (
    BUFFERING,
    CHASSIS,
    ECC,
    FORMS,
    MEMORY_TYPES,
    SLOT_TYPES,
    SOCKETS,
    USAGE,
    WIDTHS,
    pcie_of,
)
from brachium_probe.smbios.tables import Structure, Table

Fields = Dict[str, object]
PLACEHOLDERS = {
    "to be filled by o.e.m.",
    "to be filled by oem",
    "default string",
    "system product name",
    "system manufacturer",
    "system version",
    "system serial number",
    "base board serial number",
    "not specified",
    "not available",
    "none",
    "unknown",
    "sernum00",
    "sernum0",
    "part number0",
    "partnum0",
    "manufacturer00",
    "0000",
    "00000000",
    "n/a",
    "na",
    "chassis serial number",
    "asset tag",
    "no asset tag",
    "sku",
    "oem",
    "o.e.m.",
    "invalid",
    "empty",
    "x.x",
    "0123456789",
    "undefined",
    "[empty]",
    "no dimm",
    "not provided",
}
NO_UUIDS = (
    "00000000-0000-0000-0000-000000000000",
    "ffffffff-ffff-ffff-ffff-ffffffffffff",
    "03000200-0400-0500-0006-000700080009",
)
MEMORY_SYSTEM_USE = 0x03


def clean(text: str | None) -> str | None:
    """A string without placeholders and padding; None where nothing is said."""
    if text is None:
        return None
    words = " ".join("".join(c if c.isprintable() else " " for c in text).split())
    plain = words.lower().strip(" .-_")
    if (
        not plain
        or words.lower() in PLACEHOLDERS
        or plain in PLACEHOLDERS
        or set(plain) <= {"0"}
        or set(plain) <= {"x"}
    ):
        return None
    return words


def firmware(s: Structure) -> Fields:
    """Type 0."""
    size = s.byte(0x09)
    rom = (size + 1) * 65536 if size is not None and size != 0xFF else None
    if size == 0xFF and s.word(0x18) is not None:
        value = s.word(0x18) or 0
        rom = (value & 0x3FFF) * (1 << (30 if value >> 14 else 20))
    second = s.byte(0x13)
    return {
        "vendor": clean(s.text(0x04)),
        "version": clean(s.text(0x05)),
        "date": clean(s.text(0x08)),
        "rom_bytes": rom,
        "uefi": bool(second & 0x08) if second is not None else None,
    }


def system(s: Structure, version: Tuple[int, int] | None = None) -> Fields:
    """Type 1; the first three fields of the UUID are little-endian from version 2.6 on, before in the order written."""
    raw = s.raw(0x08, 16)
    uuid = None
    if raw is not None:
        parts = (raw[3::-1], raw[5:3:-1], raw[7:5:-1], raw[8:10], raw[10:16])
        if version is not None and version < (2, 6):
            parts = (raw[0:4], raw[4:6], raw[6:8], raw[8:10], raw[10:16])
        uuid = "-".join(p.hex() for p in parts)
    return {
        "maker": clean(s.text(0x04)),
        "product": clean(s.text(0x05)),
        "version": clean(s.text(0x06)),
        "serial": clean(s.text(0x07)),
        "uuid": None if uuid in NO_UUIDS else uuid,
        "sku": clean(s.text(0x19)),
        "family": clean(s.text(0x1A)),
    }


def board(s: Structure) -> Fields:
    """Type 2."""
    return {
        "maker": clean(s.text(0x04)),
        "product": clean(s.text(0x05)),
        "version": clean(s.text(0x06)),
        "serial": clean(s.text(0x07)),
        "asset": clean(s.text(0x08)),
    }


def chassis(s: Structure) -> Fields:
    """Type 3; bit 7 of the kind says whether a lock is there."""
    kind = s.byte(0x05)
    return {
        "maker": clean(s.text(0x04)),
        "kind": CHASSIS.get(kind & 0x7F) if kind is not None else None,
        "lock": bool(kind & 0x80) if kind is not None else None,
        "version": clean(s.text(0x06)),
        "serial": clean(s.text(0x07)),
        "asset": clean(s.text(0x08)),
    }


def processor(s: Structure) -> Fields:
    """Type 4; clocks describe the board, so the kernel's are preferred. `socket` is the kind, `place` its name."""
    status = s.byte(0x18)
    return {
        "place": clean(s.text(0x04)),
        "socket": SOCKETS.get(s.byte(0x19) or 0),
        "maker": clean(s.text(0x07)),
        "version": clean(s.text(0x10)),
        "external_mhz": s.word(0x12) or None,
        "max_mhz": s.word(0x14) or None,
        "current_mhz": s.word(0x16) or None,
        "populated": bool(status & 0x40) if status is not None else None,
        "serial": clean(s.text(0x20)),
        "part": clean(s.text(0x22)),
        "cores": _wide(s, 0x23, 0x2A),
        "enabled": _wide(s, 0x24, 0x2C),
        "threads": _wide(s, 0x25, 0x2E),
    }


def slot(s: Structure) -> Fields:
    """Type 9; width is the connector's or the wiring's, as the maker liked, and usage may lie."""
    kind, width = s.byte(0x05), s.byte(0x06)
    bus, place = s.byte(0x0F), s.byte(0x10)
    address = None
    if bus is not None and place is not None and (bus, place) != (0xFF, 0xFF):
        address = f"{s.word(0x0D) or 0:04x}:{bus:02x}:{place >> 3:02x}.{place & 7}"
    return {
        "name": clean(s.text(0x04)),
        "kind": _slot_kind(kind),
        "lanes": WIDTHS.get(width or 0) or pcie_of(kind or 0)[2],
        "usage": USAGE.get(s.byte(0x07) or 0),
        "address": address,
    }


def memory_array(s: Structure) -> Fields:
    """Type 16; the maximum may understate what really works."""
    maximum = s.dword(0x07)
    size = maximum * 1024 if maximum not in (None, 0, 0x80000000) else None
    if maximum == 0x80000000:
        size = s.qword(0x0F)
    return {
        "handle": s.handle,
        "system": s.byte(0x05) == MEMORY_SYSTEM_USE,
        "ecc": ECC.get(s.byte(0x06) or 0),
        "max_bytes": size,
        "places": s.word(0x0D),
    }


def memory_device(s: Structure) -> Fields:
    """Type 17; speeds are transfers [MT/s]. Size 0 = empty place, None = unknown."""
    total, data = s.word(0x08), s.word(0x0A)
    ecc = total > data if total not in (None, 0, 0xFFFF) and data not in (None, 0, 0xFFFF) else None
    rank = s.byte(0x1B)
    return {
        "handle": s.handle,
        "array": s.word(0x04),
        "size_bytes": _module_bytes(s),
        "size_at_least": s.word(0x0C) == 0x7FFF and not _extended_mib(s),
        "buffering": _buffering(s.word(0x13)),
        "ecc": ecc,
        "form": FORMS.get(s.byte(0x0E) or 0),
        "locator": clean(s.text(0x10)),
        "bank": clean(s.text(0x11)),
        "type": MEMORY_TYPES.get(s.byte(0x12) or 0),
        "speed_mts": _speed(s, 0x15, 0x54),
        "maker": clean(s.text(0x17)),
        "serial": clean(s.text(0x18)),
        "part": clean(s.text(0x1A)),
        "ranks": (rank & 0x0F) or None if rank is not None else None,
        "configured_mts": _speed(s, 0x20, 0x58),
        "configured_mv": s.word(0x26) or None,
        "data_bits": data if data not in (0, 0xFFFF) else None,
    }


def memory_map(s: Structure) -> Fields:
    """Type 19: a stretch of addresses of an array."""
    first, last = s.dword(0x04), s.dword(0x08)
    size = (last - first + 1) * 1024 if first is not None and last is not None and first != 0xFFFFFFFF else None
    if first == 0xFFFFFFFF and s.qword(0x17) is not None:
        size = (s.qword(0x17) or 0) - (s.qword(0x0F) or 0) + 1
    return {"array": s.word(0x0C), "size_bytes": size}


def battery(s: Structure) -> Fields:
    """Type 22: design figures only."""
    capacity, factor = s.word(0x0A), s.byte(0x15)
    return {
        "maker": clean(s.text(0x05)),
        "serial": clean(s.text(0x07)),
        "name": clean(s.text(0x08)),
        "design_mwh": (capacity * (factor or 1)) if capacity else None,
        "design_mv": s.word(0x0C) or None,
    }


def supply(s: Structure) -> Fields:
    """Type 39."""
    power = s.word(0x0C)
    return {
        "name": clean(s.text(0x06)),
        "maker": clean(s.text(0x07)),
        "part": clean(s.text(0x0A)),
        "max_w": power if power not in (None, 0, 0x8000) else None,
    }


def onboard(s: Structure) -> Fields:
    """Type 41."""
    kind = s.byte(0x05)
    return {
        "name": clean(s.text(0x04)),
        "enabled": bool(kind & 0x80) if kind is not None else None,
        "kind": (kind & 0x7F) if kind is not None else None,
    }


DECODERS: Dict[int, Callable[[Structure], Fields]] = {
    0: firmware,
    1: system,
    2: board,
    3: chassis,
    4: processor,
    9: slot,
    16: memory_array,
    17: memory_device,
    19: memory_map,
    22: battery,
    39: supply,
    41: onboard,
}


def decoded(table: Table) -> Dict[int, List[Fields]]:
    """Fields of every structure of a known type, by type, in the order of the table."""
    out: Dict[int, List[Fields]] = {}
    for structure in table.structures:
        decoder = DECODERS.get(structure.kind)
        if decoder is not None:
            found = system(structure, table.version) if structure.kind == 1 else decoder(structure)
            out.setdefault(structure.kind, []).append(found)
    return out


def _wide(s: Structure, narrow: int, wide: int) -> int | None:
    """A count of one byte, continued in a word where it says FF."""
    value = s.byte(narrow)
    if value == 0xFF and s.word(wide) is not None:
        value = s.word(wide)
    return value or None


def _speed(s: Structure, narrow: int, wide: int) -> int | None:
    value = s.word(narrow)
    if value == 0xFFFF:
        value = (s.dword(wide) or 0) & 0x7FFFFFFF
    return value or None


def _module_bytes(s: Structure) -> int | None:
    value = s.word(0x0C)
    if value is None or value == 0xFFFF:
        return None
    if value == 0x7FFF:  # the extended size counts; without it the module has no less than this field can say
        return (_extended_mib(s) or 0x8000) << 20
    return (value & 0x7FFF) << 10 if value & 0x8000 else value << 20


def _extended_mib(s: Structure) -> int:
    return (s.dword(0x1C) or 0) & 0x7FFFFFFF


def _buffering(detail: int | None) -> str | None:
    """Of the type detail; None where it names none, or several that exclude one another."""
    found = [name for bit, name in BUFFERING.items() if (detail or 0) >> bit & 1]
    return found[0] if len(found) == 1 else None


def _slot_kind(kind: int | None) -> str | None:
    if kind is None:
        return None
    express, generation, _ = pcie_of(kind)
    if express:
        return f"PCIe gen {generation}" if generation else "PCIe"
    return SLOT_TYPES.get(kind)
