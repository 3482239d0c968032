"""Conditions that only a person knows: asked once, remembered with the job, changed by one letter each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from brachium.core.measure.conditions import Conditions

AS_READ = "as read"


@dataclass(frozen=True)
class TypedCondition:
    """One condition: its name in `Conditions`, title, the letter that changes it, and its values in turn."""

    key: str
    title: str
    letter: str
    values: tuple[str, ...]


FIELDS: tuple[TypedCondition, ...] = (
    TypedCondition("panel_on", "Panel or lid", "P", ("closed", "open")),
    TypedCondition("stand", "Stands", "S", ("on the desk", "raised", "on a stand", "on a cooling pad", "on its side")),
    TypedCondition("mains", "Mains", "M", ("plugged in", "on battery")),
    TypedCondition("battery_fitted", "Battery", "B", ("fitted", "missing")),
    TypedCondition("fan_mode", "Fan", "F", ("automatic", "full speed", "quiet", "own curve")),
    TypedCondition("power_profile", "Power profile", "W", ("balanced", "performance", "power saving")),
    TypedCondition("boot_medium", "Started from", "T", ("installed system", "live stick")),
)  # fmt: skip
REMARK, REMARK_LENGTH = "remark", 120
_YES = {"panel_on": "closed", "mains": "plugged in", "battery_fitted": "fitted"}


def next_choice(field: TypedCondition, present: str) -> str:
    """The value after this one; after the last comes "as read"."""
    choices = (AS_READ, *field.values)
    return choices[(choices.index(present) + 1) % len(choices)] if present in choices else field.values[0]


def stated_text(typed: Mapping[str, str]) -> str:
    """What a person stated, in words; empty where nothing was."""
    fields = [f"{f.title.lower()} {typed[f.key]}" for f in FIELDS if f.key in typed]
    return ", ".join([*fields, *([f"“{typed[REMARK]}”"] if typed.get(REMARK) else [])])


def with_typed_conditions(conditions: Conditions, typed: Mapping[str, str]) -> Conditions:
    """What a person stated stands over what was read; unknown keys and values are left alone."""
    changes: dict[str, object] = {}
    for field in FIELDS:
        value = typed.get(field.key, AS_READ)
        if value in field.values:
            changes[field.key] = value == _YES[field.key] if field.key in _YES else value
    if typed.get(REMARK):
        changes[REMARK] = typed[REMARK][:REMARK_LENGTH]
    return replace(conditions, **changes)  # type: ignore[arg-type]
