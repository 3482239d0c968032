"""Candidates for a place: verdict shape, title, the sentence that decides, price."""

from __future__ import annotations

from brachium.core.base.why import Because
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text, text_width
from brachium.core.figures.base.verdict_shape import ROLE, verdict_shape
from brachium.core.fit.verdict import Level

ROW = 52.0
CandidateRow = tuple[str, str, str, str, Level, bool, Because | None]


def candidate_list(rows: tuple[CandidateRow, ...], width: float) -> Drawing:
    """One row per candidate, best verdict first; a planned one has a cool edge."""
    sketch = Sketch(width, ROW * max(len(rows), 1))
    for index, (key, title, sentence, price, level, chosen, because) in enumerate(rows):
        y = index * ROW
        if chosen:
            sketch.add(Box(0, y + 1, width, ROW - 2, "", "cool_wash"), Box(0, y + 1, 3, ROW - 2, "", "cool"))
        sketch.add(Line(0, y + ROW, width, y + ROW, "grid"))
        sketch.extend(verdict_shape(level, 10, y + 14, 24))
        room = width - 44 - text_width(price, 13, 600) - 12
        sketch.add(Text(44, y + 22, clipped(title, room, 13, 500), "ink", 13, 500))
        sketch.add(Text(width - 6, y + 22, price, "ink", 13, 600, "end", True))
        words = sentence if level is not Level.NOT_KNOWN else f"not known: {sentence}"
        sketch.add(
            Text(44, y + 40, clipped(words, width - 50, 12, 400), ROLE[level] if level > Level.LIMITED else "soft", 12)
        )
        label = f"{title}, {level.words}: {sentence}, {price}" + (", planned" if chosen else "")
        sketch.regions.append(Region(key, 0, y + 1, width, ROW - 2, label, because))
    if not rows:
        sketch.add(Text(8, 24, "The catalogue has nothing for this place.", "soft", 13))
    return sketch.done("Candidates", "for the chosen place, best verdict first")


def clipped(text: str, room: float, size: float, weight: int) -> str:
    """The text, shortened with an ellipsis where it would not fit."""
    if text_width(text, size, weight) <= room:
        return text
    while text and text_width(f"{text}…", size, weight) > room:
        text = text[:-1]
    return f"{text.rstrip()}…"
