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


def with_nothing_unsaid(plain: Any) -> Any:
    """Version 4: what nobody states of a part is not known (it began with 512-byte sectors, one place of thickness, a
    speed signal, ...); a board for sale may state the channels of its places. What is written stays as it is."""
    return plain


def with_more_of_cards(plain: Any) -> Any:
    """Version 5: parts as in version 5 of the job."""
    return plain


def with_network_cards(plain: Any) -> Any:
    """Version 6: parts as in version 7 of the job."""
    return plain


def with_places_of_pads(plain: Any) -> Any:
    """Version 7: a pad may say what it lies on."""
    return plain


UPGRADES: tuple[Callable[[Any], Any], ...] = (
    with_more_memory_kinds,
    with_more_of_parts,
    with_nothing_unsaid,
    with_more_of_cards,
    with_network_cards,
    with_places_of_pads,
)
