"""What the rail shows of a job and what is searched: a few words that are at hand without opening the record."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import phrase
from brachium.core.measure.reference import hardware_key
from brachium.core.record.job import KEPT, WAITS_OWNER, WAITS_PARTS, DataState, Job, Stage


class Waits(StrEnum):
    """What a machine waits for; the value is the heading in the rail, the order is the rail's."""

    BENCH = "On the bench"
    RUNNING = "Running by itself"
    PARTS = WAITS_PARTS
    OWNER = WAITS_OWNER
    AGAIN = "Look again"
    DONE = "Done"
    KEPT = KEPT
    ARCHIVED = "Archived"


@dataclass(frozen=True)
class JobCard:
    """`words` is the searched text in lower case; `stage` is empty until the job was computed once."""

    id: str
    name: str
    waits: Waits
    note: str
    words: str
    serial: str = ""
    bench: str = ""
    needed_by: str = ""
    archived: bool = False
    stage: str = ""
    hardware: str = ""
    look_again: str = ""

    def __post_init__(self) -> None:
        object.__setattr__(self, "name", OwnWords(self.name))

    def due(self, today: str) -> bool:
        """Whether a machine that was handed over is to be looked at again by now."""
        return self.waits is Waits.DONE and bool(self.look_again) and self.look_again <= today

    def holds(self, words: list[str]) -> bool:
        """Whether the card holds all of these lower-case words."""
        return all(word in self.words for word in words)


def card_of(job: Job, stage: Stage | None = None) -> JobCard:
    """The card of a job that stands at `stage`; None = not computed yet."""
    identity = job.machine.identity
    words = phrase(
        "{job} {maker} {model} {serial} {goal}",
        job=job.name,
        maker=identity.maker,
        model=identity.model,
        serial=identity.serial,
        goal=job.goal,
    ).lower()
    waits, note = _waits(job, stage)
    return JobCard(job.id, job.name, waits, note, words, identity.serial, job.bench, job.needed_by,
                   bool(job.archived), stage.value if stage is not None else "",
                   hardware_key(job.machine.processor.name), job.look_again)  # fmt: skip


def _waits(job: Job, stage: Stage | None) -> tuple[Waits, str]:
    if job.archived:
        return Waits.ARCHIVED, phrase("since {archived}", archived=job.archived[:10])
    if job.handed_over:
        return Waits.DONE, "handed over"
    if job.hold is not None:
        return Waits(job.hold.on), job.hold.note or phrase("since {since}", since=job.hold.since[:10])
    if stage is None:
        return Waits.BENCH, ""
    if job.data_safe.state is DataState.RESCUE:
        return Waits.BENCH, "open to rescue the data"
    if job.data_safe.state is DataState.OPEN and job.machine.fitted:
        return Waits.OWNER, "data not settled"
    return Waits.BENCH, stage.value
