"""Words that a person typed, told apart from the program's own."""

from __future__ import annotations


class OwnWords(str):
    """Words that a person typed, and names: a report says them as they are, in every language."""
