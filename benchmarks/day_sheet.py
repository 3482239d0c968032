"""The day sheet on made-up days: lateness and gap of the exact order against soonest promise first, and its time."""

from __future__ import annotations

import sys
import time

import numpy as np

from brachium.core.day.blocks import Block, DayJob, ShopDay
from brachium.core.day.exact import best_sheet
from brachium.core.day.greedy import greedy_sheet

DAY, OPENING = 24 * 60, ((9 * 60, 12 * 60 + 30), (13 * 60 + 30, 18 * 60))


def made_up(seed: int, jobs: int = 12, technicians: int = 2, benches: int = 4) -> tuple[list[DayJob], ShopDay]:
    """Jobs of fourteen steps in six blocks: copied, opened, refitted, tested; parts may come later."""
    rng = np.random.default_rng([9, seed])
    out = []
    for k in range(jobs):
        name = f"m{k}"
        plan = (("copy", 8, int(rng.integers(30, 120)), False), ("open and take out", int(rng.integers(15, 40)), 0,
                                                                 True),
                ("clean and fit", int(rng.integers(20, 60)), int(rng.choice([0, 5, 30])), True),
                ("close", int(rng.integers(10, 20)), 0, True), ("first start, memory test", 6, 35, False),
                ("after-run", 5, 25, False))  # fmt: skip
        blocks = tuple(
            Block(f"{name}/{i}", name, title, (title,), attended, unattended, bench)
            for i, (title, attended, unattended, bench) in enumerate(plan)
        )
        release = int(rng.choice([540, 540, 600, 720]))
        out.append(DayJob(name, name, blocks, release, release + int(rng.integers(240, 900))))
    hours = tuple((day * DAY + a, day * DAY + b) for day in range(5) for a, b in OPENING)
    return out, ShopDay(technicians, benches, hours, 540)


def main() -> int:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    begin = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    heads = ("day", "soonest promise first, min late", "exact, min late", "may be less by, min", "of it", "exact, s")
    print(f"| {' | '.join(heads)} |")
    print("|---" * len(heads) + "|")
    for seed in range(begin, begin + count):
        jobs, shop = made_up(seed)
        first = greedy_sheet(jobs, shop)
        began = time.perf_counter()
        best = best_sheet(jobs, shop)
        took, open_by = time.perf_counter() - began, best.gap or 0
        part = f"{open_by / max(best.late, 1):.1%}"
        print(f"| {seed + 1} | {first.late} | {best.late} | {open_by} | {part} | {took:.1f} |", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
