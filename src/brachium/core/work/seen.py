"""What was seen on a machine that its work hangs on, beside its record: bad sectors of drives, kinds of dirt."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

WASHED = frozenset({"tar", "insects", "liquid"})  # findings that do not blow out


@dataclass(frozen=True)
class Seen:
    """`bad_sectors` by the place of a drive whose counters were read; `found` are ids of findings."""

    bad_sectors: Mapping[str, int] = field(default_factory=dict)
    found: frozenset[str] = frozenset()

    @property
    def washes(self) -> bool:
        """Whether something is washed, and has to dry."""
        return bool(self.found & WASHED)


NOTHING_SEEN = Seen()
