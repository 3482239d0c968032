"""Conditions of a run, and which differences forbid which comparison."""

from __future__ import annotations

from dataclasses import dataclass
from fnmatch import fnmatchcase

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.measure.assumptions import CHARGE_APART, CHARGE_LOW, FREE_SPACE_FRAC, ROOM_ABSOLUTE_K

ALL_TESTS = "*"
NOTHING: frozenset[str] = frozenset()
NOT_KNOWN = "not known"
STARTS = ("start_up", "start_counted", "own:start*")
DRIVE_TESTS = ("drive_*", *STARTS, "own_task", "own:task*", "task_*", "ladder")
MEMORY_TESTS = (
    "mem_*", "cpu_all", "sustained", "own_task", "own:task*", "own:frames*", "own:low1*", "task_*", "gpu_*", "frames_*",
)  # fmt: skip
ALL_THREADS = ("cpu_all", "cpu_integer", "cpu_branch", "cpu_float", "cpu_hash")
FRAMES = ("own:frames*", "own:low1*", "gpu_*", "frames_*", "soft_*", "heat_*")
LOADED = (*ALL_THREADS, "sustained", "own_task", "own:task*", "task_*", *FRAMES)
NOISE = ("own:noise*",)
TEMPERATURES = ("own:chip*",)


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
    adapter_w: float | None = None
    charge: str = ""
    charge_frac: float | None = None
    power_limit: str = ""
    boost: bool | None = None
    memory_profile: str = ""
    graphics_driver: str = ""
    encryption: bool | None = None
    temp_source: str = ""

    def __post_init__(self) -> None:
        for name in ("system", "firmware", "graphics_driver", "remark"):  # a version is no decimal number
            object.__setattr__(self, name, OwnWords(getattr(self, name)))


@dataclass(frozen=True)
class Difference:
    """One condition that differs: what it says on each side, which results it takes out ("heat", test keys, "*").

    `marks` are patterns of tests whose result hangs on it: they are compared, but what they show is not claimed.
    """

    name: str
    before: str
    after: str
    excludes: tuple[str, ...]
    text: str
    marks: tuple[str, ...] = ()
    one_sided: bool = False  # stated on one side only

    @property
    def unknown(self) -> bool:
        """Whether neither side is known: nobody can say that it differs."""
        return self.before == self.after == NOT_KNOWN

    @property
    def sides(self) -> str:
        """What it says on both sides."""
        return (
            self.before
            if self.before == self.after
            else phrase("{before}, then {after}", before=self.before, after=self.after)
        )

    def hangs(self, test: str) -> bool:
        """Whether a test's result depends on it."""
        return any(fnmatchcase(test.removeprefix("probe_"), pattern) for pattern in self.marks)


def condition_differences(
    before: Conditions, after: Conditions, changed: frozenset[str] = NOTHING
) -> tuple[Difference, ...]:  # fmt: skip
    """Every differing condition with its consequence; an empty tuple means fully comparable.

    `changed` names conditions that the work itself changed: they are what is compared, and take nothing out."""
    out: list[Difference] = []
    out += _room(before, after)
    words = in_words(before), in_words(after)
    for name in CONSEQUENCES:
        if name != "charge" or not _charged_alike(before.charge_frac, after.charge_frac):
            out += _difference(name, words[0][name], words[1][name], name in changed)
    out += _free_space(before, after)
    return tuple(out)


def _difference(name: str, before: str, after: str, changed: bool) -> list[Difference]:
    """The difference of one condition; none where both sides say the same or neither says anything."""
    if before == after:
        return []
    excludes, text, marks = ((), "the work itself", ()) if changed else CONSEQUENCES[name]
    if name == "in words" or (before and after):
        return [Difference(name, before or "nothing said", after or "nothing said", excludes, text, marks)]
    text = "stated on one side only: nobody can say that it was the same"
    return [Difference(name, before or "not stated", after or "not stated", (), text, (), True)]


def in_words(c: Conditions) -> dict[str, str]:
    """Every condition by its name as it is told; empty where nobody stated it."""
    return {
        "boot medium": c.boot_medium,
        "mains": _yes(c.mains),
        "battery": _yes(c.battery_fitted),
        "adapter": "" if c.adapter_w is None else phrase("{adapter_w:g} W", adapter_w=c.adapter_w),
        "charging": c.charge,
        "charge": _share(c.charge_frac),
        "power profile": c.power_profile,
        "power limits": c.power_limit,
        "boost": _on(c.boost),
        "fan mode": c.fan_mode,
        "panel or lid": _yes(c.panel_on),
        "stand": c.stand,
        "temperature from": c.temp_source,
        "memory profile": c.memory_profile,
        "graphics driver": c.graphics_driver,
        "encryption": _on(c.encryption),
        "system": c.system,
        "firmware": c.firmware,
        "in words": c.remark,
    }


