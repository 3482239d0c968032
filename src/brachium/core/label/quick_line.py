"""One line as a person would say it, read as parts and facts: `2x4 ddr3 1600 sodimm; 500gb 2.5 hdd; 35w 2c4t; 1080p`.

Semicolons, line ends and plus signs part what belongs together; within a piece the words are divided so that as few
as possible stay unread, then into as few pieces as possible, a comma being the best place to divide.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from brachium.core.label.drive_label import DriveLabel, read_drive_label
from brachium.core.label.graphics_label import GraphicsLabel, read_graphics_label
from brachium.core.label.machine_words import MachineWords, read_machine_words
from brachium.core.label.module_label import ModuleLabel, read_module_label
from brachium.core.label.power_label import (
    AdapterLabel,
    BatteryLabel,
    SupplyLabel,
    read_adapter_label,
    read_battery_label,
    read_supply_label,
)
from brachium.core.label.processor_label import ProcessorLabel, read_processor_label
from brachium.core.label.words import MOST_LETTERS, Understood

Reading = (
    ModuleLabel | DriveLabel | ProcessorLabel | GraphicsLabel | AdapterLabel | BatteryLabel | SupplyLabel | MachineWords
)
READERS: dict[str, Callable[[str], Reading]] = {
    "machine": read_machine_words, "memory": read_module_label, "drive": read_drive_label,
    "processor": read_processor_label, "graphics": read_graphics_label, "battery": read_battery_label,
    "adapter": read_adapter_label, "supply": read_supply_label,
}  # fmt: skip
HEADS = {
    "graphics": r"\b(?:graphics?|video card|d?gpu|vga)\b(?<!integrated graphics)(?<!igpu)",
    "battery": r"\b(?:battery|batt|akku)\b|\d\s*(?:Whr?|mAh|Ah)\b|\bcells?\b",
    "adapter": r"\b(?:adapter|charger|usb[- ]?c)\b|\d\s*V\s*[/x,@ ]?\s*\d[\d.,]*\s*A\b",
    "supply": r"\b(?:psu|supply|ATX|SFX|TFX)\b|\b12\s*V",
    "processor": r"\b(?:cpus?|processors?|socket|cores?)\b|\d\s*c(?:\b|/?\d+t\b)|\dGHz\b|\d\s+GHz\b|-core\b|\bBGA\b",
}  # fmt: skip
LARGEST_MODULE_MIB = 64 * 1024  # a bare size beyond is a drive's
MOST_WORDS, LONGEST_PIECE = 60, 14
UNREAD, PIECE, COMMA = 10.0, 1.0, 0.5
LOOSE = re.compile(r"^[\s,;:+/.-]*$")


@dataclass(frozen=True)
class QuickPiece:
    """Some words of the line and what they are: the kind of thing, its fields, which words said which field.

    `kind` is empty where nothing was understood.
    """

    text: str
    kind: str
    reading: Reading | None
    understood: Understood
    not_understood: tuple[str, ...]


@dataclass(frozen=True)
class QuickLine:
    """A line, piece by piece in its order."""

    pieces: tuple[QuickPiece, ...]

    @property
    def not_understood(self) -> tuple[str, ...]:
        return tuple(w for p in self.pieces for w in p.not_understood)

    def of(self, kind: str) -> tuple[QuickPiece, ...]:
        return tuple(p for p in self.pieces if p.kind == kind)


def read_quick_line(text: str) -> QuickLine:
    """Every piece of a line; what no reader knows is marked. Never raises."""
    pieces: list[QuickPiece] = []
    for part in re.split(r"[;\n]|\s(?:\+|plus)\s", text[: 10 * MOST_LETTERS]):
        words = part.split()
        for start in range(0, len(words), MOST_WORDS):
            pieces += _divided(tuple(words[start : start + MOST_WORDS]))
    return QuickLine(tuple(_joined(pieces)))


def _divided(words: tuple[str, ...]) -> list[QuickPiece]:
    """The cheapest division of some words, by the length of what is already divided."""
    best: list[tuple[float, list[QuickPiece]]] = [(0.0, [])]
    for end in range(1, len(words) + 1):
        ways = []
        for start in range(max(0, end - LONGEST_PIECE), end):
            piece = _piece(" ".join(words[start:end]))
            after_comma = start == 0 or words[start - 1].endswith(",")
            cost = best[start][0] + UNREAD * len(piece.not_understood) + (COMMA if after_comma else PIECE)
            ways.append((cost, start, piece))
        cost, start, piece = min(ways, key=lambda way: way[:2])
        best.append((cost, [*best[start][1], piece]))
    return best[-1][1]


@lru_cache(maxsize=20_000)
def _piece(text: str) -> QuickPiece:
    found = [(kind, reader(text)) for kind, reader in READERS.items() if _has_head(kind, text)]
    readings = [(kind, r) for kind, r in found if _says(r) and not _bare_module_too_large(r)]
    if not readings:
        return QuickPiece(text, "", None, (), tuple(w for w in text.split() if not LOOSE.match(w)))
    kind, reading = min(readings, key=lambda pair: (len(pair[1].not_understood), -_weight(pair[1])))
    return QuickPiece(text, kind, reading, reading.understood, reading.not_understood)


def _has_head(kind: str, text: str) -> bool:
    """Kinds whose figures others share (W, V, a bare size) need a word that names them."""
    return kind not in HEADS or re.search(HEADS[kind], text, re.IGNORECASE) is not None


def _says(reading: Reading) -> bool:
    return any(said for _, said in reading.understood)


def _weight(reading: Reading) -> int:
    return sum(len(said) for _, said in reading.understood)


def _bare_module_too_large(reading: Reading) -> bool:
    bare = isinstance(reading, ModuleLabel) and reading.generation is None and reading.form is None
    return bare and isinstance(reading, ModuleLabel) and (reading.size_mib or 0) > LARGEST_MODULE_MIB


def _joined(pieces: list[QuickPiece]) -> list[QuickPiece]:
    """Unread words side by side as one piece."""
    out: list[QuickPiece] = []
    for piece in pieces:
        if out and not piece.kind and not out[-1].kind:
            last = out.pop()
            piece = QuickPiece(f"{last.text} {piece.text}", "", None, (), (*last.not_understood, *piece.not_understood))
        if piece.kind or piece.not_understood:
            out.append(piece)
    return out
