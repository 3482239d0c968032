"""Moves of parts between places, in words for the board: from where, to where, or out."""

from __future__ import annotations

from collections.abc import Mapping

from brachium.core.base.text import lower_first, phrase
from brachium.core.figures.board.fit_board_state import BoardState
from brachium.core.machine.parts import Part

OUT = "out"


def source_of(state: BoardState, place_id: str) -> str:
    """The place where what will be in a place sits today; empty where it is new, or stays."""
    now, later = state.machine.configuration().parts, state.planned.parts
    return _elsewhere(later.get(place_id), now, later, place_id)


def comes_from(state: BoardState, place_id: str) -> str:
    """The same in words: `from memory slot 2`."""
    place = source_of(state, place_id)
    return phrase("from {place_label}", place_label=lower_first(state.machine.place_label(place))) if place else ""


def goes_to(state: BoardState, place_id: str) -> str:
    """Where what sits in a place today will be: `to memory slot 3`, `out`; empty where it stays."""
    now, later = state.machine.configuration().parts, state.planned.parts
    part = now.get(place_id)
    if part is None or later.get(place_id) == part:
        return ""
    place = _elsewhere(part, later, now, place_id)
    return phrase("to {place_label}", place_label=lower_first(state.machine.place_label(place))) if place else OUT


def _elsewhere(part: Part | None, there: Mapping[str, Part], here: Mapping[str, Part], place_id: str) -> str:
    """Another place that holds a part in one configuration and not in the other."""
    if part is None or there.get(place_id) == part:
        return ""
    return next((p for p, x in there.items() if x == part and here.get(p) != part and p != place_id), "")
