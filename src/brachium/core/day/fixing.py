"""Fixed stretches that cannot be held are freed again, each with its reason, before an order is looked for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.day.blocks import Block, DayJob, ShopDay, next_open


def with_fixed_starts(jobs: Sequence[DayJob], shop: ShopDay) -> tuple[tuple[DayJob, ...], tuple[str, ...]]:
    """The jobs with the stretches that can stay fixed, and what was freed with why.

    A stretch stays where it follows the work before it, lies in the opening hours and finds a technician.
    """
    taken: list[Block] = []
    freed: list[str] = []
    out = []
    for job in jobs:
        ready = max(job.release, shop.now)
        blocks = []
        for given in job.blocks:
            why = "" if given.fixed is None else _against(given, given.fixed, ready, taken, shop)
            block = replace(given, fixed=None) if why else given
            if why:
                freed.append(phrase("{job}, “{block}”: {why}", job=job.name, block=block.title, why=why))
            elif block.fixed is not None:
                taken.append(block)
            start = block.fixed if block.fixed is not None else next_open(shop.hours, ready, block.attended)
            ready = start + block.attended + block.unattended
            blocks.append(block)
        out.append(replace(job, blocks=tuple(blocks)))
    return tuple(out), tuple(freed)


def _against(block: Block, at: int, ready: int, taken: Sequence[Block], shop: ShopDay) -> str:
    """Why a block cannot stay fixed at a minute; empty where it can."""
    if at < ready:
        return "the work before it cannot be over by then"
    if not any(a <= at and at + block.attended <= b for a, b in shop.hours):
        return "it does not lie within the opening hours"
    at_once = [b for b in taken if b.fixed is not None and b.fixed < at + block.attended and at < b.fixed + b.attended]
    return "every technician has a fixed time block then" if len(at_once) >= shop.technicians else ""
