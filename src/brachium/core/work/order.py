"""The order of the work: as few openings as possible, and no layer off twice that need not be.

Tasks are done with the machine closed (running, or beside it) or open, and some come after others. Doing everything
that is possible in one state before changing to the other needs the fewest changes: a task that is put off can only
make later ones wait. Among those orders, tasks that may be done in several openings go to the one whose layers are off
anyway, else to the last, so that they come together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from brachium.core.base.text import joined, phrase
from brachium.core.work.step import Mode, Step


@dataclass(frozen=True)
class Task:
    """A step to be placed: the layers that must be off for it, the tasks that come before it."""

    step: Step
    layers: frozenset[str] = frozenset()
    after: frozenset[str] = frozenset()

    @property
    def id(self) -> str:
        return self.step.id

    @property
    def open(self) -> bool:
        return self.step.mode is Mode.OPEN


class CircularTasks(ValueError):  # noqa: N818 - an answer, not a bug
    """Tasks wait for each other; the message names them."""


def segments(tasks: Sequence[Task]) -> list[list[Task]]:
    """Tasks by turns closed, open, closed, ...; the first segment is closed and may be empty. Raises CircularTasks."""
    earliest = _earliest(tasks)
    latest = _latest(tasks, earliest)
    forced: dict[int, set[str]] = {}
    for task in tasks:
        if task.open and earliest[task.id] == latest[task.id]:
            forced.setdefault(earliest[task.id], set()).update(task.layers)
    placed: dict[str, int] = {}
    followers = _followers(tasks)
    for task in reversed(sorted_tasks(tasks)):
        most = min([latest[task.id], *(placed[f] for f in followers[task.id])])
        while most > earliest[task.id] and (most % 2 == 1) is not task.open:
            most -= 1
        placed[task.id] = _cheapest(task, earliest[task.id], most, forced)
        forced.setdefault(placed[task.id], set()).update(task.layers)
    count = max(placed.values(), default=0) + 1
    out: list[list[Task]] = [[] for _ in range(count)]
    for task in sorted_tasks(tasks):
        out[placed[task.id]].append(task)
    return out


def _cheapest(task: Task, low: int, high: int, forced: dict[int, set[str]]) -> int:
    """Closed tasks as early as they can be; open ones where fewest further layers come off, of equals the latest."""
    if not task.open:
        return low
    return min(range(high, low - 1, -2), key=lambda k: (len(task.layers - forced.get(k, set())), -k))


def _earliest(tasks: Sequence[Task]) -> dict[str, int]:
    """First segment in which a task can be done; odd ones are open."""
    by_id = {t.id: t for t in tasks}
    out: dict[str, int] = {}
    for task in sorted_tasks(tasks):
        first = 1 if task.open else 0
        for before in task.after:
            if before not in by_id:
                continue
            same = by_id[before].open is task.open
            first = max(first, out[before] + (0 if same else 1))
        out[task.id] = first
    return out


def _latest(tasks: Sequence[Task], earliest: dict[str, int]) -> dict[str, int]:
    """Last segment that keeps the number of openings; odd ones are open."""
    last_open = max((earliest[t.id] for t in tasks if t.open), default=-1)
    last_closed = max([last_open + 1, *(earliest[t.id] for t in tasks if not t.open)], default=0)
    followers, by_id = _followers(tasks), {t.id: t for t in tasks}
    out: dict[str, int] = {}
    for task in reversed(sorted_tasks(tasks)):
        last = last_open if task.open else last_closed
        for after in followers[task.id]:
            same = by_id[after].open is task.open
            last = min(last, out[after] - (0 if same else 1))
        out[task.id] = max(last, earliest[task.id])
    return out


def _followers(tasks: Sequence[Task]) -> dict[str, list[str]]:
    out: dict[str, list[str]] = {t.id: [] for t in tasks}
    for task in tasks:
        for before in task.after:
            if before in out:
                out[before].append(task.id)
    return out


def sorted_tasks(tasks: Sequence[Task]) -> list[Task]:
    """Topologically, keeping the given order where nothing forces another. Raises CircularTasks."""
    known = {t.id for t in tasks}
    left, done, out = list(tasks), set[str](), []
    while left:
        task = next((t for t in left if (t.after & known) <= done), None)
        if task is None:
            raise CircularTasks(
                phrase("these wait for each other: {left}", left=joined(", ", (t.step.title for t in left)))
            )
        left.remove(task)
        done.add(task.id)
        out.append(task)
    return out
