"""Sentences as templates."""

from __future__ import annotations

import pytest

from brachium.core.base.text import Text


def test_a_sentence_is_its_template_with_its_values_in_any_language() -> None:
    text = Text("runs at {mts} MT/s, not {rated}", {"mts": 1333, "rated": 1600})
    assert str(text) == "runs at 1333 MT/s, not 1600"
    assert text.said_in("statt {rated} nur {mts} MT/s") == "statt 1600 nur 1333 MT/s"
    assert str(Text("100 % of it")) == "100 % of it" and str(Text("{{literally}}")) == "{literally}"


@pytest.mark.parametrize("values", [{}, {"mts": 1, "rated": 2, "more": 3}, {"mts": 1}, {"": 1, "rated": 2}])
def test_values_are_just_those_that_the_template_names(values: dict[str, object]) -> None:
    with pytest.raises(ValueError, match="names"):
        Text("runs at {mts} MT/s, not {rated}", values)
