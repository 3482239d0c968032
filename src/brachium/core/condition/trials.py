"""What is tried out before a machine is opened, fitted to its kind."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from brachium.core.machine.kinds import MachineKind


class TrialOutcome(StrEnum):
    NOT_TRIED = "not tried"
    WORKS = "works"
    FAILS = "fails"
    ABSENT = "not there"


@dataclass(frozen=True)
class TestResult:
    """One test by its id, with what went wrong."""

    id: str
    outcome: TrialOutcome
    note: str = ""

    __test__ = False  # not a pytest class


@dataclass(frozen=True)
class FunctionalTest:
    """Something to try; `hint` says what often is behind a failure."""

    id: str
    title: str
    hint: str = ""


_EVERY = (
    FunctionalTest("starts", "Starts"),
    FunctionalTest("firmware", "Reaches the firmware"),
    FunctionalTest("system", "Starts the system", "one that stops in the firmware may only have a wrong boot setting"),
    FunctionalTest("fan", "Fan turns, without noise"),
    FunctionalTest("stays", "Stays on under load", "a supply that gives way, memory, or heat"),
    FunctionalTest("ports", "Every port takes a stick"),
    FunctionalTest("sound", "Sound in and out"),
)
_OWN: dict[MachineKind, tuple[FunctionalTest, ...]] = {
    MachineKind.LAPTOP: (
        FunctionalTest("screen", "Screen: no stains, even light"), FunctionalTest("keyboard", "Every key"),
        FunctionalTest("pointer", "Pad or pointer"), FunctionalTest("radio", "Radio finds networks"),
        FunctionalTest("battery", "Battery holds its charge"), FunctionalTest("adapter", "Adapter is recognised"),
        FunctionalTest("lid", "Lid and hinges"),
    ),
    MachineKind.ALL_IN_ONE: (
        FunctionalTest("screen", "Screen: no stains, even light"), FunctionalTest("radio", "Radio finds networks"),
        FunctionalTest("stand", "Stand holds"), FunctionalTest("optical", "Optical drive opens"),
    ),
    MachineKind.HANDHELD: (
        FunctionalTest("screen", "Screen and touch"), FunctionalTest("buttons", "Every button and stick"),
        FunctionalTest("battery", "Battery holds its charge"), FunctionalTest("radio", "Radio finds networks"),
    ),
    MachineKind.TOWER: (
        FunctionalTest("graphics", "Picture on every output"), FunctionalTest("optical", "Optical drive opens"),
        FunctionalTest("front", "Front switches and lights"),
    ),
    MachineKind.SMALL_DESKTOP: (
        FunctionalTest("graphics", "Picture on every output"), FunctionalTest("front", "Front switches and lights"),
    ),
}  # fmt: skip


def tests_for(kind: MachineKind) -> tuple[FunctionalTest, ...]:
    """The tests of a kind of machine, in the order people try them."""
    return (*_EVERY[:3], *_OWN[kind.build], *_EVERY[3:])
