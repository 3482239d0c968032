"""What the next start shows first: cards, settings, one record and its figures, ready to be taken up.

It holds nothing that is not in the shop file, and counts only while the file is the very one that was closed, by the
same program, and the figures only on the same day. It lies among the user's own files; one that others could have
written is not read.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import pickle
import sys
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

import brachium
from brachium.core.base.problems import Problem
from brachium.formats.atomic import write_atomically
from brachium.store.own_files import only_mine

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView
    from brachium.core.record.card import JobCard
    from brachium.core.record.job import Job
    from brachium.store.repository import Repository

# what the window asks for first of the shop's own documents
FIRST = ("settings", "shelf", "consumables_drawn")
BROKEN = (OSError, EOFError, pickle.UnpicklingError, AttributeError, ImportError, IndexError, KeyError, TypeError,
          ValueError)  # fmt: skip
"""What reading a damaged or strange file may raise: then the shop file is read as ever."""


@dataclass(frozen=True)
class KeptStart:
    """The shop as a start finds it; `jobs` holds the record that is shown first, `view` its figures, still packed."""

    cards: tuple[JobCard, ...]
    settings: Mapping[str, str]
    parsed: dict[str, tuple[str, Any]] = field(default_factory=dict)
    jobs: Mapping[str, Job] = field(default_factory=dict)
    view: bytes = b""
    day: str = ""

    def view_of(self, job: Job) -> Callable[[], JobView | None] | None:
        """How the kept figures of a record are taken up, in a lane; None where there are none of it and of today."""
        if not self.view or self.jobs.get(job.id) != job or self.day != date.today().isoformat():
            return None
        return self._unpack

    def _unpack(self) -> JobView | None:
        try:
            found: JobView = pickle.loads(self.view)
        except BROKEN:
            return None
        return found


def shop_start(repository: Repository) -> KeptStart:
    """As the shop itself answers."""
    return KeptStart(repository.cards(), {key: kept.text for key, kept in repository.settings().items()})


def write_start(
    shop: Path, cards: tuple[JobCard, ...], settings: Mapping[str, str], parsed: dict[str, tuple[str, Any]], job: Job,
    view: JobView | None,
) -> None:  # fmt: skip
    """Keep it for the next start; the shop file must be closed. Where that fails the next start is as ever."""
    with contextlib.suppress(Problem, *BROKEN):
        packed = pickle.dumps(view, pickle.HIGHEST_PROTOCOL) if view is not None else b""
        first = {key: parsed[key] for key in FIRST if key in parsed}
        start = KeptStart(cards, dict(settings), first, {job.id: job}, packed, date.today().isoformat())
        path = _file(shop)
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        path.parent.chmod(0o700)
        whole = pickle.dumps(start, pickle.HIGHEST_PROTOCOL)
        head = json.dumps([*_key(shop), hashlib.sha256(whole).hexdigest()])
        write_atomically(path, head.encode() + b"\n" + whole)


def read_start(shop: Path) -> KeptStart | None:
    """None where there is none for this file as it is now."""
    path = _file(shop)
    try:
        if not only_mine(path.parent) or not only_mine(path):
            return None
        head, _, whole = path.read_bytes().partition(b"\n")
        if json.loads(head) != [*_key(shop), hashlib.sha256(whole).hexdigest()]:
            return None  # nothing of it was taken up: what another program kept may not fit this one's classes
        start = pickle.loads(whole)
        return start if isinstance(start, KeptStart) else None
    except BROKEN:
        return None


def _file(shop: Path) -> Path:
    from platformdirs import user_state_path

    return user_state_path("brachium") / "starts" / f"{hashlib.sha256(str(shop.absolute()).encode()).hexdigest()[:16]}"


def _key(shop: Path) -> tuple[object, ...]:
    """What the shop file and the program are now: a file that anybody wrote to since is another one."""
    about = shop.stat()
    waits = shop.with_name(f"{shop.name}-wal")
    log = waits.stat().st_size if waits.exists() else 0
    return about.st_size, about.st_mtime_ns, about.st_ino, log, program_stamp()


@cache
def program_stamp() -> str:
    """What tells this program from every other version of it: Python's, and names, sizes and times of its files."""
    out = hashlib.sha256(sys.version.encode())
    root = Path(brachium.__file__).parent
    for folder, folders, names in os.walk(root):
        folders[:] = sorted(f for f in folders if f not in ("__pycache__", "resources"))
        for name in sorted(n for n in names if n.endswith((".py", ".csv", ".json"))):
            about = os.stat(os.path.join(folder, name))  # noqa: PTH116, PTH118 - eight hundred of them at every start
            out.update(f"{folder}/{name} {about.st_size} {about.st_mtime_ns}\n".encode())
    return out.hexdigest()
