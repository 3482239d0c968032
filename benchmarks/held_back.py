"""What held simulated machines back, by their governors and as read from their logs.

`python -m benchmarks.held_back [count [seed]]`.
"""

from __future__ import annotations

import sys
from collections import Counter

from brachium.core.heat.throttle import HeldBack, find_throttling
from brachium.core.heat.trace import find_load
from tests.support.held_runs import HeldRun, held_runs


def named(run: HeldRun) -> HeldBack:
    """What the program calls it."""
    load = find_load(run.trace)
    return HeldBack.NOT_KNOWN if load is None else find_throttling(run.trace, load).kind


def main(count: int = 480, seed: int = 20) -> None:
    """Print the table of truths against findings, and the share that is right."""
    runs = held_runs(count, seed)
    table = Counter((r.kind, named(r)) for r in runs)
    kinds = [k for k in HeldBack if any(k in pair for pair in table)]
    print(f"{'truth':28}" + "".join(f"{k.value[:18]:>20}" for k in kinds))
    for truth in kinds:
        if any(truth is pair[0] for pair in table):
            print(f"{truth.value:28}" + "".join(f"{table[truth, k]:20}" for k in kinds))
    right = sum(n for (truth, found), n in table.items() if truth is found)
    print(f"named right: {right} of {count}")


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:]))
