"""The catalogues against the source: every phrase in every language, the same places in each, compiled as it stands."""

from __future__ import annotations

from string import Formatter

import pytest
from babel.messages.catalog import Catalog, Message

from brachium.core.base.text import names_in
from scripts.phrases import CODES, extracted, file_of, lacking, read, updated, written


@pytest.fixture(scope="module")
def template() -> Catalog:
    return extracted()


def _sides(message: Message) -> list[tuple[str, str]]:
    """(English, the other language): of plurals each form against the one of several."""
    if isinstance(message.id, tuple | list):
        return [(message.id[1], form) for form in message.string]
    return [(str(message.id), str(message.string))]


def _places(text: str) -> list[tuple[str, str]]:
    """Named places with what they ask for, in any order."""
    return sorted((name, f"{spec}{conversion or ''}") for _, name, spec, conversion in Formatter().parse(text) if name)


@pytest.mark.parametrize("code", CODES)
def test_no_phrase_lacks_its_words_and_none_is_left_over(code: str, template: Catalog) -> None:
    fresh = updated(code, template)
    assert [m.id for m in lacking(fresh)] == [], "run python -m scripts.phrases and word them"
    assert {str(m.id) for m in read(code)} == {str(m.id) for m in template}, "run python -m scripts.phrases"
    assert file_of(code).with_suffix(".mo").read_bytes() == written(read(code), compiled=True)
    assert len(template) > 6000


@pytest.mark.parametrize("code", CODES)
def test_a_phrase_names_the_same_places_and_keeps_its_edges(code: str) -> None:
    wrong = []
    for message in read(code):
        for english, said in _sides(message) if message.id else ():
            if "{" in english and not english.startswith("<span"):
                plural = isinstance(message.id, tuple | list)
                same = names_in(said) <= names_in(english) if plural else _places(said) == _places(english)
                wrong += [] if same else [(english, said)]
            for edge in (0, -1):
                if english[edge].isspace() != said[edge].isspace():
                    wrong.append((english, said))
    assert wrong == []


@pytest.mark.parametrize("code", CODES)
def test_figures_of_a_phrase_are_those_of_the_english(code: str) -> None:
    """Digits that a phrase states by itself: none lost, none added, whatever the decimal mark."""
    wrong = []
    for message in read(code):
        if message.id and not isinstance(message.id, tuple | list):
            english, said = _digits(str(message.id)), _digits(str(message.string))
            wrong += [] if english == said else [(message.id, message.string)]
    assert wrong == []


def _digits(text: str) -> list[str]:
    """Digits outside of places; words of a number of one's own language ("both", "Vier") are no digits."""
    plain = "".join(literal for literal, *_ in Formatter().parse(text.replace("{{", "").replace("}}", "")) if literal)
    return sorted(sign for sign in plain if sign.isdigit())
