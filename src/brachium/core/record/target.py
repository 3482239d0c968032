"""A measurable wish of the owner."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import phrase


@dataclass(frozen=True)
class Target:
    """A measurable wish: a test's result, the peak temperature ("peak_c") or the throttled share ("held_back").

    `condition` is when it is meant, in the owner's words: "on a warm day".
    """

    key: str
    title: str
    limit: float
    unit: str
    at_most: bool
    condition: str = ""

    @property
    def words(self) -> str:
        """The wish with the condition under which it is meant."""
        return (
            phrase("{title}, {condition}", title=self.title, condition=self.condition) if self.condition else self.title
        )
