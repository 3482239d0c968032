"""Sentences of a report in words of one's own: the figures in them stay, and what must be said stays said."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping

from brachium.core.base.text import phrase

LEFT_OUT = "-"  # the wording of a sentence that is not wanted
_NUMBER = re.compile(r"\d+(?:[.,]\d+)?")


def reworded_sentence(text: str, wording: Mapping[str, str]) -> str:
    """The text as it was worded; empty where it is left out."""
    new = wording.get(text, text)
    return "" if new == LEFT_OUT else new


def wording_problem(text: str, new: str, must_stay: bool) -> str:
    """Why a sentence cannot be worded like this; empty where it can.

    Figures may be moved within the sentence, not changed, dropped or added: they come from the runs and the record.
    """
    if not new or new == LEFT_OUT:
        return "This has to be said: edit its wording, but do not leave it out." if must_stay else ""
    before, after = Counter(_NUMBER.findall(text)), Counter(_NUMBER.findall(new))
    lost, added = sorted((before - after).elements()), sorted((after - before).elements())
    if lost:
        return phrase("The figure {lost} is missing: figures come from the record and stay.", lost=lost[0])
    if added:
        return phrase("The figure {added} is not in the record's sentence: figures are not typed here.", added=added[0])
    return ""
