"""The language in which the program shows itself, set once by whoever shows it: the window, or nobody (English)."""

from __future__ import annotations

from brachium.core.base.spoken import speak_by
from brachium.speech.language import PROGRAMS_OWN, Language

_shown = [PROGRAMS_OWN]


def show_in(language: Language) -> None:
    """Let everything that is shown from now on be said in a language."""
    _shown[0] = language
    speak_by(language.say)


def shown_language() -> Language:
    """What sheets for the bench are written in; reports have a language of their own."""
    return _shown[0]
