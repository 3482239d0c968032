"""Sentences as templates with named values, never glued together, so that they can be translated whole.

A `Text` is the English sentence, a `str` like any other, and remembers its template and values. What renders it in
another language looks the template up and fills it with the values as that language writes them; a value that is a
`Text` itself is looked up in turn. Core stays free of languages: whoever shows a text says it (`brachium.speech`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from string import Formatter
from types import MappingProxyType

NOTHING: Mapping[str, object] = MappingProxyType({})
Say = Callable[[str], str]


@lru_cache(maxsize=8192)
def names_in(template: str) -> frozenset[str]:
    """The named places of a template, those inside a format (`{x:.{digits}f}`) too."""
    out: set[str] = set()
    for _, name, spec, _ in Formatter().parse(template):
        if name is not None:
            out |= {name} | names_in(spec or "")
    return frozenset(out)


@dataclass(frozen=True)
class Span:
    """Two numbers as one value, each formatted as the template asks: `1.5 to 2.0`."""

    low: float
    high: float
    between: str = "{low} to {high}"

    def __format__(self, spec: str) -> str:
        return self.between.format(low=format(self.low, spec), high=format(self.high, spec))


class Text(str):
    """A template with its values; `one` is the template for a `number` of one, where the two differ.

    `case` says what becomes of the whole: "" as it is, else one of `CASES` (its first letter, its full stop).
    Raises ValueError where the values are not just those that the template names.
    """

    template: str
    values: Mapping[str, object]
    one: str
    number: int
    case: str

    def __new__(
        cls, template: str, values: Mapping[str, object] = NOTHING, one: str = "", number: int = 0, case: str = ""
    ) -> Text:
        named = names_in(template) if not one else names_in(template) | names_in(one)
        if named != values.keys():
            raise ValueError(f"“{template}” names {sorted(named)}, given are {sorted(values)}")
        chosen = one if one and number == 1 else template
        out = super().__new__(cls, CASES[case](chosen.format_map(values)))
        out.template, out.values, out.one, out.number, out.case = template, values, one, number, case
        return out

    def said_in(self, template: str, value: Callable[[object], object] = lambda v: v) -> str:
        """The sentence by the template of another language, which names the same values in its own order; `value`
        gives each of them as that language writes it."""
        return template.format_map({name: value(v) for name, v in self.values.items()})

    def __str__(self) -> str:
        return self

    def __add__(self, other: str) -> str:
        return joined("", (self, other))

    def __radd__(self, other: str) -> str:
        return joined("", (other, self))

    def lower(self) -> str:
        return _changed(self, "small")

    def capitalize(self) -> str:
        return _changed(self, "capital")

    def strip(self, signs: str | None = None, /) -> str:
        return super().strip(signs) if signs else _changed(self, "strip")

    def rstrip(self, signs: str | None = None, /) -> str:
        return super().rstrip(signs) if signs not in (None, ".") else _changed(self, "open" if signs else "rstrip")

    def __reduce__(self) -> tuple[type[Text], tuple[str, dict[str, object], str, int, str]]:
        return Text, (self.template, dict(self.values), self.one, self.number, self.case)


CASES: Mapping[str, Callable[[str], str]] = {
    "": lambda text: text,
    "upper": lambda text: text[:1].upper() + text[1:],
    "lower": lambda text: text if text[1:2].isupper() else text[:1].lower() + text[1:],
    "small": str.lower,
    "capital": str.capitalize,
    "open": lambda text: str.rstrip(text, "."),
    "strip": str.strip,
    "rstrip": str.rstrip,
}


def _changed(text: str, case: str) -> str:
    return Text("{text}", {"text": text}, case=case)


def phrase(template: str, /, **values: object) -> str:
    """`phrase("runs at {mts} MT/s, not {rated}", mts=1333, rated=1600)`."""
    return Text(template, values)


def many(count: int, noun: str) -> str:
    """`1 session`, `2 sessions`: the plural by the rules of whatever language says it."""
    return Text(f"{{count}} {noun}s", {"count": count}, f"{{count}} {noun}", count)


def counted(count: int, one: str, several: str, /, **values: object) -> str:
    """A sentence that reads another way for a count of one; either may name `{count}`."""
    named = names_in(one) | names_in(several)
    return Text(several, {"count": count, **values} if "count" in named else values, one, count)


def joined(between: str, parts: Iterable[str]) -> str:
    """`between.join(parts)` that keeps the parts as they are."""
    values: dict[str, object] = {f"p{k}": part for k, part in enumerate(parts)}
    template = "{between}".join(f"{{{name}}}" for name in values)
    return Text(template, {**values, "between": between} if len(values) > 1 else values)


def upper_first(text: str) -> str:
    """The same beginning with a capital, as a sentence does."""
    return _changed(text, "upper")


def lower_first(text: str) -> str:
    """The same beginning small, as within a sentence; a language that keeps its capitals says so."""
    return _changed(text, "lower")


def without_stop(text: str) -> str:
    """The same without its full stop."""
    return _changed(text, "open")
