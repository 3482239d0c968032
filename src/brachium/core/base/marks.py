"""What each field of a record belongs to, marked beside its definition: the model, one machine, or one stay.

Duplicates and batches keep only what belongs to the model; evidence of one machine never reaches the record of another.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import MISSING, Field, field, fields, is_dataclass
from enum import StrEnum
from typing import Any, TypeVar, cast

T = TypeVar("T")
KEY = "belongs_to"


class Mark(StrEnum):
    """MODEL: the same on every machine of a batch, its order included. MACHINE: read off, or proven on, this one.
    STAY: of this visit and its owner."""

    MODEL = "model"
    MACHINE = "machine"
    STAY = "stay"


def of_model(default: Any = MISSING, *, factory: Any = MISSING) -> Any:
    """A field of the model, with its default as in `dataclasses.field`."""
    return _marked(Mark.MODEL, default, factory)


def of_machine(default: Any = MISSING, *, factory: Any = MISSING) -> Any:
    """A field of one machine: never copied."""
    return _marked(Mark.MACHINE, default, factory)


def of_stay(default: Any = MISSING, *, factory: Any = MISSING) -> Any:
    """A field of one stay in the shop: never copied."""
    return _marked(Mark.STAY, default, factory)


def _marked(mark: Mark, default: Any, factory: Any) -> Any:
    made: Any = field(default=default, default_factory=factory, metadata={KEY: mark})
    return made


def mark_of(one: Field[Any]) -> Mark | None:
    """The mark of a field; None where it has none."""
    return cast("Mark | None", one.metadata.get(KEY))


def is_marked(record: object) -> bool:
    """Whether a record, or a class of records, has marked fields; then all of its fields are marked."""
    return is_dataclass(record) and any(mark_of(f) is not None for f in fields(record))


def as_new(record: T, **own: object) -> T:
    """The record of another machine of the model: everything else as if nobody had looked yet.

    `own` gives fields of its own, among them those that have no default. Raises TypeError where one is missing.
    """
    if not is_marked(record):
        return record
    values: dict[str, object] = {}
    for one in fields(record):  # type: ignore[arg-type]
        if one.name in own:
            values[one.name] = own[one.name]
        elif mark_of(one) is Mark.MODEL:
            values[one.name] = _plain(getattr(record, one.name))
    return type(record)(**values)


def _plain(value: object) -> object:
    if isinstance(value, tuple):
        return tuple(_plain(v) for v in value)
    if isinstance(value, Mapping):
        return {k: _plain(v) for k, v in value.items()}
    return as_new(value)
