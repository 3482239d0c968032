"""What the machine waited for, one bar for each phase or test, and the limiter in words."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import joined, phrase
from brachium.core.base.units import percent, plain_seconds
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Drawing, Hatch, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.base.writing import Face, write
from brachium.core.measure.waiting import KEYS, TITLES, Limit

ROW, KEY_H = 50.0, 26.0
NAME_W = 150.0
LEAST = 0.015
FILLS = {
    "processor": ("ink", "ink"), "held": ("warm", ""), "thread": ("ink", "hair"), "paging": ("warm", "warm"),
    "storage": ("warm", "warm_wash"), "graphics": ("cool", "cool"), "free": ("hair", ""),
}  # fmt: skip
NAMES = {"load": "Sustained load", "test own_task": "Owner's task", "test start_up": "Start-up",
         "test cpu_all": "All threads, short", "test cpu_single": "Single thread"}  # fmt: skip


def limit_bars(limits: Sequence[Limit], width: float) -> Drawing:
    """Bars of equal length: shares of the time, not its length."""
    sketch = Sketch(width, 0)
    _key(sketch, {k for x in limits for k in KEYS if x.shares[k] >= LEAST})
    y = KEY_H
    for limit in limits:
        y = _row(sketch, limit, y, width)
    if not limits:
        sketch.add(Text(0, y + 20, "No utilisation was sampled, so nothing can be shared out.", "soft", 13))
        y += ROW
    sketch.height = y + 6
    return sketch.done("Limits", "what the machine waited for in each phase and test")


def limit_name(name: str) -> str:
    """A phase or test as people call it."""
    return NAMES.get(name, name.removeprefix("test ").replace("_", " ").capitalize())


def _key(sketch: Sketch, used: set[str]) -> None:
    x = NAME_W
    for key in KEYS:
        if key in used:
            _block(sketch, key, x, 4, 16, 11)
            sketch.add(Text(x + 21, 14, TITLES[key], "soft", 11, condensed=True))
            x += 30 + text_width(TITLES[key], 11, condensed=True)


def _block(sketch: Sketch, key: str, x: float, y: float, w: float, h: float) -> None:
    role, fill = FILLS[key]
    if key == "held":
        sketch.add(Hatch(x, y, w, h, "warm", 5.0))
    sketch.add(Box(x, y, w, h, role, fill, 1.0))


def _row(sketch: Sketch, limit: Limit, y: float, width: float) -> float:
    bar, name = width - NAME_W - 4, limit_name(limit.name)
    end = write(sketch, 0, y + 5, NAME_W - 10, name, Face(13, 600))
    end = write(sketch, 0, end, NAME_W - 10, plain_seconds(limit.duration_s), Face(11, role="soft", condensed=True))
    x = NAME_W
    for key in KEYS:
        part = bar * limit.shares[key]
        if limit.shares[key] >= LEAST:
            _block(sketch, key, x, y + 5, part, 18)
            if part > 34:
                ink = "on_cool" if key == "graphics" else "sheet" if key in ("processor", "paging") else "ink"
                if key != "held":
                    sketch.add(Text(x + part / 2, y + 18, percent(limit.shares[key]), ink, 11, 600, "middle", True))
        x += part
    end = max(end, write(sketch, NAME_W, y + 27, bar, limit.words, Face(12, role="soft"))) + 6
    sketch.add(Line(0, end, width, end, "grid"))
    facts = tuple(
        Fact(TITLES[k], percent(limit.shares[k], 1), Origin.MEASURED) for k in KEYS if limit.shares[k] > 0.001
    )
    blind = phrase(" Not sampled: {blind}.", blind=joined(", ", limit.blind)) if limit.blind else ""
    because = Because(
        phrase("{name}: {limit}", name=name, limit=limit.words), "shares of time",
        phrase("Every sample is shared out: waiting for storage first, then what the processor did in the rest; a "
"lowered clock counts as time lost.{blind}", blind=blind), facts,
        TITLES[limit.limiter], "Graphics, stalls and clock sampled as well.",
    )  # fmt: skip
    label = phrase("{name}: {limit}", name=name, limit=limit.words)
    sketch.regions.append(Region(f"limit:{limit.name}", 0, y + 1, width, end - y - 2, label, because))
    return end
