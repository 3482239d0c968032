"""What has to come off before a place can be reached, by kind of machine and by how it is built: covers, glass, trim,
ribbons, cages, shrouds, the cooler, the board."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise

from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import CoolerHold, HeldBy
from brachium.core.plan.candidates import Group
from brachium.core.work.hazards import Tag

COVER, CAGE, COOLER_LAYER, BOARD_LAYER, STAND = "cover", "cage", "cooler", "board-out", "stand"
BATTERY_LAYER, TRIM, GLASS, RIBBON, OPTICAL, SHROUD = "battery", "trim", "glass", "ribbon", "optical", "shroud"
INSIDE = frozenset({Tag.INSIDE})
SCREWED = "Screws back in reverse order"
GLUED_KINDS = (MachineKind.TABLET,)
FLAT_BOARDS = (*PORTABLE, MachineKind.ALL_IN_ONE, MachineKind.MINI_PC)  # ribbons and small plugs, no card slots


class Seals(StrEnum):
    """Whether something is glued shut at the end."""

    GLUED = "glued"
    PERHAPS = "perhaps"  # nobody recorded how it is held


@dataclass(frozen=True)
class Layer:
    """Something that comes off and goes back. `under` must be off first. Minutes are attended ones; `buys` is what is
    used up by taking it off."""

    id: str
    off_title: str
    off: str
    on_title: str
    on: str
    tools: str
    under: tuple[str, ...] = ()
    off_min: float = 3.0
    on_min: float = 3.0
    on_wait_min: float = 0.0
    tags: frozenset[Tag] = frozenset()
    on_tags: frozenset[Tag] = frozenset()
    undo: str = ""
    no_return: bool = False
    buys: str = ""
    seals: Seals | None = None  # held by tape until everything was seen


_COOLER = Layer(
    COOLER_LAYER, "Lift the cooler off", "", "Renew the paste and refit the cooler", "", "", (), 8, 14, 5,
    INSIDE | {Tag.COOLER}, INSIDE | {Tag.ALCOHOL}, "15 min and new paste", True,
)  # fmt: skip
UNPLUGGED = "Unplug the fan by its plug, not its wires. "
TWISTED = "Twist, never prise."
# how a cooler that is held so comes off, how it goes on, and the tool
_HELD: dict[CoolerHold | None, tuple[str, str, str]] = {
    CoolerHold.SCREWS: (
        phrase(
            "{unplugged}Loosen the numbered screws backwards, a turn each. {twisted}",
            unplugged=UNPLUGGED,
            twisted=TWISTED,
        ),
        "Check that every pad is still in place. Tighten in numbered order or crosswise, in two passes, by hand.",
        "PH1",
    ),
    CoolerHold.BACK_PLATE: (
        phrase(
            "{unplugged}Screws crosswise, a turn each, a hand on the back plate: it falls when the last one is "
            "out. {twisted}",
            unplugged=UNPLUGGED,
            twisted=TWISTED,
        ),
        "Back plate seated behind the board and held; screws crosswise in two passes until they stop, by hand.",
        "PH2",
    ),
    CoolerHold.PUSH_PINS: (
        phrase(
            "{unplugged}Turn each pin a quarter turn against its arrow and pull its head up. {twisted}",
            unplugged=UNPLUGGED,
            twisted=TWISTED,
        ),
        "Every pin turned back and up first. Press opposite pins, one pair after the other, until each clicks; then "
        "look behind the board: both legs of each are through and spread.",
        "slot driver",
    ),
    CoolerHold.CLIP: (
        phrase(
            "{unplugged}Lever open slowly, it stands under tension; unhook the near side, then the far one. {twisted}",
            unplugged=UNPLUGGED,
            twisted=TWISTED,
        ),
        "Hook the far side first, then the near one; lever down with the flat of the hand.",
        "slot driver",
    ),
}
_NUMBERED = _HELD[CoolerHold.SCREWS]
_LOOK_FIRST = (
    phrase(
        "{unplugged}Look what holds it. Screws: crosswise, a turn each, a hand on a back plate that may "
        "fall. Push pins: a quarter turn against the arrow, head up. A clip: lever up slowly. {twisted}",
        unplugged=UNPLUGGED,
        twisted=TWISTED,
    ),
    "Straight down. Screws crosswise in two passes, by hand; opposite pins until they click, checked from behind; a "
    "clip from the far side.",
    "PH2, slot driver",
)
_FLAT_BOARD = Layer(
    BOARD_LAYER, "Take the main board out",
    "Photograph every plug. Ribbons: lift the lock, then pull the ribbon. Antenna cables straight up by their heads, "
    "which goes where noted. All screws, also the odd one under a ribbon.",
    "Put the main board back",
    "No wire underneath. Every ribbon on top and locked, antenna cables pressed until they click, every plug home.",
    "PH1, tweezers", (), 18, 20, 0, INSIDE, INSIDE, "40 min",
)  # fmt: skip
_WIDE_BOARD = Layer(
    BOARD_LAYER, "Take the main board out",
    "Photograph every plug. Both supply plugs, data cables, front-panel plugs by their names; cards out. Count the "
    "screws: as many standoffs stay behind.",
    "Put the main board back",
    "Shield of the outlets in first, no wire underneath, one screw on every standoff. Both supply plugs, front-panel "
    "plugs by their names, cards and cables as photographed.", "PH2, tweezers", (), 20, 24, 0, INSIDE | {Tag.SHARP},
    INSIDE | {Tag.SHARP}, "45 min",
)  # fmt: skip
_LAID_DOWN = "Photograph first. Lay the screws down in the order they come out; note any that are longer."
_FLAT_COVER = Layer(
    COVER, "Take the bottom cover off", _LAID_DOWN, "Close and connect",
    SCREWED, "", (), 6, 5, 0, frozenset({Tag.OPEN, Tag.INSIDE}), INSIDE,
    "5 min to close again",
)  # fmt: skip
_BATTERY = Layer(
    BATTERY_LAYER, "Unplug the battery inside",
    "The first thing under the cover: pull its plug by the plug's body, never by the wires, with nothing of metal. "
    "Then hold the power button for 10 s, so that the charge goes.",
    "Plug the battery in again", "The last plug of all, until it sits level.", "plastic pick", (), 2, 1, 0,
    INSIDE | {Tag.CELL}, INSIDE | {Tag.CELL}, "2 min",
)  # fmt: skip
_PERHAPS = "Where it came out from outside, see that it is out, hold the power button for 10 s, and go on. "
_PANEL = Layer(
    COVER, "Take the side panel off", _LAID_DOWN, "Close and connect", SCREWED, "",
    (), 6, 5, 0, frozenset({Tag.OPEN, Tag.INSIDE}), INSIDE, "5 min to close again",
)  # fmt: skip
_CAGE = Layer(
    CAGE, "Swing the drive cage out", "Unplug its data and power cables, unlatch, tilt or lift it out.",
    "Put the drive cage back", "Until the latch clicks; data and power cables back on.", "", (), 3, 3, 0,
    INSIDE | {Tag.SHARP}, INSIDE | {Tag.SHARP}, "5 min",
)  # fmt: skip
_STAND = Layer(
    STAND, "Lay it face down and take the stand off", "On a soft surface. Screws of the stand, then the stand.",
    "Put the stand back and set it up", "Screws tight, hinge tried with both hands on it.", "PH2", (), 3, 3, 0,
    frozenset({Tag.OPEN, Tag.HEAVY}), frozenset({Tag.OPEN, Tag.HEAVY}), "4 min",
)  # fmt: skip
_TRIM = Layer(
    TRIM, "Take the trim off", "Plastic pick, clip by clip, slowly: on this model some of it breaks.",
    "Put the new trim on", "Clip by clip from one end; what broke is replaced, not glued.", "plastic pick", (), 4, 3, 0,
    INSIDE, INSIDE, "new trim", True, "trim or clips to replace what breaks",
)  # fmt: skip
_TAPED_TRIM = replace(_TRIM, on_title="Hang the new trim on, by tape",
                      on="Loosely: it is pressed home when what lies under it is glued.")  # fmt: skip
_GLASS = Layer(
    GLASS, "Lift the glued glass",
    "Warm the edge to some 60 °C, a hand's width at a time; thin picks into the gap, never a blade. Lift it a little: "
    "its ribbons are still on. Unlock them, then lay the glass down.",
    "Set the glass back, held by tape", "Old glue off, new strips laid with their films on, ribbons locked. Tape holds "
    "it until everything was seen.", "heat pad or hot air, thin picks", (), 25, 12, 0,
    INSIDE | {Tag.ADHESIVE, Tag.GLASS}, INSIDE | {Tag.GLASS},
    "30 min and new strips", True, "adhesive strips for the glass", Seals.GLUED,
)  # fmt: skip
_GLUED_COVER = replace(
    _FLAT_COVER, off_title="Open the glued case",
    off="Warm the edge to some 60 °C, a hand's width at a time; thin picks into the gap, never deeper than 5 mm, never "
    "a blade. Lift a little: a ribbon may still hold it.",
    on="Old glue off, new strips laid with their films on. Tape holds it until everything was seen. {last}.",
    tools="heat pad or hot air, thin picks", off_min=20, on_min=10,
    tags=INSIDE | {Tag.ADHESIVE, Tag.GLASS, Tag.SCREEN},
    on_tags=INSIDE | {Tag.GLASS, Tag.SCREEN}, undo="20 min and new strips", no_return=True,
    buys="adhesive strips for the case", seals=Seals.GLUED,
)  # fmt: skip
_LOOK_AT_CASE = replace(
    _FLAT_COVER, off_title="Open the case",
    off="Look first what holds it. Screws hide under feet and covers; a glued edge is warmed to some 60 °C and parted "
    "by thin picks, never a blade. Lift a little: a ribbon may still hold it.",
    on="As it was held: screws in reverse order, or new strips with their films on and tape until everything was seen. "
    "{last}.",
    off_min=15, on_min=10, tags=_GLUED_COVER.tags, on_tags=_GLUED_COVER.on_tags, undo="15 min", seals=Seals.PERHAPS,
)  # fmt: skip
_SCREEN = replace(
    _PANEL, off_title="Lift the screen out",
    off="Screws along its edges; tilt it forward a hand's width. Its ribbons: lock up, then pull; lay it face down "
    "on a soft surface.",
    on_title="Put the screen back and connect",
    on="Ribbons in level and locked, none pinched; screws by hand. Plugs in.",
    tools="PH1 or T8, by the head", off_min=8, on_min=8,
    tags=frozenset({Tag.OPEN, Tag.INSIDE, Tag.SCREEN, Tag.GLASS}), on_tags=INSIDE | {Tag.SCREEN, Tag.GLASS},
)  # fmt: skip
_RIBBON = Layer(
    RIBBON, "Free the ribbon that holds the lid",
    "The lid is open a hand's width and no more: lift the ribbon's lock, pull it out level, then lay the lid away.",
    "Lock the lid's ribbon again", "In level to its mark, lock down, a light pull proves it.", "plastic pick", (), 2, 2,
    0, INSIDE, INSIDE, "2 min",
)  # fmt: skip
_OPTICAL = Layer(
    OPTICAL, "Take the optical drive out", "Its screw or latch, then out to the side; data and power cables off.",
    "Put the optical drive back", "In until it is level, screw or latch, both cables on.", "PH1", (), 3, 3, 0, INSIDE,
    INSIDE, "4 min",
)  # fmt: skip
_SHROUD = Layer(
    SHROUD, "Take the fan shroud off", "Its latches, then straight up; fan plugs off by the plug, each noted.",
    "Put the fan shroud back", "Straight down until every latch clicks, each fan on its own plug, no wire caught.", "",
    (), 2, 2, 0, INSIDE, INSIDE, "3 min",
)  # fmt: skip


_OPENED = {
    MachineKind.ALL_IN_ONE: "Take the back off", MachineKind.MINI_PC: "Take the bottom cover off",
    MachineKind.STORAGE_BOX: "Take the cover off", MachineKind.RETRO: "Take the cover off",
    MachineKind.NOT_KNOWN: "Open the case", MachineKind.HANDHELD: "Take the back off",
    MachineKind.TABLET: "Take the back off",
}  # fmt: skip


def layers_of(machine: Machine, board_first: bool = False) -> dict[str, Layer]:
    """The layers of a machine by its kind and build, in the order in which equal needs take them off. `board_first`:
    the board comes out with its cooler on, as it does where it is changed."""
    outside = _outside(machine)
    cover = replace(_cover(machine), under=tuple(x.id for x in outside))
    if cover.seals or _GLASS in outside:
        outside = [_TAPED_TRIM if x is _TRIM else x for x in outside]
    inner = [_RIBBON] if machine.platform.build.lid_ribbon else []
    inner += [_battery(machine)] if _battery_in_the_way(machine) else []
    chain = _chained([cover, *inner])
    board_first = board_first or machine.platform.contacts.board_out
    return {x.id: x for x in (*outside, *chain, *_inside(machine, (chain[-1].id,), board_first))}


def _outside(machine: Machine) -> list[Layer]:
    """What comes off before the cover: the stand, trim, glass where the way in is from the front."""
    build = machine.platform.build
    from_front = machine.kind is MachineKind.ALL_IN_ONE and build.glass_glued
    stand = [_STAND] if machine.kind is MachineKind.ALL_IN_ONE and not from_front else []
    return [*stand, *([_TRIM] if build.trim_breaks else []), *([_GLASS] if from_front else [])]


def _battery_in_the_way(machine: Machine) -> bool:
    """Whether a battery sits inside, or may."""
    return machine.kind in PORTABLE and machine.platform.power.battery_inside is not False


def _chained(layers: list[Layer]) -> list[Layer]:
    """Each under the one before it."""
    return [layers[0], *(replace(b, under=(a.id,)) for a, b in pairwise(layers))]


def _inside(machine: Machine, base: tuple[str, ...], board_first: bool) -> list[Layer]:
    """What lies under the cover: over other parts, the cooler, the board."""
    build, flat = machine.platform.build, machine.kind in FLAT_BOARDS
    over = [replace(_OPTICAL, under=base)] if build.optical_over else []
    if machine.kind is MachineKind.SMALL_DESKTOP:
        over.append(replace(_CAGE, under=(OPTICAL,) if build.optical_over else base))
    over += [replace(_SHROUD, under=base)] if build.shroud else []
    below = (SHROUD,) if build.shroud else base
    board = replace(_FLAT_BOARD if flat else _WIDE_BOARD, under=(*below, *((OPTICAL,) if build.optical_over else ())))
    off, on, tools = _HELD.get(build.cooler_hold, _NUMBERED if flat else _LOOK_FIRST)
    cooler = replace(_COOLER, off=off, on=on, tools=tools, under=below)
    if board_first:  # the cooler lies on its far side, or stays on it until it is outside
        return [*over, board, replace(cooler, under=(BOARD_LAYER,))]
    return [*over, cooler, board]


def _cover(machine: Machine) -> Layer:
    """The cover as it is held: by screws with their head, clips, glue, or a panel that slides."""
    build = machine.platform.build
    if machine.kind in PORTABLE:
        return _portable_cover(machine)
    if machine.kind is MachineKind.ALL_IN_ONE and build.glass_glued:
        return _SCREEN
    cover = replace(_PANEL, off_title=_OPENED.get(machine.kind, _PANEL.off_title))
    return _by_fastening(cover, machine)


def _portable_cover(machine: Machine) -> Layer:
    """Of what runs from a battery; glass that is glued is the way in of all but a laptop."""
    build = machine.platform.build
    glass = machine.kind is not MachineKind.LAPTOP and build.glass_glued
    held = HeldBy.GLUE if glass else build.held_by
    cover = replace(_FLAT_COVER, off_title=_OPENED.get(machine.kind, _FLAT_COVER.off_title))
    if held is HeldBy.GLUE:
        cover = _GLUED_COVER
    elif held is None and machine.kind in GLUED_KINDS:
        cover = _LOOK_AT_CASE
    return _closed(cover, machine) if held is HeldBy.GLUE else _by_fastening(cover, machine)


def _closed(cover: Layer, machine: Machine, how: str = SCREWED) -> Layer:
    """How it is closed again, and what is plugged in last."""
    last = "plugs in"
    if machine.kind in PORTABLE:
        last = "adapter on" if machine.platform.power.battery_inside else "battery in, adapter on"
    elif machine.kind is MachineKind.MINI_PC:
        last = "adapter on"
    if cover.seals:
        return replace(cover, on=phrase(cover.on, last=upper_first(last)))
    return replace(cover, on=phrase("{how}, {last}.", how=how, last=last))


def _by_fastening(cover: Layer, machine: Machine) -> Layer:
    """Words and driver by what holds the cover."""
    build = machine.platform.build
    if build.held_by is HeldBy.CLIPS:
        pick = "Photograph first. Plastic pick along the edge from a corner, clip by clip."
        return _closed(replace(cover, off=pick, tools="plastic pick"), machine, "Clips pressed home all round")
    if build.held_by is HeldBy.SLIDE:
        slid = "Photograph first. Its latch or thumb screw, then the panel slides back and lifts."
        return _closed(replace(cover, off=slid, tools="none, or PH2"), machine, "Hooked in, slid until it locks")
    if build.held_by is HeldBy.GLUE:
        return _closed(replace(_GLUED_COVER, off_title=cover.off_title, under=cover.under), machine)
    counted = phrase("{screws} screws. ", screws=build.screws) if build.screws else ""
    clips = " Then clip by clip from a corner." if build.held_by is HeldBy.BOTH else ""
    off = joined("", (counted, cover.off, clips))
    return _closed(replace(cover, off=off, tools=_drivers(machine, cover.tools)), machine)


def _drivers(machine: Machine, beside: str) -> str:
    """The driver of the case's screws as recorded, else those that its kind may ask for."""
    head = machine.platform.build.screw_head
    usual = {MachineKind.HANDHELD: "PH00, PH0, tri-wing or T5", MachineKind.TABLET: "PH00, T5 or five-lobe"}
    flat = "PH0, PH1 or T5 to T8, by the head"
    asked = head or usual.get(machine.kind, flat if machine.kind in PORTABLE else "PH2, T15 or hex, by the head")
    pick = "plastic pick" if machine.kind in PORTABLE else ""
    return joined(", ", dict.fromkeys(t for t in (asked, pick, beside) if t))


