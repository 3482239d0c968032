"""What can be wrong with a shop file, in words."""

from __future__ import annotations

from pathlib import Path

from brachium.core.base.problems import EnvironmentProblem
from brachium.core.base.text import phrase
from brachium.store.backups import newest_good


class ShopUnreadable(EnvironmentProblem):
    """The file cannot be opened; `path` is the shop's, `backup` its newest good copy, None where there is none."""

    def __init__(self, what: str, path: Path) -> None:
        self.path, self.backup = path, newest_good(path)
        remedy = (
            f"The newest good backup is {self.backup}; `brachium restore {path}` puts a copy of it in its place."
            if self.backup is not None
            else "There is no good backup beside it."
        )
        super().__init__(what, str(path), f"{remedy} The file was left as it is.")


def database_problem(error: Exception, path: Path) -> EnvironmentProblem:
    """A database error in words."""
    message = str(getattr(error, "orig", error))
    kept = "Everything saved before is kept."
    if "full" in message:
        return EnvironmentProblem("the disk is full, the last edit is not saved", str(path),
                                  phrase("Free some space; it is tried again. {kept}", kept=kept))  # fmt: skip
    if "readonly" in message or "read-only" in message:
        return EnvironmentProblem("the file is read-only", str(path), phrase("Make it writable. {kept}", kept=kept))
    if "malformed" in message or "not a database" in message:
        return ShopUnreadable("the file is damaged", path)
    return EnvironmentProblem(phrase("the database answered: {message}", message=message), str(path), kept)
