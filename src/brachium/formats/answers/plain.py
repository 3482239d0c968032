"""Values of records as JSON values: enumerations by their names, tuples as lists, figures as they are."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from decimal import Decimal
from enum import Enum
from typing import Any


def plain(value: object) -> Any:
    """The value for JSON. A record becomes an object of its fields."""
    if isinstance(value, Enum):
        return value.value
    if is_dataclass(value) and not isinstance(value, type):
        return {f.name: plain(getattr(value, f.name)) for f in fields(value)}
    if isinstance(value, Mapping):
        return {str(plain(k)): plain(v) for k, v in value.items()}
    if isinstance(value, tuple | list | set | frozenset):
        return [plain(v) for v in value]
    if isinstance(value, Decimal):
        return float(value)
    return value
