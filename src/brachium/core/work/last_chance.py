"""Last chance: what can never be measured or saved once the first screw is out, each done, waived or not applicable."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from enum import StrEnum

from brachium.core.machine.kinds import PORTABLE
from brachium.core.record.job import Job
from brachium.core.work.step_kinds.system import SETTINGS_NOTED


class LastMark(StrEnum):
    """What a person said of an item that the record cannot show by itself."""

    DONE = "done"
    WAIVED = "waived"
    NOT_APPLICABLE = "not applicable"


@dataclass(frozen=True)
class Item:
    """Something that is lost afterwards: why, and whether the record shows it by itself."""

    id: str
    title: str
    why: str
    shown: Callable[[Job, bool], bool]
    applies: Callable[[Job, Collection[str]], bool]  # with the ids of the work's steps


def _run(job: Job, has_before: bool) -> bool:
    return has_before or job.before_skipped


def _always(_: Job, __: Collection[str]) -> bool:
    return True


ITEMS: tuple[Item, ...] = (
    Item("run", "Before-run", "A gain cannot be shown without it.", _run, _always),
    Item("task", "The owner's own task timed", "It is what the owner will judge by.",
         lambda job, _: any(r.role == "before" for r in job.own_results), lambda job, _: bool(job.own_tests)),
    Item("backup", "The owner's data", "Work can lose it.", lambda job, _: job.data_safe.state.settled, _always),
    Item("condition", "Condition noted or photographed", "A scratch or a missing screw is blamed on the bench later.",
         lambda job, _: bool(job.photos or job.condition or job.findings), _always),
    Item("counters", "SMART data", "Only their rise tells cable from disk.", lambda job, _: bool(job.health),
         lambda _, steps: "drive" in steps),
    Item("firmware", "Firmware settings noted", "A flat cell or an update forgets start order and modes.",
         lambda job, _: any(d.step_id == SETTINGS_NOTED for d in job.steps_done),
         lambda _, steps: "processor" in steps or "board" in steps),
    Item("battery", "Battery capacity read", "It cannot be read with the battery out.",
         lambda job, _: job.scan is not None and bool(job.scan.batteries),
         lambda job, _: job.machine.kind in PORTABLE and job.scan is not None and bool(job.scan.batteries)),
)  # fmt: skip


@dataclass(frozen=True)
class Chance:
    """One item as it stands: `state` is "done", "waived", "not applicable" or empty."""

    item: Item
    state: str

    @property
    def title(self) -> str:
        return self.item.title


def last_chances(job: Job, has_before: bool, steps: Collection[str]) -> tuple[Chance, ...]:
    """Every item that applies to a job; `steps` are the ids of its work's steps."""
    marked = dict(job.last_chance)
    out = []
    for item in ITEMS:
        if item.applies(job, steps):
            state = LastMark.DONE.value if item.shown(job, has_before) else marked.get(item.id, "")
            out.append(Chance(item, state))
    return tuple(out)


def open_items(job: Job, has_before: bool, steps: Collection[str]) -> tuple[Chance, ...]:
    """Items on which nobody has said a word yet."""
    return tuple(c for c in last_chances(job, has_before, steps) if not c.state)
