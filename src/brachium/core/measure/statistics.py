"""Two runs' results compared: the ratio with its intervals, the word for it, and what more measuring would tell.

The model is that of `session_model.py`: log result = configuration + session + repeat, with neither spread known.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.text import counted, phrase
from brachium.core.measure.assumptions import EQUIVALENCE_MARGIN
from brachium.core.measure.session_model import difference, level
from brachium.core.measure.spread import Spread

ALPHA = 0.05
ENDS = (ALPHA / 2, 1 - ALPHA / 2, ALPHA, 1 - ALPHA)  # of the 95 % and the 90 % interval
MAX_SESSIONS = 6
POWER_REACH = 0.8416  # of a standard normal: 8 times in 10


class Word(StrEnum):
    BETTER = "better"
    WORSE = "worse"
    SAME = "no difference"
    CANNOT_TELL = "cannot tell"


@dataclass(frozen=True)
class RatioResult:
    """Gain of a test as after/before in the direction of better, with 95 % and 90 % intervals and two-sided p.

    `between` and `within` are the spreads as these runs and what was learned before them leave them; `source` says what
    it was learned from.
    """

    ratio: float
    low: float
    high: float
    low90: float
    high90: float
    p_value: float
    between: float
    within: float
    sessions: tuple[int, int]
    repeats: tuple[int, int]
    source: str = ""


@dataclass(frozen=True)
class Judgement:
    """The word for one test and the sentence that goes with it."""

    word: Word
    sentence: str


def ratio_of(
    before: tuple[FloatArray, ...], after: tuple[FloatArray, ...], higher_is_better: bool, spread: Spread
) -> RatioResult | None:
    """Ratio with intervals; None where a side has no positive result. Inputs: results per session, any unit."""
    if not before or not after or not _positive(before + after):
        return None
    sides = np.array([False] * len(before) + [True] * len(after))
    sign = 1.0 if higher_is_better else -1.0
    found = difference(sign * _logs(before + after), sides, spread)
    low, high, low90, high90 = (float(q) for q in np.exp(found.quantiles(ENDS)))
    return RatioResult(
        float(np.exp(found.middle)), low, high, low90, high90, float(found.two_sided()), float(found.between),
        float(found.within), (len(before), len(after)), (sum(r.size for r in before), sum(r.size for r in after)),
        spread.source,
    )  # fmt: skip


def interval_of(sessions: tuple[FloatArray, ...], spread: Spread) -> tuple[float, float] | None:
    """95 % interval of what a run's results stand for, in their unit; None without a positive result.

    The same model as for a ratio, with one side: sessions scatter, repeats within them do."""
    if not sessions or not _positive(sessions):
        return None
    low, high, *_ = np.exp(level(_logs(sessions), spread).quantiles(ENDS))
    return float(low), float(high)


def _positive(sessions: tuple[FloatArray, ...]) -> bool:
    return not any(np.any(r <= 0) for r in sessions)


def _logs(sessions: tuple[FloatArray, ...]) -> FloatArray:
    """Logarithms, shape (sessions, repeats of the longest), NaN where a session has fewer."""
    out = np.full((len(sessions), max(r.size for r in sessions)), np.nan)
    for row, results in zip(out, sessions, strict=True):
        row[: results.size] = np.log(results)
    return out


def adjusted_p_values(p_values: tuple[float, ...]) -> tuple[float, ...]:
    """Benjamini-Hochberg adjusted p values, in the order given."""
    count = len(p_values)
    order = np.argsort(p_values)
    out = np.empty(count)
    running = 1.0
    for rank in range(count, 0, -1):
        index = order[rank - 1]
        running = min(running, p_values[index] * count / rank)
        out[index] = running
    return tuple(float(x) for x in out)


def judge(
    result: RatioResult, p_adjusted: float, margin_db: float | None = None, unit: str = "dB"
) -> Judgement:  # fmt: skip
    """The word: claimed after correction, else equivalence by two one-sided tests, else what would tell.

    With `margin_db` the ratio is one of powers, and equivalence is said in decibel, or in the `unit` that is carried as
    one.
    """
    if p_adjusted < ALPHA:
        word = Word.BETTER if result.ratio > 1 else Word.WORSE
        return Judgement(word, word.value)
    bound = max(result.high90 - 1.0, 1.0 / result.low90 - 1.0)
    if margin_db is not None and 10.0 * np.log10(1.0 + bound) <= margin_db:
        return Judgement(
            Word.SAME, phrase("no difference above {log10:.1f} {unit}", log10=10.0 * np.log10(1.0 + bound), unit=unit)
        )
    if margin_db is None and bound <= EQUIVALENCE_MARGIN:
        return Judgement(Word.SAME, phrase("no difference above {bound:.1f} %", bound=max(100 * bound, 0.5)))
    return Judgement(Word.CANNOT_TELL, phrase("cannot tell: {what_would}", what_would=_what_would(result)))


def _what_would(result: RatioResult) -> str:
    effect = abs(float(np.log(result.ratio)))
    repeats = max(min(result.repeats) // max(min(result.sessions), 1), 1)
    spread = Spread(result.between, 30.0, result.within, 30.0, result.source, 0.0)
    for sessions in range(min(result.sessions) + 1, MAX_SESSIONS + 1):
        if np.log1p(smallest_provable(spread, sessions, repeats)) <= effect:
            extra = sessions - min(result.sessions)
            return counted(extra, "{count} more session each would", "{count} more sessions each would")
    return phrase("a change this small is beyond {max_sessions} sessions", max_sessions=MAX_SESSIONS)


@lru_cache(maxsize=512)
def smallest_provable(spread: Spread, sessions: int, repeats: int) -> float:
    """Smallest gain (0.05 = 5 %) that so many sessions of so many repeats on each side prove 8 times in 10.

    Worked out on results that scatter as the spread says and do not differ: where their 95 % interval ends a claim
    begins, and the noise of the difference takes the rest.
    """
    quiet = spread.within * _typical(repeats) + (spread.between * _typical(sessions))[:, None]
    found = difference(np.vstack([quiet, quiet]), np.repeat([False, True], sessions), spread)
    noise = np.sqrt(2.0 * (spread.between**2 / sessions + spread.within**2 / (sessions * repeats)))
    return float(np.expm1(found.quantiles((1 - ALPHA / 2,))[0] + POWER_REACH * noise))


def as_shown(spread: Spread, sessions: tuple[FloatArray, ...]) -> Spread:
    """The spread as the results of a run that still goes on leave it; unchanged before there are two in a session."""
    repeated = sum(r.size - 1 for r in sessions if r.size)
    if repeated < 1 or not _positive(sessions):
        return spread
    found = level(_logs(tuple(r for r in sessions if r.size)), spread)
    return replace(
        spread, between=float(found.between), within=float(found.within), within_df=spread.within_df + repeated,
        between_df=spread.between_df + sum(r.size > 0 for r in sessions) - 1,
    )  # fmt: skip


def _typical(count: int) -> FloatArray:
    """So many normal scores, scaled to unit variance and in no order that looks like a drift; shape (count,)."""
    if count < 2:
        return np.zeros(count)
    from scipy.special import ndtri

    scores = ndtri((np.arange(count) + 0.5) / count)
    scores = scores[np.argsort(np.abs(scores), kind="stable")]
    return np.asarray(scores / scores.std(ddof=1))
