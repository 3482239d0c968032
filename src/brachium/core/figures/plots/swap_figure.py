"""Swap grid: modules against places, what was tried, what it proves, what to try next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.swap_grid import Axis, GridState
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text, lines_of_text
from brachium.core.figures.base.text_width import fitting_size, wrapped
from brachium.core.figures.base.writing import Face, write
from brachium.core.record.checks import SwapTry

LEFT, TOP = 150.0, 44.0
CELL_H = 46.0


def swap_figure(
    axes: Sequence[Axis], names: Mapping[str, str], state: GridState, tries: Sequence[SwapTry], width: float,
    picked: Sequence[tuple[str, ...]] = (),
) -> Drawing:  # fmt: skip
    """Rows are the first axis, columns the second. Dashed = put here next; marks count the tries of a cell."""
    rows, columns = axes[0], axes[1]
    cell_w = min((width - LEFT) / max(len(columns.ids), 1), 150.0)
    sketch = Sketch(width, TOP + CELL_H * len(rows.ids) + 26)
    suspects = {e for h in state.left for e in h}
    sketch.add(Text(0, 30, rows.title, "soft", 11, condensed=True))
    for k, column in enumerate(columns.ids):
        x = LEFT + k * cell_w
        _head(sketch, names.get(column, column), x, cell_w, column in suspects, column in state.proven)
    for r, row in enumerate(rows.ids):
        y = TOP + r * CELL_H
        role = "alarm" if row in state.proven else "ink" if row in suspects else "soft"
        end = write(sketch, 0, y + 4, LEFT - 10, names.get(row, row), Face(12, 500, role, True))
        word = _word(row, state, suspects)
        sketch.add(Text(0, end + 11, word, role if role != "ink" else "warm", 11, condensed=True))
        for k, column in enumerate(columns.ids):
            _cell(sketch, row, column, LEFT + k * cell_w, y, cell_w, state, tries, picked, names)
    return sketch.done(
        "Swap grid", phrase("{count} tries, {count2} possibilities left", count=len(tries), count2=len(state.left))
    )


def _word(element: str, state: GridState, suspects: set[str]) -> str:
    if element in state.proven:
        return "at fault"
    return "possible" if element in suspects else "cleared"


def _head(sketch: Sketch, name: str, x: float, w: float, suspect: bool, proven: bool) -> None:
    role = "alarm" if proven else "ink" if suspect else "soft"
    size = fitting_size(name, w - 6, (13.0, 12.0, 11.0, 10.0, 9.0), 500, True)
    lines = wrapped(name, w - 6, size, 500, True)[:2]
    sketch.add(*lines_of_text(lines, Text(x + w / 2, 20 - 6 * len(lines), "", role, size, 500, "middle", True), 12.0))
    word = "at fault" if proven else "possible" if suspect else "cleared"
    sketch.add(Text(x + w / 2, 32, word, "warm" if role == "ink" else role, 11, anchor="middle", condensed=True))


def _cell(
    sketch: Sketch, row: str, column: str, x: float, y: float, w: float, state: GridState, tries: Sequence[SwapTry],
    picked: Sequence[tuple[str, ...]], names: Mapping[str, str],
) -> None:  # fmt: skip
    here = [(k, t) for k, t in enumerate(tries, 1) if _takes_part(row, column, t.rows)]
    sketch.add(Box(x + 2, y + 2, w - 4, CELL_H - 5, "hair", "sheet", 1.0, 2))
    if _takes_part(row, column, picked or state.proposal):
        sketch.add(Box(x + 5, y + 5, w - 10, CELL_H - 11, "cool", "cool_wash", 1.6, 2, (5.0, 3.0)))
        sketch.add(Text(x + w / 2, y + CELL_H - 12, "try here", "cool", 11, 600, "middle", True))
    for k, (_, tried) in enumerate(here[:5]):
        _outcome(sketch, tried.worked, x + 14 + k * 16, y)
    words = joined(", ", (_said(t) for _, t in here)) or "not tried"
    title = phrase("{names} in {names2}", names=names.get(row, row), names2=names.get(column, column))
    because = Because(
        title,
        "swap grid",
        "A try fails exactly if something faulty takes part; a cell that worked clears both.",
        tuple(Fact(phrase("try {k}", k=k), _said(t), Origin.LOGGED) for k, t in here),
        phrase("{count} possibilities left", count=len(state.left)),
        "The next try is the one that needs the fewest tries on average.",
    )
    sketch.regions.append(
        Region(
            f"cell:{row}|{column}",
            x + 2,
            y + 2,
            w - 4,
            CELL_H - 5,
            phrase("{title}: {words}", title=title, words=words),
            because,
        )
    )


def _takes_part(row: str, column: str, rows: Sequence[tuple[str, ...]]) -> bool:
    return any(row in one and column in one for one in rows)


def _said(tried: SwapTry) -> str:
    return "worked" if tried.worked else "failed"


def _outcome(sketch: Sketch, worked: bool, at: float, y: float) -> None:
    if worked:
        sketch.add(Dot(at, y + 15, 5, "cool", "cool"))
    else:
        sketch.add(
            Line(at - 5, y + 10, at + 5, y + 20, "alarm", 2.0), Line(at - 5, y + 20, at + 5, y + 10, "alarm", 2.0)
        )
