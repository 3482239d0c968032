"""The language of the window: chosen in Settings or what the system speaks; Qt's own words and numbers follow it."""

from __future__ import annotations

from PySide6.QtCore import QLibraryInfo, QLocale, QTranslator
from PySide6.QtWidgets import QApplication

from brachium.speech.language import Language
from brachium.speech.languages import SYSTEM, language_of
from brachium.speech.shown import show_in

_state: dict[str, object] = {"chosen": SYSTEM, "qt": None}


def chosen() -> str:
    """The code that was chosen; empty = as the system speaks."""
    return str(_state["chosen"])


def speak(app: QApplication, wanted: str) -> Language:
    """Let everything that is shown from now on speak a language; what is shown already stays as it is."""
    language = language_of(wanted, QLocale.system().name())
    _state["chosen"] = wanted
    show_in(language)
    QLocale.setDefault(QLocale(language.code))
    earlier = _state["qt"]
    if isinstance(earlier, QTranslator):
        app.removeTranslator(earlier)
    words = QTranslator(app)
    if words.load(f"qtbase_{language.code}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        app.installTranslator(words)
    _state["qt"] = words
    return language
