"""Tool tips are text: what somebody typed, or a file brought along, is shown as it is and never taken for markup."""

from __future__ import annotations

from html import escape


def tip_text(text: str) -> str:
    """The text for a tool tip; where Qt would take it for markup, and load what that names, it is spelled out."""
    return f"<qt>{escape(text).replace(chr(10), '<br>')}</qt>" if "<" in text else text
