"""A folder of our own inside the one that was named for drive tests: nothing else there is ever opened or written.

Its name is random and it is made exclusively. It is held open and locked as long as the run lasts, and everything in it
is opened by its descriptor, made exclusively and never followed through a link. What a killed run left is known by its
name and by nobody holding its lock, and is removed when the next run begins.
"""

from __future__ import annotations

import errno
import fcntl
import os
import re
import secrets
import stat
from typing import Dict, List, Mapping

PREFIX, SUFFIX = "brachium-test-", ".bin"
_FOLDER = re.compile(rf"{PREFIX}[0-9a-f]{{16}}")
_FILE = re.compile(rf"[0-9a-f]{{16}}\{SUFFIX}")
WORK = "work-"
_WORK = re.compile(rf"{WORK}[0-9a-f]{{16}}")
_DIRECTORY = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC


class OwnFolder:
    """Made when it is needed, removed by `close`. Raises OSError where it cannot be made."""

    def __init__(self, parent: str) -> None:
        self.parent = parent
        self._parent_fd = os.open(parent, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        self._fd = -1
        try:
            sweep(parent)
            self.name = PREFIX + secrets.token_hex(8)
            os.mkdir(self.name, 0o700, dir_fd=self._parent_fd)
            self._fd = os.open(self.name, _DIRECTORY, dir_fd=self._parent_fd)
            fcntl.flock(self._fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            self._release()
            raise
        self.file = secrets.token_hex(8) + SUFFIX

    def where(self) -> Dict[str, object]:
        """What a child needs to open its file, and to know that the folder is still the one that was made."""
        return {"folder": os.path.join(self.parent, self.name), "inode": os.fstat(self._fd).st_ino, "file": self.file}

    def close(self) -> None:
        """Remove the folder with what is ours in it."""
        if self._fd >= 0:
            try:
                _empty(self._fd)
                os.rmdir(self.name, dir_fd=self._parent_fd)
            except OSError:
                pass  # the next run in this folder finds it
        self._release()

    def _release(self) -> None:
        for fd in (self._fd, self._parent_fd):
            if fd >= 0:
                os.close(fd)
        self._fd = self._parent_fd = -1


def sweep(parent: str) -> List[str]:
    """Remove what killed runs left in a folder; returns the names. A folder that a run still holds stays."""
    out = []
    parent_fd = os.open(parent, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
    try:
        for name in [n for n in os.listdir(parent_fd) if _FOLDER.fullmatch(n)]:
            if _swept(parent_fd, name):
                out.append(name)
    finally:
        os.close(parent_fd)
    return out


def _swept(parent_fd: int, name: str) -> bool:
    try:
        fd = os.open(name, _DIRECTORY, dir_fd=parent_fd)
    except OSError:
        return False  # a link, or something else that bears the name
    try:
        if os.fstat(fd).st_uid != os.getuid():
            return False
        fcntl.flock(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        _empty(fd)
        os.rmdir(name, dir_fd=parent_fd)
    except OSError:
        return False  # held by a run, or there is something in it that is not ours
    finally:
        os.close(fd)
    return True


def _empty(fd: int) -> None:
    """Unlinking never follows a link: what one points at stays."""
    for name in os.listdir(fd):
        if _FILE.fullmatch(name):
            os.unlink(name, dir_fd=fd)
        elif _WORK.fullmatch(name):
            remove_tree(fd, name)


def remove_tree(parent_fd: int, name: str) -> None:
    """Remove a folder with all that is in it, by descriptors: a link in it is removed, never followed."""
    fd = os.open(name, _DIRECTORY, dir_fd=parent_fd)
    try:
        with os.scandir(fd) as entries:
            found = [(e.name, e.is_dir(follow_symlinks=False)) for e in entries]
        for entry, is_folder in found:
            if is_folder:
                remove_tree(fd, entry)
            else:
                os.unlink(entry, dir_fd=fd)
    finally:
        os.close(fd)
    os.rmdir(name, dir_fd=parent_fd)


class WorkPlace:
    """A folder for one task inside the own one; the process works in it, by names relative to it. Raises OSError."""

    def __init__(self, where: Mapping[str, object]) -> None:
        self._folder = _own(where)
        self.name = WORK + secrets.token_hex(8)
        try:
            os.mkdir(self.name, 0o700, dir_fd=self._folder)
            inside = os.open(self.name, _DIRECTORY, dir_fd=self._folder)
            os.fchdir(inside)
            os.close(inside)
        except OSError:
            os.close(self._folder)
            raise

    def close(self) -> None:
        """Leave it and remove it."""
        os.chdir("/")
        try:
            remove_tree(self._folder, self.name)
        finally:
            os.close(self._folder)


def make_file(where: Mapping[str, object]) -> int:
    """A new, empty file to write; never one that is there, never through a link. Raises OSError."""
    return _opened(where, os.O_WRONLY | os.O_CREAT | os.O_EXCL)


def open_file(where: Mapping[str, object], write: bool = False) -> int:
    """The file to read, or to `write` too, past the cache. Raises OSError."""
    handle = _opened(where, (os.O_RDWR if write else os.O_RDONLY) | os.O_DIRECT)
    if not stat.S_ISREG(os.fstat(handle).st_mode):
        os.close(handle)
        raise OSError(errno.EPERM, "the test file was exchanged for something else", str(where["folder"]))
    return handle


def _opened(where: Mapping[str, object], flags: int) -> int:
    folder = _own(where)
    try:
        return os.open(str(where["file"]), flags | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder)
    finally:
        os.close(folder)


def _own(where: Mapping[str, object]) -> int:
    """The own folder, held open; refused where it is no longer the one that was made."""
    folder = os.open(str(where["folder"]), _DIRECTORY)
    found = os.fstat(folder)
    if found.st_ino != where["inode"] or found.st_uid != os.getuid():
        os.close(folder)
        raise OSError(errno.EPERM, "the test's own folder was exchanged for another one", str(where["folder"]))
    return folder
