"""Problems that people are told about, split by type: what they did, what the machine around them did.

Anything else that is raised is a bug of ours.
"""

from __future__ import annotations

from brachium.core.base.text import phrase


class Problem(Exception):  # noqa: N818 - shown to people as it is named
    """What happened, where, and what to do. The message reads as one to three short sentences."""

    def __init__(self, what: str, place: str = "", remedy: str = "") -> None:
        self.what, self.place, self.remedy = what, place, remedy
        super().__init__(self.text)

    @property
    def text(self) -> str:
        head = phrase("{place}: {what}", place=self.place, what=self.what) if self.place else self.what
        return (
            phrase("{head}. {remedy}", head=head, remedy=self.remedy) if self.remedy else phrase("{head}.", head=head)
        )


class ExpectedProblem(Problem):
    """Bad input or a state the user can mend."""


class EnvironmentProblem(Problem):
    """Disk full, no permission, file locked, database of a newer program."""


def from_os_error(error: OSError, place: str, kept: str = "") -> EnvironmentProblem:
    """Say an OSError in words, with the place and what was kept."""
    import errno

    said = {
        errno.ENOSPC: ("the disk is full", "Free some space and try again."),
        errno.EDQUOT: ("the disk quota is used up", "Free some space and try again."),
        errno.EFBIG: ("the file may not grow that large here", "Choose another folder."),
        errno.EACCES: ("not allowed to write here", "Choose a folder that you may write to."),
        errno.EPERM: ("not allowed", "Choose a folder that you may write to."),
        errno.EROFS: ("this disk is read-only", "Choose another folder."),
        errno.ENOENT: ("there is no such file or folder", "Check the path."),
        errno.EISDIR: ("this is a folder, not a file", "Name a file."),
        errno.ENOTDIR: ("a part of the path is a file, not a folder", "Name a folder."),
        errno.EEXIST: ("something of that name is in the way", "Choose another name."),
    }
    what, remedy = said.get(error.errno or 0, (str(error.strerror or error), "Choose another folder."))
    return EnvironmentProblem(what, place, phrase("{remedy} {kept}", remedy=remedy, kept=kept).strip())
