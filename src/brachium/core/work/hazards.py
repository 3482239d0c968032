"""Hazards of the bench: what can hurt, the caution with its sign, and at which steps it can occur.

A step carries tags of what it touches; the table says which hazards follow for which kind of machine, so that no step
that somebody adds can go without its caution: `touched_in` reads what a step of the shop's own touches from its words.
Local codes and licensed people come first.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from brachium.core.base.text import phrase
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE, MachineKind


class Tag(StrEnum):
    """What is done in a step, as far as somebody or something can be hurt by it."""

    UNPLUG = "unplug"
    OPEN = "open"
    INSIDE = "inside"
    COOLER = "cooler"
    BLOW = "blow"
    ALCOHOL = "alcohol"
    SUPPLY = "supply"
    CELL = "cell"
    ADHESIVE = "adhesive"
    GLASS = "glass"
    SCREEN = "screen"  # and what feeds its back-light
    SHARP = "sharp"
    HEAVY = "heavy"
    COPY = "copy"
    IMAGE = "image"  # of a drive that is dying: everything else waits for it
    ERASE = "erase"
    FIRMWARE = "firmware"
    START = "start"


@dataclass(frozen=True)
class Hazard:
    """`sign` is the drawing beside the words; it occurs at steps with one of the tags, in these kinds (none = all)."""

    id: str
    sign: str
    words: str
    tags: frozenset[Tag]
    kinds: tuple[MachineKind, ...] = ()


K = MachineKind
STANDING = tuple(k for k in K if k not in ON_ADAPTER)


def _h(id_: str, sign: str, words: str, *tags: Tag, kinds: tuple[MachineKind, ...] = ()) -> Hazard:
    return Hazard(id_, sign, words, frozenset(tags), kinds)


HAZARDS: tuple[Hazard, ...] = (
    _h("mains", "bolt",
       "Adapter off before any cover. A battery outside comes out first; one inside is unplugged first thing under "
       "the cover, before anything else is touched. Never open a power supply.",
       Tag.UNPLUG,
       kinds=PORTABLE),
    _h("mains-standing", "bolt",
       "Pull the mains plug; a power supply is never opened and holds its charge for minutes.",
       Tag.UNPLUG, Tag.SUPPLY, kinds=STANDING),
    _h("mains-adapter", "bolt", "The adapter out of the machine and out of the wall; it is never opened.",
       Tag.UNPLUG, Tag.SUPPLY, kinds=(K.MINI_PC,)),
    _h("supply-repair", "bolt", "Repair of supplies and fixed wiring belongs to licensed people; no cable is re-wired.",
       Tag.SUPPLY),
    _h("lithium", "cell",
       "A swollen, hot or dented battery stops the job: do not press, pierce or charge it; isolate it, "
       "follow local rules.", Tag.UNPLUG, Tag.CELL, kinds=PORTABLE),
    _h("backlight", "bolt",
       "Back-light inverters carry high voltage, also after unplugging: keep off the screen's own board.",
       Tag.INSIDE, Tag.OPEN, Tag.SCREEN, kinds=(K.ALL_IN_ONE,)),
    _h("screen", "bolt", "Behind an older screen an inverter carries high voltage: touch neither it nor its cables.",
       Tag.SCREEN, kinds=(K.LAPTOP, K.TABLET, K.HANDHELD)),
    _h("static", "strap", "Wear the anti-static strap and clip it to bare metal.", Tag.INSIDE, Tag.OPEN),
    _h("edges", "edge", "Sheet-metal edges cut; the heatsink may still be hot.", Tag.OPEN, Tag.COOLER, Tag.SUPPLY,
       Tag.SHARP),
    _h("glass", "edge", "Glass lies on a soft surface, face down, nothing under its edge.", Tag.OPEN,
       kinds=(K.ALL_IN_ONE, K.TABLET)),
    _h("glass-lifted", "edge", "Glass may crack: eye protection, tape over cracks, no force on a corner.", Tag.GLASS),
    _h("heavy", "lift", "Heavy: lift it with somebody, back straight.", Tag.OPEN,
       kinds=(K.TOWER, K.ALL_IN_ONE, K.WORKSTATION, K.STORAGE_BOX, K.RETRO)),
    _h("heavy-part", "lift", "Two pairs of hands, or a support, until it lies or stands by itself.", Tag.HEAVY,
       kinds=(K.LAPTOP, K.TABLET, K.HANDHELD, K.MINI_PC, K.SMALL_DESKTOP)),
    _h("dust", "mask", "Blow dust outdoors or at an extraction, with a mask. Hold the fan blades still.", Tag.BLOW),
    _h("cans", "mask", "Canned air freezes skin: not tilted, not breathed. Keep a vacuum nozzle off components.",
       Tag.BLOW),
    _h("alcohol", "flame", "Isopropyl alcohol burns: air the room, no flame, no spark.", Tag.ALCOHOL),
    _h("adhesive", "flame", "Heat on adhesive low and brief, never over a battery.", Tag.ADHESIVE,
       kinds=tuple(k for k in K if k not in PORTABLE)),
    _h("heat-cell", "cell",
       "Heat on adhesive low and brief; a cell lies near: find it first, keep heat and blade off it.",
       Tag.ADHESIVE, kinds=PORTABLE),
    _h("data", "data",
       "Backed up and verified before anything is written; nothing of the owner's is opened without consent.",
       Tag.COPY),
    _h("erase", "data", "Erasure cannot be taken back: the right drive, by its serial, and the evidence kept.",
       Tag.ERASE),
    _h("firmware", "bolt", "On mains and with a good battery; a firmware update that loses power may not start again.",
       Tag.FIRMWARE),
)  # fmt: skip


# stems of words, in the languages of the window, by what a step that holds one of them touches
_WORDS: tuple[tuple[Tag, tuple[str, ...]], ...] = (
    (Tag.CELL, ("battery", "cell ", "akku", "zelle", "batterie")),
    (Tag.ADHESIVE, ("heat gun", "hot air", "warm", "glue", "adhesive", "kleb", "heißluft", "colle", "chauff")),
    (Tag.GLASS, ("glass", "glas", "verre", "vitre", "screen", "display", "bildschirm", "écran")),
    (Tag.SCREEN, ("back-light", "backlight", "inverter", "screen", "display", "bildschirm", "écran")),
    (Tag.SUPPLY, ("power supply", "mains", "netzteil", "alimentation", "secteur")),
    (Tag.ALCOHOL, ("alcohol", "alkohol", "alcool", "isoprop", "wipe")),
    (Tag.BLOW, ("blow", "dust", "vacuum", "canned air", "staub", "pustel", "poussi", "souffl")),
    (Tag.FIRMWARE, ("firmware update", "flash",)),
    (Tag.ERASE, ("erase", "wipe the drive", "lösch", "effac")),
    (Tag.COPY, ("copy", "clone", "image of", "kopier", "copie")),
    (Tag.SHARP, ("sheet metal", "sharp", "blech", "scharf", "tôle")),
    (Tag.HEAVY, ("heavy", "schwer", "lourd")),
    (Tag.COOLER, ("heatsink", "cooler", "kühler", "dissipateur")),
)  # fmt: skip


def touched_in(words: str, stated: Iterable[str] = ()) -> frozenset[Tag]:
    """What a step touches: as stated by the names of tags, and as far as its words name it."""
    plain = phrase("{words} ", words=words.lower())
    said = {t for t in Tag if t.value in stated}
    return frozenset(said | {tag for tag, stems in _WORDS if any(stem in plain for stem in stems)})


def hazards_at(tags: frozenset[Tag], kind: MachineKind) -> tuple[Hazard, ...]:
    """The hazards of a step, in the table's order."""
    every = kind is MachineKind.NOT_KNOWN  # then those of any kind
    return tuple(h for h in HAZARDS if h.tags & tags and (every or not h.kinds or kind in h.kinds))
