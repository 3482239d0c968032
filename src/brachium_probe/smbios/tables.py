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
        self.bad_strings: List[int] = []

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
        if not number:
            return None
        if number > len(self.strings):
            self.bad_strings.append(number)
            return None
        return self.strings[number - 1].decode("utf-8", "replace").strip() or None

    def _number(self, at: int, size: int) -> int | None:
        found = self.raw(at, size)
        return int.from_bytes(found, "little") if found is not None else None


class Table:
    """All structures that could be read. `version` is (major, minor) where an entry point says so; `damaged` why the
    walk ended early, `remarks` what does not agree with the entry point."""

    def __init__(self, structures: List[Structure], damaged: str, version: tuple | None) -> None:  # type: ignore[type-arg]
        self.structures, self.damaged, self.version = structures, damaged, version
        self.remarks: List[str] = []

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
    if data[:4] == b"_SM_" and len(data) >= 0x1F and _sums_to_zero(data, data[5], 0x1F) and _intermediate(data):
        length, count = int.from_bytes(data[0x16:0x18], "little"), int.from_bytes(data[0x1C:0x1E], "little")
        return EntryPoint((data[6], data[7]), length, count)
    return None


def entry_point_problem(data: bytes) -> str:
    """Why bytes that look like an entry point are none; empty where they are one."""
    if read_entry_point(data) is not None:
        return ""
    if data[:5] == b"_SM3_":
        return "the checksum of its entry point is wrong"
    if data[:4] == b"_SM_":
        if len(data) < 0x1F or not _sums_to_zero(data, data[5], 0x1F):
            return "the checksum of its entry point is wrong"
        return "the intermediate checksum of its entry point is wrong"
    return "its entry point is none of the standard's"


def read_table(data: bytes, entry: EntryPoint | None = None) -> Table:
    """Walk a table; stops at type 127, at the announced length or number, or where it is damaged."""
    table = _walked(data, entry)
    if entry is not None:
        table.remarks += _disagreements(table, data, entry)
    return table


def _disagreements(table: Table, data: bytes, entry: EntryPoint) -> List[str]:
    """What the entry point announces and the table does not hold, or the other way round."""
    read, said = len(table.structures), []
    ended = bool(table.structures) and table.structures[-1].kind == END_OF_TABLE
    if entry.count is not None and read < entry.count:
        said.append(f"the entry point announces {entry.count} structures, {read} are there")
    if entry.table_bytes > len(data) and (entry.count is not None or not ended):
        said.append(f"the entry point announces {entry.table_bytes} bytes, {len(data)} are there")
    if not ended and not table.damaged:
        if entry.count == read and entry.table_bytes > _length(table):
            said.append(f"the table goes on after the {read} structures that the entry point announces")
        elif entry.table_bytes < len(data):
            said.append(f"the table goes on after the {entry.table_bytes} bytes that the entry point announces")
        elif entry.version >= (2, 2):
            said.append("the table has no end mark")
    return said


def _length(table: Table) -> int:
    """Bytes that the structures take."""
    return sum(len(s.data) + max(sum(len(t) + 1 for t in s.strings) + 1, 2) for s in table.structures)


def _walked(data: bytes, entry: EntryPoint | None) -> Table:
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


def _intermediate(data: bytes) -> bool:
    """The second anchor of a 2.x entry point: 15 bytes that sum to zero."""
    return data[0x10:0x15] == b"_DMI_" and sum(data[0x10:0x1F]) & 0xFF == 0


def _sums_to_zero(data: bytes, length: int, least: int) -> bool:
    return least <= length + 1 <= len(data) + 1 and sum(data[:length]) & 0xFF == 0


def by_handle(table: Table) -> Dict[int, Structure]:
    """Structures by handle: locators may repeat, handles do not (the first one stands)."""
    out: Dict[int, Structure] = {}
    for structure in table.structures:
        out.setdefault(structure.handle, structure)
    return out
