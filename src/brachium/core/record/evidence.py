"""Evidence for the claim that a part works in a model at a firmware version."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

THRESHOLD = 0.85


class SourceKind(StrEnum):
    MAKER = "maker's list"
    OWN_JOB = "own measured job"
    SAME_FIRMWARE = "tested report, same model and firmware"
    SAME_MODEL = "tested report, same model"
    DATABASE = "database"
    SAME_SOCKET = "same socket and chipset only"


@dataclass(frozen=True)
class Source:
    """One source: its kind, whether it says that the part works, its date, who says so, a link or note.

    `copy_of` names the source (by its note) that it repeats.
    """

    kind: SourceKind
    works: bool = True
    date: str = ""
    who: str = ""
    note: str = ""
    copy_of: str = ""


@dataclass(frozen=True)
class CompatibilityClaim:
    """A part, by its name, works in a model; `sources` speak for or against it."""

    part: str
    model: str
    sources: tuple[Source, ...] = ()
