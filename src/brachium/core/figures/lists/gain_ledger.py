"""Gain ledger: per test the ratio with its 95 % interval on a logarithmic axis, sorted, words at the right."""

from __future__ import annotations

import math

from brachium.core.base.spoken import say
from brachium.core.base.text import Text as Phrase
from brachium.core.base.text import phrase
from brachium.core.base.units import number
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.scale import Scale
from brachium.core.measure.assumptions import EQUIVALENCE_MARGIN
from brachium.core.measure.statistics import Word
from brachium.core.prove.comparison import Gain
from brachium.core.prove.gain_words import gain_band, is_level

NAME_W, WORD_W, FOOT = 226.0, 300.0, 22.0
BRIEF = 24
_BRIEFLY = {
    "no difference above {bound:.1f} %": "none above {bound:.1f} %",
    "no difference above {log10:.1f} {unit}": "none above {log10:.1f} {unit}",
}
LONGEST = 46  # letters that fit the column of words
_TICKS = (0.25, 0.5, 0.8, 1.0, 1.25, 1.5, 2.0, 3.0, 5.0, 10.0, 30.0, 100.0, 300.0, 1000.0)


def gain_ledger(gains: tuple[Gain, ...], width: float, row: float = 28.0) -> Drawing:
    """One row per test, the largest gain first; excluded tests last with their reason."""
    ordered = sorted(gains, key=lambda g: (g.result is None, -(g.result.ratio if g.result else 0.0)))
    height = row * len(ordered) + FOOT
    sketch = Sketch(width, height)
    results = [g.result for g in ordered if g.result is not None and not is_level(g.test)]
    low = min([0.9, *(r.low for r in results)]) * 0.97
    high = max([1.3, *(r.high for r in results)]) * 1.05
    scale = Scale(low, high, NAME_W, width - WORD_W, log=True)
    bottom = row * len(ordered)
    band = scale(1 - EQUIVALENCE_MARGIN), scale(1 + EQUIVALENCE_MARGIN)
    sketch.add(Box(band[0], 0, band[1] - band[0], bottom, "", "grid"))
    _axis(sketch, scale, bottom)
    for index, gain in enumerate(ordered):
        _row(sketch, gain, scale, index * row, row, width)
    return sketch.done("Gain per test", "ratio after / before in the better direction, 95 % interval")


def _axis(sketch: Sketch, scale: Scale, bottom: float) -> None:
    last = -math.inf
    for tick in _TICKS:
        if not scale.low <= tick <= scale.high:
            continue
        x = scale(tick)
        if x - last < 34 and tick != 1.0:
            continue
        last = x
        sketch.add(Line(x, 0, x, bottom, "ink" if tick == 1.0 else "grid", 1.2 if tick == 1.0 else 1.0))
        sketch.add(Text(x, bottom + 15, phrase("× {tick:g}", tick=tick), "soft", 11, anchor="middle", condensed=True))


def _row(sketch: Sketch, gain: Gain, scale: Scale, top: float, row: float, width: float) -> None:
    middle = top + row / 2
    sketch.add(Text(6, middle + 4, gain.test.title, "ink", 13, 500))
    sketch.add(Line(0, top + row, width, top + row, "grid"))
    right = width - WORD_W
    if gain.result is None:
        reason = say(gain.excluded).partition(":")[0].rstrip()  # the figures of both sides stand in Because
        words = phrase("not compared: {reason}", reason=reason)
        words = say(words)
        words = words if len(words) <= LONGEST else f"{words[:LONGEST]}…"
        sketch.add(Text(right + 16, middle + 4, words, "soft", 12, condensed=True))
    else:
        result = gain.result
        plain = gain.judgement.word in (Word.SAME, Word.CANNOT_TELL)
        role = "soft" if plain else "cool" if gain.judgement.word is Word.BETTER else "alarm"
        if not is_level(gain.test):  # a level has no place on an axis of ratios
            sketch.add(Line(scale(result.low), middle, scale(result.high), middle, role, 2.0))
            sketch.add(Dot(scale(result.ratio), middle, 4.5, role, "film" if plain else role, 1.6))
        figures = phrase(
            "{before}, then {after} {test}", before=number(gain.before), after=number(gain.after), test=gain.test.unit
        )
        sketch.add(Text(right + 16, middle + 4, figures, "soft", 12, condensed=True))
        word = gain.judgement.sentence if plain else gain_band(gain.test, result)
        size, weight = (12, 400) if plain else (13, 600)
        sketch.add(Text(width - 8, middle + 4, _short(word), role, size, weight, "end", True))
    sketch.regions.append(Region(f"gain:{gain.test.key}", 0, top, width, row, gain.because.title, gain.because))


def _short(word: str) -> str:
    """The same in fewer words where it is long."""
    if len(word) <= BRIEF or not isinstance(word, Phrase):
        return word
    if word.template == "cannot tell: {what_would}":
        return str(word.values["what_would"])
    return Phrase(_BRIEFLY[word.template], word.values) if word.template in _BRIEFLY else word
