"""Grades that memory is sold by: module bandwidth as transfers, speed bins as CAS latency, voltage of a generation.

JEDEC JESD21-C clause 4.20 (module labels), JESD79-4 and JESD79-5 (speed bins).
"""

from __future__ import annotations

from brachium.core.machine.memory_part import MemoryGeneration

G = MemoryGeneration
RATES_MTS: dict[MemoryGeneration, tuple[int, ...]] = {
    G.SDR: (66, 100, 133),
    G.RDRAM: (600, 700, 800, 1066),
    G.DDR: (200, 266, 333, 400),
    G.DDR2: (400, 533, 667, 800, 1066),
    G.DDR3: (800, 1066, 1333, 1600, 1866, 2133, 2400, 2666),
    G.DDR4: (1600, 1866, 2133, 2400, 2666, 2933, 3200, 3600, 4000, 4266),
    G.DDR5: (3200, 3600, 4000, 4400, 4800, 5200, 5600, 6000, 6400, 6800, 7200, 7600, 8000, 8400, 8800),
}
VOLTS: dict[MemoryGeneration, float] = {
    G.SDR: 3.3, G.RDRAM: 2.5, G.DDR: 2.5, G.DDR2: 1.8, G.DDR3: 1.5, G.DDR4: 1.2, G.DDR5: 1.1,
}  # fmt: skip
LOW_VOLTS = {"L": 1.35, "LV": 1.35, "U": 1.25}  # after PC3
_DDR4_LETTERS = {"J": 10, "K": 11, "L": 12, "M": 13, "N": 14, "P": 15, "R": 16, "T": 17, "U": 18, "V": 19, "W": 20,
                 "Y": 21, "AA": 22, "AC": 24}  # fmt: skip
_DDR4_BINS = {
    1600: ("J", "K", "L"), 1866: ("L", "M", "N"), 2133: ("N", "P", "R"), 2400: ("P", "R", "T", "U"),
    2666: ("T", "U", "V", "W"), 2933: ("V", "W", "Y", "AA"), 3200: ("W", "AA", "AC"),
}  # fmt: skip
DDR3_CAS = {800: (5, 6), 1066: (6, 7, 8), 1333: (7, 8, 9, 10), 1600: (8, 9, 10, 11), 1866: (10, 11, 12, 13),
            2133: (11, 12, 13, 14)}  # fmt: skip
_DDR5_B_CAS = {3200: 26, 3600: 30, 4000: 32, 4400: 36, 4800: 40, 5200: 42, 5600: 46, 6000: 48, 6400: 52}
_DDR5_BINS = ("A", "AN", "B", "BN", "C")
SAME_RATE, SAME_BANDWIDTH = 0.002, 0.017  # 2667 is 2666; PC2-4200 is 533 x 8 = 4264


def bins_of(generation: MemoryGeneration, mts: int) -> tuple[str, ...]:
    """Letters of the speed bins that a rate has."""
    return _DDR4_BINS.get(mts, ()) if generation is G.DDR4 else _DDR5_BINS if generation is G.DDR5 else ()


def cas_of(generation: MemoryGeneration, mts: int, letter: str) -> int | None:
    """CAS latency [clocks] of a speed bin; None where the bin is not known."""
    if generation is G.DDR4:
        return _DDR4_LETTERS.get(letter) if letter in _DDR4_BINS.get(mts, ()) else None
    return _DDR5_B_CAS.get(mts) if generation is G.DDR5 and letter == "B" else None


def bin_of(generation: MemoryGeneration, mts: int, cas: float | None) -> str:
    """The bin of a latency; empty where there is none."""
    return next((b for b in bins_of(generation, mts) if cas is not None and cas_of(generation, mts, b) == cas), "")


def rate_mts(generation: MemoryGeneration, number: int) -> int | None:
    """Transfers [MT/s] from the number after PC, PC2, ...: a rate, or a bandwidth [MB/s] of eight bytes a transfer.

    None where the generation has neither; a rate between two grades (3000) stays as it is.
    """
    rates = RATES_MTS.get(generation, ())
    if not rates:
        return None
    if generation not in (G.SDR, G.RDRAM):
        bandwidth = _nearest(rates, number / 8, SAME_BANDWIDTH)
        if bandwidth is not None and number > 1.5 * max(rates[0], bandwidth):
            return bandwidth
    exact = _nearest(rates, number, SAME_RATE)
    if exact is not None or generation in (G.SDR, G.RDRAM):
        return exact
    return number if rates[0] <= number <= 1.1 * rates[-1] else None


def bandwidth_mb_s(mts: int) -> int:
    """The number after PC, PC2 and PC3: bandwidth [MB/s] of eight bytes a transfer, in whole hundreds."""
    return 2700 if mts == 333 else mts * 8 // 100 * 100


def _nearest(rates: tuple[int, ...], value: float, within: float) -> int | None:
    best = min(rates, key=lambda r: abs(r - value))
    return best if abs(best - value) <= within * best else None
