"""The price list from version to version; docs/how-to/change-the-record.md says how to add one."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def with_unknown_buffering(text: Any) -> Any:
    """Version 2: a module whose list says nothing of buffering and ECC is not known to be unbuffered any more."""
    return text


def with_more_of_parts(text: Any) -> Any:
    """Version 3: attributes of parts as in version 3 of the job."""
    return text


UPGRADES: tuple[Callable[[Any], Any], ...] = (with_unknown_buffering, with_more_of_parts)
