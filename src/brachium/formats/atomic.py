"""Files are written whole or not at all: a file without a name, brought to the disk, then named in one step."""

from __future__ import annotations

import contextlib
import os
import secrets
import tempfile
from pathlib import Path

from brachium.core.base.problems import from_os_error

PART = ".part"


def write_atomically(path: Path, data: bytes) -> None:
    """Write `data` to `path`. Raises EnvironmentProblem; the old file, if any, stays as it was.

    What a killed program left of an earlier writing is removed first.
    """
    part = path.with_name(f".{path.name[:200]}.{secrets.token_hex(4)}{PART}")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        for left in path.parent.glob(f".{_plain(path.name[:200])}.????????{PART}"):
            left.unlink(missing_ok=True)
        handle = _unnamed(path.parent)
        if handle is None:
            handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o644)
            named = True
        else:
            named = False
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fchmod(file.fileno(), 0o644)
            os.fsync(file.fileno())
            if not named:
                os.link(f"/proc/self/fd/{file.fileno()}", part, src_dir_fd=file.fileno(), follow_symlinks=True)
        part.replace(path)
        _sync_folder(path.parent)
    except OSError as error:
        with contextlib.suppress(OSError):
            part.unlink()
        raise from_os_error(error, str(path), "Nothing was changed.") from error


def _unnamed(folder: Path) -> int | None:
    """A new file that goes by itself where the program is killed; None where the system has none."""
    if not Path("/proc/self/fd").is_dir():
        return None
    try:
        return os.open(folder, os.O_WRONLY | os.O_TMPFILE | os.O_CLOEXEC, 0o644)
    except OSError as error:
        if isinstance(error, PermissionError | FileNotFoundError | NotADirectoryError):
            raise
        return None


def _plain(name: str) -> str:
    """A name for glob that stands for itself."""
    return "".join(f"[{c}]" if c in "[?*" else c for c in name)


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        with contextlib.suppress(OSError):  # some network folders know no such call; the file itself is on the disk
            os.fsync(handle)
    finally:
        os.close(handle)


def check_folder(folder: Path) -> None:
    """Make sure that a folder exists and can be written to before long work starts. Raises EnvironmentProblem."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=folder, prefix=".brachium-"):
            pass
    except OSError as error:
        raise from_os_error(error, str(folder)) from error
