"""What is recorded while a cause is looked for: checks made, tries of the swap grid."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class CheckDone:
    """A check that was made: its answer (a state of its sign), the minutes it took, when, and a note."""

    check: str
    answer: str
    minutes: float
    when: str = ""
    note: str = ""


@dataclass(frozen=True)
class SwapTry:
    """Elements that took part, by rows (module and slot; drive, cable and port), and whether it worked."""

    rows: tuple[tuple[str, ...], ...]
    worked: bool
    when: str = ""

    @property
    def elements(self) -> frozenset[str]:
        return frozenset(e for row in self.rows for e in row)
