"""What has to come off before a place can be reached, by kind of machine: covers, cages, the cooler, the board."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Group
from brachium.core.work.hazards import Tag

COVER, CAGE, COOLER_LAYER, BOARD_LAYER, STAND = "cover", "cage", "cooler", "board-out", "stand"
BATTERY_LAYER = "battery"


@dataclass(frozen=True)
class Layer:
    """Something that comes off and goes back. `under` must be off first. Minutes are attended ones."""

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


_COOLER = Layer(
    COOLER_LAYER, "Lift the cooler off",
    "Unplug the fan by its plug, not its wires. Loosen the numbered screws backwards, a turn each; twist, never prise.",
    "Renew the paste and refit the cooler",
    "Check that every pad is still in place. Tighten in numbered order or crosswise, in two passes, by hand.",
    "PH1", (COVER,), 8, 14, 5, frozenset({Tag.INSIDE, Tag.COOLER}), frozenset({Tag.INSIDE, Tag.ALCOHOL}),
    "15 min and new paste", True,
)  # fmt: skip
_BOARD = Layer(
    BOARD_LAYER, "Take the main board out",
    "Photograph every plug. Ribbons: lift the lock, then pull the ribbon. All screws, also the odd one under a ribbon.",
    "Put the main board back", "No wire underneath. Every ribbon on top and locked, every plug home.", "PH1, tweezers",
    (COVER,), 18, 20, 0, frozenset({Tag.INSIDE}), frozenset({Tag.INSIDE}), "40 min",
)  # fmt: skip
_FLAT_COVER = Layer(
    COVER, "Take the bottom cover off",
    "Photograph first. Lay the screws down in the order they come out; note any that are longer.", "Close and connect",
    "Screws back in reverse order, {battery}adapter on.", "PH1, plastic pick", (), 6, 5, 0,
    frozenset({Tag.OPEN, Tag.INSIDE}), frozenset({Tag.INSIDE}), "5 min to close again",
)  # fmt: skip
_BATTERY = Layer(
    BATTERY_LAYER, "Unplug the battery inside",
    "The first thing under the cover: pull its plug by the plug's body, never by the wires, with nothing of metal. "
    "Then hold the power button for 10 s, so that the charge goes.",
    "Plug the battery in again", "The last plug of all, until it sits level.", "plastic pick", (COVER,), 2, 1, 0,
    frozenset({Tag.INSIDE, Tag.CELL}), frozenset({Tag.INSIDE, Tag.CELL}), "2 min",
)  # fmt: skip
_PERHAPS = "Where it came out from outside, see that it is out, hold the power button for 10 s, and go on. "
_PANEL = Layer(
    COVER, "Take the side panel off",
    "Photograph first. Lay the screws down in the order they come out; note any that are longer.", "Close and connect",
    "Screws back in reverse order, plugs in.", "PH2", (), 6, 5, 0, frozenset({Tag.OPEN, Tag.INSIDE}),
    frozenset({Tag.INSIDE}), "5 min to close again",
)  # fmt: skip
_CAGE = Layer(
    CAGE, "Swing the drive cage out", "Unplug its data and power leads, unlatch, tilt or lift it out.",
    "Put the drive cage back", "Until the latch clicks; data and power leads back on.", "", (COVER,), 3, 3, 0,
    frozenset({Tag.INSIDE}), frozenset({Tag.INSIDE}), "5 min",
)  # fmt: skip
_STAND = Layer(
    STAND, "Lay it face down and take the stand off", "On a soft surface. Screws of the stand, then the stand.",
    "Put the stand back and set it up", "Screws tight, hinge tried with both hands on it.", "PH2", (), 3, 3, 0,
    frozenset({Tag.OPEN}), frozenset({Tag.OPEN}), "4 min",
)  # fmt: skip


def layers_of(machine: Machine) -> dict[str, Layer]:
    """The layers of a kind of machine."""
    kind = machine.kind
    if kind is MachineKind.ALL_IN_ONE:
        cover = Layer(**{**_PANEL.__dict__, "off_title": "Take the back off", "under": (STAND,)})
        return {x.id: x for x in (_STAND, cover, _COOLER, _BOARD)}
    if kind in PORTABLE:
        return {x.id: x for x in _portable(machine.platform.power.battery_inside)}
    cage = (_CAGE,) if kind.build is MachineKind.SMALL_DESKTOP else ()
    return {x.id: x for x in (_PANEL, *cage, _COOLER, _BOARD)}


def _portable(battery_inside: bool | None) -> tuple[Layer, ...]:
    """A battery inside lies over everything else; one that nobody recorded is taken to be inside, and that is said."""
    cover = replace(_FLAT_COVER, on=_FLAT_COVER.on.format(battery="" if battery_inside else "battery in, "))
    if battery_inside is False:
        return cover, _COOLER, _BOARD
    battery = _BATTERY if battery_inside else replace(_BATTERY, off=_PERHAPS + _BATTERY.off)
    under = (BATTERY_LAYER,)
    return cover, battery, replace(_COOLER, under=under), replace(_BOARD, under=under)


def first_inside(machine: Machine) -> str:
    """The layer below which work inside begins: the battery where it sits inside, or may; else the cover."""
    inside = machine.kind in PORTABLE and machine.platform.power.battery_inside is not False
    return BATTERY_LAYER if inside else COVER


def reach(machine: Machine, group: Group) -> tuple[str, ...]:
    """The innermost layers that must be off for a kind of change; what they lie under comes off with them."""
    if group in (Group.ADAPTER, Group.VOLTAGE):
        return ()
    if group is Group.BATTERY and machine.kind in PORTABLE and machine.platform.power.battery_inside is False:
        return ()
    if group in (Group.PROCESSOR, Group.COOLER, Group.PADS, Group.PASTE, Group.CLEANING):
        return (BOARD_LAYER, COOLER_LAYER) if machine.platform.contacts.board_out else (COOLER_LAYER,)
    if group is Group.BOARD:
        return (BOARD_LAYER, COOLER_LAYER)
    if machine.kind.build is MachineKind.SMALL_DESKTOP and group in (Group.MEMORY, Group.DRIVE):
        return (CAGE,)
    return (first_inside(machine),)


def closure(layers: dict[str, Layer], wanted: tuple[str, ...]) -> tuple[str, ...]:
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
