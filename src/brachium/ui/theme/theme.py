"""The theme on screen: fonts loaded, palette and style sheet made from the token record, light or dark."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette
from PySide6.QtWidgets import QApplication

from brachium.core.figures.base.theme import CONTRAST, DARK, LIGHT, TYPE, Colours
from brachium.ui.theme.stylesheet import style_sheet

LOOKS = {"light": LIGHT, "dark": DARK, "contrast": CONTRAST}
SYSTEM = "system"  # light, dark or high contrast as the desktop wishes
_state = {"look": "light", "shown": "light"}


def colours() -> Colours:
    """The colours in force."""
    return LOOKS[_state["shown"]]


def is_dark() -> bool:
    """Whether what is shown is dark, by choice or by the system's wish."""
    return _state["shown"] == "dark"


def look() -> str:
    """What was chosen: a name of `LOOKS`, or `SYSTEM`."""
    return _state["look"]


def wished(app: QGuiApplication) -> str:
    """The look that the desktop asks for; light where it says nothing."""
    hints = app.styleHints()
    accessible = getattr(hints, "accessibility", None)
    preference = accessible().contrastPreference() if accessible is not None else None
    if preference is not None and getattr(preference, "name", "") == "HighContrast":
        return "contrast"
    return "dark" if hints.colorScheme() is Qt.ColorScheme.Dark else "light"


def qcolor(role: str) -> QColor:
    return QColor(colours().role(role))


@cache
def load_fonts() -> tuple[str, ...]:
    """Register the shipped fonts; returns their families."""
    out: list[str] = []
    for file in sorted(files("brachium.resources").joinpath("fonts").iterdir(), key=lambda f: f.name):
        if file.name.endswith(".ttf"):
            number = QFontDatabase.addApplicationFontFromData(file.read_bytes())
            out += QFontDatabase.applicationFontFamilies(number)
    return tuple(dict.fromkeys(out))


@cache
def font(size: float, weight: int = 400, condensed: bool = False) -> QFont:
    """A font of the shipped family with tabular figures; size in px, weight 400, 500 or 600."""
    out = QFont(TYPE.condensed if condensed else TYPE.family)
    out.setPixelSize(round(size))
    out.setWeight(QFont.Weight(weight))
    out.setFeature(QFont.Tag("tnum"), 1)
    out.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return out


def apply(app: QApplication, look: str) -> None:
    """Put a look in force; every widget there is takes it on anew, so one that is in force is left alone."""
    load_fonts()
    _state["look"] = look if look in LOOKS else SYSTEM
    _state["shown"] = look if look in LOOKS else wished(app)
    c = colours()
    sheet = style_sheet(c)
    if app.styleSheet() == sheet:
        return
    palette = QPalette()
    for group, role in (
        (QPalette.ColorRole.Window, c.film), (QPalette.ColorRole.Base, c.sheet), (QPalette.ColorRole.Text, c.ink),
        (QPalette.ColorRole.WindowText, c.ink), (QPalette.ColorRole.Button, c.sheet),
        (QPalette.ColorRole.ButtonText, c.ink), (QPalette.ColorRole.Highlight, c.cool_wash),
        (QPalette.ColorRole.HighlightedText, c.ink), (QPalette.ColorRole.PlaceholderText, c.soft),
        (QPalette.ColorRole.ToolTipBase, c.sheet), (QPalette.ColorRole.ToolTipText, c.ink),
        (QPalette.ColorRole.Link, c.cool),
    ):  # fmt: skip
        palette.setColor(group, QColor(role))
    app.setStyle("Fusion")
    app.setPalette(palette)
    app.setFont(font(TYPE.body))
    app.setStyleSheet(sheet)
