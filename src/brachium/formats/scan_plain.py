"""A scan's plain data, as the probe and `brachium scan` write it, checked on the way in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.machine.scanned.scan import (
    Absent,
    Scan,
    ScannedAdapter,
    ScannedBattery,
    ScannedDevice,
    ScannedDrive,
    ScannedField,
    ScannedModule,
    ScannedPack,
    ScannedPlace,
    ScannedSlot,
    ScannedSupply,
)
from brachium.formats.documents import Document

VERSION = 1


@dataclass(frozen=True)
class _Memory:
    places: tuple[ScannedPlace, ...] = ()
    max_bytes: int | None = None


@dataclass(frozen=True)
class _Document:
    version: int
    fields: tuple[ScannedField, ...] = ()
    memory: _Memory = field(default_factory=_Memory)
    modules: tuple[ScannedModule, ...] = ()
    drives: tuple[ScannedDrive, ...] = ()
    batteries: tuple[ScannedBattery, ...] = ()
    packs: tuple[ScannedPack, ...] = ()
    slots: tuple[ScannedSlot, ...] = ()
    pci: tuple[ScannedDevice, ...] = ()
    adapters: tuple[ScannedAdapter, ...] = ()
    supplies: tuple[ScannedSupply, ...] = ()
    sensors: tuple[str, ...] = ()
    absent: tuple[Absent, ...] = ()
    notes: tuple[str, ...] = ()


_ADAPTER: Document[_Document] = Document(_Document, "scan", strict=False)


def scan_from_plain(values: Mapping[str, object], place: str) -> Scan:
    """Raises ExpectedProblem naming the first bad field, or a newer version."""
    if not isinstance(values, Mapping):
        raise ExpectedProblem("this is no scan", place, "Scan again.")
    version = values.get("version")
    if isinstance(version, int) and version > VERSION:
        raise ExpectedProblem(
            phrase(
                "this scan was made by a newer Brachium (version {version}, known is {version_})",
                version=version,
                version_=VERSION,
            ),
            place,
            "Update the program.",
        )
    d = _ADAPTER.take(dict(values), place)
    return Scan(
        d.fields, d.memory.places, d.drives, d.batteries, d.memory.max_bytes, d.absent, d.notes, d.modules, d.slots,
        d.pci, d.adapters, d.packs, d.supplies, d.sensors,
    )  # fmt: skip
