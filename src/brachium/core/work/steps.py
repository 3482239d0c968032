"""Work steps from a plan: order, cautions, gates, undo cost, minutes."""

from __future__ import annotations

from brachium.core.choose.catalogue import Candidate, Group
from brachium.core.machine.machine import Machine, MachineKind
from brachium.core.machine.parts import Drive, Service
from brachium.core.units import drive_size, gib
from brachium.core.work.part_steps import AFTER_COOLER, BEFORE_COOLER, UNDER_COOLER, simple_step
from brachium.core.work.step import CELL, DUST, EDGES, MAINS, SPIRIT, STATIC, Gate, Step


def steps_for(machine: Machine, chosen: tuple[Candidate, ...], preconditions: tuple[str, ...]) -> tuple[Step, ...]:
    """The steps of a plan in working order; preconditions come first, the cover once off everything inside follows."""
    steps = [
        Step(f"first-{i}", f"Get the {need} ready", "The plan cannot be finished without it.", attended_min=3)
        for i, need in enumerate(preconditions)
    ]
    steps += _system_moves(chosen)
    steps += _opening(machine)
    services = {s for c in chosen for s in c.services}
    by_group = {c.group: c for c in chosen}
    steps += [simple_step(by_group[g]) for g in BEFORE_COOLER if g in by_group]
    if Group.DRIVE in by_group:
        steps.append(_drive(by_group[Group.DRIVE]))
    if services or set(by_group) & set(UNDER_COOLER):
        steps += _cooling(services, [simple_step(by_group[g]) for g in UNDER_COOLER if g in by_group])
    steps += [_memory(machine, c) for c in chosen if c.group is Group.MEMORY]
    steps += [simple_step(by_group[g]) for g in AFTER_COOLER if g in by_group]
    steps += _closing(machine, chosen)
    return tuple(steps)


def _system_moves(chosen: tuple[Candidate, ...]) -> list[Step]:
    drive = next((c for c in chosen if c.group is Group.DRIVE), None)
    if drive is None:
        return []
    return [
        Step("clone", "Copy the system to the new drive",
             "New drive on a USB bridge; copy, let the verifying pass finish. Same start mode as before.",
             "USB to SATA bridge", (), 8, 75, Gate.DATA_SAFE, "none: the old drive stays"),
    ]  # fmt: skip


def _opening(machine: Machine) -> list[Step]:
    laptop = machine.kind is MachineKind.LAPTOP
    return [
        Step("power-off", "Shut down, unplug, discharge",
             "Full shut-down, adapter off" + (", battery out" if laptop else "") + ", hold the power button for 10 s.",
             "", (MAINS, CELL) if laptop else (MAINS,), 3, 0, Gate.BEFORE_RUN, "none"),
        Step("open", "Take the bottom cover off" if laptop else "Take the side panel off",
             "Photograph first. Lay the screws down in the order they come out; note any that are longer.",
             "PH1, plastic pick" if laptop else "PH2", (STATIC, EDGES), 6, 0, Gate.ALL_BEFORE,
             "5 min to close again"),
    ]  # fmt: skip


def _drive(candidate: Candidate) -> Step:
    return Step("drive", f"Fit the {candidate.title}",
                f"Into the {candidate.where}. M3 fine screws only: a coarse screw strips the drive's thread. "
                "Push the connector home, do not lever it.", "PH1", (STATIC,), 6, 0, Gate.OPENED, "6 min")  # fmt: skip


def _cooling(services: set[Service], beneath: list[Step]) -> list[Step]:
    """Cooler off, what is done beneath it, and the paste last."""
    out = [
        Step("cooler-off", "Lift the cooler off",
             "Unplug the fan by its plug, not its wires. Loosen the numbered screws backwards, a turn each; "
             "twist gently, do not prise.", "PH1", (STATIC, EDGES), 8, 0, Gate.OPENED, "15 min and new paste", True),
    ]  # fmt: skip
    out += beneath
    if Service.CLEAN_FINS in services:
        out.append(
            Step("clean", "Clean fan and fin stack",
                 "Lift the felt between fan and fins out in one piece, then blow through from the fin side.",
                 "hand pump or blower, soft brush", (DUST,), 10, 0, Gate.OPENED, "none")
        )  # fmt: skip
    paste = "Wipe both contacts clean, then cover the whole bare die thinly: an uncovered corner has no other way out."
    if Service.NEW_PASTE not in services and not beneath:
        paste = "Lifting the cooler breaks the old bond: new paste is needed even when only the fins were cleaned."
    out.append(
        Step("paste", "Renew the paste and refit the cooler",
             paste + " Check that every pad is still in place. Tighten in numbered order, in two passes, by hand.",
             "lint-free wipes, alcohol, spatula, PH1", (SPIRIT, STATIC), 14, 5, Gate.OPENED, "15 min and new paste")
    )  # fmt: skip
    return out


def _memory(machine: Machine, candidate: Candidate) -> Step:
    places = " and ".join(machine.place_label(p).lower() for p in candidate.places)
    return Step("memory", f"Fit {candidate.title}",
                f"Into {places}: edge in at a slant until no gold shows, then down until both clips close.",
                "", (STATIC,), 3, 0, Gate.OPENED, "2 min")  # fmt: skip


def _closing(machine: Machine, chosen: tuple[Candidate, ...]) -> list[Step]:
    seen = "memory total and channels" if any(c.group is Group.MEMORY for c in chosen) else "memory"
    drives = [a.part for c in chosen for a in c.assignments if isinstance(a.part, Drive)]
    sizes = "".join(f" ({drive_size(d.size_bytes)} reads as {gib(d.size_bytes, 0)})" for d in drives)
    return [
        Step("look", "Look before closing",
             "Fan plug in, battery plug in, every ribbon on top and locked, drive connected, no screw left over.",
             "", (), 2, 0, Gate.ALL_BEFORE, "none"),
        Step("close", "Close and connect", "Screws back in reverse order, battery in, adapter on.", "PH1", (), 5, 0,
             Gate.ALL_BEFORE, "6 min"),
        Step("first-start", "First start: is everything seen?",
             f"Firmware shows processor, {seen}, drive{sizes}, fan turning, date right.",
             "", (), 4, 0, Gate.ALL_BEFORE),
        Step("memory-test", "Test the memory",
             "One full pass before any benchmark: results of faulty memory mean nothing.",
             "", (), 2, 35, Gate.ALL_BEFORE),
    ]  # fmt: skip
