"""Kinds of machine as outlines, each with the key that chooses it: the first question about a machine taken in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.text_width import fitting_size, text_width
from brachium.core.machine.kinds import MachineKind as K

COLUMNS, GAP, TILE_H = 5, 8.0, 92.0
HEAD = 22.0


@dataclass(frozen=True)
class KindTile:
    """A kind with its key, its short name, and what draws it in a box of 44 x 40 px at (x, y)."""

    kind: K
    key: str
    name: str
    draw: Callable[[Sketch, float, float], None]


def _tower(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 11, y, 22, 40, "ink", width=1.5), Line(x + 15, y + 7, x + 29, y + 7), Line(x + 15, y + 12, x + 29,
          y + 12), Dot(x + 22, y + 30, 4, "ink"))  # fmt: skip


def _small(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 2, y + 22, 40, 16, "ink", width=1.5), Line(x + 7, y + 30, x + 22, y + 30), Dot(x + 35, y + 30, 2.5))


def _mini(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 10, y + 28, 24, 9, "ink", width=1.5, radius=2), Dot(x + 29, y + 32.5, 1.5))


def _all_in_one(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 2, y + 2, 40, 27, "ink", width=1.5), Line(x + 22, y + 29, x + 22, y + 38, width=1.5),
          Line(x + 12, y + 38, x + 32, y + 38, width=1.5), Line(x + 2, y + 24, x + 42, y + 24))  # fmt: skip


def _laptop(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 8, y + 8, 28, 20, "ink", width=1.5),
          path((x + 8, y + 28), (x + 2, y + 36), (x + 42, y + 36), (x + 36, y + 28)))  # fmt: skip


def _tablet(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 4, y + 6, 36, 27, "ink", width=1.5, radius=3), Box(x + 8, y + 10, 28, 19, "ink"))


def _handheld(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 1, y + 12, 42, 20, "ink", width=1.5, radius=6), Box(x + 13, y + 15, 18, 14, "ink"),
          Dot(x + 7, y + 19, 2), Dot(x + 37, y + 19, 2))  # fmt: skip


def _workstation(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 5, y + 2, 34, 37, "ink", width=1.5), Line(x + 16, y + 2, x + 16, y + 39),
          *(Line(x + 20, y + 8 + 6 * k, x + 35, y + 8 + 6 * k) for k in range(5)))  # fmt: skip


def _storage(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 1, y + 8, 42, 26, "ink", width=1.5),
          *(Box(x + 4 + 10 * k, y + 11, 7, 20, "ink") for k in range(4)))  # fmt: skip


def _retro(s: Sketch, x: float, y: float) -> None:
    s.add(Box(x + 2, y + 26, 40, 13, "ink", width=1.5), Box(x + 9, y + 3, 26, 21, "ink", width=1.5, radius=3),
          Line(x + 26, y + 32, x + 38, y + 32, width=1.5), Dot(x + 8, y + 32.5, 2))  # fmt: skip


TILES = (
    KindTile(K.TOWER, "T", "Tower", _tower), KindTile(K.SMALL_DESKTOP, "S", "Small desktop", _small),
    KindTile(K.MINI_PC, "M", "Mini PC", _mini), KindTile(K.ALL_IN_ONE, "A", "All-in-one", _all_in_one),
    KindTile(K.LAPTOP, "L", "Laptop", _laptop), KindTile(K.TABLET, "B", "Tablet, 2-in-1", _tablet),
    KindTile(K.HANDHELD, "H", "Handheld", _handheld), KindTile(K.WORKSTATION, "W", "Workstation", _workstation),
    KindTile(K.STORAGE_BOX, "R", "Rack, storage", _storage), KindTile(K.RETRO, "O", "Retro", _retro),
)  # fmt: skip


def kind_outlines(width: float, height: float) -> Drawing:
    """Every kind that can be said, in two rows; the region of a tile is the kind's own name."""
    sketch = Sketch(width, HEAD + 2 * (TILE_H + GAP))
    words = "Brings its usual slots and bays, to be confirmed. Alt and the letter, or click."
    narrow = text_width(words, 12) > width
    sketch.add(Text(0, 12, words, "soft", fitting_size(words, width, (12, 11, 10), 400, narrow), condensed=narrow))
    tile_w = (width - 1 - (COLUMNS - 1) * GAP) / COLUMNS
    for number, tile in enumerate(TILES):
        x, y = (number % COLUMNS) * (tile_w + GAP), HEAD + (number // COLUMNS) * (TILE_H + GAP)
        sketch.add(Box(x + 0.5, y + 0.5, tile_w, TILE_H, "hair", "sheet", radius=2))
        tile.draw(sketch, x + (tile_w - 44) / 2, y + 18)
        sketch.add(Text(x + 6, y + 14, tile.key, "cool", 12, 600))
        sketch.add(Text(x + tile_w / 2, y + TILE_H - 10, tile.name, "ink", 12, anchor="middle", condensed=True))
        sketch.regions.append(
            Region(tile.kind.value, x, y, tile_w, TILE_H, phrase("{kind}, key {key}", kind=tile.kind, key=tile.key))
        )
    return sketch.done("Kind of machine", "Ten outlines; each brings the usual slots and bays of its kind.")
