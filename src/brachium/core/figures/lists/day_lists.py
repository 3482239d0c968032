"""Lists below the day sheet: the day in its order, what to get ready, who comes, how full each day of the week is."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.writing import Face, write

TIME_W, NAME = 44.0, Face(12, 600)
SAYS, SOFT = Face(12), Face(12, role="soft")
WEEK_H = 44.0


def order_list(rows: Sequence[tuple[str, str, str, str]], width: float) -> Drawing:
    """Rows of (block id, time, machine, what); a row is chosen as its block is."""
    sketch = Sketch(width, 0)
    y = 0.0
    for key, time, name, what in rows:
        sketch.add(Text(0, y + 15, time, "soft", 12))
        end = write(sketch, TIME_W, y + 4, width - TIME_W, name, NAME)
        end = write(sketch, TIME_W, end, width - TIME_W, what, SOFT) + 4
        sketch.add(Line(0, end, width, end, "grid"))
        sketch.regions.append(
            Region(key, 0, y + 1, width, end - y - 2, phrase("{time} {name}: {what}", time=time, name=name, what=what))
        )
        y = end
    if not rows:
        y = write(sketch, 0, 4, width, "No hands-on work this day.", SOFT) + 6
    sketch.height = max(y, 24.0)
    return sketch.done("The day in order", "from the first block to the last")


def pairs_list(rows: Sequence[tuple[str, str, str]], empty: str, title: str, width: float) -> Drawing:
    """Rows of three: a name, what, and where or when at the right."""
    sketch = Sketch(width, 0)
    y = 0.0
    for first, second, third in rows:
        room = width - SOFT.width(third) - 12
        end = write(sketch, 0, y + 4, room, second, NAME)
        end = write(sketch, 0, end, room, first, SOFT) + 4
        sketch.add(Text(width, y + 15, third, "soft", 12, anchor="end"), Line(0, end, width, end, "grid"))
        sketch.regions.append(
            Region(
                f"row:{first}:{second}",
                0,
                y + 1,
                width,
                end - y - 2,
                phrase("{second}, {first}, {third}", second=second, first=first, third=third),
            )
        )
        y = end
    if not rows:
        y = write(sketch, 0, 4, width, empty, SOFT) + 6
    sketch.height = max(y, 24.0)
    return sketch.done(title, empty if not rows else phrase("{count} rows", count=len(rows)))


def week_strip(days: Sequence[tuple[int, str, float]], shown: int, width: float) -> Drawing:
    """Days as (number, name, share of the hands-on minutes that is taken); the one in view is marked."""
    sketch = Sketch(width, WEEK_H)
    each = min(width / max(len(days), 1), 132.0)
    for k, (number, name, share) in enumerate(days):
        x, w = k * each, each - 10
        chosen = number == shown
        sketch.add(Text(x, 13, name, "ink" if chosen else "soft", 12, 600 if chosen else 400))
        sketch.add(Box(x, 20, w, 10, "cool" if chosen else "hair", "", 1.4 if chosen else 1.0))
        full = "warm" if share > 1.0 else "cool"
        sketch.add(Box(x + 2, 22, max((w - 4) * min(share, 1.0), 0.0), 6, "", full))
        sketch.add(Text(x + w, 13, percent(share), "warm" if share > 1.0 else "soft", 11, anchor="end", condensed=True))
        label = phrase("{name}: {share} of the hands-on time", name=name, share=percent(share))
        sketch.regions.append(Region(f"day:{number}", x, 0, w, WEEK_H - 4, label))
    return sketch.done("The week", "how much of the hands-on time is taken")
