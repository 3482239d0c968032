"""Preconditions as steps: what has to be done with the machine running, inside it, or beside it before the rest."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

from brachium.core.base.text import phrase, upper_first
from brachium.core.base.units import drive_size, minutes
from brachium.core.drives.copy_time import copy_time, mean_rate_mb_s
from brachium.core.machine.machine import Machine
from brachium.core.work.assumptions import ASSUMED_USED
from brachium.core.work.hazards import Tag
from brachium.core.work.step import Gate, Mode, Step


@dataclass(frozen=True)
class _Kind:
    """How a precondition is met, known by how its words begin."""

    begins: str
    title: str
    detail: str
    mode: Mode
    attended_min: float
    unattended_min: float = 0.0
    tags: frozenset[Tag] = frozenset()
    no_return: bool = False
    undo: str = ""
    gate: Gate | None = None


_KINDS: tuple[_Kind, ...] = (
    _Kind("firmware ", "Update to {need}",
          "With the old processor still fitted, on mains, one version after the other; let it "
          "restart by itself and read the version in the set-up.", Mode.RUNNING, 10, 10, frozenset({Tag.FIRMWARE}),
          True,
          "may not go back"),
    _Kind("firmware at least", "{need}",
          "Read the version on the first firmware page. An older one is updated with the old processor still fitted, "
          "on mains, one version after the other; let it restart by itself.", Mode.RUNNING, 12, 10,
          frozenset({Tag.FIRMWARE}), True, "may not go back"),
    _Kind("memory profile", "{need}",
          "In the firmware, after the modules are in. If a test finds errors, the next slower rate.",
          Mode.RUNNING, 6, 30, frozenset({Tag.START}), False, "1 min: back to the standard rate"),
    _Kind("print of", "Try how far the new pad gives",
          "Press an offcut to the thickness of the old one's print: it must reach and give that far.", Mode.BENCH, 4),
    _Kind("firmware password", "Settle the firmware password", "With the owner's code, in set-up.", Mode.RUNNING, 5),
    _Kind("AHCI", "{need}", "The driver first, then the mode in the firmware, then one start.", Mode.RUNNING, 8, 0,
          frozenset({Tag.START}), False, "8 min", Gate.DATA_SAFE),
    _Kind("system made ready", "{need}",
          "Partition table and loader for UEFI, by the system's own tool; verified by one start.",
          Mode.RUNNING, 15, 10, frozenset({Tag.COPY}), True, "restoring the copy", Gate.DATA_SAFE),
    _Kind("cache pair", "Dissolve the cache pair",
          "By the tool that made it, until both drives show apart; then one start.",
          Mode.RUNNING, 8, 15, frozenset({Tag.COPY}), True, "cannot be taken back without data loss", Gate.DATA_SAFE),
    _Kind("array backed up", "Back the array up, then dissolve it",
          "A copy of everything on it outside the machine, read back once. Then the array is taken apart by the tool "
          "that made it, its drives noted by bay and order; never pulled before.",
          Mode.RUNNING, 15, 180, frozenset({Tag.COPY}), True, "restoring the copy", Gate.DATA_SAFE),
    _Kind("image of", "Take an image of the failing drive",
          "Sector by sector with retries last, onto a drive with room; never "
          "mount it for writing.", Mode.BENCH, 10, 120, frozenset({Tag.COPY, Tag.IMAGE})),
    _Kind("data thinned", "Thin the data out or move it", "With the owner: what may go, what moves elsewhere.",
          Mode.RUNNING, 20,
          0, frozenset({Tag.COPY}), False, "", Gate.DATA_SAFE),
    _Kind("new CMOS battery", "Put a new CMOS battery in",
          "Same type, same side up; date and start order set again afterwards.",
          Mode.OPEN, 3, 0, frozenset({Tag.INSIDE})),
    _Kind("new data cable", "Change the data cable", "Both ends home; the old one is thrown away, not kept.",
          Mode.OPEN, 4, 0,
          frozenset({Tag.INSIDE})),
)  # fmt: skip


def precondition_step(index: int, need: str) -> Step:
    """The step that meets a precondition; one that nobody knows is got ready beside the machine."""
    kind = next((k for k in sorted(_KINDS, key=lambda k: -len(k.begins)) if need.startswith(k.begins)), None)
    if kind is None:
        return Step(f"first-{index}", phrase("Get: {need}", need=need), "The plan cannot be finished without it.",
                    attended_min=3,
                    mode=Mode.BENCH)  # fmt: skip
    title = phrase(kind.title, need=need) if "{need}" in kind.title else kind.title
    return Step(
        f"first-{index}", upper_first(title), kind.detail, "", (), kind.attended_min, kind.unattended_min,
        kind.gate, kind.undo, kind.no_return, kind.mode, (), "", kind.tags,
        places=("date-cell",) if kind.begins == "new CMOS battery" else (),
    )  # fmt: skip


def on_new_board(step: Step, need: str) -> Step:
    """Firmware of a board that is not in the machine yet."""
    return replace(
        step, title=phrase("Have the new board at {need}", need=need), mode=Mode.BENCH, undo="", no_return=False,
        detail="By its seller, by a port of the board that needs no processor, or on the bench with a processor that "
        "it knows, one module and a supply, one version after the other. Read the version before it goes in.",
    )  # fmt: skip


def array_copied(step: Step, machine: Machine) -> Step:
    """Backing an array up and reading it back: what is in use on its drives, at the rate of the slowest of them."""
    drives = machine.configuration().drives()
    members = [drives[p] for pair in machine.platform.cache_pairs for p in pair if p in drives]
    if not members:
        return step
    slowest = min(members, key=mean_rate_mb_s)
    used = sum(d.used_bytes if d.used_bytes is not None else int(ASSUMED_USED * d.size_bytes) for d in members)
    assumed = any(d.used_bytes is None for d in members)
    said = phrase(" {used} in use{which}.", used=drive_size(used), which=", assumed" if assumed else "")
    return replace(step, detail=step.detail + said, unattended_min=round(2 * copy_time(used, slowest, None).minutes))


def imaged(step: Step, machine: Machine, failing: Collection[str], bad_sectors: Mapping[str, int]) -> Step:
    """The image of dying drives: every sector of each, at its own rate, and what its bad areas cost, which is said."""
    drives = machine.configuration().drives()
    found = [(drives[p], bad_sectors.get(p)) for p in sorted(failing) if p in drives]
    if not found:
        return step
    times = [copy_time(d.size_bytes, d, None, bad_sectors=n or 0) for d, n in found]
    bad = sum(t.bad_min for t in times)
    said = (
        "Bad areas come on top, as long as each is tried."
        if any(n is None for _, n in found)
        else (phrase("Of that {bad} on bad areas, more where it goes on failing.", bad=minutes(bad)) if bad else "")
    )
    return replace(
        step,
        detail=phrase("{detail} {said}", detail=step.detail, said=said).strip(),
        unattended_min=round(sum(t.minutes for t in times)),
    )
