"""Says a text in a language: its template looked up in the catalogue, its values as that language writes them."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from gettext import NullTranslations
from types import MappingProxyType

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import CASES, Span, Text

ENGLISH = "en"
_GAP = "[ \u00a0\u2009\u202f]"  # between thousands
_DATE = re.compile(r"\b(\d{4})-(\d\d)-(\d\d)\b")
_DECIMAL = re.compile(rf"(?<![\w.])(\d+(?:{_GAP}\d{{3}})*)\.(\d+)(?![\w.])")
_PLACE = re.compile(r"\{[^{}]*(?:\{\w+\})?[^{}]*\}")
_WORD = re.compile(r"[^\W\d_]{2,}")
_NUMBERED = re.compile(r"(.*\S) (\d+)")
_NAMES = re.compile(
    r"^(?:GiB|MiB|KiB|GB|TB|MB|DDR\dL?|DIMM|SO|SSD|NVMe|SATA|ECC|EUR|Wh|MHz|GHz|min|dB|[cm]m[²³]?|[mn]s|ml|[A-Z]{2,4})$"
)
_SMALL = ("lower", "small")


@dataclass(frozen=True)
class Language:
    """`decimal` mark, `date` with {y}, {m}, {d}; `keeps_capitals`: a word within a sentence begins as it does alone."""

    code: str
    name: str
    decimal: str = "."
    date: str = "{y}-{m}-{d}"
    keeps_capitals: bool = False
    catalogue: NullTranslations = field(default_factory=NullTranslations)
    leaf: Callable[[str], str] | None = None  # what becomes of a plain piece before it is said, such as an amount

    def say(self, text: str) -> str:
        """A text in this language; what has no phrase stays English."""
        if self.code == ENGLISH and self.leaf is None:
            return text
        return self.told(text)[0]

    def told(self, text: str) -> tuple[str, tuple[str, ...]]:
        """(the text in this language, the phrases that it lacks for it)."""
        lacking: list[str] = []
        return self._said(text, lacking), tuple(lacking)

    def figures(self, text: str) -> str:
        """Dates and decimal marks as this language writes them."""
        if self.code == ENGLISH:
            return text
        text = _DATE.sub(lambda d: self.date.format(y=d[1], m=d[2], d=d[3]), text)
        return _DECIMAL.sub(lambda n: f"{n[1]}{self.decimal}{n[2]}", text) if self.decimal != "." else text

    def _said(self, text: str, lacking: list[str]) -> str:
        if isinstance(text, OwnWords):
            return text
        if isinstance(text, Text):
            return self._cased(
                text.said_in(self._template(text, lacking), lambda v: self._value(v, lacking)), text.case
            )
        return self._plain(self.leaf(text) if self.leaf is not None else text, lacking)

    def _template(self, text: Text, lacking: list[str]) -> str:
        english = text.one if text.one and text.number == 1 else text.template
        if (text.one or text.template) in self._known:
            asked = self.catalogue
            return asked.ngettext(text.one, text.template, text.number) if text.one else asked.gettext(text.template)
        if self.code != ENGLISH and has_words(_PLACE.sub("", english)):
            lacking.append(english)
        return english

    def _value(self, value: object, lacking: list[str]) -> object:
        if isinstance(value, Span):
            value = replace(value, between=self.catalogue.gettext(value.between))
        if not isinstance(value, str):
            return Figure(value, self)
        return self._said(value, lacking if isinstance(value, Text) else [])  # what has no phrase here is a name

    def _plain(self, text: str, lacking: list[str]) -> str:
        if self.code == ENGLISH or not has_words(text):
            return self.figures(text)
        for english, case in (
            (text, ""),
            (text[:1].upper() + text[1:], "lower"),
            (text[:1].lower() + text[1:], "upper"),
        ):
            if english in self._known:
                return self._cased(self.catalogue.gettext(english), case)
        numbered = _NUMBERED.fullmatch(text)  # a place: `Memory slot 2`
        if numbered is not None and has_words(numbered[1]):
            return f"{self._plain(numbered[1], lacking)} {numbered[2]}"
        lacking.append(str(text))
        return text  # a name, a path: its dates and points are part of it

    def _cased(self, said: str, case: str) -> str:
        if case == "capital":
            case = "upper"
        if case in _SMALL:
            return said if self.keeps_capitals or said[1:2].isupper() else CASES["lower"](said)
        return CASES[case](said)

    @cached_property
    def _known(self) -> frozenset[str]:
        """What the catalogue has a phrase for; of plurals the singular."""
        entries: Mapping[object, str] = getattr(self.catalogue, "_catalog", MappingProxyType({}))
        return frozenset(k[0] if isinstance(k, tuple) else str(k) for k in entries) - {""}


class Figure:
    """A number that is formatted as a language writes it."""

    def __init__(self, value: object, language: Language) -> None:
        self._value, self._language = value, language

    def __format__(self, spec: str) -> str:
        return self._language.figures(format(self._value, spec))

    def __str__(self) -> str:
        return self._language.figures(str(self._value))


def has_words(text: str) -> bool:
    """Whether anything in it is a word: no figure, unit or standard."""
    return not all(_NAMES.match(word) for word in _WORD.findall(text))


PROGRAMS_OWN = Language(ENGLISH, "English")
