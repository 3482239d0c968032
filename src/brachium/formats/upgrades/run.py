"""A run from version to version; docs/how-to/change-the-record.md says how to add one."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def with_more_conditions(plain: Any) -> Any:
    """Version 2: adapter, charge, power limits, boost, memory profile, graphics driver, encryption and what the
    temperature is read from may be stated; of an older run nobody said them."""
    return plain


def with_curves(plain: Any) -> Any:
    """Version 3: a result may carry a curve, such as latency by working set; older ones have none."""
    return plain


def with_parts(plain: Any) -> Any:
    """Version 4: a result may say what came with it, such as the seconds of a task by where they went."""
    return plain


UPGRADES: tuple[Callable[[Any], Any], ...] = (with_more_conditions, with_curves, with_parts)
