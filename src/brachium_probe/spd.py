"""What a memory module says of itself: SPD bytes of DDR2, DDR3, DDR4 and DDR5 (JEDEC 21-C annexes, JESD400-5).

A wrong checksum is reported and the data still shown as doubtful: shipped images often fail it.
"""

from __future__ import annotations

import math
from typing import Dict

Fields = Dict[str, object]
GENERATIONS = {0x08: "DDR2", 0x0B: "DDR3", 0x0C: "DDR4", 0x12: "DDR5"}
CHECKED_BYTES = {"DDR2": 64, "DDR3": 128, "DDR4": 128, "DDR5": 512}
LEAST_BYTES = {"DDR2": 91, "DDR3": 146, "DDR4": 349, "DDR5": 551}
UNBUFFERED, REGISTERED, LOAD_REDUCED = "unbuffered", "registered", "load-reduced"
FORMS = {
    "DDR2": {1: ("DIMM", REGISTERED), 2: ("DIMM", UNBUFFERED), 4: ("SO-DIMM", UNBUFFERED), 5: ("DIMM", REGISTERED),
             6: ("SO-DIMM", UNBUFFERED), 7: ("SO-DIMM", REGISTERED)},
    "DDR3": {1: ("DIMM", REGISTERED), 2: ("DIMM", UNBUFFERED), 3: ("SO-DIMM", UNBUFFERED), 5: ("DIMM", REGISTERED),
             6: ("DIMM", UNBUFFERED), 8: ("SO-DIMM", UNBUFFERED), 9: ("SO-DIMM", REGISTERED),
             11: ("DIMM", LOAD_REDUCED)},
    "DDR4": {1: ("DIMM", REGISTERED), 2: ("DIMM", UNBUFFERED), 3: ("SO-DIMM", UNBUFFERED), 4: ("DIMM", LOAD_REDUCED),
             5: ("DIMM", REGISTERED), 6: ("DIMM", UNBUFFERED), 8: ("SO-DIMM", REGISTERED), 9: ("SO-DIMM", UNBUFFERED),
             12: ("SO-DIMM", UNBUFFERED), 13: ("SO-DIMM", UNBUFFERED)},
    "DDR5": {1: ("DIMM", REGISTERED), 2: ("DIMM", UNBUFFERED), 3: ("SO-DIMM", UNBUFFERED), 4: ("DIMM", LOAD_REDUCED)},
}  # fmt: skip
DDR4_MEGABIT = {0: 256, 1: 512, 2: 1024, 3: 2048, 4: 4096, 5: 8192, 6: 16384, 7: 32768, 8: 12288, 9: 24576}
DDR5_MEGABIT = {1: 4096, 2: 8192, 3: 12288, 4: 16384, 5: 24576, 6: 32768, 7: 49152, 8: 65536}
DDR5_DIES = {0: 1, 2: 2, 3: 4, 4: 8, 5: 16}
DDR2_TENTHS = {10: 0.25, 11: 0.33, 12: 0.66, 13: 0.75}
MTB4_PS, FTB4_PS = 125.0, 1.0


def read_spd(data: bytes) -> Fields | None:
    """Fields of a module; None for anything that is not one of the four generations or is too short to tell its size.

    Keys: generation, form, buffering, registered (or load-reduced), size_bytes, speed_mts, ranks, width (data bits of
    a chip), ecc, volts, cas, timings_ns (tAA, tRCD, tRP, tRAS), part, serial, maker_id, made (year and week),
    checksum_ok.
    """
    generation = GENERATIONS.get(data[2]) if len(data) > 2 else None
    if generation is None or len(data) < 64:
        return None
    padded = data + b"\x00" * max(LEAST_BYTES[generation] - len(data), 0)
    try:
        found = {"DDR2": _ddr2, "DDR3": _ddr3, "DDR4": _ddr4, "DDR5": _ddr5}[generation](padded)
    except (ZeroDivisionError, KeyError, OverflowError):
        return None
    form = FORMS[generation].get(padded[20] & 0x3F if generation == "DDR2" else padded[3] & 0x0F)
    kind = form[1] if form else None
    found.update({"generation": generation, "form": form[0] if form else None, "buffering": kind,
                  "registered": kind != UNBUFFERED if kind else None})  # fmt: skip
    if len(data) < CHECKED_BYTES[generation]:  # the sum itself is cut off; the base of 128 bytes stands alone
        found["checksum_ok"] = False
    return found


def crc16(data: bytes) -> int:
    """CRC of JEDEC's annexes: polynomial 0x1021, start 0."""
    crc = 0
    for value in data:
        crc ^= value << 8
        for _ in range(8):
            crc = ((crc << 1) ^ 0x1021 if crc & 0x8000 else crc << 1) & 0xFFFF
    return crc


def _ddr2(d: bytes) -> Fields:
    sizes = {0: 1 << 30, 1: 2 << 30, 2: 4 << 30, 3: 8 << 30, 4: 16 << 30, 5: 128 << 20, 6: 256 << 20, 7: 512 << 20}
    rank = [size for bit, size in sizes.items() if d[31] >> bit & 1]
    ranks = (d[5] & 7) + 1
    tenths = d[9] & 0x0F
    tck = (d[9] >> 4) + DDR2_TENTHS.get(tenths, tenths / 10.0)
    return {
        "size_bytes": rank[0] * ranks if rank else None,
        "speed_mts": _rated(2000.0 / tck),
        "ranks": ranks,
        "width": d[13],
        "ecc": bool(d[11] & 2),
        "volts": (1.8,),
        "cas": None,
        "timings_ns": None,
        "part": _text(d[73:91]),
        "serial": d[95:99].hex() if len(d) >= 99 else None,
        "maker_id": None,
        "made": _made(d[93], d[94]) if len(d) >= 95 else None,
        "checksum_ok": sum(d[:63]) & 0xFF == d[63],
    }


