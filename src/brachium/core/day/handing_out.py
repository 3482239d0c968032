"""Which technician and which bench has each block, once it is known when they start."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.core.day.blocks import Block, DayJob, Placed, ShopDay


def handed_out(jobs: Sequence[DayJob], starts: Mapping[str, int], shop: ShopDay) -> tuple[Placed, ...]:
    """Technicians and benches given out in the order of starts: whoever was free longest."""
    blocks = sorted((b for j in jobs for b in j.blocks), key=lambda b: (starts[b.id], b.id))
    free = [0] * max(shop.technicians, 1)
    bench_of = _benches(jobs, starts, shop)
    out = []
    for block in blocks:
        able = [k for k in range(len(free)) if free[k] <= starts[block.id]]
        who = max(able, key=lambda k: (free[k], -k)) if able else min(range(len(free)), key=lambda k: free[k])
        free[who] = starts[block.id] + block.attended
        out.append(Placed(block, starts[block.id], who, bench_of.get(block.id, -1)))
    return tuple(out)


def _benches(jobs: Sequence[DayJob], starts: Mapping[str, int], shop: ShopDay) -> dict[str, int]:
    """Bench of every open block: stretches in order of their start take the first bench that is free."""
    stretches = []
    for job in jobs:
        run: list[Block] = []
        for k, block in enumerate(job.blocks):
            if block.bench:
                run.append(block)
            if run and (not block.bench or k == len(job.blocks) - 1):
                last = run[-1]
                end = starts[last.id] + last.attended + last.unattended
                stretches.append((starts[run[0].id], end, tuple(b.id for b in run)))
                run = []
    free = [0] * max(shop.benches, 1)
    out = {}
    for begin, end, ids in sorted(stretches):
        bench = next((k for k in range(len(free)) if free[k] <= begin), 0)
        free[bench] = end
        out.update(dict.fromkeys(ids, bench))
    return out
