"""ATA SMART data: attributes with value, worst and raw, thresholds, and which raw counts can be counts at all.

Layout of 512 bytes: 30 entries of 12 bytes from byte 2 (id, flags, value, worst, raw of six bytes), all bytes sum to 0
modulo 256; thresholds in a table of its own (id, threshold, ten bytes unused). What the raw bytes mean is each maker's
own, so they are checked against what is possible: a count of sectors cannot exceed the drive's, hours not an age.
"""

from __future__ import annotations

from typing import Dict, List

SIZE = 512
COUNTS = {5: "reallocated", 187: "uncorrectable", 197: "pending", 198: "uncorrectable", 199: "interface", 9: "hours"}
SECTOR_COUNTS = ("reallocated", "pending", "uncorrectable")
TEMPERATURES = (194, 190)
MOST_HOURS = 24 * 366 * 20
SOUND_VALUE, ABSURD_COUNT = 90, 1 << 17  # a value as of new beside a count of that size: the raw bytes are packed
Attribute = Dict[str, int]


def is_table(data: bytes) -> bool:
    """Whether bytes are a table of SMART data: its size and its sum."""
    return len(data) == SIZE and sum(data) % 256 == 0


def attributes(data: bytes, thresholds: bytes | None = None) -> List[Attribute]:
    """Every attribute: id, value, worst, raw, and its threshold where that table is there. Nothing of a damaged one."""
    if not is_table(data):
        return []
    limits = {}
    if thresholds is not None and is_table(thresholds):
        limits = {thresholds[at]: thresholds[at + 1] for at in range(2, 2 + 30 * 12, 12) if thresholds[at]}
    out = []
    for at in range(2, 2 + 30 * 12, 12):
        if data[at]:
            one = {"id": data[at], "value": data[at + 3], "worst": data[at + 4],
                   "raw": int.from_bytes(data[at + 5 : at + 11], "little")}  # fmt: skip
            if data[at] in limits:
                one["threshold"] = limits[data[at]]
            out.append(one)
    return out


def failing(found: List[Attribute]) -> List[int]:
    """Ids of attributes that are at or below their threshold: the drive itself says that they failed."""
    return [a["id"] for a in found if a.get("threshold", 0) > 0 and a["value"] <= a["threshold"]]


def counts(found: List[Attribute], sectors: int | None = None) -> Dict[str, int]:
    """Counters by name; one whose raw bytes cannot be a count is left out (see `unreadable`)."""
    out: Dict[str, int] = {}
    for one in found:
        key = COUNTS.get(one["id"])
        value = _hours(one["raw"]) if key == "hours" else None if key is None else _count(key, one, sectors)
        if key is not None and value is not None:
            out[key] = max(out.get(key, 0), value)
    return out


def unreadable(found: List[Attribute], sectors: int | None = None) -> List[str]:
    """Names of counters that stand there in a coding of the drive's own."""
    named = {COUNTS[a["id"]] for a in found if a["id"] in COUNTS}
    return sorted(named - set(counts(found, sectors)))


def temperature_c(found: List[Attribute]) -> int | None:
    """Temperature [degC] in the lowest byte of the raw value; None where that is no temperature of a drive."""
    for number in TEMPERATURES:
        for one in found:
            if one["id"] == number and 0 < one["raw"] & 0xFF < 100:
                return one["raw"] & 0xFF
    return None


def _count(key: str, one: Attribute, sectors: int | None) -> int | None:
    """The low four bytes; none where they exceed what the drive has, or stand beside a value as of new."""
    value = one["raw"] & 0xFFFFFFFF
    if key in SECTOR_COUNTS and sectors is not None and value > sectors:
        return None
    if value >= ABSURD_COUNT and one["value"] >= SOUND_VALUE and key in SECTOR_COUNTS:
        return None
    return value


def _hours(raw: int) -> int | None:
    """Hours; from minutes where the plain number is no age, from the low bytes where more is packed above them."""
    if raw <= MOST_HOURS:
        return raw
    if raw < 1 << 32 and raw // 60 <= MOST_HOURS and raw >> 24 == 0:
        return raw // 60
    for size in (32, 24, 16):
        low = raw & ((1 << size) - 1)
        if low != raw and 0 < low <= MOST_HOURS:
            return low
    return None
