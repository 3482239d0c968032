"""Whether a file among the user's own can be trusted to be theirs."""

from __future__ import annotations

import os
import stat
from pathlib import Path


def only_mine(path: Path) -> bool:
    """Whether nobody but this user can have written it; a link is nobody's. Raises OSError where it is not there."""
    about = path.lstat()
    return not stat.S_ISLNK(about.st_mode) and about.st_uid == os.getuid() and not about.st_mode & 0o022
