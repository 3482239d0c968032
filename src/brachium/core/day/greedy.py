"""A first useful sheet at once: the job that is promised soonest first, each block as early as it can be."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.day.blocks import DayJob, Placed, Sheet, ShopDay, lateness_of, next_open

LATE = 10**9


# complex: one loop over hands, benches and jobs that all change together
def greedy_sheet(jobs: Sequence[DayJob], shop: ShopDay) -> Sheet:
    """List scheduling: at every turn the ready block whose job is due soonest; fixed blocks keep their place
    where the blocks before them leave it."""
    free = [shop.now] * max(shop.technicians, 1)
    benches = [shop.now] * max(shop.benches, 1)
    held: dict[str, int] = {}
    at = {job.id: 0 for job in jobs}
    ready = {job.id: max(job.release, shop.now) for job in jobs}
    placed: list[Placed] = []
    fixed = [(b.fixed, b.attended) for job in jobs for b in job.blocks if b.fixed is not None]
    while True:
        open_jobs = [j for j in jobs if at[j.id] < len(j.blocks)]
        if not open_jobs:
            break
        job = min(open_jobs, key=lambda j: (_start(j, at, ready, free, benches, held, shop) > _soonest(
            open_jobs, at, ready, free, benches, held, shop) + 15, j.due if j.due is not None else LATE,
            j.id))  # fmt: skip
        block = job.blocks[at[job.id]]
        start = _start(job, at, ready, free, benches, held, shop)
        if block.fixed is None:
            start = _around(start, block.attended, fixed, shop) if shop.technicians == 1 else start
        who = min(range(len(free)), key=lambda k: (free[k] > start, -free[k] if free[k] <= start else free[k], k))
        bench = held.get(job.id, -1)
        if block.bench and bench < 0:
            bench = min((k for k in range(len(benches)) if k not in held.values()), key=lambda k: (benches[k], k))
            held[job.id] = bench
        placed.append(Placed(block, start, who, bench if block.bench else -1))
        free[who] = start + block.attended
        ready[job.id] = start + block.attended + block.unattended
        at[job.id] += 1
        if block.bench:
            benches[bench] = ready[job.id]
            if at[job.id] >= len(job.blocks) or not job.blocks[at[job.id]].bench:
                held.pop(job.id, None)
    late = lateness_of(jobs, placed)
    return Sheet(tuple(placed), sum(late.values()), max((p.end for p in placed), default=shop.now), None,
                 "soonest promise first",
                 late)  # fmt: skip


def _start(
    job: DayJob, at: dict[str, int], ready: dict[str, int], free: list[int], benches: list[int], held: dict[str, int],
    shop: ShopDay,
) -> int:  # fmt: skip
    """Earliest start of a job's next block."""
    block = job.blocks[at[job.id]]
    if block.fixed is not None and block.fixed >= ready[job.id]:
        return block.fixed
    earliest = max(ready[job.id], min(free), shop.now)
    if block.bench:
        mine = [held[job.id]] if job.id in held else [k for k in range(len(benches)) if k not in held.values()]
        if not mine:
            return LATE  # every bench holds an open machine: another one has to be closed first
        earliest = max(earliest, min(benches[k] for k in mine))
    return next_open(shop.hours, earliest, block.attended)


def _soonest(
    jobs: Sequence[DayJob], at: dict[str, int], ready: dict[str, int], free: list[int], benches: list[int],
    held: dict[str, int], shop: ShopDay,
) -> int:  # fmt: skip
    return min(_start(j, at, ready, free, benches, held, shop) for j in jobs)


def _around(start: int, length: int, fixed: Sequence[tuple[int | None, int]], shop: ShopDay) -> int:
    """Later where a fixed block would be in the way of the only technician."""
    moved = True
    while moved:
        moved = False
        for begin, long in fixed:
            if begin is not None and start < begin + long and begin < start + length:
                start, moved = next_open(shop.hours, begin + long, length), True
    return start
