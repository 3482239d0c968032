"""The parts shelf from version to version; docs/how-to/change-the-record.md says how to add one."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def with_more_memory_kinds(plain: Any) -> Any:
    """Version 2: parts as in version 2 of the job."""
    return plain


def with_more_of_parts(plain: Any) -> Any:
    """Version 3: parts as in version 3 of the job."""
    return plain


UPGRADES: tuple[Callable[[Any], Any], ...] = (with_more_memory_kinds, with_more_of_parts)
