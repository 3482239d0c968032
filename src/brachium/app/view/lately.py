"""Answers given lately, for questions that are compared, not hashed: a record holds dictionaries and arrays.

An undone edit, a plan put together and taken apart again, a tick of the work ask what was asked before.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

Q = TypeVar("Q")
A = TypeVar("A")


class Lately(Generic[Q, A]):
    """The last `most` answers, each beside its question; the one asked longest ago is forgotten first."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._known: list[tuple[Q, A]] = []

    def answer(self, question: Q, work: Callable[[], A]) -> A:
        """The answer known for an equal question, else the one that `work` gives."""
        known = [*self._known]  # several threads ask
        for entry in reversed(known):
            if _same(entry[0], question):
                self._known = [*(e for e in known if e is not entry), entry]
                return entry[1]
        found = work()
        self._known = [*self._known, (question, found)][-self._most :]
        return found

    def known(self, wanted: Callable[[A], bool]) -> A | None:
        """The answer given last of those that are wanted."""
        return next((answer for _, answer in reversed(self._known) if wanted(answer)), None)

    def forget(self) -> None:
        """Know nothing."""
        self._known = []


def _same(known: object, asked: object) -> bool:
    try:
        return known == asked
    except ValueError:  # arrays of another run: it is another question
        return False
