"""Texts that take the lines they need: a figure's rows grow, nothing in them is cut."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.figures.base.drawing import Sketch, Text
from brachium.core.figures.base.text_width import text_width, wrapped


@dataclass(frozen=True)
class Face:
    """How a text is set: size [px], weight, colour role, narrow family or not."""

    size: float = 13.0
    weight: int = 400
    role: str = "ink"
    condensed: bool = False

    @property
    def step(self) -> float:
        """From one line to the next [px]."""
        return round(1.22 * self.size)

    def width(self, text: str) -> float:
        """Of one line [px]."""
        return text_width(text, self.size, self.weight, self.condensed)

    def lines(self, text: str, room: float) -> int:
        """How many lines it takes in this room [px]."""
        return len(wrapped(text, room, self.size, self.weight, self.condensed))


def write(sketch: Sketch, x: float, y: float, room: float, text: str, face: Face, anchor: str = "start") -> float:
    """Write a text into a column whose first line begins at y [px] from the top; where its last line ends."""
    for k, line in enumerate(wrapped(text, room, face.size, face.weight, face.condensed)):
        base = y + k * face.step + 0.95 * face.size
        sketch.add(Text(x, base, line, face.role, face.size, face.weight, anchor, face.condensed))
    return y + face.step * face.lines(text, room)
