"""What the runner needs of a machine under test: a clock, a sampler, workloads. Real or simulated alike."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from brachium.core.measure.conditions import Conditions


@dataclass(frozen=True)
class ChannelInfo:
    """One sampled quantity: key, unit, and the sensor it is read from."""

    key: str
    unit: str
    source: str


@dataclass(frozen=True)
class Missing:
    """Something that cannot be sampled or tested here: what, why, what would help."""

    what: str
    why: str


class Clock(Protocol):
    """Time on the machine under test [s]; sleeping lets it pass. `speed` over real time, None = no waiting."""

    speed: float | None

    def now_s(self) -> float: ...

    def sleep(self, duration_s: float) -> None: ...

    def set_speed(self, speed: float | None) -> None:
        """Change the pace where time is simulated; None also ends a wait in progress."""


class Sampler(Protocol):
    """Reads all sensors at once. A value that cannot be read is absent from the mapping, never zero."""

    def channels(self) -> tuple[ChannelInfo, ...]: ...

    def sample(self) -> Mapping[str, float]: ...


class Workload(Protocol):
    """A test that runs to its end when stepped: `start`, then `done` becomes True as the clock passes."""

    def start(self) -> None: ...

    def done(self) -> bool: ...

    def result(self) -> float: ...

    def curve(self) -> tuple[tuple[float, float], ...]:
        """(x, y) of a test that measures more than one figure; empty for the others."""

    def parts(self) -> tuple[tuple[str, float], ...]:
        """(name, value) of what came with the result, such as seconds by where they went; empty for most."""

    def problem(self) -> str:
        """Why there is no valid result: a wrong checksum, a crash, no room; empty where there is one."""

    def stop(self) -> None: ...

    def expected_s(self) -> float: ...


class Bench(Protocol):
    """A machine under test."""

    @property
    def clock(self) -> Clock: ...

    @property
    def sampler(self) -> Sampler: ...

    def restart(self) -> None:
        """Begin a session: the machine is cold or freshly started."""

    def boot_id(self) -> str:
        """What changes with every start of the machine; empty where it is not known."""

    def signature(self) -> str:
        """The machine's own signature in words, to tell runs of different machines apart; empty = not known."""

    def opening(self) -> tuple[str, ...]:
        """Keys of the checks and preparations to go through before anything is measured, in order."""

    def offers(self) -> tuple[str, ...]:
        """Keys of the tests that this machine can do here."""

    def counted_start(self) -> tuple[float, str]:
        """(length of the machine's last start as it counts it [s] or NaN, why it does not count)."""

    def missing(self) -> tuple[Missing, ...]:
        """What cannot be sampled or tested here."""

    def workload(self, key: str) -> Workload:
        """The workload of that key; raises KeyError for an unknown one."""

    def set_load(self, busy: bool) -> None:
        """Start or stop the sustained all-thread load."""

    def sustained_score(self) -> float:
        """Mean work rate over the second half of the last sustained load; NaN where it gave none."""

    def load_problem(self) -> str:
        """What went wrong in the last sustained load: a wrong checksum, a crash; empty where nothing did."""

    def alarm(self) -> str:
        """Why the load must stop at once, judged at the last sample; empty while all is well."""

    def busy_programs(self) -> tuple[str, ...]:
        """Other programs that took processor time since the last call, in words, the busiest first."""

    def conditions(self) -> Conditions:
        """The conditions of the run, as far as the machine can tell."""

    def close(self) -> None:
        """End every process and remove every file that the tests made."""
