"""Conditions that only a person knows: asked once, remembered with the job, changed by one letter each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.typed_numbers import typed_float
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
    TypedCondition("charge", "Battery is", "C", ("not charging", "charging", "running down")),
    TypedCondition("power_limit", "Power limits", "L", ("as delivered", "raised", "lowered", "undervolted")),
    TypedCondition("boost", "Boost", "O", ("on", "off")),
    TypedCondition("memory_profile", "Memory profile", "Y", ("standard", "rated profile", "own timings")),
    TypedCondition("encryption", "Encryption", "E", ("on", "off")),
    TypedCondition("temp_source", "Temperature from", "R", ("hottest core", "package", "board sensor", "graphics")),
)  # fmt: skip


@dataclass(frozen=True)
class WrittenCondition:
    """A condition that is written, not chosen: a number in `unit` within a plausible range times `scale`, or words."""

    key: str
    title: str
    unit: str = ""
    low: float = 0.0
    high: float = 0.0
    scale: float = 1.0

    def problem(self, text: str) -> str:
        """What is wrong with a number; empty where nothing is."""
        if not self.unit or not text:
            return ""
        try:
            good = self.low <= typed_float(text) <= self.high
        except ValueError:
            good = False
        return (
            ""
            if good
            else phrase(
                "{title}: state {low:g} to {high:g} {unit}",
                title=self.title,
                low=self.low,
                high=self.high,
                unit=self.unit,
            )
        )


WRITTEN: tuple[WrittenCondition, ...] = (
    WrittenCondition("adapter_w", "Adapter", "W", 5.0, 500.0),
    WrittenCondition("charge_frac", "Battery charge", "%", 0.0, 100.0, 0.01),
    WrittenCondition("free_space_frac", "Free on the drive", "%", 0.0, 100.0, 0.01),
    WrittenCondition("graphics_driver", "Graphics driver"),
)
ROOM = WrittenCondition("room_c", "Room", "°C", -20.0, 55.0)  # of figures on paper; a run asks for it where it starts
ALL_FIELDS: tuple[TypedCondition | WrittenCondition, ...] = (*FIELDS, ROOM, *WRITTEN)
REMARK, REMARK_LENGTH = "remark", 120
_YES = {"panel_on": "closed", "mains": "plugged in", "battery_fitted": "fitted", "boost": "on", "encryption": "on"}


def next_choice(field: TypedCondition, present: str) -> str:
    """The value after this one; after the last comes "as read"."""
    choices = (AS_READ, *field.values)
    return choices[(choices.index(present) + 1) % len(choices)] if present in choices else field.values[0]


def stated_text(typed: Mapping[str, str]) -> str:
    """What a person stated, in words; empty where nothing was."""
    fields = [
        phrase("{title} {typed}", title=lower_first(f.title), typed=typed[f.key]) for f in FIELDS if f.key in typed
    ]
    fields += [
        phrase("{title} {typed} {unit}", title=lower_first(w.title), typed=typed[w.key], unit=w.unit).rstrip()
        for w in (ROOM, *WRITTEN)
        if typed.get(w.key)
    ]
    return joined(", ", [*fields, *([phrase("“{typed}”", typed=typed[REMARK])] if typed.get(REMARK) else [])])


def with_typed_conditions(conditions: Conditions, typed: Mapping[str, str]) -> Conditions:
    """What a person stated stands over what was read; unknown keys and values are left alone."""
    changes: dict[str, object] = {}
    for field in FIELDS:
        value = typed.get(field.key, AS_READ)
        if value in field.values:
            changes[field.key] = value == _YES[field.key] if field.key in _YES else value
    for written in (ROOM, *WRITTEN):
        text = typed.get(written.key, "")
        if text and not written.problem(text):
            changes[written.key] = typed_float(text) * written.scale if written.unit else text
    if typed.get(REMARK):
        changes[REMARK] = typed[REMARK][:REMARK_LENGTH]
    return replace(conditions, **changes)  # type: ignore[arg-type]


def stated_from(texts: Sequence[str]) -> dict[str, str]:
    """Conditions from texts as `fan=quiet` or `power profile=balanced`, by key or title.

    Raises ValueError naming what is wrong and what can be stated.
    """
    out = {}
    for text in texts:
        name, _, value = (part.strip() for part in text.partition("="))
        field = next((f for f in ALL_FIELDS if name.lower() in (f.key, f.title.lower())), None)
        if field is None:
            names = joined(", ", (lower_first(f.title) for f in ALL_FIELDS))
            raise ValueError(phrase("{name!r} is no condition; there are {names}", name=name, names=names))
        if isinstance(field, TypedCondition) and value not in field.values:
            raise ValueError(
                phrase(
                    "{field} is {values}, not {value!r}",
                    field=lower_first(field.title),
                    values=joined(" or ", field.values),
                    value=value,
                )
            )
        if isinstance(field, WrittenCondition) and (problem := field.problem(value)):
            raise ValueError(problem)
        out[field.key] = value
    return out
