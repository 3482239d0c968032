"""Files are written whole or not at all: a temporary file beside the target, then a rename."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path

from brachium.core.problems import from_os_error


def write_atomically(path: Path, data: bytes) -> None:
    """Write `data` to `path`. Raises EnvironmentProblem; the old file, if any, stays as it was."""
    temporary = ""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(0o644)
        Path(temporary).replace(path)
    except OSError as error:
        if temporary:
            with contextlib.suppress(OSError):
                Path(temporary).unlink()
        raise from_os_error(error, str(path), "Nothing was changed.") from error


def check_folder(folder: Path) -> None:
    """Make sure that a folder exists and can be written to before long work starts. Raises EnvironmentProblem."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=folder, prefix=".brachium-"):
            pass
    except OSError as error:
        raise from_os_error(error, str(folder)) from error
