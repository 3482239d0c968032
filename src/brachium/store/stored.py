"""What a shop answers: records, settings and edits as they lie in it."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.merge import Clash
from brachium.core.record.job import Job


@dataclass(frozen=True)
class StoredJob:
    """A record as it lies in the shop: its revision, who made the last edit; `clashes` are left to a person, then
    `changed_by` is who made the value that stands."""

    job: Job
    revision: int
    changed_by: str = ""
    clashes: tuple[Clash, ...] = ()


@dataclass(frozen=True)
class StoredSetting:
    """A document of the shop's own as it lies there; answers as `StoredJob` does."""

    text: str
    revision: int
    changed_by: str = ""
    clashes: tuple[Clash, ...] = ()


@dataclass(frozen=True)
class EditDone:
    """An edit that was made: when (UTC), at which bench, what it is called."""

    at: str
    who: str
    label: str
