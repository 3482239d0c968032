"""Tool tips are text: what somebody typed, or a file brought along, is shown as it is and never taken for markup."""

from __future__ import annotations

from html import escape

from brachium.core.base.spoken import say


def tip_text(text: str) -> str:
    """The text for a tool tip; where Qt would take it for markup, and load what that names, it is spelled out."""
    said = say(text)
    return f"<qt>{escape(said).replace(chr(10), '<br>')}</qt>" if "<" in said else said
