"""The languages that reports speak: a table of phrases from the program's English, one JSON file a language.

A phrase may hold places in braces. `{n}`, `{n1}` take a number, `{any}` whatever stands there as it is, every other
name a piece that is a phrase itself. What no phrase matches stays English and is named, never guessed.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache, cached_property
from importlib.resources import files
from types import MappingProxyType

from brachium.core.base.own_words import OwnWords

ENGLISH, DEEPEST = "en", 5
_PLACE = re.compile(r"\{(\w+)\}")
_GAP = "[ \u00a0\u2009\u202f]"  # between thousands
_NUMBER = rf"[-+]?\d+(?:{_GAP}\d{{3}})*(?:\.\d+)?"
_DATE = re.compile(r"\b(\d{4})-(\d\d)-(\d\d)\b")
_DECIMAL = re.compile(rf"(?<![\w.])(\d+(?:{_GAP}\d{{3}})*)\.(\d+)(?![\w.])")
_WORD = re.compile(r"[^\W\d_]{2,}")
_NAMES = re.compile(r"^(?:GiB|MiB|KiB|GB|TB|MB|DDR\dL?|DIMM|SO|SSD|NVMe|SATA|ECC|EUR|Wh|MHz|GHz|reads?|min|[A-Z]{3})$")


@dataclass(frozen=True)
class Pattern:
    """A phrase with places: the English as expressions, pieces as short or as long as they can be; the other language
    as a template."""

    short: re.Pattern[str]
    long: re.Pattern[str]
    other: str


@dataclass(frozen=True)
class Language:
    """`decimal` mark, `date` with {y}, {m}, {d}; phrases in the order of the file, with and without places."""

    code: str
    name: str
    decimal: str = "."
    date: str = "{y}-{m}-{d}"
    phrases: Mapping[str, str] = field(default_factory=lambda: MappingProxyType({}))

    @cached_property
    def patterns(self) -> tuple[Pattern, ...]:
        """The phrases with places, made ready when they are first asked for."""
        return tuple(_pattern(e, o) for e, o in self.phrases.items() if _PLACE.search(e))

    def say(self, text: str) -> tuple[str, bool]:
        """(the text in this language, whether every word of it is)."""
        if self.code == ENGLISH:
            return text, True
        if isinstance(text, OwnWords):
            return (text if _needs_no_words(text) else self._say(text, 0) or text), True
        found = self._say(text, 0)
        return (found, True) if found is not None else (self.figures(text), _needs_no_words(text))

    def figures(self, text: str) -> str:
        """Dates and decimal marks as this language writes them."""
        text = self._dates(text)
        return _DECIMAL.sub(lambda n: f"{n[1]}{self.decimal}{n[2]}", text) if self.decimal != "." else text

    def _dates(self, text: str) -> str:
        return _DATE.sub(lambda d: self.date.format(y=d[1], m=d[2], d=d[3]), text)

    def _say(self, text: str, depth: int) -> str | None:
        if text in self.phrases:
            return self.phrases[text]
        for pattern in self.patterns if depth < DEEPEST else ():
            for english in (pattern.short, pattern.long):
                match = english.fullmatch(text)
                filled = self._filled(match, pattern.other, depth) if match is not None else None
                if filled is not None:
                    return filled
        return self.figures(text) if _needs_no_words(text) else None

    def _filled(self, match: re.Match[str], other: str, depth: int) -> str | None:
        """The template with the match's pieces; None where a piece is not known."""
        out = {}
        for name, piece in match.groupdict().items():
            if name.startswith("any"):
                said: str | None = self._dates(piece)
            elif re.fullmatch(r"n\d*", name):
                said = self.figures(piece)
            else:
                said = self._say(piece, depth + 1)
            if said is None:
                return None
            out[name] = said
        return other.format_map(out)


PROGRAMS_OWN = Language(ENGLISH, "English")


def _needs_no_words(text: str) -> bool:
    """Whether nothing in it is a word: figures, units, standards."""
    return all(_NAMES.match(word) for word in _WORD.findall(text))


def _pattern(english: str, other: str) -> Pattern:
    return Pattern(_expression(english, ".+?"), _expression(english, ".+"), other)


def _expression(english: str, piece: str) -> re.Pattern[str]:
    parts, last = [], 0
    for place in _PLACE.finditer(english):
        name = place[1]
        parts.append(re.escape(english[last : place.start()]))
        inner = _NUMBER if re.fullmatch(r"n\d*", name) else piece
        parts.append(f"(?P<{name}>{inner})")
        last = place.end()
    parts.append(re.escape(english[last:]))
    return re.compile("".join(parts), re.DOTALL)


def language_from_json(text: str) -> Language:
    """Raises ValueError naming a phrase that asks for a place it does not have."""
    data = json.loads(text)
    phrases: dict[str, str] = data["phrases"]
    for english, other in phrases.items():
        unknown = set(_PLACE.findall(other)) - set(_PLACE.findall(english))
        if unknown:
            raise ValueError(f"“{english}”: it has no place {{{min(unknown)}}}")
    return Language(data["code"], data["name"], data["decimal"], data["date"], MappingProxyType(phrases))


@cache
def languages() -> Mapping[str, Language]:
    """Every language that ships, English first."""
    folder = files("brachium.resources").joinpath("languages")
    found = [language_from_json(f.read_text(encoding="utf-8")) for f in folder.iterdir() if f.name.endswith(".json")]
    every = (PROGRAMS_OWN, *sorted(found, key=lambda x: x.name))
    return MappingProxyType({language.code: language for language in every})
