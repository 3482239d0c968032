"""Cells of CSV files that other programs open: a text that a spreadsheet would take for a formula is written as text.

The guard is one apostrophe in front, as spreadsheets themselves write it; it is taken off again on reading, so that
what goes out comes back the same.
"""

from __future__ import annotations

FORMULA = ("=", "+", "-", "@", "\t", "\r")
GUARD = "'"


def guarded(*cells: object) -> list[object]:
    """The cells of a row, texts guarded; numbers stay numbers."""
    return [guard(c) if isinstance(c, str) else c for c in cells]


def guard(text: str) -> str:
    """A text that no spreadsheet computes; plain numbers stay as they are."""
    return f"{GUARD}{text}" if _needs(text) else text


def plain_cell(text: str) -> str:
    """A cell as it was before it was guarded."""
    return text[1:] if text.startswith(GUARD) and _needs(text[1:]) else text


def _needs(text: str) -> bool:
    if text.startswith(FORMULA):
        return not _is_number(text)
    return text.startswith(GUARD) and _needs(text[1:])  # one that begins so by itself keeps its apostrophe


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return text[1:2].isdigit() or text[1:2] == "."
