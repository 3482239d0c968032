"""Conditions of a run, and which differences forbid which comparison."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.measure.assumptions import FREE_SPACE_FRAC, ROOM_ABSOLUTE_K

ALL_TESTS = "*"
NOTHING: frozenset[str] = frozenset()
DRIVE_TESTS = ("drive_seq", "drive_rand_q1", "drive_rand_q32", "start_up", "start_counted", "own_task")


@dataclass(frozen=True)
class Conditions:
    """What could differ later. None or empty = not recorded; room temperature in degC at the intake."""

    room_c: float | None = None
    room_note: str = ""
    boot_medium: str = ""
    mains: bool | None = None
    battery_fitted: bool | None = None
    power_profile: str = ""
    fan_mode: str = ""
    panel_on: bool | None = None
    system: str = ""
    firmware: str = ""
    free_space_frac: float | None = None
    background_cpu_frac: float | None = None
    background_disk_frac: float | None = None
    stand: str = ""
    remark: str = ""


@dataclass(frozen=True)
class Difference:
    """One condition that differs: what it says on each side, which results it takes out ("heat", test keys, "*")."""

    name: str
    before: str
    after: str
    excludes: tuple[str, ...]
    text: str


def condition_differences(
    before: Conditions, after: Conditions, changed: frozenset[str] = NOTHING
) -> tuple[Difference, ...]:  # fmt: skip
    """Every differing condition with its consequence; an empty tuple means fully comparable.

    `changed` names conditions that the work itself changed: they are what is compared, and take nothing out."""
    out: list[Difference] = []
    out += _room(before, after)
    for name, a, b, excludes, text in (
        ("boot medium", before.boot_medium, after.boot_medium, (ALL_TESTS,), "another system was started"),
        ("mains", _yes(before.mains), _yes(after.mains), (ALL_TESTS, "heat"), "battery runs limit power"),
        ("battery", _yes(before.battery_fitted), _yes(after.battery_fitted), (ALL_TESTS,),
         "a missing battery limits power; resistances stay comparable"),
        ("power profile", before.power_profile, after.power_profile, (ALL_TESTS,), "the governor differs"),
        ("fan mode", before.fan_mode, after.fan_mode, (), "compared at equal fan speed instead"),
        ("panel or lid", _yes(before.panel_on), _yes(after.panel_on), ("heat",), "airflow differs"),
        ("stand", before.stand, after.stand, ("heat",), "the air comes in another way"),
        ("system", before.system, after.system, (), "results that depend on it are marked"),
        ("firmware", before.firmware, after.firmware, (), "results that depend on it are marked"),
        ("in words", before.remark, after.remark, (), "judge yourself whether it matters"),
    ):  # fmt: skip
        if (a and b and a != b) or (name == "in words" and a != b):
            if name in changed:
                excludes, text = (), "the work itself"
            out.append(Difference(name, a or "nothing said", b or "nothing said", excludes, text))
    out += _free_space(before, after)
    return tuple(out)


def unstated(before: Conditions, after: Conditions) -> tuple[str, ...]:
    """Conditions that one side at least does not state: nobody can say that they were the same."""
    both = (before, after)
    stated = {
        "mains": all(c.mains is not None for c in both), "power profile": all(c.power_profile for c in both),
        "fan mode": all(c.fan_mode for c in both), "panel or lid": all(c.panel_on is not None for c in both),
        "system": all(c.system for c in both), "firmware": all(c.firmware for c in both),
    }  # fmt: skip
    return tuple(name for name, known in stated.items() if not known)


def _room(before: Conditions, after: Conditions) -> list[Difference]:
    if before.room_c is None or after.room_c is None:
        missing = "" if before.room_c is after.room_c else " before" if before.room_c is None else " after"
        text = f"the room temperature{missing} is not known: no heat claim"
        return [Difference("room", _deg(before.room_c), _deg(after.room_c), ("heat",), text)]
    gap = abs(before.room_c - after.room_c)
    if gap < 0.75:
        return []
    text = "rises are compared, not absolute temperatures" if gap > ROOM_ABSOLUTE_K else "rises are compared"
    return [Difference("room", _deg(before.room_c), _deg(after.room_c), (), text)]


def _free_space(before: Conditions, after: Conditions) -> list[Difference]:
    if before.free_space_frac is None or after.free_space_frac is None:
        return []
    low = min(before.free_space_frac, after.free_space_frac)
    gap = abs(before.free_space_frac - after.free_space_frac)
    if low >= FREE_SPACE_FRAC and gap < 0.2:
        return []
    text = "under 15 % free slows a drive" if low < FREE_SPACE_FRAC else "both have room enough"
    a, b = (f"{100 * f:.0f} % free" for f in (before.free_space_frac, after.free_space_frac))
    return [Difference("free space", a, b, (), text)]


def _yes(value: bool | None) -> str:
    return "" if value is None else "yes" if value else "no"


def _deg(value: float | None) -> str:
    return "not known" if value is None else f"{value:.1f} °C"
