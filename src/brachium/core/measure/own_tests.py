"""The owner's own tests: defined once, typed, timed by hand or read from frame logs, compared like any other test."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from brachium.core.base.arrays import frozen
from brachium.core.base.own_words import OwnWords
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, Protocol, Repeat, Run, TestSpec, Trace

PREFIX = "own:"
BARE = Protocol("Typed by hand", 1, (), (), 0, 1)


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
        return f"{PREFIX}{self.id}"

    def spec(self) -> TestSpec:
        about = f"the owner's own test{f'; {self.settings}' if self.settings else ''}"
        return TestSpec(self.key, OwnWords(self.title), self.unit, self.higher_is_better, self.version, about)


@dataclass(frozen=True)
class OwnResult:
    """One result. `role` is before or after; `session` counts the times that the machine was started for it.

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


def with_own(run: Run | None, role: str, tests: Sequence[OwnTest], results: Sequence[OwnResult]) -> Run | None:
    """The run of a role with the owner's results beside the measured ones; the stored run is left as it is.

    Without a run the results make one of their own, which knows no conditions. None where there is nothing at all.
    """
    of_role = [r for r in results if r.role == role]
    if not of_role:
        return run
    by_id = {t.id: t for t in tests}
    mine = [r for r in of_role if r.test_id in by_id]
    used = {r.test_id for r in mine}
    specs = tuple(t.spec() for t in tests if t.id in used)
    run = run or _typed_run(role, mine)
    sessions = {s.number: s for s in run.sessions}
    for result in mine:
        session = sessions.get(result.session) or MeasuredSession(result.session, _bare_trace())
        repeat = _repeat(result, by_id[result.test_id])
        sessions[result.session] = replace(session, repeats=(*session.repeats, repeat))
    return replace(run, tests=(*run.tests, *specs), sessions=tuple(sessions[k] for k in sorted(sessions)))


def _typed_run(role: str, results: Sequence[OwnResult]) -> Run:
    """A run that holds nothing but typed results, dated by the last of them."""
    when = max((r.when for r in results), default="")
    return Run(f"own-{role}", role, BARE, Conditions(), (), (), when, "typed by hand")


def _repeat(result: OwnResult, test: OwnTest) -> Repeat:
    """A result that counts unless it was called invalid, or was taken before the test was changed."""
    stale = result.version != test.version
    why = result.invalid or ("taken under other settings of the test" if stale else "")
    return Repeat(test.key, result.value, not why, why)


def _bare_trace() -> Trace:
    return Trace(frozen([]), (), ())
