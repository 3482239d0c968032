"""Attributes of parts as text, typed by the part's own fields: for columns of a price list or a processor table."""

from __future__ import annotations

import contextlib
from collections.abc import Mapping
from dataclasses import MISSING, fields, replace
from enum import StrEnum
from functools import lru_cache
from types import UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import MAX_DIGITS, finite
from brachium.core.machine.parts import Part
from brachium.core.plan.candidates import PART_GROUPS, Group

UNKNOWN = "unknown"  # of an attribute that would else begin with something
SKIPPED = ("kind", "name")
YES, NO = ("yes", "true", "1"), ("no", "false", "0")
CLASSES: dict[Group, type[Part]] = {
    PART_GROUPS[get_args(get_type_hints(c)["kind"])[0]]: c for c in get_args(Part)
}  # fmt: skip


def field_types(part_class: type[Part]) -> dict[str, Any]:
    """Type of every attribute that can be written."""
    return _TYPES[part_class]


def _types(part_class: type[Part]) -> dict[str, Any]:
    hints = get_type_hints(part_class)
    return {f.name: hints[f.name] for f in fields(part_class) if f.name not in SKIPPED}


_TYPES: dict[object, dict[str, Any]] = {c: _types(c) for c in get_args(Part)}


CLASS_NAMES: dict[object, str] = {c: c.__name__ for c in get_args(Part)}
BY_NAME: dict[str, type[Part]] = {c.__name__: c for c in get_args(Part)}


def read_part(part_class: type[Part], name: str, values: Mapping[str, str]) -> Part:
    """A part from its attributes. Raises ValueError naming the attribute and what is meant."""
    return replace(_bare(CLASS_NAMES[part_class], tuple(values.items())), name=name)


@lru_cache(maxsize=4096)
def _bare(class_name: str, items: tuple[tuple[str, str], ...]) -> Part:
    """Long lists hold the same attributes again and again under other names and prices."""
    part_class, values = BY_NAME[class_name], dict(items)
    types = field_types(part_class)
    unknown = [k for k in values if k not in types]
    if unknown:
        raise ValueError(
            phrase("{unknown} is no attribute here, known are {types}", unknown=unknown[0], types=joined(", ", types))
        )
    given: dict[str, Any] = {k: typed_part(v, types[k], k) for k, v in values.items() if v.strip()}
    needed = [f.name for f in fields(part_class) if f.default is MISSING and f.name not in SKIPPED]
    for key in needed:
        if key not in given:
            if type(None) not in get_args(types[key]):
                raise ValueError(phrase("{key} is empty", key=key))
            given[key] = None
    return part_class(name="", **given)


def write_part(part: Part) -> dict[str, str]:
    """Attributes that differ from their defaults, as text; reading them gives the same part."""
    out = {}
    for f in fields(part):
        value = getattr(part, f.name)
        if f.name not in SKIPPED and value is None and f.default not in (None, MISSING):
            out[f.name] = UNKNOWN
        if f.name not in SKIPPED and value is not None and (f.default is MISSING or value != f.default):
            out[f.name] = _text(value)
    return out


def typed_part(text: str, kind: Any, key: str) -> Any:
    """The value of a text. Raises ValueError naming the key and what is meant."""
    text = text.strip()
    if text == UNKNOWN and type(None) in get_args(kind):
        return None
    choices = [k for k in get_args(kind) if k is not type(None)] if get_origin(kind) in (Union, UnionType) else [kind]
    kind = choices[0]
    if get_origin(kind) is tuple:
        inner = get_args(kind)[0]
        return tuple(typed_part(w, inner, key) for w in text.split("+") if w.strip() and w.strip() != "none")
    if kind is bool:
        return _yes_or_no(text, key)
    if kind is str:
        return text
    if isinstance(kind, type) and issubclass(kind, StrEnum):
        return _one_of(text, kind, key)
    return _number(text, kind, key)


def _yes_or_no(text: str, key: str) -> bool:
    if text.lower() not in (*YES, *NO):
        raise ValueError(phrase("{key} is “{text}”, yes or no is meant", key=key, text=text))
    return text.lower() in YES


def _one_of(text: str, kind: type[StrEnum], key: str) -> StrEnum:
    if text not in [k.value for k in kind]:
        raise ValueError(
            phrase(
                "{key} is “{text}”, known are {kind}", key=key, text=text, kind=joined(", ", (k.value for k in kind))
            )
        )
    return kind(text)


def _number(text: str, kind: Any, key: str) -> Any:
    if kind is float:
        number = finite(text)
        if number is not None:
            return number
    elif len(text) <= MAX_DIGITS:
        with contextlib.suppress(ValueError, ArithmeticError):
            return kind(text)
    word = "a whole number" if kind is int else "a number"
    raise ValueError(phrase("{key} is “{text}”, {word} is meant", key=key, text=text[:40], word=word))


def _text(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return "+".join(_text(v) for v in value) or "none"
    if isinstance(value, StrEnum):
        return value.value
    return f"{value:g}" if isinstance(value, float) else str(value)


def read_more(text: str) -> dict[str, str]:
    """`socket=KM-2; power_w=105` as a mapping. Raises ValueError where an entry has no equals sign."""
    out = {}
    for entry in (e.strip() for e in text.split(";")):
        if not entry:
            continue
        key, equals, value = entry.partition("=")
        if not equals:
            raise ValueError(phrase("more holds “{entry}”, key=value is meant", entry=entry))
        out[key.strip()] = value.strip()
    return out


def write_more(values: Mapping[str, str]) -> str:
    return "; ".join(f"{k}={v}" for k, v in values.items())
