"""Edits of a shop as records of their own, so that they can wait in a journal and be sent later.

Each says what stood before and what stands after: whoever stores it merges that into what lies in the shop by then.
Its token makes it count once, however often it is sent.
"""

from __future__ import annotations

import base64
import json
import secrets
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from brachium.core.base.packed_text import packed, unpacked
from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.run import Run
from brachium.core.record.card import JobCard, card_of
from brachium.core.record.job import Job
from brachium.formats.limits import SHAPE
from brachium.formats.records import card_from_json, card_to_json, job_from_json, job_to_json
from brachium.formats.run_file import run_from_text, run_to_file_text

VERSION = 1
PLACE = "edits that wait"


def new_token() -> str:
    """What tells one edit from every other, of whatever bench."""
    return secrets.token_hex(16)


@dataclass(frozen=True)
class StoredRun:
    """A run with the job and the role (before, after) it was taken for."""

    job_id: str
    role: str
    run: Run


@dataclass(frozen=True)
class JobEdit:
    """A record as it was before an edit (None: it is taken in) and as it is after it."""

    before: Job | None
    after: Job
    label: str
    card: JobCard | None = None
    seconds: float = 0.0
    token: str = field(default_factory=new_token)

    @property
    def job_id(self) -> str:
        return self.after.id


@dataclass(frozen=True)
class WholeJob:
    """A record with its photos and runs: all of it, or nothing."""

    job: Job
    card: JobCard
    runs: tuple[StoredRun, ...]
    photos: Mapping[str, bytes]
    label: str
    token: str = field(default_factory=new_token)


@dataclass(frozen=True)
class RunEdit:
    """A run that was measured or read; `head_only`: it is there already and was voided."""

    stored: StoredRun
    head_only: bool = False
    token: str = field(default_factory=new_token)


@dataclass(frozen=True)
class PhotoEdit:
    """A picture, by the id made of its content."""

    photo_id: str
    data: bytes
    token: str = field(default_factory=new_token)


@dataclass(frozen=True)
class SettingEdit:
    """A document of the shop's own as text, before (None: it was never kept) and after."""

    key: str
    before: str | None
    after: str
    token: str = field(default_factory=new_token)


ShopEdit = JobEdit | WholeJob | RunEdit | PhotoEdit | SettingEdit


def edit_to_text(edit: ShopEdit) -> str:
    """One JSON text that holds everything of an edit."""
    kind, plain = _plain(edit)
    return json.dumps({"edit": kind, "version": VERSION, "token": edit.token, **plain}, ensure_ascii=False)


def edit_from_text(text: str, place: str = PLACE) -> ShopEdit:
    """Raises ExpectedProblem where this program cannot read it."""
    try:
        whole = json.loads(text)
        if whole["version"] > VERSION:
            raise ExpectedProblem("written by a newer Brachium", place, "Update the program. It was left as it is.")
        return READERS[whole["edit"]](whole, str(whole["token"]))
    except SHAPE as error:
        raise ExpectedProblem("this edit cannot be read", place, "It was left as it is.") from error


def _plain(edit: ShopEdit) -> tuple[str, dict[str, Any]]:
    match edit:
        case JobEdit():
            before = job_to_json(edit.before) if edit.before is not None else None
            card = card_to_json(edit.card) if edit.card is not None else None
            return "job", {"before": before, "after": job_to_json(edit.after), "label": packed(edit.label),
                           "card": card, "seconds": edit.seconds}  # fmt: skip
        case WholeJob():
            return "whole", {
                "job": job_to_json(edit.job), "card": card_to_json(edit.card), "label": packed(edit.label),
                "runs": [_run(s) for s in edit.runs],
                "photos": {k: base64.b64encode(v).decode() for k, v in edit.photos.items()},
            }  # fmt: skip
        case RunEdit():
            return "run", {**_run(edit.stored), "head_only": edit.head_only}
        case PhotoEdit():
            return "photo", {"id": edit.photo_id, "data": base64.b64encode(edit.data).decode()}
        case SettingEdit():
            return "setting", {"key": edit.key, "before": edit.before, "after": edit.after}


def _run(stored: StoredRun) -> dict[str, str]:
    return {"job": stored.job_id, "role": stored.role, "run": run_to_file_text(stored.run)}


def _stored(plain: Mapping[str, str]) -> StoredRun:
    read = run_from_text(plain["run"], PLACE, lambda _: b"")
    return StoredRun(plain["job"], plain["role"], read.run)


def _job_edit(plain: Mapping[str, Any], token: str) -> JobEdit:
    before = job_from_json(plain["before"], PLACE) if plain["before"] is not None else None
    after = job_from_json(plain["after"], PLACE)
    card = card_from_json(plain["card"]) if plain["card"] is not None else None
    return JobEdit(before, after, unpacked(plain["label"]), card, float(plain["seconds"]), token)


def _whole_job(plain: Mapping[str, Any], token: str) -> WholeJob:
    job = job_from_json(plain["job"], PLACE)
    photos = {k: base64.b64decode(v) for k, v in plain["photos"].items()}
    runs = tuple(map(_stored, plain["runs"]))
    return WholeJob(job, card_from_json(plain["card"]) or card_of(job), runs, photos, unpacked(plain["label"]), token)


READERS: Mapping[str, Callable[[Mapping[str, Any], str], ShopEdit]] = {
    "job": _job_edit,
    "whole": _whole_job,
    "run": lambda p, token: RunEdit(_stored(p), bool(p["head_only"]), token),
    "photo": lambda p, token: PhotoEdit(p["id"], base64.b64decode(p["data"]), token),
    "setting": lambda p, token: SettingEdit(p["key"], p["before"], p["after"], token),
}
