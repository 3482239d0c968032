"""Channels of memory slots from their labels: a letter with a number, or a channel that is named, of each controller.

Boards print `A1 A2 B1 B2` (channel, then place in it) or name the channel; where labels say nothing of it, neither does
their order.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

NAMED = re.compile(r"ch(?:annel|an)?[-_ ]?([A-H]|\d)", re.IGNORECASE)
LETTERED = re.compile(r"(?<![A-Za-z])([A-H])[-_ ]?([0-8])(?![A-Za-z0-9])")
CONTROLLER = re.compile(r"(?:controller|cpu|proc(?:essor)?|node|p)[-_ ]?(\d)", re.IGNORECASE)


def channels_of(labels: Sequence[str]) -> tuple[int | None, ...]:
    """The channel of each place, counted from 0 over all controllers; None for all where one label does not tell."""
    keys = [_named(label) for label in labels]
    if None in keys:
        keys = _lettered(labels)
    if not keys or None in keys:
        return tuple(None for _ in labels)
    order = sorted({k for k in keys if k is not None})
    return tuple(order.index(k) for k in keys if k is not None)


def _named(label: str) -> tuple[int, int] | None:
    match = NAMED.search(label)
    return None if match is None else (_controller(label), _number(match.group(1)))


def _lettered(labels: Sequence[str]) -> list[tuple[int, int] | None]:
    """`A1`, `DIMM_B2`: only where a letter comes with several numbers or several letters with one, never alone."""
    found = [LETTERED.search(label) for label in labels]
    letters = {m.group(1).upper() for m in found if m is not None}
    if len(letters) < 2 and len(labels) > 1:
        return [None] * len(labels)
    return [None if m is None else (_controller(label), _number(m.group(1)))
            for m, label in zip(found, labels, strict=True)]  # fmt: skip


def _controller(label: str) -> int:
    match = CONTROLLER.search(label)
    return int(match.group(1)) if match is not None else 0


def _number(letter: str) -> int:
    return int(letter) if letter.isdigit() else ord(letter.upper()) - ord("A")
