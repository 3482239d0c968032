"""Candidates for a place, grouped by the decision they ask for: works now, limited, needs something, find out, no."""

from __future__ import annotations

from brachium.core.base.spoken import say
from brachium.core.base.text import many, phrase
from brachium.core.base.why import Because
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text, lines_of_text
from brachium.core.figures.base.text_width import text_width, wrapped
from brachium.core.figures.base.verdict_shape import ROLE, verdict_shape
from brachium.core.fit.verdict import Level

LINE, SMALL, HEAD = 15.0, 13.0, 22.0
NAME_X = 40.0
FOLD = "refused"  # the region that shows or hides what cannot go here
HEADS = {
    Level.FITS: "Works now", Level.LIMITED: "Works, limited", Level.NEEDS_FIRST: "Needs something first",
    Level.NOT_KNOWN: "Find out one thing", Level.REFUSED: "Cannot go here",
}  # fmt: skip
CandidateRow = tuple[str, str, str, str, Level, bool, Because | None]


def candidate_list(rows: tuple[CandidateRow, ...], width: float, unfolded: bool = False) -> Drawing:
    """One row per candidate, best verdict first; a planned one has a cool edge. What cannot go here stands behind a
    count, unless it is planned, nothing else is there, or it is `unfolded`."""
    refused = tuple(r for r in rows if r[4] is Level.REFUSED and not r[5])
    others = tuple(r for r in rows if r not in refused)
    sketch = Sketch(width, 0)
    y = _rows(sketch, others or refused, 0.0, width)
    if refused and others:
        y = _fold(sketch, len(refused), y, width, unfolded)
        if unfolded:
            y = _rows(sketch, refused, y, width, heads=False)
    if not rows:
        sketch.add(Text(8, 24, "The catalogue has nothing that goes in here.", "soft", 13))
    sketch.height = max(y, 2 * HEAD)
    return sketch.done("Candidates", "for the chosen slot, best verdict first")


def _rows(sketch: Sketch, rows: tuple[CandidateRow, ...], y: float, width: float, heads: bool = True) -> float:
    """Rows from y down, with a heading where the decision changes; where they end."""
    level: Level | None = None
    for row in rows:
        if heads and row[4] is not level:
            y = _head(sketch, HEADS[row[4]], y)
        level = row[4]
        y = _row(sketch, row, y, width)
    return y


def _head(sketch: Sketch, words: str, y: float) -> float:
    sketch.add(Text(0, y + 15, words, "soft", 11, 500))
    return y + HEAD


def _fold(sketch: Sketch, count: int, y: float, width: float, open_: bool) -> float:
    words = phrase("{parts} that cannot go here: {which}", parts=many(count, "part"), which="hide" if open_ else "show")
    sketch.add(Text(0, y + 17, words, "cool", 12, 500))
    sketch.regions.append(Region(FOLD, 0, y + 1, width, HEAD, words))
    return y + HEAD + 2


def _row(sketch: Sketch, row: CandidateRow, y: float, width: float) -> float:
    """One candidate; its name and its sentence take the lines they need. Where it ends."""
    key, title, sentence, price, level, chosen, because = row
    names = wrapped(title, width - NAME_X - text_width(price, 13, 600, True) - 16, 13, 500)
    words = say(sentence)
    said = wrapped(words, width - NAME_X - 6, 12, 400, True)
    tall = 8.0 + LINE * len(names) + SMALL * len(said)
    if chosen:
        sketch.add(Box(0, y + 1, width, tall - 2, "", "cool_wash"), Box(0, y + 1, 3, tall - 2, "", "cool"))
    sketch.add(Line(0, y + tall, width, y + tall, "grid"))
    sketch.extend(verdict_shape(level, 10, y + 8, 20))
    role = ROLE[level] if level > Level.LIMITED else "soft"
    sketch.add(*lines_of_text(names, Text(NAME_X, y + 16, "", "ink", 13, 500), LINE))
    sketch.add(Text(width - 6, y + 16, price, "ink", 13, 600, "end", True))
    first = Text(NAME_X, y + 14 + LINE * len(names), "", role, 12, condensed=True)
    sketch.add(*lines_of_text(said, first, SMALL))
    label = phrase(
        "{title}, {level}: {sentence}, {price}", title=title, level=level.words, sentence=sentence, price=price
    ) + (", planned" if chosen else "")
    sketch.regions.append(Region(key, 0, y + 1, width, tall - 2, label, because))
    return y + tall
