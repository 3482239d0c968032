"""Gains of any number of configurations: a row a test, a numbered point a configuration with its 95 % interval."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.scale import Scale
from brachium.core.measure.assumptions import EQUIVALENCE_MARGIN
from brachium.core.measure.run import TestSpec
from brachium.core.measure.statistics import RatioResult
from brachium.core.prove.comparison import Gain
from brachium.core.prove.gain_words import gain_band
from brachium.core.prove.series import ConfigurationSeries

NAME_W, RIGHT, STEP, HEAD, FOOT = 226.0, 20.0, 15.0, 8.0, 24.0
_TICKS = (0.25, 0.5, 0.8, 1.0, 1.25, 1.5, 2.0, 3.0, 5.0, 10.0, 30.0, 100.0, 300.0, 1000.0)


def series_ledger(series: ConfigurationSeries, width: float) -> Drawing:
    """The first configuration is the line at 1; the last one is solid, those between are hollow."""
    row = STEP * len(series.comparisons) + 10.0
    tests = [t for t in series.tests if any(g is not None and g.result is not None for g in series.gains(t.key))]
    sketch = Sketch(width, HEAD + row * max(len(tests), 1) + FOOT)
    across = _scale(series, tests, width)
    bottom = HEAD + row * len(tests)
    edges = across(1 - EQUIVALENCE_MARGIN), across(1 + EQUIVALENCE_MARGIN)
    sketch.add(Box(edges[0], 0, edges[1] - edges[0], bottom, "", "grid"))
    _ticks(sketch, across, bottom)
    for k, test in enumerate(tests):
        top = HEAD + k * row
        sketch.add(Text(6, top + row / 2 + 4, test.title, "ink", 13, 500))
        sketch.add(Line(0, top + row, width, top + row, "grid"))
        for number, gain in enumerate(series.gains(test.key)):
            if gain is not None and gain.result is not None:
                final = number == len(series.comparisons) - 1
                _gain(sketch, across, gain, gain.result, number, top + 5 + STEP * number + STEP / 2, final)
    return sketch.done("Gain of each configuration", "against the first one, 95 % interval; numbered in time order")


def _scale(series: ConfigurationSeries, tests: Sequence[TestSpec], width: float) -> Scale:
    results = [g.result for t in tests for g in series.gains(t.key) if g is not None and g.result is not None]
    low = min([0.9, *(r.low for r in results)]) * 0.97
    high = max([1.3, *(r.high for r in results)]) * 1.05
    return Scale(low, high, NAME_W, width - RIGHT, log=True)


def _ticks(sketch: Sketch, across: Scale, bottom: float) -> None:
    """Those that lie within the scale and far enough from the one before."""
    last = -100.0
    for tick in _TICKS:
        x = across(tick) if across.low <= tick <= across.high else last
        if x - last >= 36:
            last = x
            sketch.add(Line(x, 0, x, bottom, "ink" if tick == 1.0 else "grid", 1.2 if tick == 1.0 else 1.0))
            sketch.add(
                Text(x, bottom + 16, phrase("× {tick:g}", tick=tick), "soft", 11, anchor="middle", condensed=True)
            )


def _gain(sketch: Sketch, across: Scale, gain: Gain, result: RatioResult, number: int, y: float, final: bool) -> None:
    """One configuration's gain of a test with its interval."""
    role = "cool" if final else "ink"
    low, high = across(result.low), across(result.high)
    sketch.add(Line(low, y, high, y, role, 1.2))
    sketch.add(Dot(across(result.ratio), y, 4.0, role, role if final else "sheet", 1.4))
    sketch.add(Text(NAME_W - 10, y + 4, str(number + 2), role, 11, 600, "end"))
    label = phrase(
        "{number}, {test}: {gain_band}", number=number + 2, test=gain.test.title, gain_band=gain_band(gain.test, result)
    )
    region = Region(f"series:{gain.test.key}:{number}", low - 6, y - 7, high - low + 12, 14, label, gain.because)
    sketch.regions.append(region)
