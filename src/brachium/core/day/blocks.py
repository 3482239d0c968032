"""The day's work as blocks: stretches of attended work that are done in one go, each with what runs by itself after it.

Times are whole minutes from the midnight before the first day. A job's blocks follow each other; from the block that
opens the machine to the one that closes it, it holds a bench.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import ceil

from brachium.core.base.text import phrase
from brachium.core.day.assumptions import LONGEST_MIN
from brachium.core.work.step import Mode, Step


@dataclass(frozen=True)
class Block:
    """Attended minutes, then unattended ones; `bench` = the machine is open; `fixed` = a person put it there [min]."""

    id: str
    job_id: str
    title: str
    steps: tuple[str, ...]
    attended: int
    unattended: int = 0
    bench: bool = False
    fixed: int | None = None
    spread: float = 0.3  # of the logarithm of its attended minutes


@dataclass(frozen=True)
class DayJob:
    """A machine's blocks in order; `release` when its parts are there, `due` when it is promised [min] or None."""

    id: str
    name: str
    blocks: tuple[Block, ...]
    release: int = 0
    due: int | None = None


@dataclass(frozen=True)
class ShopDay:
    """Who works where and when: `hours` are open stretches (start, end) [min], sorted and apart."""

    technicians: int = 1
    benches: int = 2
    hours: tuple[tuple[int, int], ...] = ()
    now: int = 0


@dataclass(frozen=True)
class Placed:
    """A block on the sheet: attended from start, over when its unattended part is; who and which bench (-1 = none)."""

    block: Block
    start: int
    technician: int = 0
    bench: int = -1

    @property
    def attended_end(self) -> int:
        return self.start + self.block.attended

    @property
    def end(self) -> int:
        return self.attended_end + self.block.unattended


@dataclass(frozen=True)
class Sheet:
    """A plan of the day: `late` minutes in all, `gap` minutes by which it might still be less late, 0 = proven."""

    placed: tuple[Placed, ...]
    late: int
    finish: int
    gap: int | None = None
    method: str = ""
    lateness: dict[str, int] = field(default_factory=dict)

    @property
    def keeps_fixed(self) -> bool:
        """Every block that a person fixed lies where it was put."""
        return all(p.block.fixed in (None, p.start) for p in self.placed)

    @property
    def finish_attended(self) -> int:
        """When the last technician is done [min]; what runs by itself may end later."""
        return max((p.attended_end for p in self.placed), default=0)

    def of(self, job_id: str) -> tuple[Placed, ...]:
        return tuple(p for p in self.placed if p.block.job_id == job_id)


def blocks_of(
    job_id: str, steps: Sequence[Step], fixed: dict[str, int] | None = None, spreads: dict[str, float] | None = None,
    longest: int = LONGEST_MIN,
) -> tuple[Block, ...]:  # fmt: skip
    """Steps joined to blocks: a block ends where something runs by itself, where the machine is opened or closed, or
    where it would grow longer than `longest` minutes. A single step longer than that stays a block of its own."""
    out: list[Block] = []
    run: list[Step] = []

    def close() -> None:
        if run:
            block_id = f"{job_id}/{run[0].id}"
            spread = max((spreads or {}).get(s.id, 0.3) for s in run)
            title = (
                run[0].title
                if len(run) == 1
                else phrase("{title} and {count} more", title=run[0].title, count=len(run) - 1)
            )
            out.append(Block(
                block_id, job_id, title, tuple(s.id for s in run), max(ceil(sum(s.attended_min for s in run)), 1),
                ceil(run[-1].unattended_min), run[0].mode is Mode.OPEN, (fixed or {}).get(block_id), spread,
            ))  # fmt: skip
            run.clear()

    for step in steps:
        changes = bool(run) and (run[-1].mode is Mode.OPEN) is not (step.mode is Mode.OPEN)
        long = sum(s.attended_min for s in run) + step.attended_min > longest
        if changes or long:
            close()
        run.append(step)
        if step.unattended_min > 0:
            close()
    close()
    return tuple(out)


def next_open(hours: Sequence[tuple[int, int]], at: int, length: int) -> int:
    """First minute from `at` on at which so long a stretch fits into the opening hours; after them, their end."""
    for start, end in hours:
        begin = max(at, start)
        if begin + length <= end:
            return begin
    return max(at, hours[-1][1] if hours else 0)


def closed_between(hours: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Stretches in which nobody works; those that touch are open without a break, and behind the last it is not closed:
    that is past the plan's end."""
    out, at = [], 0
    for start, end in hours:
        if start > at:
            out.append((at, start))
        at = end
    return out


def lateness_of(jobs: Sequence[DayJob], placed: Sequence[Placed]) -> dict[str, int]:
    """Minutes by which each promised job is late."""
    out = {}
    for job in jobs:
        ends = [p.end for p in placed if p.block.job_id == job.id]
        if job.due is not None and ends:
            out[job.id] = max(max(ends) - job.due, 0)
    return out
