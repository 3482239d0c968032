"""Sentences as templates."""

from __future__ import annotations

import pickle

import pytest

from brachium.core.base.text import Text


def test_a_sentence_is_its_template_with_its_values_in_any_language() -> None:
    text = Text("runs at {mts} MT/s, not {rated}", {"mts": 1333, "rated": 1600})
    assert str(text) == "runs at 1333 MT/s, not 1600"
    assert text == "runs at 1333 MT/s, not 1600" and isinstance(text, str), "a sentence like any other"
    again = pickle.loads(pickle.dumps(text))
    assert (again, again.template, dict(again.values)) == (text, text.template, dict(text.values))
    assert text.said_in("statt {rated} nur {mts} MT/s") == "statt 1600 nur 1333 MT/s"
    inner = Text("{n} modules", {"n": 2})
    outer = Text("{what} that run at {x} V", {"what": inner, "x": 1.35})
    german = {"{n} modules": "{n} Module"}

    def value(v: object) -> object:
        if isinstance(v, Text):
            return v.said_in(german[v.template], value)
        return str(v).replace(".", ",") if isinstance(v, float) else v

    assert outer == "2 modules that run at 1.35 V"
    assert outer.said_in("{what}, die mit {x} V laufen", value) == "2 Module, die mit 1,35 V laufen"
    assert str(Text("100 % of it")) == "100 % of it" and str(Text("{{literally}}")) == "{literally}"


@pytest.mark.parametrize("values", [{}, {"mts": 1, "rated": 2, "more": 3}, {"mts": 1}, {"": 1, "rated": 2}])
def test_values_are_just_those_that_the_template_names(values: dict[str, object]) -> None:
    with pytest.raises(ValueError, match="names"):
        Text("runs at {mts} MT/s, not {rated}", values)
