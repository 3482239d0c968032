"""Mutated firmware tables and module data: does any break the decoder, how long does the worst take, how much memory?

    python -m benchmarks.mutated_tables [--count 100000]

Whole tables with up to thirty bytes changed, a third of them cut short as well; module data of
every generation likewise. Ends with status 1 and the table in hexadecimal at the first that raises.
"""

from __future__ import annotations

import argparse
import random
import sys
import time
import tracemalloc

from brachium_probe.smbios.fields import decoded
from brachium_probe.smbios.tables import read_entry_point, read_table
from brachium_probe.spd import read_spd
from tests.support.firmware_tables import entry_3, laptop_tables, spd_ddr2, spd_ddr3, spd_ddr4, spd_ddr5

SEED = 11


def mutated(dice: random.Random, whole: bytes) -> bytes:
    """Up to thirty bytes changed; every third one cut short."""
    data = bytearray(whole)
    for _ in range(dice.randint(1, 30)):
        data[dice.randrange(len(data))] = dice.randrange(256)
    return bytes(data[: dice.randint(0, len(data))]) if dice.random() < 0.33 else bytes(data)


def read_all(data: bytes) -> None:
    """As the scan reads it."""
    decoded(read_table(data, read_entry_point(entry_3(data))))


def worst(count: int, wholes: tuple[bytes, ...], module: bool) -> float:
    """The longest time of one [s]; raises what the decoder raises, with the bytes."""
    dice, longest = random.Random(SEED), 0.0
    for k in range(count):
        data = mutated(dice, wholes[k % len(wholes)])
        start = time.perf_counter()
        try:
            if module:
                read_spd(data)
            else:
                read_all(data)
        except Exception as error:
            sys.exit(f"number {k} raised {error!r}: {data.hex()}")
        longest = max(longest, time.perf_counter() - start)
    return longest


def main() -> None:
    """Print one line for the tables and one for the modules."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=100_000)
    count = parser.parse_args().count
    kinds = (
        ("firmware tables", (laptop_tables(),), False),
        ("module data", (spd_ddr2(), spd_ddr3(), spd_ddr4(), spd_ddr5()), True),
    )
    for title, wholes, module in kinds:
        start = time.perf_counter()
        longest = worst(count, wholes, module)
        took = time.perf_counter() - start
        tracemalloc.start()
        worst(min(count, 2000), wholes, module)
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        print(f"{count} mutated {title}: none raised, {took:.0f} s, the longest {1000 * longest:.1f} ms, "
              f"peak {peak / 1e6:.2f} MB")  # fmt: skip


if __name__ == "__main__":
    main()
