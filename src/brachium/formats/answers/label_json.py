"""A label that was read, as JSON values: docs/formats/label.md."""

from __future__ import annotations

from dataclasses import asdict

from brachium.core.label.any_label import Label

FORMAT_VERSION = 1


def label_values(kind: str, label: Label) -> dict[str, object]:
    """Every field of the kind, None where the label leaves it open; enumerations by their names."""
    return {"version": FORMAT_VERSION, "kind": kind, **asdict(label), "left_open": label.left_open}
