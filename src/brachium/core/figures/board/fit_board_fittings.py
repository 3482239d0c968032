"""The small places of the fit board along its lower edge: supply, board, battery, adapter, radio card, fans."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact
from brachium.core.figures.base.drawing import Box, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import fitting_size, text_width
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.fit.verdict import Level
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.part_words import part_title, short_words
from brachium.core.machine.platform import ADAPTER, BATTERY, BOARD, GRAPHICS, RADIO, SECOND_BATTERY, SUPPLY

IN_ROW, ROW, TALL = 4, 32.0, 24.0
SIZES = (11.0, 10.0, 9.0)
EXTRA = ((SECOND_BATTERY, "Battery 2"), (GRAPHICS, "Graphics"))  # only where they are recorded


@dataclass(frozen=True)
class Fitting:
    """A small place: id, its full label, a short one for the drawing."""

    id: str
    label: str
    short: str


def fittings_of(machine: Machine) -> tuple[Fitting, ...]:
    """The small places that a kind of machine has."""
    known = machine.configuration().parts
    fed = (ADAPTER, "Adapter") if machine.kind in ON_ADAPTER else (SUPPLY, "Supply")
    two = ((BATTERY, "Battery"), fed) if machine.kind in PORTABLE else (fed, (BOARD, "Board"))
    kinds = (*two, (RADIO, "Radio"), *((k, name) for k, name in EXTRA if k in known))
    out = [
        Fitting(key, machine.place_label(key), short) for key, short in kinds
        if key != RADIO or machine.platform.radio.key is not None or key in known or machine.kind in PORTABLE
    ]  # fmt: skip
    out += [Fitting(c.id, c.label, c.label) for c in machine.platform.chips]
    out += [Fitting(h.id, h.label, h.label.split(",")[0]) for h in machine.platform.headers]
    return tuple(out)


def fittings_height(machine: Machine) -> float:
    rows = -(-len(fittings_of(machine)) // IN_ROW)
    return rows * ROW + 2.0 if rows else 0.0


def draw_fittings(
    sketch: Sketch, machine: Machine, planned: Configuration, levels: Mapping[str, Level], selected: str,
    left: float, top: float, width: float,
) -> None:  # fmt: skip
    """Boxes in rows of four: what sits there now or in the plan, its verdict at the right end."""
    fittings = fittings_of(machine)
    each = min(width / min(max(len(fittings), 1), IN_ROW), 150.0)
    for index, fitting in enumerate(fittings):
        x, y = left + (index % IN_ROW) * each, top + (index // IN_ROW) * ROW
        _draw(sketch, machine, planned, levels.get(fitting.id), fitting, selected, (x, y, each - 8))


def _recorded(machine: Machine, place_id: str) -> str:
    """What the record knows of a place whose part has no entry of its own."""
    board, adapter = machine.platform.board, machine.platform.power.adapter_w
    if place_id == BOARD:
        return joined(", ", (w for w in (board.form, board.socket) if w))
    return phrase("{adapter:g} W asked", adapter=adapter) if place_id == ADAPTER and adapter else ""


def said_in(room: float, *wordings: str) -> tuple[str, float]:
    """The first wording that fits a room [px] and its type size; the last one small where none does."""
    for words in wordings:
        size = fitting_size(words, room, SIZES, 500, True)
        if words and text_width(words, size, 500, True) <= room:
            return words, size
    return wordings[-1], SIZES[-1]


def _draw(
    sketch: Sketch, machine: Machine, planned: Configuration, level: Level | None, fitting: Fitting, selected: str,
    spot: tuple[float, float, float],
) -> None:  # fmt: skip
    x, y, wide = spot
    part, today = planned.parts.get(fitting.id), machine.configuration().parts.get(fitting.id)
    changed = part != today
    dash = () if part is not None else (4.0, 3.0)
    sketch.add(
        Box(x, y, wide, TALL, "cool" if changed else "ink" if part else "soft", "cool_wash" if changed else "", 1.2,
            2.0,
            dash),
        Line(x + 3, y, x + 3, y + TALL, "cool" if changed else "soft", 1.0),
    )  # fmt: skip
    known = short_words(part) if part is not None else _recorded(machine, fitting.id)
    words = phrase("{short}: {known}", short=fitting.short, known=known or "not recorded")
    room = wide - 14 - (20 if level is not None else 0)
    ink = "cool" if changed else "ink" if part else "soft"
    said, size = said_in(room, words, known, fitting.short)
    sketch.add(Text(x + 9, y + TALL / 2 + 4, said, ink, size, 500, condensed=True))
    if level is not None:
        sketch.extend(verdict_shape(level, x + wide - 19, y + 4, 16))
    if selected == fitting.id:
        sketch.add(Box(x - 4, y - 4, wide + 8, TALL + 8, "cool", "", 1.2, 3.0, (4.0, 3.0)))
    origin = machine.origin(fitting.id)
    facts = (Fact("today", part_title(today) if today is not None else "not recorded", origin),)
    because = Because(fitting.label, "place", "What sits here now, and what could.", facts)
    sketch.regions.append(
        Region(fitting.id, x, y, wide, TALL, phrase("{fitting}: {words}", fitting=fitting.label, words=words), because)
    )
