"""Taking one statement after the other out of a label or a quick line; what is left over was not understood."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping

MOST_LETTERS = 400
TIMES = re.compile(r"(?<=\d)\s*\*\s*(?=\d)")
Understood = tuple[tuple[str, tuple[str, ...]], ...]
NOISE = re.compile(r"^(?:of|a|an|the|kit|with|and|in|[-,;:/.*+()x]+)$", re.IGNORECASE)


class LabelWords:
    """The text that is still to be read, and what was said so far by field name."""

    def __init__(self, text: str) -> None:
        plain = text[:MOST_LETTERS].replace("×", "x").replace("–", "-").replace("\N{NON-BREAKING HYPHEN}", "-")
        self.rest = f" {re.sub(TIMES, 'x', plain)} "
        self.said: dict[str, object] = {}
        self.taken: list[tuple[str, tuple[str, ...]]] = []

    def take(self, pattern: str, then: Callable[[re.Match[str]], object]) -> None:
        """Hand the first match on, case aside; it is taken out of the text unless `then` gives False."""
        match = re.search(pattern, self.rest, re.IGNORECASE)
        known = set(self.said)
        if match is not None and then(match) is not False:
            self.taken.append((match[0].strip(" ,;"), tuple(k for k in self.said if k not in known)))
            self.rest = f"{self.rest[: match.start()]} {self.rest[match.end() :]}"

    def say(self, **values: object) -> None:
        """The first statement of a field stands."""
        for key, value in values.items():
            if value is not None:
                self.said.setdefault(key, value)

    def take_words(self, table: tuple[tuple[str, Mapping[str, object]], ...]) -> None:
        """Words of their own, each with what it says."""
        for pattern, values in table:
            self.take(rf"(?<![\w-])(?:{pattern})(?!\w)", lambda _, v=values: self.say(**v))  # type: ignore[misc]

    @property
    def understood(self) -> Understood:
        """Words that were read, with the fields that they said; none where an earlier word had said them."""
        return tuple((words, said) for words, said in self.taken if words)

    @property
    def not_understood(self) -> tuple[str, ...]:
        """Words that are left, in the order in which they stand."""
        left = (w.strip(",;:()") for w in self.rest.split())
        return tuple(w for w in left if w and not NOISE.match(w))
