"""What is done in firmware and system around the work: settings before and after, the installation stick, drivers."""

from __future__ import annotations

from collections.abc import Collection

from brachium.core.base.text import joined, phrase
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Group
from brachium.core.work.hazards import Tag
from brachium.core.work.step import Mode, Step

SETTINGS_NOTED = "settings-noted"
FORGETS = frozenset({Group.PROCESSOR, Group.BOARD})  # after these a firmware starts from its defaults


def stick_step(machine: Machine) -> Step:
    """The installation stick, made before the machine has no system."""
    mode = machine.platform.system.boot_mode
    started = phrase("in {mode} mode", mode=mode.value) if mode is not None else "in the mode that the system will have"
    return Step(
        "stick", "Prepare the installation stick",
        phrase("8 GB or more, FAT32, named after the system. Image from the system's own source, its checksum "
"compared; started once on this machine {started}. Note whether it needs a network, and the licence "
"key.", started=started),
        "USB stick", (), 8, 20, None, "none", mode=Mode.BENCH,
    )  # fmt: skip


def settings_matter(machine: Machine, groups: Collection[Group], needs: Collection[str] = ()) -> bool:
    """Whether the work, or what it needs first, can make the firmware forget what is set."""
    profile = machine.platform.settings.memory_profile is not None
    if any(n.startswith(("new CMOS battery", "firmware ")) and not n.startswith("firmware password") for n in needs):
        return True
    return bool(FORGETS & set(groups)) or (Group.MEMORY in groups and profile)


def note_settings() -> Step:
    """Before: what is set now."""
    return Step(
        SETTINGS_NOTED, "Note the firmware's settings",
        "Where it still starts: photograph every page, or type them into All facts. Boot mode and order, secure "
        "boot, drive mode, memory profile, fan curve, virtualisation, power on after mains.", "", (), 4, 0, None,
        "none", mode=Mode.RUNNING,
    )  # fmt: skip


def settings_back(machine: Machine) -> Step:
    """After: what was set, as far as it was recorded."""
    known = recorded_settings(machine)
    said = (
        phrase("Recorded: {known}. The rest by the photographs.", known=joined("; ", known))
        if known
        else "By the photographs."
    )
    return Step(
        "settings",
        "Set the firmware as noted",
        phrase("{said} What the new part needs comes before what was.", said=said),
        "",
        (),
        5,
        0,
        None,
        "5 min",
        mode=Mode.RUNNING,
        tags=frozenset({Tag.START}),
    )


def recorded_settings(machine: Machine) -> tuple[str, ...]:
    """Settings that somebody recorded, in words."""
    own, system, board = machine.platform.settings, machine.platform.system, machine.platform.board
    switches = (
        ("secure boot", own.secure_start), ("virtualisation", own.virtualisation),
        ("power on after mains", own.power_on_after_mains),
    )  # fmt: skip
    texts = (
        ("start mode", system.boot_mode.value if system.boot_mode is not None else None),
        ("start order", own.start_order), ("drive mode", board.drive_mode.value if board.drive_mode else None),
        ("memory profile", own.memory_profile), ("fan curve", own.fan_curve),
    )  # fmt: skip
    return (
        *(phrase("{name} {text}", name=name, text=text) for name, text in texts if text),
        *(
            phrase("{name} {which}", name=name, which="on" if value else "off")
            for name, value in switches
            if value is not None
        ),
    )


def board_first() -> Step:
    """A new board is looked at before the old system starts on it."""
    return Step(
        "board-firmware", "Into the firmware before the old system starts",
        "Version read, updated where the processor asks for it; every module, drive and fan seen; start mode and drive "
        "mode as the old system needs them, date set. Only then the system.", "", (), 6, 0, None, "none",
        mode=Mode.RUNNING, tags=frozenset({Tag.START}),
    )  # fmt: skip


def board_drivers() -> Step:
    """The system on its new board."""
    return Step(
        "board-drivers", "Drivers and licence on the new board",
        "Board, network, sound, graphics; nothing left unknown in the list of devices. The licence is told of its new "
        "board, with the key at hand; an encrypted drive asks for its recovery key.", "", (), 12, 15, None, "none",
        mode=Mode.RUNNING,
    )  # fmt: skip


def card_drivers() -> Step:
    """A new card's driver."""
    return Step(
        "card-drivers", "Driver of the new card",
        "From the system's own source or the maker's, the old card's taken off first; nothing left unknown in the list "
        "of devices, outputs or network tried.", "", (), 5, 5, None, "5 min", mode=Mode.RUNNING,
    )  # fmt: skip