def _ddr3(d: bytes) -> Fields:
    mtb = d[10] / d[11]
    ftb = (d[9] >> 4) / (d[9] & 0x0F) / 1000.0 if d[9] & 0x0F else 0.0
    tck = d[12] * mtb + _signed(d[34]) * ftb
    taa = d[16] * mtb + _signed(d[35]) * ftb
    ranks, width, bus = (d[7] >> 3 & 7) + 1, 4 << (d[7] & 7), 8 << (d[8] & 7)
    volts = tuple(v for v, on in ((1.5, not d[6] & 1), (1.35, d[6] & 2), (1.25, d[6] & 4)) if on)
    covered = 117 if d[0] & 0x80 else 126
    return {
        "size_bytes": (256 << (d[4] & 0x0F)) * (1 << 20) // 8 * (bus // width) * ranks,
        "ranks": ranks,
        "width": width,
        "speed_mts": _rated(2000.0 / tck),
        "ecc": d[8] >> 3 & 3 == 1,
        "volts": volts,
        "cas": math.ceil(taa / tck - 0.01),
        "timings_ns": (taa, d[18] * mtb, d[20] * mtb, ((d[21] & 0x0F) << 8 | d[22]) * mtb),
        "part": _text(d[128:146]),
        "serial": d[122:126].hex(),
        "maker_id": d[117:119].hex(),
        "made": _made(d[120], d[121]),
        "checksum_ok": crc16(d[:covered]) == int.from_bytes(d[126:128], "little"),
    }


def _ddr4(d: bytes) -> Fields:
    tck = (d[18] * MTB4_PS + _signed(d[125]) * FTB4_PS) / 1000.0
    taa = (d[24] * MTB4_PS + _signed(d[123]) * FTB4_PS) / 1000.0
    ranks, width, bus = (d[12] >> 3 & 7) + 1, 4 << (d[12] & 7), 8 << (d[13] & 7)
    dies = (d[6] >> 4 & 7) + 1 if d[6] & 3 == 2 else 1
    size = DDR4_MEGABIT[d[4] & 0x0F] * (1 << 20) // 8 * (bus // width) * ranks * dies
    fine = [(25, 122), (26, 121)]
    trcd, trp = ((d[a] * MTB4_PS + _signed(d[b]) * FTB4_PS) / 1000.0 for a, b in fine)
    return {
        "size_bytes": size,
        "ranks": ranks,
        "width": width,
        "speed_mts": _rated(2000.0 / tck),
        "ecc": d[13] >> 3 & 3 == 1,
        "volts": (1.2,) if d[11] & 1 else (),
        "cas": math.ceil(taa / tck - 0.01),
        "timings_ns": (taa, trcd, trp, ((d[27] & 0x0F) << 8 | d[28]) * MTB4_PS / 1000.0),
        "part": _text(d[329:349]),
        "serial": d[325:329].hex(),
        "maker_id": d[320:322].hex(),
        "made": _made(d[323], d[324]),
        "checksum_ok": crc16(d[:126]) == int.from_bytes(d[126:128], "little"),
    }


def _ddr5(d: bytes) -> Fields:
    tck, taa, trcd, trp, tras = (int.from_bytes(d[at : at + 2], "little") / 1000.0 for at in (20, 30, 32, 34, 36))
    ranks, width, bus = (d[234] >> 3 & 7) + 1, 4 << (d[6] >> 5), 8 << (d[235] & 7)
    channels = (d[235] >> 5 & 3) + 1
    size = DDR5_MEGABIT[d[4] & 0x1F] * (1 << 20) // 8 * (bus // width) * ranks * channels * DDR5_DIES[d[4] >> 5]
    return {
        "size_bytes": size,
        "ranks": ranks,
        "width": width,
        "speed_mts": _rated(2000.0 / tck),
        "ecc": bool(d[235] & 0x18),
        "volts": (1.1,),
        "cas": math.ceil(taa / tck - 0.01),
        "timings_ns": (taa, trcd, trp, tras),
        "part": _text(d[521:551]),
        "serial": d[517:521].hex(),
        "maker_id": d[512:514].hex(),
        "made": _made(d[515], d[516]),
        "checksum_ok": crc16(d[:510]) == int.from_bytes(d[510:512], "little"),
    }


def _rated(mts: float) -> int:
    """The selling speed: transfers are rated in steps that a clock period in whole picoseconds only comes close to."""
    nominal = (
        400,
        533,
        667,
        800,
        1066,
        1333,
        1600,
        1866,
        2133,
        2400,
        2666,
        2933,
        3200,
        3600,
        4000,
        4400,
        4800,
        5200,
        5600,
        6000,
        6400,
        6800,
        7200,
        7600,
        8000,
        8400,
        8800,
    )
    nearest = min(nominal, key=lambda n: abs(n - mts))
    return nearest if abs(nearest - mts) <= 0.02 * nearest else round(mts)


def _signed(value: int) -> int:
    return value - 256 if value > 127 else value


def _text(data: bytes) -> str | None:
    words = bytes(c if 32 <= c < 127 else 32 for c in data).decode("ascii").strip()
    return words or None


def _made(year: int, week: int) -> str | None:
    """Year and week, binary coded decimal; None where they are none."""
    digits = [year >> 4, year & 15, week >> 4, week & 15]
    if max(digits) > 9:
        return None
    number = 10 * digits[2] + digits[3]
    return f"20{digits[0]}{digits[1]} week {number}" if 1 <= number <= 53 else None
