"""A gain in words: a ratio with its interval; levels in decibel and temperatures are differences, never ratios."""

from __future__ import annotations

from math import log10

from brachium.core.base.text import phrase
from brachium.core.base.units import ratio_band
from brachium.core.measure.run import TestSpec
from brachium.core.measure.statistics import RatioResult

TEMPERATURE = "°C"


def is_level(test: TestSpec) -> bool:
    """Whether its results are levels (dB, dB(A)) or temperatures, which compare by their difference."""
    return test.unit.startswith("dB") or test.unit == TEMPERATURE


def level_unit(test: TestSpec) -> str:
    """Unit of the difference."""
    return "K" if test.unit == TEMPERATURE else "dB"


def level_db(ratio: float) -> float:
    """The difference of two levels whose powers have a ratio [dB]; of temperatures, likewise carried [K]."""
    return 10.0 * log10(ratio)


def gain_band(test: TestSpec, result: RatioResult) -> str:
    """`× 1.20 (1.17 to 1.23)`, of a level `6.0 dB quieter (5.1 to 6.9)`."""
    if not is_level(test):
        return ratio_band(result.low, result.ratio, result.high)
    middle = level_db(result.ratio)
    ends = sorted((level_db(result.low), level_db(result.high)), key=lambda e: e * middle)
    low, high = (e if middle >= 0.0 else -e for e in ends)
    return phrase(
        "{middle:.1f} {level_unit} {level_word} ({low:.1f} to {high:.1f})",
        middle=abs(middle),
        level_unit=level_unit(test),
        level_word=level_word(test, middle),
        low=low,
        high=high,
    )


def level_word(test: TestSpec, better_db: float) -> str:
    """What a level that changed in the direction of better, or worse (negative), is called."""
    if test.unit == TEMPERATURE:
        return "cooler" if (better_db >= 0.0) is not test.higher_is_better else "warmer"
    if test.higher_is_better:
        return "more" if better_db >= 0.0 else "less"
    return "quieter" if better_db >= 0.0 else "louder"
