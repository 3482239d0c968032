"""What a protocol will do, before it is done: load over time of each session with lengths; and what it can prove."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.core.base.text import many, phrase
from brachium.core.base.units import minutes, percent, plain_seconds
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Drawing, Line, Region, Sketch, Text, dimension, path
from brachium.core.figures.plots.repeats import short_title
from brachium.core.measure.run import Protocol, TestSpec
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import smallest_provable

LEFT, RIGHT = 8.0, 10.0
BAND = 124.0
STEP_H = 46.0
ROW, MANY, DENSE_ROW = 34.0, 12, 16.0  # with more rows than MANY they stand close


def protocol_plan(protocol: Protocol, test_count: int, width: float) -> Drawing:
    """One band a session: calm, load, cool-down, short tests; the machine's load as a line, lengths as dimensions."""
    sketch = Sketch(width, BAND * protocol.sessions + 4.0)
    phases = [(p.name, p.duration_s) for p in protocol.phases]
    tests_s = test_count * protocol.repeats * (protocol.test_s + 3.0)
    total = sum(d for _, d in phases) + tests_s
    scale = (width - LEFT - RIGHT) / total
    for number in range(protocol.sessions):
        top = number * BAND
        if number:
            sketch.add(Text(LEFT, top + 8, "restart the machine", "soft", 12, 500))
            sketch.add(Line(LEFT + 118, top + 4, width - RIGHT, top + 4, "hair", 1.0, (4.0, 4.0)))
        _band(sketch, phases, tests_s, protocol, top + (32 if number else 10), scale)
    return sketch.done(
        "What the run will do",
        phrase("{sessions} sessions, {total} each", sessions=protocol.sessions, total=minutes(total / 60)),
    )


def _band(
    sketch: Sketch, phases: Sequence[tuple[str, float]], tests_s: float, protocol: Protocol, top: float, scale: float
) -> None:
    base, full = top + 18 + STEP_H, top + 18
    corners = [(LEFT, base)]
    x = LEFT
    for name, duration in phases:
        end = x + duration * scale
        if name == "load":
            corners += [(x, base), (x, full), (end, full), (end, base)]
        _part(sketch, name, plain_seconds(duration), x, end, top)
        x = end
    one = tests_s / max(round(tests_s / (protocol.test_s + 3.0)), 1) * scale
    while x + one <= LEFT + (sum(d for _, d in phases) + tests_s) * scale + 0.5 and one > 1.0:
        busy = one * protocol.test_s / (protocol.test_s + 3.0)
        corners += [(x, base), (x, base - 0.7 * STEP_H), (x + busy, base - 0.7 * STEP_H), (x + busy, base)]
        x += one
    end = LEFT + (sum(d for _, d in phases) + tests_s) * scale
    _part(
        sketch,
        phrase("tests, {repeats} repeats", repeats=protocol.repeats),
        plain_seconds(tests_s),
        end - tests_s * scale,
        end,
        top,
    )
    corners.append((end, base))
    sketch.add(path(*corners, role="warm", width=1.4))


def _part(sketch: Sketch, name: str, length: str, x1: float, x2: float, top: float) -> None:
    sketch.extend(dimension(x1, x2, top + 10))
    middle = (x1 + x2) / 2
    if x2 - x1 > 5.4 * len(name):
        sketch.add(Text(middle, top + 3, name, "ink", 12, 500, "middle"))
    if x2 - x1 > 6.0 * len(length):
        sketch.add(Text(middle, top + 18 + STEP_H + 16, length, "soft", 11, anchor="middle", condensed=True))


def provable_list(
    tests: Sequence[TestSpec], protocol: Protocol, spreads: Mapping[str, Spread], offered: Sequence[str], width: float
) -> Drawing:
    """The smallest gain of every test that this protocol proves 8 times in 10, and what that rests on."""
    rows = [t for t in tests if t.key in protocol.tests]
    row, size, foot = (DENSE_ROW, 12, 12) if len(rows) > MANY else (ROW, 13, 22)
    sketch = Sketch(width, row * max(len(rows), 1))
    for index, test in enumerate(rows):
        y = index * row
        here = test.key in offered
        sketch.add(Line(0, y + row, width, y + row, "grid"))
        sketch.add(Text(6, y + foot, short_title(test.title), "ink" if here else "soft", size, 500 if here else 400))
        if not here:
            sketch.add(Text(width - 8, y + foot, "not measured here", "soft", 12, 400, "end"))
            continue
        spread = spreads[test.key]
        gain = smallest_provable(spread, protocol.sessions, protocol.repeats)
        sketch.add(Text(width - 8, y + foot, phrase("from {gain} on", gain=percent(gain, 1)), "cool", size, 600, "end"))
        because = provable_because(test, protocol, spread, gain)
        sketch.regions.append(Region(f"provable:{test.key}", 0, y, width, row, because.title, because))
    return sketch.done("Smallest provable gain", "per test, with this protocol before and after")


def _instead(protocol: Protocol, spread: Spread) -> tuple[Fact, ...]:
    """What one more session, or two more repeats, would prove: the advice that the power calculation gives."""
    s, r = protocol.sessions, protocol.repeats
    return tuple(
        Fact(
            phrase("{sessions} of {b}", sessions=many(a, "session"), b=b),
            phrase("from {smallest_provable}", smallest_provable=percent(smallest_provable(spread, a, b), 1)),
            Origin.COMPUTED,
        )
        for a, b in ((s + 1, r), (s, r + 2))
    )


def provable_because(test: TestSpec, protocol: Protocol, spread: Spread, gain: float) -> Because:
    """Why a test can prove a gain only from some size on."""
    learned = Origin.ASSUMED if spread.is_stated else Origin.LOGGED
    return Because(
        phrase("{test}: proves a gain from {gain} on", test=test.title, gain=percent(gain, 1)),
        "power of the comparison",
        "Repeats of one session share its offset, so a second session is worth more than many repeats. A gain of this "
        "size is proven 8 times in 10.",
        (
            Fact("sessions", str(protocol.sessions), Origin.PLANNED),
            Fact("repeats in each", str(protocol.repeats), Origin.PLANNED),
            Fact("between sessions", percent(spread.between, 1), learned),
            Fact("within a session", percent(spread.within, 1), learned),
            Fact("learned from", spread.source, learned),
            *_instead(protocol, spread),
        ),
        phrase("smallest provable gain {gain}", gain=percent(gain, 1)),
        "More sessions, before and after; the shop's own history as it grows.",
    )
