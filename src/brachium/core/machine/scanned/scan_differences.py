"""Where record and scan disagree, and the record with the scan's word taken."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from brachium.core.base.text import phrase
from brachium.core.base.units import gib
from brachium.core.base.why import Origin
from brachium.core.machine.machine import Machine
from brachium.core.machine.part_words import short_words
from brachium.core.machine.parts import Drive, MemoryModule, Part
from brachium.core.machine.platform import BATTERY
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.scanned.from_scan import machine_of, place_id
from brachium.core.machine.scanned.scan import Scan

FIELD_LABELS = {
    "identity.maker": "maker",
    "identity.model": "model",
    "identity.serial": "serial number",
    "identity.firmware": "firmware",
    "identity.system": "system",
    "processor.name": "processor",
}


@dataclass(frozen=True)
class ScanDifference:
    """Record and scan disagree about one thing."""

    key: str
    label: str
    recorded: str
    seen: str


def scan_differences(machine: Machine, scan: Scan) -> tuple[ScanDifference, ...]:
    """Where the record and the scan both say something and disagree."""
    seen = machine_of(scan)
    out = []
    for key, label in FIELD_LABELS.items():
        group, name = key.split(".")
        old, new = (str(getattr(getattr(m, group), name) or "") for m in (machine, seen))
        if old and new and _plain(old) != _plain(new):
            out.append(ScanDifference(key, label, old, new))
    unknown = {place_id(p) for p in scan.places if p.size_bytes is None}
    if not scan.batteries:  # nothing was said of a battery, neither that it is missing
        unknown.add(BATTERY)
    for place, twin in _pairs(machine, seen):
        if twin in unknown:  # an unknown size is not an empty place
            continue
        old_part, new_part = machine.configuration().parts.get(place), seen.configuration().parts.get(twin)
        if not _alike(old_part, new_part):
            out.append(ScanDifference(f"place:{place}", machine.place_label(place), _words(old_part), _words(new_part)))
    return tuple(out)


def with_scanned(machine: Machine, scan: Scan, keys: Iterable[str]) -> Machine:
    """The record with the scan's word for these differences."""
    seen = machine_of(scan)
    twins = dict(_pairs(machine, seen))
    for key in keys:
        if key.startswith("place:"):
            place = key.removeprefix("place:")
            machine = machine.with_part(place, seen.configuration().parts.get(twins[place]))
        else:
            group, name = key.split(".")
            part = replace(getattr(machine, group), **{name: getattr(getattr(seen, group), name)})
            origins = {**machine.origins, key: Origin.SCANNED}
            machine = replace(machine, **{group: part, "origins": origins})
    return machine


def _pairs(machine: Machine, seen: Machine) -> tuple[tuple[str, str], ...]:
    """Places of the record with those of the scan: by id, else in order where there are equally many."""
    return (
        *_matched([s.id for s in machine.slots], [s.id for s in seen.slots]),
        *_matched([b.id for b in machine.bays], [b.id for b in seen.bays]),
        (BATTERY, BATTERY),
    )


def _matched(old: list[str], new: list[str]) -> tuple[tuple[str, str], ...]:
    if set(old) <= set(new):
        return tuple((place, place) for place in old)
    return tuple(zip(old, new, strict=True)) if len(old) == len(new) else ()


def _alike(a: Part | None, b: Part | None) -> bool:
    if a is None or b is None:
        return a is b
    if isinstance(a, MemoryModule) and isinstance(b, MemoryModule):
        return (a.size_bytes, a.generation) == (b.size_bytes, b.generation)
    if isinstance(a, Drive) and isinstance(b, Drive):
        return abs(a.size_bytes - b.size_bytes) < 0.03 * a.size_bytes and a.rotational == b.rotational
    if isinstance(a, Battery) and isinstance(b, Battery):
        return _near(a.full_wh, b.full_wh)
    return False


def _near(a: float | None, b: float | None) -> bool:
    """Within 5 %, or nothing to compare: a battery's own reading wanders so much."""
    return a is None or b is None or abs(a - b) <= 0.05 * max(a, b)


def _words(part: Part | None) -> str:
    if part is None:
        return "empty"
    if isinstance(part, MemoryModule):
        return phrase(
            "{size_bytes} {generation}{more}",
            size_bytes=gib(part.size_bytes),
            generation=part.generation,
            more=phrase("-{speed_mts}", speed_mts=part.speed_mts) if part.speed_mts else "",
        )
    if isinstance(part, Battery):
        return phrase("{full_wh:.1f} Wh when full", full_wh=part.full_wh) if part.full_wh is not None else "fitted"
    return short_words(part)


def _plain(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "", text.lower())
