"""What tells one run from another, whatever id it was given in a shop."""

from __future__ import annotations

import hashlib
import json
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from brachium.core.measure.run import Run


def fingerprint(document: str) -> str:
    """SHA-256 of a run's document without its id, version, void reason and everything empty.

    Empty fields are left out so that a document written before a field existed keeps its fingerprint.
    """
    plain = json.loads(document)
    for own in ("id", "void_reason", "document_version"):
        plain.pop(own, None)
    return hashlib.sha256(json.dumps(_filled(plain), sort_keys=True).encode()).hexdigest()


def _filled(value: object) -> object:
    if isinstance(value, dict):
        return {k: _filled(v) for k, v in value.items() if v or isinstance(v, int | float)}
    if isinstance(value, list):
        return [_filled(v) for v in value]
    return value


def fingerprint_of(run: Run) -> str:
    """What tells this run from others, whatever id it has."""
    from brachium.formats.records import run_to_json  # late: a migration needs none of today's records

    return fingerprint(run_to_json(run))
