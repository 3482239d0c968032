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


class Clock(Protocol):
    """Time on the machine under test [s]; sleeping lets it pass."""

    def now_s(self) -> float: ...

    def sleep(self, duration_s: float) -> None: ...


class Sampler(Protocol):
    """Reads all sensors at once. A value that cannot be read is absent from the mapping, never zero."""

    def channels(self) -> tuple[ChannelInfo, ...]: ...

    def sample(self) -> Mapping[str, float]: ...


class Workload(Protocol):
    """A test that runs to its end when stepped: `start`, then `done` becomes True as the clock passes."""

    def start(self) -> None: ...

    def done(self) -> bool: ...

    def result(self) -> float: ...

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

    def workload(self, key: str) -> Workload:
        """The workload of that key; raises KeyError for an unknown one."""

    def set_load(self, busy: bool) -> None:
        """Start or stop the sustained all-thread load."""

    def sustained_score(self) -> float:
        """Mean work rate over the second half of the last sustained load."""

    def conditions(self) -> Conditions:
        """The conditions of the run, as far as the machine can tell."""