def _battery(machine: Machine) -> Layer:
    """A battery inside lies over everything else; one that nobody recorded is taken to be inside, and that is said."""
    return _BATTERY if machine.platform.power.battery_inside else replace(_BATTERY, off=_PERHAPS + _BATTERY.off)


def first_inside(machine: Machine) -> str:
    """The layer below which work inside begins: the battery where it sits inside, or may; else ribbon or cover."""
    if machine.kind in PORTABLE and machine.platform.power.battery_inside is not False:
        return BATTERY_LAYER
    return RIBBON if machine.platform.build.lid_ribbon else COVER


def reach(machine: Machine, group: Group, lifts: bool = True) -> tuple[str, ...]:
    """The innermost layers that must be off for a kind of change; what they lie under comes off with them. `lifts`: the
    change is made under the cooler, as far as its kind can be."""
    build, base = machine.platform.build, (first_inside(machine),)
    if group in (Group.ADAPTER, Group.VOLTAGE):
        return ()
    if group is Group.BATTERY and machine.kind in PORTABLE and machine.platform.power.battery_inside is False:
        return ()
    if lifts and group in (Group.PROCESSOR, Group.COOLER, Group.PADS, Group.PASTE, Group.CLEANING):
        return (BOARD_LAYER, COOLER_LAYER) if machine.platform.contacts.board_out else (COOLER_LAYER,)
    if group is Group.BOARD:
        return (BOARD_LAYER, COOLER_LAYER)
    if group not in (Group.MEMORY, Group.DRIVE):
        return base
    over = [CAGE] if machine.kind is MachineKind.SMALL_DESKTOP else [OPTICAL] if build.optical_over else []
    over += [SHROUD] if build.shroud and group is Group.MEMORY else []
    return tuple(over) or base


def closure(layers: Mapping[str, Layer], wanted: tuple[str, ...]) -> tuple[str, ...]:
    """All layers that have to come off for these, outermost first."""
    out: list[str] = []

    def add(layer_id: str) -> None:
        for outer in layers[layer_id].under:
            add(outer)
        if layer_id not in out:
            out.append(layer_id)

    for layer_id in layers:  # the kind's own order, so that equal needs give equal plans
        if layer_id in wanted:
            add(layer_id)
    return tuple(out)
