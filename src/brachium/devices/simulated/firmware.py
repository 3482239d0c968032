"""Firmware tables and module data of a simulated machine, written from its record (DMTF DSP0134; JEDEC 21-C annexes).

Only what a firmware would list: the offsets are the standards', the content is the record's.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.core.base.units import GIB
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine, ModuleSlot
from brachium.core.machine.parts import MemoryForm, MemoryGeneration, MemoryModule
from brachium_probe.spd import crc16

MIB = 1 << 20
CHASSIS = {
    MachineKind.LAPTOP: 0x0A,
    MachineKind.SMALL_DESKTOP: 0x04,
    MachineKind.TOWER: 0x07,
    MachineKind.ALL_IN_ONE: 0x0D,
    MachineKind.HANDHELD: 0x0B,
}
MEMORY_TYPES = {MemoryGeneration.DDR2: 0x13, MemoryGeneration.DDR3: 0x18, MemoryGeneration.DDR4: 0x1A}
MEMORY_FORMS = {MemoryForm.DIMM: 0x09, MemoryForm.SO_DIMM: 0x0D}
ARRAY = 0x1000


def structure(
    kind: int, handle: int, length: int, fields: Mapping[int, tuple[int, int]], strings: Sequence[str] = ()
) -> bytes:
    """One structure with its strings; `fields` maps an offset to (value, size in bytes)."""
    data = bytearray(length)
    data[0], data[1] = kind, length
    data[2:4] = handle.to_bytes(2, "little")
    for at, (value, size) in fields.items():
        data[at : at + size] = value.to_bytes(size, "little")
    return bytes(data) + b"\x00".join(s.encode() or b" " for s in strings) + b"\x00\x00"


def entry_point(table: bytes) -> bytes:
    """The 3.x entry (clause 5.2.2)."""
    data = bytearray(0x18)
    data[:5], data[6], data[7], data[8] = b"_SM3_", 0x18, 3, 4
    data[0x0C:0x10] = len(table).to_bytes(4, "little")
    data[5] = -sum(data) & 0xFF
    return bytes(data)


def tables(machine: Machine, unseen: frozenset[str] = frozenset()) -> bytes:
    """The tables of a machine. A module in a place of `unseen` is not found: a dead slot looks empty."""
    who, chip = machine.identity, machine.processor
    date = f"03/17/{who.year or 2014}"
    limit = machine.memory.published_max_bytes or 8 * GIB
    slots = [s for s in machine.slots if s.form in MEMORY_FORMS and s.generation in MEMORY_TYPES]
    out = [
        structure(0, 0, 0x1A, {0x04: (1, 1), 0x05: (2, 1), 0x08: (3, 1), 0x09: (0x7F, 1), 0x13: (0x08, 1)},
                  (who.maker, who.firmware, date)),
        structure(1, 1, 0x1B, {0x04: (1, 1), 0x05: (2, 1), 0x06: (3, 1), 0x07: (4, 1)},
                  (who.maker, who.model, "Default string", who.serial)),
        structure(2, 2, 0x0F, {0x04: (1, 1), 0x05: (2, 1)}, ("Marl", f"{who.model} board")),
        structure(3, 3, 0x15, {0x04: (1, 1), 0x05: (CHASSIS[machine.kind], 1)}, (who.maker,)),
        structure(4, 4, 0x30, {0x04: (1, 1), 0x07: (2, 1), 0x10: (3, 1), 0x12: (100, 2), 0x18: (0x41, 1),
                               0x23: (chip.cores or 1, 1), 0x24: (chip.cores or 1, 1), 0x25: (chip.threads or 1, 1)},
                  ("KX-3", "Kestrion", chip.name)),
        structure(16, ARRAY, 0x17, {0x04: (3, 1), 0x05: (3, 1), 0x06: (3, 1), 0x07: (limit // 1024, 4),
                                    0x0D: (len(slots), 2)}),
    ]  # fmt: skip
    config = machine.configuration().modules()
    for number, slot in enumerate(slots):
        out.append(_place(number, slot, None if slot.id in unseen else config.get(slot.id)))
    out.append(structure(127, 0xFEFF, 4, {}))
    return b"".join(out)


def _place(number: int, slot: ModuleSlot, module: MemoryModule | None) -> bytes:
    """Type 17; an empty place keeps its form and type unknown, as many firmwares do."""
    fields: dict[int, tuple[int, int]] = {0x04: (ARRAY, 2), 0x0E: (2, 1), 0x10: (1, 1), 0x11: (2, 1), 0x12: (2, 1)}
    if module is not None:
        fields |= {
            0x08: (64, 2), 0x0A: (64, 2), 0x0C: (module.size_bytes // MIB, 2), 0x0E: (MEMORY_FORMS[module.form], 1),
            0x12: (MEMORY_TYPES[module.generation], 1), 0x15: (module.speed_mts or 0, 2), 0x17: (3, 1), 0x1A: (4, 1),
            0x20: (module.speed_mts or 0, 2), 0x26: (round(1000 * min(module.volts, default=1.5)), 2),
        }  # fmt: skip
    strings: tuple[str, ...] = (slot.label, f"Channel {chr(65 + slot.channel)}" if slot.channel is not None else "")
    if module is not None:
        strings = (*strings, module.name.split()[0], module.name)
    return structure(17, 0x1100 + number, 0x28, fields, strings)


def module_data(module: MemoryModule) -> bytes | None:
    """SPD of a DDR3 or DDR4 module with a true checksum; None for other generations, which show none here."""
    if module.generation is MemoryGeneration.DDR3:
        return _ddr3(module)
    return _ddr4(module) if module.generation is MemoryGeneration.DDR4 else None


def _shape(module: MemoryModule, largest_gbit: int) -> tuple[int, int]:
    """(density of a chip [Gbit], ranks) with eight chips of eight bits to a rank."""
    gib = max(module.size_bytes // GIB, 1)
    ranks = 1 if gib <= largest_gbit else 2
    return gib // ranks, ranks


def _ddr3(module: MemoryModule) -> bytes:
    """Annex K; time base 1/8 ns with corrections in picoseconds."""
    gbit, ranks = _shape(module, 4)
    clock, fine = _clock(module.speed_mts or 1600, 125.0)
    d = bytearray(256)
    d[0], d[2], d[3] = 0x92, 0x0B, 3 if module.form is MemoryForm.SO_DIMM else 2
    d[4], d[6] = 2 + gbit.bit_length() - 1, 0x02 if 1.35 in module.volts else 0x00
    d[7], d[8], d[9], d[10], d[11] = (ranks - 1) << 3 | 1, 3, 0x11, 1, 8
    d[12], d[34] = clock, fine & 0xFF
    d[16] = d[18] = d[20] = 110
    d[21], d[22] = 0x01, 0x18
    d[117:119], d[120], d[121], d[122:126] = b"\x80\x2c", 0x13, 0x42, b"\x01\x02\x03\x04"
    d[128:146] = module.name[:18].encode("ascii", "replace").ljust(18)
    d[126:128] = crc16(bytes(d[:117])).to_bytes(2, "little")
    return bytes(d)


def _ddr4(module: MemoryModule) -> bytes:
    """Annex L; time base 125 ps with corrections in picoseconds."""
    gbit, ranks = _shape(module, 8)
    clock, fine = _clock(module.speed_mts or 2400, 125.0)
    d = bytearray(512)
    d[0], d[2], d[3] = 0x23, 0x0C, 3 if module.form is MemoryForm.SO_DIMM else 2
    d[4], d[11], d[12], d[13] = 2 + gbit.bit_length() - 1, 0x01, (ranks - 1) << 3 | 1, 3
    d[18], d[125] = clock, fine & 0xFF
    d[24] = d[25] = d[26] = 110
    d[27], d[28] = 0x01, 0x00
    d[320:322], d[323], d[324], d[325:329] = b"\x80\x2c", 0x17, 0x21, b"\x05\x06\x07\x08"
    d[329:349] = module.name[:20].encode("ascii", "replace").ljust(20)
    d[126:128] = crc16(bytes(d[:126])).to_bytes(2, "little")
    return bytes(d)


def _clock(speed_mts: int, base_ps: float) -> tuple[int, int]:
    """Clock period as whole time bases, rounded up, and the correction [ps], at most zero."""
    period_ps = 2e6 / speed_mts
    whole = int(-(-period_ps // base_ps))
    return whole, round(period_ps - whole * base_ps)
