"""The machine with its cover off, below it what is seen from outside: slots as they are filled, findings as pins."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.condition.findings import Finding, kind_of
from brachium.core.condition.zones import ZONES, Zone
from brachium.core.figures.base.drawing import Box, Drawing, Region, Sketch
from brachium.core.figures.base.writing import Face, write
from brachium.core.figures.board.finding_pins import PIN_R, draw_pin, zone_because
from brachium.core.figures.board.fit_board import COOLING, BoardState, fit_board
from brachium.core.figures.board.fit_board_fittings import fittings_of
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import BATTERY, BOARD, SUPPLY

STRIP, GAP, LEAST_W = 36.0, 5.0, 60.0
NAMES = tuple(Face(size, 500, "soft", True) for size in (11, 10, 9, 8))
NAME = NAMES[0]
OF_PLACE = {"cooler": COOLING, "vents": COOLING, "battery": BATTERY, "supply": SUPPLY, "board": BOARD}


def zone_of(machine: Machine, place: str) -> str:
    """The zone in which a finding at this slot, bay or outside part is pinned; empty where the kind has none."""
    zones = [z.id for z in ZONES[machine.kind.build]]
    if place.startswith("zone:"):
        return place.removeprefix("zone:")
    by_kind = {
        **{s.id: ("memory", "bottom", "board") for s in machine.slots},
        **{b.id: ("drives", "bottom", "back") for b in machine.bays},
        **{c.id: ("cards", "board", "back") for c in machine.platform.cards},
        COOLING: ("cooler", "vents"), BATTERY: ("battery",), SUPPLY: ("supply", "back"), BOARD: ("board", "bottom"),
    }  # fmt: skip
    return next((z for z in by_kind.get(place, ()) if z in zones), zones[0])


def outside_zones(machine: Machine) -> tuple[Zone, ...]:
    """What of the kind is not on the drawing of its inside."""
    own = {zone for zone, place in OF_PLACE.items() if place in {COOLING, *(f.id for f in fittings_of(machine))}}
    if machine.slots:
        own.add("memory")
    own |= ({"drives"} if machine.bays else set()) | ({"cards"} if machine.platform.cards else set())
    return tuple(z for z in ZONES[machine.kind.build] if z.id not in own)


def machine_figure(
    state: BoardState, findings: Sequence[Finding], selected: str, width: float, height: float
) -> Drawing:  # fmt: skip
    """`selected` is the id of a region; those of the outside are `zone:` and the zone's id."""
    machine = state.machine
    outside = outside_zones(machine)
    rows = _rows(outside, width)
    board = fit_board(state, width, height - strip_height(machine, width))
    sketch = Sketch(width, height, list(board.items), list(board.regions))
    y = board.height + 2
    for row in rows:
        wanted = [max(0.62 * NAME.width(z.title), 40.0) for z in row]
        share = (width - 1 - GAP * (len(row) - 1)) / sum(wanted)
        x = 0.0
        for zone, wide in zip(row, wanted, strict=True):
            found = [f for f in findings if f.zone == zone.id]
            _outside(sketch, zone, found, x, y, wide * share, selected == f"zone:{zone.id}")
            x += wide * share + GAP
        y += STRIP + GAP
    _pins_inside(sketch, machine, findings, {z.id for z in outside})
    return sketch.done(
        phrase("{kind}", kind=machine.kind.capitalize()), phrase("what is in it, {count} findings", count=len(findings))
    )


def strip_height(machine: Machine, width: float) -> float:
    """What the outside takes below the board [px]."""
    return (STRIP + GAP) * len(_rows(outside_zones(machine), width))


def _rows(zones: Sequence[Zone], width: float) -> list[Sequence[Zone]]:
    each = max(int((width + GAP) // (LEAST_W + GAP)), 1)
    count = -(-len(zones) // each)
    in_row = -(-len(zones) // count) if count else 1
    return [zones[k : k + in_row] for k in range(0, len(zones), in_row)]


def _outside(sketch: Sketch, zone: Zone, found: list[Finding], x: float, y: float, w: float, chosen: bool) -> None:
    """A part of the outside: its name, and a pin for each finding."""
    dash = () if chosen or found else (3.0, 3.0)
    sketch.add(Box(x, y, w, STRIP, "cool" if chosen else "soft" if found else "hair", "cool_wash" if chosen else "",
                   1.6 if chosen else 1.0, 3, dash))  # fmt: skip
    room = w - 8 - len(found) * (2 * PIN_R + 3)
    face = next((f for f in NAMES if f.lines(zone.title, room) <= 2), NAMES[-1])
    write(sketch, x + 5, y + 4, room, zone.title, face)
    for k, finding in enumerate(found):
        draw_pin(sketch, finding, x + w - PIN_R - 4 - k * (2 * PIN_R + 3), y + STRIP / 2)
    text = phrase(
        "{zone}: {found}",
        zone=zone.title,
        found=joined(", ", (lower_first(kind_of(f).title) for f in found)) or "no finding recorded",
    )
    sketch.regions.append(Region(f"zone:{zone.id}", x, y, w, STRIP, text, zone_because(zone, found)))


def _pins_inside(sketch: Sketch, machine: Machine, findings: Sequence[Finding], outside: set[str]) -> None:
    """Pins at the lower right of what they were found on."""
    regions = {r.id: r for r in sketch.regions}
    placed: dict[str, int] = {}
    for finding in (f for f in findings if f.zone not in outside):
        at = _place_of(machine, finding.zone, regions)
        if at is None:
            continue
        n = placed[at.id] = placed.get(at.id, 0) + 1
        right = at.x + at.w + (-PIN_R if at.id == COOLING else 6.0)
        draw_pin(sketch, finding, right, at.y + at.h - PIN_R / 2 + (n - 1) * (2 * PIN_R + 3))
        words = phrase("{at}; found: {title}", at=at.label, title=lower_first(kind_of(finding).title))
        where = next(k for k, r in enumerate(sketch.regions) if r.id == at.id)
        sketch.regions[where] = replace(sketch.regions[where], label=words)


def _place_of(machine: Machine, zone: str, regions: dict[str, Region]) -> Region | None:
    ids = {
        "memory": [s.id for s in machine.slots], "drives": [b.id for b in machine.bays],
        "cards": [c.id for c in machine.platform.cards],
    }.get(zone, [OF_PLACE.get(zone, "")])  # fmt: skip
    return next((regions[i] for i in ids if i in regions), None)
