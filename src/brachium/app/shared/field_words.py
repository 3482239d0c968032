"""Fields of a record and their values in words, for whoever has to choose between two of them."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any

from brachium.core.base.merge import ABSENT
from brachium.core.base.text import joined, phrase

WORDS = {
    "name": "name", "goal": "goal", "profile_id": "what it is used for", "budget": "budget",
    "rate_per_hour": "rate per hour", "needed_by": "needed by", "targets": "targets", "condition": "condition",
    "provenance": "where it comes from", "findings": "findings", "tried": "what was tried", "data_safe": "owner's data",
    "plan": "plan", "steps_done": "work steps done", "screws": "screws", "troubles": "troubles", "hold": "waits for",
    "handed_over": "handed over", "archived": "archived", "setup": "how it is measured", "locks": "locks",
    "no_before": "why there is no before-run", "scan": "scan", "photos": "photos", "own_tests": "own tests",
    "own_results": "own results", "checks": "checks", "health": "SMART data", "kept_plans": "kept plans",
    "other_machine": "another machine instead", "parts_due": "parts are there on", "resale": "resale",
    "energy": "energy use", "own_use": "own use", "acceptances": "taken on with a reason", "vouchers": "vouchers",
    "part_facts": "facts of parts", "plan_edits": "work plan by hand", "transfer": "how the system moves",
    "erasures": "erased drives", "paste": "thermal paste", "pads": "pads", "shelved": "put on the shelf",
    "first_start": "first start", "warranty_until": "warranty until", "look_again": "look again on",
    "sold_for": "sold for", "remarks": "remarks", "report_language": "language of reports",
    "report_currency": "currency of reports", "wording": "wording of reports", "machine": "machine",
    "identity": "identity", "maker": "maker", "model": "model", "serial": "serial number", "year": "year",
    "firmware": "firmware", "processor": "processor", "memory": "memory", "slots": "memory slots", "bays": "drive bays",
    "fitted": "fitted parts", "leads": "power connectors", "platform": "board and case", "part": "part",
    "settings": "settings", "shelf": "parts shelf", "catalogue": "price list", "reference_table": "reference table",
    "systems": "table of systems", "claims": "evidence", "consumables": "consumables", "day_fixed": "fixed blocks",
    "note": "note", "state": "state", "minutes": "minutes", "price": "price", "rates": "exchange rates",
    "who": "by whom", "where": "where", "size": "size", "when": "when",
}  # fmt: skip
LONGEST = 160


def field_words(path: tuple[str, ...]) -> str:
    """A path in a record in words: what is known by name, and ids as they are."""
    return joined(", ", [WORDS.get(step, step.replace("_", " ")) for step in path]) if path else "the whole record"


def value_words(value: object) -> str:
    """A value as a person reads it; of a record what its fields say."""
    words = _words(value)
    return words if len(words) <= LONGEST else f"{words[:LONGEST]}…"


def _words(value: object) -> str:
    if value is ABSENT:
        return "not there"
    if value in (None, "", ()):
        return "nothing"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Enum):
        return str(value.value)
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, tuple):
        return joined(", ", [_words(v) for v in value])
    return _record_words(value) if is_dataclass(value) else str(value)


def _record_words(record: Any) -> str:
    said = [(f.name, getattr(record, f.name)) for f in fields(record)]
    return joined(", ", [
        phrase("{field} {value}", field=field_words((name,)), value=_words(v))
        for name, v in said if v not in ("", None, (), {})
    ])  # fmt: skip
