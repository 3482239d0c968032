"""The record of a job from version to version; docs/how-to/change-the-record.md says how to add one."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

UPGRADES: tuple[Callable[[Any], Any], ...] = ()
