"""The owner's own tests: defined once, typed, timed by hand or read from frame logs, compared like any other test."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import phrase
from brachium.core.measure.run import TestSpec

PREFIX = "own:"
BETWEEN = "between"


class How(StrEnum):
    """Where a result came from."""

    TYPED = "typed"
    TIMED = "timed by hand"
    FRAMES = "frame log"


@dataclass(frozen=True)
class EarlierSettings:
    """What a test was under an earlier version: its unit, direction and settings."""

    version: int
    unit: str
    higher_is_better: bool
    settings: str


@dataclass(frozen=True)
class OwnTest:
    """A test of the owner's. `settings` (resolution, preset, cap, file) must be the same before and after.

    `version` counts changes of unit, direction or settings: results of another version are not compared. `earlier` are
    the versions before, so that a typo that is corrected back brings its results back.
    """

    id: str
    title: str
    unit: str = "s"
    higher_is_better: bool = False
    settings: str = ""
    version: int = 1
    earlier: tuple[EarlierSettings, ...] = ()

    @property
    def key(self) -> str:
        return phrase("{prefix}{id}", prefix=PREFIX, id=self.id)

    def spec(self) -> TestSpec:
        about = phrase(
            "the owner's own test{more}", more=phrase("; {settings}", settings=self.settings) if self.settings else ""
        )
        return TestSpec(self.key, OwnWords(self.title), self.unit, self.higher_is_better, self.version, about)


@dataclass(frozen=True)
class OwnResult:
    """One result. `role` is before, after, or between, which has the name of its `configuration` (cleaned, new paste,
    other fan curve); `session` counts the times that the machine was started for it.

    A result that does not count keeps its value and says why.
    """

    test_id: str
    role: str
    value: float
    how: How = How.TYPED
    session: int = 1
    when: str = ""
    version: int = 1
    note: str = ""
    invalid: str = ""
    configuration: str = ""

    @property
    def key(self) -> str:
        """What tells its configuration from others."""
        return configuration_key(self.role, self.configuration)


def configuration_key(role: str, configuration: str) -> str:
    return f"{role}:{configuration}" if configuration else role


KINDS: tuple[OwnTest, ...] = (
    OwnTest("task", "A task of the owner's", "s", False),
    OwnTest("start", "Start-up by hand timer", "s", False, "from the power button to usable, no updates pending"),
    OwnTest("battery", "Battery runtime", "min", True, "from full, same brightness, same work"),
    OwnTest("noise", "Fan noise", "dB(A)", False, "at one metre, room quiet, under load"),
    OwnTest("memidle", "Memory in use, idle", "GiB", False, "a minute after the start, nothing opened"),
    OwnTest("memwork", "Memory in use while working", "GiB", False, "the owner's programs open"),
    OwnTest("diskbusy", "Drive busy while working", "%", False, "the owner's work, as the system counts it"),
    OwnTest("diskrate", "Drive rate while working", "MB/s", True, "the owner's work, reads and writes together"),
    OwnTest("chipidle", "Chip temperature, idle", "°C", False, "after five calm minutes, same room"),
    OwnTest("chipload", "Chip temperature under load", "°C", False, "after ten minutes of full load, same room"),
    OwnTest("clock", "Clock sustained under load", "MHz", True, "after ten minutes of full load"),
    OwnTest("frames", "Frame rate, average", "1/s", True, "resolution, preset, cap, the same stretch"),
    OwnTest("low1", "Frame rate, slowest 1 %", "1/s", True, "resolution, preset, cap, the same stretch"),
)

PLAUSIBLE = {
    "GiB": (0.01, 8192.0), "%": (0.01, 100.0), "MB/s": (0.01, 40_000.0), "°C": (1.0, 130.0), "MHz": (20.0, 8000.0),
    "dB(A)": (10.0, 110.0),
}  # fmt: skip


def kind_of_test(test_id: str) -> str:
    """The kind that a test was made from, by its id."""
    return test_id.rpartition("-")[0]


def redefined_test(test: OwnTest, **changes: object) -> OwnTest:
    """The test changed; what would make old results incomparable counts up its version, back to an earlier one where
    it was the same then."""
    out = replace(test, **changes)  # type: ignore[arg-type]
    now = out.unit, out.higher_is_better, out.settings
    if (test.unit, test.higher_is_better, test.settings) == now:
        return out
    was = EarlierSettings(test.version, test.unit, test.higher_is_better, test.settings)
    earlier = (*(e for e in test.earlier if e.version != test.version), was)
    known = next((e.version for e in earlier if (e.unit, e.higher_is_better, e.settings) == now), None)
    return replace(out, version=known or max(e.version for e in earlier) + 1, earlier=earlier)


def free_test_id(tests: Sequence[OwnTest], stem: str) -> str:
    taken = {t.id for t in tests}
    number = 1
    while f"{stem}-{number}" in taken:
        number += 1
    return f"{stem}-{number}"