_LIMITS = "power is limited another way; resistances stay comparable"
# (what a difference takes out, why, whose results hang on it) of every condition, by its name
CONSEQUENCES: dict[str, tuple[tuple[str, ...], str, tuple[str, ...]]] = {
    "boot medium": ((ALL_TESTS,), "another system was started", ()),
    "mains": ((ALL_TESTS, "heat"), "battery runs limit power", ()),
    "battery": ((ALL_TESTS,), "a missing battery limits power; resistances stay comparable", ()),
    "adapter": ((ALL_TESTS,), _LIMITS, ()),
    "charging": ((), "charging takes part of what the adapter gives", LOADED),
    "charge": ((), "a low battery limits power", LOADED),
    "power profile": ((ALL_TESTS,), "the governor differs", ()),
    "power limits": ((ALL_TESTS,), _LIMITS, ()),
    "boost": ((ALL_TESTS,), "the clock's upper end differs", ()),
    "fan mode": ((), "compared at equal fan speed instead", NOISE),
    "panel or lid": (("heat",), "airflow differs", ()),
    "stand": (("heat",), "the air comes in another way", NOISE),
    "temperature from": (("heat",), "another sensor tells another temperature", ()),
    "memory profile": ((), "memory runs at other timings", MEMORY_TESTS),
    "graphics driver": ((), "frames hang on it", FRAMES),
    "encryption": ((), "every read and write passes through it", DRIVE_TESTS),
    "system": ((), "starts hang on it", STARTS),
    "firmware": ((), "starts and memory hang on it", (*STARTS, "mem_*")),
    "in words": ((), "judge yourself whether it matters", ()),
}


def unstated(before: Conditions, after: Conditions) -> tuple[str, ...]:
    """Conditions that neither side states: nobody can say that they were the same."""
    words = in_words(before), in_words(after)
    on_battery = any(c.battery_fitted is not None or c.charge for c in (before, after))
    skipped = ("in words", "charge", *(() if on_battery else ("battery", "charging", "adapter")))
    return tuple(name for name in CONSEQUENCES if name not in skipped and not words[0][name] and not words[1][name])


def _room(before: Conditions, after: Conditions) -> list[Difference]:
    if before.room_c is None or after.room_c is None:
        missing = "" if before.room_c is after.room_c else " before" if before.room_c is None else " after"
        text = phrase("the room temperature{missing} is not known: no heat claim", missing=missing)
        return [Difference("room", _deg(before.room_c), _deg(after.room_c), ("heat",), text, TEMPERATURES)]
    gap = abs(before.room_c - after.room_c)
    if gap < 0.75:
        return []
    text = "rises are compared, not absolute temperatures" if gap > ROOM_ABSOLUTE_K else "rises are compared"
    marks = TEMPERATURES if gap > ROOM_ABSOLUTE_K else ()
    return [Difference("room", _deg(before.room_c), _deg(after.room_c), (), text, marks)]


def _free_space(before: Conditions, after: Conditions) -> list[Difference]:
    if before.free_space_frac is None or after.free_space_frac is None:
        return []
    low = min(before.free_space_frac, after.free_space_frac)
    gap = abs(before.free_space_frac - after.free_space_frac)
    if low >= FREE_SPACE_FRAC and gap < 0.2:
        return []
    full = low < FREE_SPACE_FRAC
    text = "under 15 % free slows a drive" if full else "both have room enough"
    a, b = (phrase("{f} free", f=percent(f)) for f in (before.free_space_frac, after.free_space_frac))
    return [Difference("free space", a, b, (), text, DRIVE_TESTS if full and gap >= 0.05 else ())]


def _charged_alike(before: float | None, after: float | None) -> bool:
    """Levels are alike unless they lie far apart and one is low."""
    if before is None or after is None:
        return False
    return min(before, after) >= CHARGE_LOW or abs(before - after) < CHARGE_APART


def _share(value: float | None) -> str:
    return "" if value is None else percent(value)


def _on(value: bool | None) -> str:
    return "" if value is None else "on" if value else "off"


def _yes(value: bool | None) -> str:
    return "" if value is None else "yes" if value else "no"


def _deg(value: float | None) -> str:
    return NOT_KNOWN if value is None else phrase("{value:.1f} °C", value=value)
