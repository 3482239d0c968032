"""Where a value of the record came from when nobody noted it: typed where there is one, assumed where it is a default.

A value gets into the record by scan, label, catalogue or typical places with its origin noted, or by hand; so a value
without a note was typed. A field that still holds what its class begins with was never said by anybody.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import MISSING, fields, is_dataclass
from typing import Any

from brachium.core.base.why import Origin

LEAST_SURE = (Origin.ASSUMED, Origin.TYPICAL, Origin.TYPED)


def origin_of(record: object, parts: Mapping[str, Any], origins: Mapping[str, Origin], name: str) -> Origin:
    """The origin noted for a dotted name, or for the closest record around it; else typed or assumed."""
    each = {origin for key, origin in origins.items() if key.startswith(f"{name}.") and key.count(".") == 1}
    if name not in origins and "." not in name and each:  # of a list of places: the least sure of its places
        return next((o for o in LEAST_SURE if o in each), next(iter(each)))
    if name in origins:
        return origins[name]
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
        if isinstance(here, tuple):
            here = next((x for x in here if getattr(x, "id", None) == name), None)
            if here is None or position == len(path) - 1:
                return here is not None
            continue
        field = next((f for f in fields(here) if f.name == name), None) if is_dataclass(here) else None
        if field is None:
            return False
        here = getattr(here, name)
        if position == len(path) - 1:
            begins = field.default if field.default_factory is MISSING else field.default_factory()
            return bool(here != begins)
    return False
