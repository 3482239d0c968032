"""Edits on their way to a server, one file each, so that none is lost when the line breaks or the program is killed.

A file is written before its edit is sent and goes once it is in the shop. Where a person has to choose between two
values it stays as `.clash` until that is done; what the shop refused stays as `.refused`.
"""

from __future__ import annotations

import contextlib
import fcntl
import itertools
import os
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from brachium.core.base.problems import Problem
from brachium.formats.atomic import write_atomically
from brachium.store.edits import ShopEdit, edit_from_text, edit_to_text

WAITS, CLASH, REFUSED, LOCK = ".edit", ".clash", ".refused", ".lock"


class EditJournal:
    """The edits of one program; what programs that are gone left in the same folder is taken over."""

    def __init__(self, folder: Path, client: str) -> None:
        """Raises OSError where the folder cannot be made."""
        self._folder, self._client = folder, client
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        lock = _locked(folder / f"{client}{LOCK}")
        assert lock is not None
        self._locks: dict[str, IO[str]] = {client: lock}
        self._numbers = itertools.count(1)
        self._files: dict[str, Path] = {}

    def keep(self, edit: ShopEdit) -> None:
        """Bring an edit to the disk. Raises EnvironmentProblem."""
        path = self._folder / f"{self._client}-{next(self._numbers):08}{WAITS}"
        write_atomically(path, edit_to_text(edit).encode())
        self._files[edit.token] = path

    def done(self, edit: ShopEdit) -> None:
        """It is in the shop."""
        path = self._files.pop(edit.token, None)
        if path is not None:
            with contextlib.suppress(OSError):
                path.unlink()

    def clashed(self, edit: ShopEdit) -> None:
        """A person has to choose; until then it stays."""
        self._rename(edit, CLASH)

    def refused(self, edit: ShopEdit) -> None:
        """The shop did not take it; it stays to be looked at."""
        self._rename(edit, REFUSED)

    def chosen(self, edit: ShopEdit) -> None:
        """A person chose; the file goes."""
        for path in self._folder.glob(f"*{CLASH}"):
            with contextlib.suppress(Problem, OSError, UnicodeDecodeError):
                if edit_from_text(path.read_text(encoding="utf-8")).token == edit.token:
                    path.unlink()

    def _rename(self, edit: ShopEdit, ending: str) -> None:
        path = self._files.pop(edit.token, None)
        if path is not None:
            with contextlib.suppress(OSError):
                path.rename(path.with_suffix(ending))

    def left(self, ending: str = WAITS) -> Iterator[ShopEdit]:
        """What programs that are gone left, in their order; what cannot be read is put aside as refused."""
        for path in sorted(self._folder.glob(f"*{ending}"), key=lambda p: p.name):
            if path.is_symlink() or not self._mine(path.name.partition("-")[0]):
                continue
            try:
                edit = edit_from_text(path.read_text(encoding="utf-8"), str(path))
            except (Problem, OSError, UnicodeDecodeError):
                with contextlib.suppress(OSError):
                    path.rename(path.with_suffix(REFUSED))
                continue
            self._files[edit.token] = path
            yield edit

    def _mine(self, client: str) -> bool:
        """Whether a program's files may be taken: it is this one, or it is gone."""
        if client not in self._locks:
            lock = _locked(self._folder / f"{client}{LOCK}")
            if lock is None:
                return False
            self._locks[client] = lock
        return True

    def close(self) -> None:
        for client, lock in self._locks.items():
            if not any(self._folder.glob(f"{client}-*")):
                with contextlib.suppress(OSError):
                    (self._folder / f"{client}{LOCK}").unlink()
            lock.close()
        self._locks.clear()


def _locked(path: Path) -> IO[str] | None:
    """A lock held for the life of the program; None where another program has it. Raises OSError."""
    handle = os.fdopen(os.open(path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600), "r+")
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        handle.close()
        return None
    return handle
