"""Documents that were bare mappings (version 1) and are records with one field (version 2)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any


def wrapped(name: str) -> Callable[[Mapping[str, Any]], dict[str, Any]]:
    """The upgrade that puts the mapping under a field of this name."""

    def upgrade(plain: Mapping[str, Any]) -> dict[str, Any]:
        return {name: dict(plain)}

    return upgrade
