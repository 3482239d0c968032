"""A text with its template and values as one line, so that what a record keeps can be said in any language later."""

from __future__ import annotations

import json
from typing import Any

from brachium.core.base.text import Text

MARK = "\x1f"  # begins a packed text; nobody types it


def packed(text: str) -> str:
    """The text as it is kept: plain words as they are."""
    return MARK + json.dumps(_parts(text), ensure_ascii=False) if isinstance(text, Text) else text


def unpacked(kept: str) -> str:
    """What was kept; words without a template, and what cannot be read, as they are."""
    if not kept.startswith(MARK):
        return kept
    try:
        return str(_whole(json.loads(kept[1:])))
    except (ValueError, KeyError, TypeError, IndexError, AttributeError, RecursionError):
        return kept[1:]


def _parts(value: object) -> object:
    if isinstance(value, Text):
        values = {name: _parts(v) for name, v in value.values.items()}
        return {"t": value.template, "v": values, "one": value.one, "n": value.number, "case": value.case}
    return value if isinstance(value, str | int | float) else str(value)


def _whole(kept: Any) -> object:
    if not isinstance(kept, dict):
        return kept
    return Text(kept["t"], {k: _whole(v) for k, v in kept["v"].items()}, kept["one"], kept["n"], kept["case"])
