"""SMBIOS tables and SPD images built from plain values, by the standards' offsets."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium_probe.spd import crc16


def structure(
    kind: int, handle: int, length: int, fields: Mapping[int, tuple[int, int]], strings: Sequence[str] = ()
) -> bytes:
    """`fields` maps an offset to (value, size in bytes)."""
    data = bytearray(length)
    data[0], data[1] = kind, length
    data[2:4] = handle.to_bytes(2, "little")
    for at, (value, size) in fields.items():
        data[at : at + size] = value.to_bytes(size, "little")
    tail = b"\x00".join(s.encode("utf-8") for s in strings) + b"\x00\x00" if strings else b"\x00\x00"
    return bytes(data) + tail


def entry_3(table: bytes, version: tuple[int, int] = (3, 4)) -> bytes:
    data = bytearray(0x18)
    data[:5], data[6], data[7], data[8] = b"_SM3_", 0x18, *version
    data[0x0C:0x10] = len(table).to_bytes(4, "little")
    data[5] = -sum(data) & 0xFF
    return bytes(data)


def entry_2(table: bytes, count: int, version: tuple[int, int] = (2, 7)) -> bytes:
    data = bytearray(0x1F)
    data[:4], data[5], data[6], data[7] = b"_SM_", 0x1F, *version
    data[0x10:0x15] = b"_DMI_"
    data[0x16:0x18] = len(table).to_bytes(2, "little")
    data[0x1C:0x1E] = count.to_bytes(2, "little")
    data[0x15] = -sum(data[0x10:]) & 0xFF
    data[4] = -sum(data) & 0xFF
    return bytes(data)


def module(
    handle: int,
    locator: str,
    size_mib: int = 4096,
    speed: int = 1600,
    kind: int = 0x18,
    form: int = 0x0D,
    bank: str = "BANK 0",
    extended_mib: int = 0,
) -> bytes:
    """A type 17 structure; size 0 is an empty place."""
    fields = {
        0x04: (0x1000, 2),
        0x08: (64, 2),
        0x0A: (64, 2),
        0x0C: (0x7FFF if extended_mib else size_mib, 2),
        0x0E: (form, 1),
        0x10: (1, 1),
        0x11: (2, 1),
        0x12: (kind, 1),
        0x15: (speed, 2),
        0x17: (3, 1),
        0x1A: (4, 1),
        0x1B: (2, 1),
        0x1C: (extended_mib, 4),
        0x20: (speed, 2),
        0x26: (1350, 2),
    }
    return structure(17, handle, 0x28, fields, (locator, bank, "Plover", "PLV-4G-1600"))


def laptop_tables() -> bytes:
    """The newsroom laptop as its firmware would list it."""
    return b"".join(
        (
            structure(
                0,
                0,
                0x1A,
                {0x04: (1, 1), 0x05: (2, 1), 0x08: (3, 1), 0x09: (0x7F, 1), 0x13: (0x08, 1)},
                ("Oakmere", "1.18", "03/17/2014"),
            ),
            structure(
                1,
                1,
                0x1B,
                {
                    0x04: (1, 1),
                    0x05: (2, 1),
                    0x06: (3, 1),
                    0x07: (4, 1),
                    0x08: (int.from_bytes(bytes(range(16)), "little"), 16),
                    0x19: (5, 1),
                    0x1A: (6, 1),
                },
                ("Oakmere", "Tern 14", "Default string", "OM-T14-20417", "To be filled by O.E.M.", "Tern"),
            ),
            structure(2, 2, 0x0F, {0x04: (1, 1), 0x05: (2, 1)}, ("Oakmere", "T14-B")),
            structure(3, 3, 0x15, {0x04: (1, 1), 0x05: (0x8A, 1), 0x08: (2, 1)}, ("Oakmere", "No Asset Tag")),
            structure(
                4,
                4,
                0x30,
                {
                    0x04: (1, 1),
                    0x07: (2, 1),
                    0x10: (3, 1),
                    0x12: (100, 2),
                    0x14: (6000, 2),
                    0x16: (2600, 2),
                    0x18: (0x41, 1),
                    0x23: (4, 1),
                    0x24: (4, 1),
                    0x25: (8, 1),
                },
                ("U3E1", "Kestrion", "Kestrion M4-35"),
            ),
            structure(16, 0x1000, 0x17, {0x04: (3, 1), 0x05: (3, 1), 0x06: (3, 1), 0x07: (16 << 20, 4), 0x0D: (2, 2)}),
            structure(16, 0x1001, 0x17, {0x05: (5, 1), 0x07: (8192, 4), 0x0D: (1, 2)}),
            module(0x1100, "ChannelA-DIMM0"),
            module(0x1101, "ChannelB-DIMM0", 0, 0, 0x02, 0x02),
            structure(17, 0x1102, 0x28, {0x04: (0x1001, 2), 0x0C: (8, 2)}, ("flash",)),
            structure(
                9,
                0x0900,
                0x11,
                {0x04: (1, 1), 0x05: (0x17, 1), 0x06: (0x0A, 1), 0x07: (3, 1), 0x0F: (2, 1), 0x10: (0x08, 1)},
                ("M.2 slot",),
            ),
            structure(
                22,
                0x1600,
                0x1A,
                {0x05: (1, 1), 0x08: (2, 1), 0x0A: (4400, 2), 0x0C: (14800, 2), 0x15: (10, 1)},
                ("Oakmere", "pack 1"),
            ),
            structure(39, 0x2700, 0x16, {0x06: (1, 1), 0x0C: (65, 2)}, ("adapter",)),
            structure(41, 0x2900, 0x0B, {0x04: (1, 1), 0x05: (0x85, 1)}, ("wired network",)),
            structure(127, 0xFEFF, 4, {}),
        )
    )


def spd_ddr3(ranks: int = 2, width: int = 8, megabit: int = 2048, mtb: int = 10) -> bytes:
    """SO-DIMM DDR3L; `mtb` is the clock period in eighths of a nanosecond (10 = 1600 MT/s)."""
    d = bytearray(256)
    d[0], d[2], d[3] = 0x92, 0x0B, 3
    d[4], d[6] = {1024: 2, 2048: 3, 4096: 4}[megabit], 0x02
    d[7], d[8] = (ranks - 1) << 3 | {4: 0, 8: 1, 16: 2}[width], 3
    d[9], d[10], d[11], d[12], d[16], d[18], d[20] = 0x11, 1, 8, mtb, 110, 110, 110
    d[21], d[22] = 0x01, 0x18
    d[117:119], d[120], d[121], d[122:126] = b"\x80\x2c", 0x13, 0x42, b"\x01\x02\x03\x04"
    d[128:146] = b"PLV-4G-1600".ljust(18)
    d[126:128] = crc16(bytes(d[:117])).to_bytes(2, "little")
    return bytes(d)


def spd_ddr4(ranks: int = 1, width: int = 8, density: int = 5, ecc: bool = False) -> bytes:
    """DIMM DDR4-2666, tCK 0.750 ns; density 5 = 8 Gbit."""
    d = bytearray(512)
    d[0], d[2], d[3], d[4] = 0x23, 0x0C, 2, density
    d[11], d[12] = 0x01, (ranks - 1) << 3 | {4: 0, 8: 1, 16: 2}[width]
    d[13] = 3 | (8 if ecc else 0)
    d[18], d[24], d[25], d[26], d[27], d[28] = 6, 114, 114, 114, 0x01, 0x00
    d[123] = 0
    d[320:322], d[323], d[324], d[325:329] = b"\x80\x2c", 0x18, 0x07, b"\xaa\xbb\xcc\xdd"
    d[329:349] = b"PLV-8G-2666".ljust(20)
    d[126:128] = crc16(bytes(d[:126])).to_bytes(2, "little")
    return bytes(d)


def spd_ddr5(ranks: int = 1, width: int = 8, density: int = 4) -> bytes:
    """SO-DIMM DDR5-4800, tCK 416 ps; density 4 = 16 Gbit."""
    d = bytearray(1024)
    d[0], d[2], d[3], d[4] = 0x30, 0x12, 3, density
    d[6] = {4: 0, 8: 1, 16: 2}[width] << 5
    for at, ps in ((20, 416), (30, 16000), (32, 16000), (34, 16000), (36, 32000)):
        d[at : at + 2] = ps.to_bytes(2, "little")
    d[234], d[235] = (ranks - 1) << 3, 2 | 1 << 5
    d[512:514], d[515], d[516], d[517:521] = b"\x80\x2c", 0x23, 0x11, b"\x11\x22\x33\x44"
    d[521:551] = b"PLV-16G-4800".ljust(30)
    d[510:512] = crc16(bytes(d[:510])).to_bytes(2, "little")
    return bytes(d)


def spd_ddr2() -> bytes:
    """DIMM DDR2-800, two ranks of 1 GiB."""
    d = bytearray(128)
    d[0], d[2], d[5], d[9], d[11], d[13], d[20], d[31] = 128, 0x08, 0x61, 0x25, 0, 8, 2, 0x01
    d[73:91] = b"PLV-2G-800".ljust(18)
    d[93], d[94] = 0x08, 0x21
    d[63] = sum(d[:63]) & 0xFF
    return bytes(d)
