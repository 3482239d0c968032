"""SMBIOS tables as firmware leaves them (DMTF DSP0134): entry points 2.x and 3.x, structures, strings.

Offsets are those of the standard, counted from the start of a structure. Every read is guarded by the structure's own
length, not by the version it claims. A damaged table gives what could be read of it, and says that it is damaged.
"""

from __future__ import annotations

from typing import Dict, List

MAX_TABLE_BYTES = 1 << 20
END_OF_TABLE = 127
HEADER = 4


class Structure:
    """One structure: type, handle, formatted area, strings. Reads beyond its length give None."""

    def __init__(self, kind: int, handle: int, data: bytes, strings: List[bytes]) -> None:
        self.kind, self.handle, self.data, self.strings = kind, handle, data, strings

    def byte(self, at: int) -> int | None:
        return self._number(at, 1)

    def word(self, at: int) -> int | None:
        return self._number(at, 2)

    def dword(self, at: int) -> int | None:
        return self._number(at, 4)

    def qword(self, at: int) -> int | None:
        return self._number(at, 8)

    def raw(self, at: int, size: int) -> bytes | None:
        return self.data[at : at + size] if at + size <= len(self.data) else None

    def text(self, at: int) -> str | None:
        """The string whose number stands at an offset; None for number 0, a number beyond the set, or no such field."""
        number = self.byte(at)
        if not number or number > len(self.strings):
            return None
        return self.strings[number - 1].decode("utf-8", "replace").strip() or None

    def _number(self, at: int, size: int) -> int | None:
        found = self.raw(at, size)
        return int.from_bytes(found, "little") if found is not None else None


class Table:
    """All structures that could be read. `version` is (major, minor) where an entry point says so."""

    def __init__(self, structures: List[Structure], damaged: str, version: tuple | None) -> None:  # type: ignore[type-arg]
        self.structures, self.damaged, self.version = structures, damaged, version

    def of(self, kind: int) -> List[Structure]:
        return [s for s in self.structures if s.kind == kind]


class EntryPoint:
    """What the entry point announces: length of the table [bytes], at most for 3.x; number of structures for 2.x."""

    def __init__(self, version: tuple, table_bytes: int, count: int | None) -> None:  # type: ignore[type-arg]
        self.version, self.table_bytes, self.count = version, table_bytes, count


def read_entry_point(data: bytes) -> EntryPoint | None:
    """A 3.x or 2.x entry point whose checksum is right; None for anything else."""
    if data[:5] == b"_SM3_" and len(data) >= 0x18 and _sums_to_zero(data, data[6], 0x18):
        return EntryPoint((data[7], data[8]), int.from_bytes(data[0x0C:0x10], "little"), None)
    if data[:4] == b"_SM_" and len(data) >= 0x1F and _sums_to_zero(data, data[5], 0x1F) and data[0x10:0x15] == b"_DMI_":
        length, count = int.from_bytes(data[0x16:0x18], "little"), int.from_bytes(data[0x1C:0x1E], "little")
        return EntryPoint((data[6], data[7]), length, count)
    return None


def read_table(data: bytes, entry: EntryPoint | None = None) -> Table:
    """Walk a table; stops at type 127, at the announced length, or where it is damaged."""
    size = min(len(data), MAX_TABLE_BYTES)
    if entry is not None and entry.table_bytes:
        size = min(size, entry.table_bytes)
    version = entry.version if entry is not None else None
    structures: List[Structure] = []
    at = 0
    while at + HEADER <= size:
        kind, length = data[at], data[at + 1]
        if length < HEADER:
            return Table(structures, f"structure {len(structures) + 1} says it has {length} bytes", version)
        if at + length > size:
            return Table(structures, f"structure {len(structures) + 1} runs past the end of the table", version)
        end = data.find(b"\x00\x00", at + length, size)
        if end < 0:
            return Table(structures, f"the strings of structure {len(structures) + 1} have no end", version)
        strings = data[at + length : end].split(b"\x00") if end > at + length else []
        handle = int.from_bytes(data[at + 2 : at + 4], "little")
        structures.append(Structure(kind, handle, data[at : at + length], strings))
        if kind == END_OF_TABLE or (entry is not None and entry.count == len(structures)):
            return Table(structures, "", version)
        at = end + 2
    return Table(structures, "" if at >= size and structures else "the table has no end mark", version)


def _sums_to_zero(data: bytes, length: int, least: int) -> bool:
    return least <= length + 1 <= len(data) + 1 and sum(data[:length]) & 0xFF == 0


def by_handle(table: Table) -> Dict[int, Structure]:
    """Structures by handle: locators may repeat, handles do not (the first one stands)."""
    out: Dict[int, Structure] = {}
    for structure in table.structures:
        out.setdefault(structure.handle, structure)
    return out
