"""Steps that fit the thing in hand: module, drive, processor and cleaning by form, fastening and kind of machine.

Threads: 2.5 in drives M3 fine, 3.5 in drives 6-32 coarse (SFF-8201, SFF-8301); M.2 its own small screw.
"""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryModule
from brachium.core.plan.candidates import Candidate, memory_words
from brachium.core.work.hazards import Tag
from brachium.core.work.step import Motion, Step

CLEAN = "clean"
INSIDE = frozenset({Tag.INSIDE})
SLANT = "edge in at a slant until no gold shows, then down until both clips close."
STRAIGHT = "clips open, notch over the key, straight down at both ends until the clips close by themselves."
_MEMORY = {
    MemoryForm.SO_DIMM: SLANT, MemoryForm.DIMM: STRAIGHT,
    MemoryForm.RIMM: phrase("{straight} A continuity filler in every slot that stays empty.", straight=STRAIGHT),
}  # fmt: skip
FINE = "M3 fine screws only: a coarse screw strips the drive's thread."
COARSE = "6-32 coarse screws, no longer than 6 mm: a fine one does not hold, a long one touches the board."
HOME = "Push the connector home, do not lever it."
SMALL = "In at a slant of some 30°, pressed flat, its own small screw into the standoff of its length, by two fingers."
# what is said of a drive of a form, its tool and its attended minutes
_DRIVES: dict[BayForm, tuple[str, str, float]] = {
    BayForm.IN_2_5: (phrase("{fine} {home}", fine=FINE, home=HOME), "PH1", 6.0),
    BayForm.IN_3_5: (phrase("{coarse} {home}", coarse=COARSE, home=HOME), "PH2", 6.0),
    BayForm.M2: (SMALL, "PH0 or PH1", 5.0),
    BayForm.MINI_CARD: (SMALL, "PH0 or PH1", 5.0),
    BayForm.CARD: ("Latch open, pressed home evenly, its bracket screwed down.", "PH2", 6.0),
}
_LOCKS = {
    "lever": "Open the lever, lift the old one straight up by its edges.",
    "screw lock": "Turn the lock open with a slot driver, a half turn, and lift the old one straight up by its edges.",
}  # fmt: skip
IN_PLACE = (MachineKind.TOWER, MachineKind.SMALL_DESKTOP)  # builds whose fan comes off the heatsink by itself


def memory_step(machine: Machine, candidate: Candidate) -> Step:
    """Modules go in by the way of their form."""
    forms = {a.part.form for a in candidate.assignments if isinstance(a.part, MemoryModule)}
    ways = joined(" ", (_MEMORY.get(f, STRAIGHT) for f in sorted(forms))) or STRAIGHT
    places = memory_words(machine, candidate.assignments)
    motion = Motion.SLANT if MemoryForm.SO_DIMM in forms else Motion.IN
    return Step(
        "memory",
        phrase("Fit {candidate}", candidate=candidate.title),
        phrase("Into {places}: {ways}", places=places, ways=ways),
        "",
        (),
        3,
        0,
        None,
        "2 min",
        tags=INSIDE,
        places=candidate.places,
        motion=motion,
    )


def drive_step(machine: Machine, candidate: Candidate) -> Step:
    """A drive by its form, in the place where it goes: screws, bracket, what of the old one moves over."""
    place, drive = next((a.place_id, a.part) for a in candidate.assignments if isinstance(a.part, Drive))
    words, tools, minutes = _DRIVES.get(drive.form, (HOME, "PH1", 6.0))
    bay = next((b for b in machine.bays if b.id == place), None)
    said = [phrase("Into the {where}.", where=candidate.where)]
    if bay is not None and (bay.form, drive.form) == (BayForm.IN_3_5, BayForm.IN_2_5):
        said.append("First into its bracket.")
        words = phrase("{fine} The bracket itself takes 6-32 coarse ones. {home}", fine=FINE, home=HOME)
        tools, minutes = "PH1, PH2", minutes + 3.0
    elif place in machine.configuration().drives() and drive.form in (BayForm.IN_2_5, BayForm.IN_3_5):
        said.append("Caddy, rails and bumpers of the old one move over, with their screws.")
    said.append(words)
    if drive.interface is DriveInterface.PATA:
        said.append("Jumper as the cable asks; no pin bent.")
    return Step(
        "drive",
        phrase("Fit the {candidate}", candidate=candidate.title),
        joined(" ", said),
        tools,
        (),
        minutes,
        0,
        None,
        phrase("{minutes:.0f} min", minutes=minutes),
        tags=INSIDE,
        places=(place,),
        motion=Motion.SLANT if drive.form in (BayForm.M2, BayForm.MINI_CARD) else Motion.SLIDE,
    )


