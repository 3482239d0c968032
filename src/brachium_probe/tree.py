"""A system tree: the live one at `/`, or a captured or simulated one at another root."""

from __future__ import annotations

import os

LONGEST = 40  # characters of a number


class Tree:
    """Reads small files below a root. What cannot be read is None, and why is remembered by path."""

    def __init__(self, root: str = "/") -> None:
        self.root = root.rstrip("/")
        self.refused: set[str] = set()
        self.impossible: dict[
            str, str
        ] = {}  # what stands where a number is meant, by path: infinity, or no end of digits

    def path(self, name: str) -> str:
        """The real path of a name such as `/sys/class/hwmon`."""
        return self.root + name

    def bytes(self, name: str, limit: int = 1 << 20) -> bytes | None:
        """Content of a file; None where it is absent, not permitted, or refuses to be read."""
        try:  # a captured tree may hold a pipe, which must not hold us
            with os.fdopen(os.open(self.path(name), os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:
                return file.read(limit)
        except PermissionError:
            self.refused.add(name)
        except OSError:
            pass
        return None

    def text(self, name: str) -> str | None:
        """Stripped text of a small file; None where it cannot be read."""
        data = self.bytes(name, 1 << 16)
        return data.decode("utf-8", "replace").strip("\x00 \t\r\n") if data is not None else None

    def number(self, name: str) -> float | None:
        """A file that holds one number; None where it does not."""
        text = self.text(name)
        if text is None:
            return None
        value = number_in(text)
        if value is None and (len(text) > LONGEST or text.lower().lstrip("+-") in ("inf", "infinity", "nan")):
            self.impossible[name] = text[:12]
        return value

    def names(self, folder: str) -> list[str]:
        """Sorted entries of a folder, numbers in counting order; empty where there is none."""
        try:
            found = os.listdir(self.path(folder))
        except OSError:
            return []
        return sorted(found, key=_counting)

    def exists(self, name: str) -> bool:
        return os.path.exists(self.path(name))

    def real(self, name: str) -> str:
        """Where a link leads, as a name below the root; itself where it is no link."""
        target = os.path.realpath(self.path(name))
        root = os.path.realpath(self.root) if self.root else ""
        return target[len(root) :] if root and target.startswith(root) else target


def number_in(text: str) -> float | None:
    """A finite number of an everyday length; None where the text is none, or stands for infinity or for no number."""
    if len(text) > LONGEST:
        return None
    try:
        value = float(text)
    except ValueError:
        return None
    return value if value - value == 0.0 else None


def _counting(name: str) -> tuple[str, int, str]:
    head = name.rstrip("0123456789")
    digits = name[len(head) :][:LONGEST]
    return head, int(digits) if digits else -1, name
