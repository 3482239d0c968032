"""What follows the last opening: first start, settings, memory test, drivers, first load, the run that proves it."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from brachium.core.base.text import phrase
from brachium.core.base.units import drive_size, shown_size
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive, Service
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.work.hazards import Tag
from brachium.core.work.step import Gate, Mode, Step
from brachium.core.work.step_kinds.system import (
    board_drivers,
    board_first,
    card_drivers,
    settings_back,
)

AFTER_RUN, LOAD_TEST, PROFILE = "after-run", "load-test", "memory profile"
COLD = frozenset({Group.ADAPTER, Group.RADIO})  # changes that heat and load say nothing about
_VOLTAGE = Step(
    "voltage", "Lower the processor's voltage",
    "Note the value that is set. 25 mV at a time, ten minutes of load each, to 75 mV at most; at the first error, "
    "freeze or restart two steps back. Then an hour of load and one pass of the memory test. A voltage that is too low "
    "corrupts data without a word.", attended_min=15, unattended_min=120, gate=Gate.DATA_SAFE,
    undo="2 min: the noted value", mode=Mode.RUNNING,
)  # fmt: skip
_LOAD = Step(
    LOAD_TEST, "First load: ten minutes",
    "Every thread busy. The temperature settles below its limit, the fan follows, nothing restarts. Smell, noise or a "
    "temperature that runs to its limit within a minute: stop, and look at cooler and plugs again.",
    attended_min=3, unattended_min=10, undo="none", mode=Mode.RUNNING,
)  # fmt: skip
_MEMORY = Step(
    "memory-test", "Test the memory", "One full pass before any benchmark: results of faulty memory mean nothing.",
    attended_min=2, unattended_min=35, mode=Mode.RUNNING,
)  # fmt: skip


def proof_steps(
    machine: Machine, chosen: Sequence[Candidate], trailing: Sequence[Step], noted: bool
) -> list[Step]:  # fmt: skip
    """The steps from the first start on; `trailing` are closed tasks that wait for what was done inside, such as a
    memory profile or an installation; `noted`: the firmware's settings were noted, and are set again."""
    groups = {c.group for c in chosen}
    early = [s for s in trailing if s.title.lower().startswith(PROFILE) or Tag.FIRMWARE in s.tags]  # tested then
    return [
        *([board_first()] if Group.BOARD in groups else []),
        _first_start(chosen),
        *([settings_back(machine)] if noted else []),
        *early,
        _MEMORY,
        *(s for s in trailing if s not in early),
        *_drivers(groups),
        *_loads(groups, any(Service.LOWER_VOLTAGE in c.services for c in chosen)),
    ]


def _drivers(groups: Collection[Group]) -> list[Step]:
    """A board's drivers are those of its cards too."""
    if Group.BOARD in groups:
        return [board_drivers()]
    return [card_drivers()] if {Group.CARD, Group.RADIO} & set(groups) else []


def _loads(groups: Collection[Group], lowered: bool) -> list[Step]:
    """The first load; a lowered voltage brings its own, an adapter and a radio card need none."""
    if lowered:
        return [_VOLTAGE]
    return [_LOAD] if set(groups) - COLD else []


def _first_start(chosen: Sequence[Candidate]) -> Step:
    seen = "memory total and channels" if any(c.group is Group.MEMORY for c in chosen) else "memory"
    drives = [a.part for c in chosen for a in c.assignments if isinstance(a.part, Drive)]
    sizes = "".join(
        phrase(
            " ({size_bytes} reads as {size_bytes2})",
            size_bytes=drive_size(d.size_bytes),
            size_bytes2=shown_size(d.size_bytes),
        )
        for d in drives
    )
    return start_step(
        "first-start",
        "First start: is everything seen?",
        phrase("Firmware shows processor, {seen}, drive{sizes}, fan turning, date right.", seen=seen, sizes=sizes),
    )


def start_step(step_id: str, title: str, detail: str = "Firmware reached, date set, nothing new reported.") -> Step:
    """The machine is started."""
    return Step(step_id, title, detail, attended_min=4, mode=Mode.RUNNING, tags=frozenset({Tag.START}))


def seal_step(certain: bool) -> Step:
    """What was held by tape is glued when everything was seen; not `certain`: where it is glued at all."""
    title = "Glue it shut" if certain else "Glue it shut, where it was glued"
    return Step(
        "seal", title, "Shut down. Tape and films off, pressed down all round by hand, trim home, then an "
        "hour under a light weight, level.", "light weight, clamps with soft jaws", attended_min=5, unattended_min=60,
        undo="20 min and new strips", no_return=True, mode=Mode.BENCH, tags=frozenset({Tag.GLASS}),
    )  # fmt: skip


def after_run_step(before: Collection[str]) -> Step:
    """The last step of every plan: measured, not ticked."""
    return Step(
        AFTER_RUN, "Measure the after-run",
        "Same room, power, profile and panel as before; idle first, then the run by itself. Without a connection: the "
        "stick, a log, or three typed numbers. It is done when the run is there.", attended_min=0, undo="none",
        mode=Mode.RUNNING, needs=tuple(before),
    )  # fmt: skip