def processor_words(machine: Machine, new_board: bool = False) -> str:
    """How the processor comes out and another goes in, by what holds it; on a new board nothing comes out."""
    if new_board:
        return (
            "Into the new board, whose firmware has to know it. Look at its pins or contacts with a lamp: a bent one "
            "is straightened under a lens first. Lock open, down by its own weight, corner mark to corner mark: never "
            "press. Lock shut."
        )
    lock = machine.platform.build.processor_lock or ""
    opened = _LOCKS.get(lock, "Open its lever or lock, lift the old one straight up by its edges.")
    return phrase(
        "Firmware first, with the old one still fitted. Look at pins and contacts of both with a lamp: a "
        "bent one is straightened under a lens first. {opened} The new one drops in by its own weight, "
        "corner mark to corner mark: never press. Touch neither pins nor lands.",
        opened=opened,
    )


def cleaned_in_place(machine: Machine) -> bool:
    """Whether fan and fins are cleaned with the heatsink staying on: its fan comes off by itself."""
    other = (MachineKind.MINI_PC, MachineKind.NOT_KNOWN)
    return machine.kind not in other and machine.kind.build in IN_PLACE


def clean_step(machine: Machine, lifted: bool = False, new_cooler: bool = False) -> Step:
    """Cleaning lifts the heatsink only where its fins are not reached otherwise; `lifted`: it is off for another
    change, `new_cooler`: its fins do not come back."""
    tags, tools = frozenset({Tag.INSIDE, Tag.BLOW}), "hand pump or blower, soft brush"
    if new_cooler:
        return Step(CLEAN, "Clean vents, filters and case fans",
                    "The new cooler brings clean fins: what stays is blown out before it goes in, fans held still.",
                    tools, attended_min=8, undo="none", tags=tags, places=("cooling",))  # fmt: skip
    if cleaned_in_place(machine) and not lifted:
        words = ("Fan off the heatsink by its clips or screws, its plug by the plug; the heatsink stays on and its "
                 "paste untouched. Lift the felt out in one piece, then blow through from the far side; vents too. "
                 "Fan back as it blew.")  # fmt: skip
        return Step(
            CLEAN,
            "Clean fan and fins, heatsink left on",
            words,
            phrase("{tools}, PH2", tools=tools),
            attended_min=12,
            undo="none",
            tags=tags,
            places=("cooling",),
        )
    return Step(CLEAN, "Clean fan and fin stack",
                "Lift the felt between fan and fins out in one piece, then blow through from the fin side.",
                tools, attended_min=10, undo="none", tags=tags, places=("cooling",))  # fmt: skip


def wash_step() -> Step:
    """What tar, droppings or a spilled drink left does not blow out."""
    return Step(
        "wash", "Wash what may be washed, let it dry",
        "Filters, grilles, covers and the fan's wheel once it is off its motor: lukewarm water and a little soap. "
        "Never board, motor or supply: those by brush and alcohol. Back only when it is dry to the touch everywhere.",
        "soft brush, bowl, alcohol", attended_min=12, unattended_min=240, undo="none",
        tags=INSIDE | {Tag.ALCOHOL},
    )  # fmt: skip


def paste_words(machine: Machine) -> str:
    """How a fresh layer goes on: a bare die is covered whole, a spreader takes a pea or a cross."""
    bare = machine.platform.contacts.bare_die
    covered = "cover the whole bare die thinly: an uncovered corner has no other way out. "
    pea = "a pea in the middle or a thin cross on the spreader: pressure spreads it. "
    if bare is None:
        return phrase(
            "Wipe both contacts clean. Where the die is bare {covered}Where it has a spreader, {pea}",
            covered=covered,
            pea=pea,
        )
    return phrase("Wipe both contacts clean, then {covered}", covered=covered if bare else pea)
