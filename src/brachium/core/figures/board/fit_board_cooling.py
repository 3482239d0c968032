"""The heat path of the fit board: fins, fan, pipes, chip, and the chip's own place."""

from __future__ import annotations

import math

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Dot, Line, Region, Sketch, Text
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.figures.board.fit_board_state import BoardState, Frame
from brachium.core.fit.verdict import Level
from brachium.core.machine.facts.place_facts import COOLING
from brachium.core.machine.part_words import short_words
from brachium.core.machine.platform import COOLER, SOCKET


def draw_cooling(sketch: Sketch, state: BoardState, frame: Frame) -> None:
    """Fins, fan, pipes and chip with the services planned for them."""
    fx, fy, fw, fh = frame.box(0.05, 0.10, 0.03, 0.34)
    for k in range(9):
        sketch.add(Line(fx, fy + k * fh / 8, fx + fw, fy + k * fh / 8, "soft"))
    sketch.add(Box(fx, fy, fw, fh, "ink"))
    r = min(0.34 * frame.h, 0.2 * frame.w) / 2
    cx, cy = fx + fw + 8 + r, fy + fh / 2
    sketch.add(Dot(cx, cy, r, "ink", "", 1.2), Dot(cx, cy, r * 0.28, "ink", "", 1.2))
    for k in range(7):
        sketch.items.append(_blade(cx, cy, r, k))
    px, py, pw, ph = frame.box(0.365, 0.10, 0.15, 0.32)
    side = min(pw, ph)
    sketch.add(Line(fx + fw, fy + 5, px + side * 0.5, fy + 5, "ink", 1.0),
               Line(fx + fw, fy + 11, px + side * 0.5, fy + 11, "ink", 1.0))  # fmt: skip
    sketch.add(Line(px + side * 0.5, fy + 5, px + side * 0.5, cy - 4, "ink", 1.0))
    top = py + ph / 2 - side / 2
    _chip(sketch, state, (px, top, side))
    lx, ly, _, _ = frame.box(0.05, 0.525, 0, 0)
    done = _done_to_it(state)
    if done or state.says_as_found:
        sketch.add(Text(lx, ly, joined(", ", done) or "paste and fins as found", "cool" if done else "warm", 12, 500))
    if done or COOLER in state.levels:
        sketch.extend(verdict_shape(state.levels.get(COOLER, Level.FITS), cx - 11, cy - 11, 22))
    if state.selected == COOLING:
        sketch.add(Box(fx - 5, fy - 6, px - fx - 2, fh + 12, "cool", "", 1.2, 3.0, (4.0, 3.0)))
    region = Region(COOLING, fx - 4, fy - 4, px - fx - 4, fh + 8, "cooling", _because(state))
    sketch.regions.append(region)
    _socket(sketch, state, (px, top, side))


def _chip(sketch: Sketch, state: BoardState, square: tuple[float, float, float]) -> None:
    """The chip in its square (x, y, side) and what is known of it below."""
    px, top, side = square
    planned = bool(state.services)
    sketch.add(Box(px, top, side, side, "cool" if planned else "ink", "sheet", 1.4))
    inner = side * 0.2
    sketch.add(Box(px + inner, top + inner, side - 2 * inner, side - 2 * inner, "cool" if planned else "warm",
                   "cool_wash" if planned else "warm_wash", 1.2))  # fmt: skip
    chip = state.planned.processor()
    new = chip is not None and chip != state.machine.configuration().processor()
    cores = chip.cores if chip is not None else state.machine.processor.cores
    power = _power_w(state)
    about = joined(
        ", ",
        (
            a
            for a in (
                phrase("{cores} cores", cores=cores) if cores else "chip",
                phrase("{power:.0f} W", power=power) if power else "",
            )
            if a
        ),
    )
    sketch.add(Text(px + side / 2, top + side + 18, about, "cool" if new else "ink", 12, 600, "middle", True))


def _power_w(state: BoardState) -> float | None:
    chip = state.planned.processor()
    return chip.power_w if chip is not None else state.machine.processor.design_power_w


def _done_to_it(state: BoardState) -> list[str]:
    """Services that are planned, and a cooler that is new."""
    cooler = state.planned.cooler()
    new = cooler is not None and cooler != state.machine.configuration().cooler()
    return [
        *state.services,
        *([phrase("cooler for {short_words}", short_words=short_words(cooler))] if cooler is not None and new else []),
    ]


def _because(state: BoardState) -> Because:
    power = _power_w(state)
    return Because(
        "Chip, paste, fins and fan", "heat path", "Heat leaves the chip through paste and plate, the fins and the air. "
        "Cleaning and new paste are services; the before-run says how much is to be gained.",
        (Fact("processor", state.machine.processor.name or "not recorded", state.machine.origin("processor.name")),
         Fact("design power", phrase("{power:.0f} W", power=power) if power else "not recorded", Origin.CATALOGUE)),
    )  # fmt: skip


def _socket(sketch: Sketch, state: BoardState, spot: tuple[float, float, float]) -> None:
    """The chip is a place of its own: what the socket is, what sits in it."""
    x, y, side = spot
    board = state.machine.platform.board
    level = state.levels.get(SOCKET)
    if level is not None:
        sketch.extend(verdict_shape(level, x + side / 2 - 11, y + side / 2 - 11, 22))
    if state.selected == SOCKET:
        sketch.add(Box(x - 5, y - 5, side + 10, side + 10, "cool", "", 1.2, 3.0, (4.0, 3.0)))
    mounting = "not recorded" if board.soldered is None else "soldered" if board.soldered else "socket"
    facts = (
        Fact("processor", state.machine.processor.name or "not recorded", state.machine.origin("processor.name")),
        Fact("mounting", mounting, state.machine.origin("platform.board.soldered")),
        Fact("socket", board.socket or "not recorded", state.machine.origin("platform.board.socket")),
        Fact(
            "board is specified for",
            phrase("{power_w:g} W", power_w=board.power_w) if board.power_w else "not recorded",
            state.machine.origin("platform.board.power_w"),
        ),
    )
    because = Because("Processor", "place", "What goes in and what is in it.", facts)
    sketch.regions.append(Region(SOCKET, x - 4, y - 4, side + 8, side + 8, "processor", because))


def _blade(cx: float, cy: float, r: float, k: int) -> Line:
    a = 2 * math.pi * k / 7
    b = a + 0.5
    return Line(cx + 0.3 * r * math.cos(a), cy + 0.3 * r * math.sin(a), cx + 0.9 * r * math.cos(b),
                cy + 0.9 * r * math.sin(b), "soft", 1.0)  # fmt: skip
