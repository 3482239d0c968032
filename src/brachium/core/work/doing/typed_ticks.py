"""Ticks made on paper, typed back in one line: `1-5 7:12 9` ticks steps 1 to 5, 7 in 12 minutes, and 9.

Numbers are those of the printed sheet. A step without minutes was not timed, and is not counted as if it had been.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from brachium.core.base.text import phrase
from brachium.core.work.step import Step

MOST_MIN = 24 * 60.0
NOT_TIMED = 0.0  # minutes of a step that nobody timed: learning and averages leave it out
_ONE = re.compile(r"(\d+)(?:\s*[-–]\s*(\d+))?(?:\s*:\s*(\d+(?:[.,]\d+)?))?")


@dataclass(frozen=True)
class Tick:
    """A step that was ticked on paper, and its minutes."""

    step_id: str
    minutes: float


def read_ticks(text: str, steps: Sequence[Step]) -> tuple[Tick, ...]:
    """The ticks of a line, in the order of the steps. Raises ValueError with a sentence for people: a word that is no
    number, a number that is no step, minutes of a range or of more than a day."""
    found: dict[int, float] = {}
    for word in re.sub(r"\s*([-–:])\s*", r"\1", text.replace(";", " ").replace(", ", " ")).split():
        numbers, took = _read(word.strip(",."), len(steps))
        found.update(dict.fromkeys((n for n in numbers if took or n not in found), took))
    return tuple(Tick(steps[n - 1].id, found[n]) for n in sorted(found))


def _read(word: str, count: int) -> tuple[range, float]:
    """The steps of a word of the line, by their numbers, and minutes where it says some."""
    match = _ONE.fullmatch(word)
    if match is None:
        raise ValueError(phrase("“{word}” is not understood: numbers of steps, such as 1-5 7:12 9.", word=word))
    first, last, minutes = match.groups()
    numbers = range(int(first), int(last or first) + 1)
    if not numbers:
        raise ValueError(phrase("“{word}” runs backwards.", word=word))
    wrong = next((n for n in (numbers[0], numbers[-1]) if not 1 <= n <= count), None)
    if wrong is not None:
        raise ValueError(phrase("There are {count} steps: {wrong} is not one of them.", count=count, wrong=wrong))
    if minutes and last:
        raise ValueError(phrase("“{word}”: minutes belong to one step, not to a range.", word=word))
    took = float(minutes.replace(",", ".")) if minutes else NOT_TIMED
    if took > MOST_MIN:
        raise ValueError(phrase("“{word}”: minutes of more than a day.", word=word))
    return numbers, took
