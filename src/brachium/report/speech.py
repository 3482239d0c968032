"""How a report speaks: its language, its currency, and the sentences that a person worded otherwise."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, is_dataclass, replace
from decimal import ROUND_HALF_UP, Decimal
from functools import cached_property
from types import MappingProxyType
from typing import Any, TypeVar

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import phrase
from brachium.core.base.units import OWN_CURRENCY
from brachium.core.figures.base.drawing import Drawing, Text
from brachium.core.record.own_wording import reworded_sentence
from brachium.speech.language import PROGRAMS_OWN, Language

_AMOUNT = re.compile(r"(?<![\w.])(-?\d+(?:\.\d{1,2})?) EUR\b")
TYPED = ("machine", "remark")  # names and typed words
C = TypeVar("C")


@dataclass(frozen=True)
class Speech:
    """`rate` is what one of the currency costs in the shop's own, typed on `rate_day`; `wording` by the text shown."""

    language: Language = PROGRAMS_OWN
    currency: str = OWN_CURRENCY
    rate: Decimal = Decimal(1)
    rate_day: str = ""
    wording: Mapping[str, str] = field(default_factory=lambda: MappingProxyType({}))

    @cached_property
    def _language(self) -> Language:
        return self.language if self.currency == OWN_CURRENCY else replace(self.language, leaf=self._amounts)

    def say(self, text: str) -> str:
        """A text of the program in the report's language and currency."""
        return self._language.say(text)

    def told(self, text: str) -> tuple[str, bool]:
        """The same, and whether every word of it is in that language."""
        said, lacking = self._language.told(text)
        return said, not lacking

    def shown(self, text: str) -> str:
        """The same as a person worded it, where somebody did."""
        return reworded_sentence(self.say(text), self.wording)

    def content(self, content: C) -> C:
        """What a report says, spoken; sentences that are left out are gone. Figures speak too."""
        return self._spoken(content)  # type: ignore[no-any-return]

    def footnote(self, content: object) -> str:
        """How its amounts were converted; empty in the shop's own currency, and where it names none."""
        if self.currency == OWN_CURRENCY or not any(_AMOUNT.search(t) for t in _texts(content)):
            return ""
        rate = OwnWords(f"{self.rate:f} {OWN_CURRENCY}".replace(".", self.language.decimal))
        if not self.rate_day:
            return self.language.say(phrase("Amounts at {rate} for 1 {currency}.", rate=rate, currency=self.currency))
        words = "Amounts at {rate} for 1 {currency}, rate typed on {day}."
        return self.language.say(phrase(words, rate=rate, currency=self.currency, day=self.rate_day))

    def untold(self, content: object) -> tuple[str, ...]:
        """Texts that have no wording in the language yet and that nobody worded, as they are shown."""
        found = []
        for text in _texts(content):
            said, whole = self.told(text)
            if not whole and said not in self.wording:
                found.append(said)
        return tuple(dict.fromkeys(found))

    def _amounts(self, text: str) -> str:
        """Amounts converted, cents rounded half up."""
        if self.currency == OWN_CURRENCY or OWN_CURRENCY not in text:
            return text
        return _AMOUNT.sub(lambda a: f"{_money(Decimal(a[1]) / self.rate)} {self.currency}", text)

    def _spoken(self, value: Any) -> Any:
        if isinstance(value, str):
            return self.shown(value)
        if isinstance(value, Drawing):
            items = tuple(replace(i, text=self.say(i.text)) if isinstance(i, Text) else i for i in value.items)
            return replace(value, items=items, title=self.say(value.title), about=self.say(value.about), regions=())
        if isinstance(value, tuple):
            spoken = tuple(self._spoken(v) for v in value)
            return tuple(new for old, new in zip(value, spoken, strict=True) if new != "" or old == "")
        if is_dataclass(value) and not isinstance(value, type):
            own = {f.name: getattr(value, f.name) for f in fields(value)}
            return replace(value, **{k: self._spoken(OwnWords(v) if k in TYPED else v) for k, v in own.items()})
        return value


def _money(amount: Decimal) -> str:
    cents = amount.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
    return f"{cents:.0f}" if cents == cents.to_integral_value() else f"{cents:.2f}"


def _texts(value: object) -> list[str]:
    """Every text of a report except names and typed words."""
    if isinstance(value, str):
        return [value]
    if isinstance(value, Drawing):
        return [i.text for i in value.items if isinstance(i, Text)]
    if isinstance(value, tuple):
        return [t for v in value for t in _texts(v)]
    if is_dataclass(value) and not isinstance(value, type):
        return [t for f in fields(value) if f.name not in (*TYPED, "title") for t in _texts(getattr(value, f.name))]
    return []


PLAIN = Speech()
