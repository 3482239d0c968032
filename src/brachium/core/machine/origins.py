"""Where a value of the record came from when nobody noted it: typed where there is one, assumed where it is a default.

A value gets into the record by scan, label, catalogue or typical places with its origin noted, or by hand; so a value
without a note was typed. A field that still holds what its class begins with was never said by anybody.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import MISSING, fields, is_dataclass
from functools import lru_cache
from typing import Any

from brachium.core.base.why import Origin

LEAST_SURE = (Origin.ASSUMED, Origin.TYPICAL, Origin.TYPED)


def origin_of(record: object, parts: Mapping[str, Any], origins: Mapping[str, Origin], name: str) -> Origin:
    """The origin noted for a dotted name, or for the closest record around it; else typed or assumed."""
    noted = origins.get(name)
    if noted is not None:
        return noted
    if "." not in name:
        each = {origin for key, origin in origins.items() if key.startswith(f"{name}.") and key.count(".") == 1}
        if each:  # of a list of places: the least sure of its places
            return next((o for o in LEAST_SURE if o in each), next(iter(each)))
    if not is_said(record, parts, name):
        return Origin.ASSUMED
    stem = name.rpartition(".")[0]
    while stem and stem not in origins:
        stem = stem.rpartition(".")[0]
    return origins.get(stem, Origin.TYPED)


def is_said(record: object, parts: Mapping[str, Any], name: str) -> bool:
    """Whether the value under a dotted name is another than its class begins with; a place by its id is always said."""
    path = name.split(".")
    if path[0] == "parts":
        record, path = parts.get(path[1]) if len(path) > 1 else None, path[2:]
        if record is None or not path:
            return record is not None
    elif path[0] in parts:
        return True
    return _differs(record, path)


def _differs(here: Any, path: Sequence[str]) -> bool:
    for position, name in enumerate(path):
        last = position == len(path) - 1
        if isinstance(here, tuple):
            here = next((x for x in here if getattr(x, "id", None) == name), None)
            if here is None or last:
                return here is not None
            continue
        begins = _begins(type(here))  # type: ignore[arg-type]
        if name not in begins:
            return False
        here = getattr(here, name)
        if last:
            return bool(here != begins[name])
    return False


@lru_cache(maxsize=128)
def _begins(record: type[Any]) -> Mapping[str, object]:
    """What each field of a class begins with; nothing for what is no record."""
    if not is_dataclass(record):
        return {}
    return {f.name: f.default if f.default_factory is MISSING else f.default_factory() for f in fields(record)}
