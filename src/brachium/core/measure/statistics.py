"""Ratio of two runs' results: log result = configuration + session + repeat.

The session has an offset of its own, so repeats of one session are not independent. Variances are pooled over both
runs and moderated by a stated prior (scaled inverse chi-squared, i.e. so many earlier sessions like these), which the
shop's history replaces as it grows; the degrees of freedom of the sum follow Satterthwaite (1946).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.measure.assumptions import CONTRADICTION, EQUIVALENCE_MARGIN, UNSTEADY_SHARE, UNSTEADY_UNKNOWN

"""A machine's sessions scatter at least by this share of its repeats; without any history by as much as its repeats
(`python -m benchmarks.null_pairs` shows what either costs)."""
STATED_DEFAULT = "stated default"
ALPHA = 0.05
MAX_SESSIONS = 6


@dataclass(frozen=True)
class Spread:
    """Relative spread between and within sessions with the weight of what is behind it [degrees of freedom]."""

    between: float = 0.01
    between_df: float = 3.0
    within: float = 0.01
    within_df: float = 8.0
    source: str = STATED_DEFAULT


class Word(StrEnum):
    BETTER = "better"
    WORSE = "worse"
    SAME = "no difference"
    CANNOT_TELL = "cannot tell"


@dataclass(frozen=True)
class RatioResult:
    """Gain of a test as after/before in the direction of better, with 95 % and 90 % intervals and two-sided p.

    `source` says what the spread between sessions was learned from, beside the two runs themselves.
    """

    ratio: float
    low: float
    high: float
    low90: float
    high90: float
    p_value: float
    df: float
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
    from scipy.special import stdtr, stdtrit  # far lighter to import than scipy.stats

    if not before or not after or any(np.any(r <= 0) for r in before + after):
        return None
    logs = [[np.log(r) for r in side] for side in (before, after)]
    between, df_b, within, df_w = _variances(logs, spread)
    sign = 1.0 if higher_is_better else -1.0
    difference = sign * (_mean(logs[1]) - _mean(logs[0]))
    part_b = sum(between / len(side) for side in logs)
    part_w = sum(within / sum(x.size for x in side) for side in logs)
    variance = part_b + part_w
    df = variance**2 / (part_b**2 / df_b + part_w**2 / df_w)
    se = float(np.sqrt(variance))
    wide, narrow = stdtrit(df, 1 - ALPHA / 2) * se, stdtrit(df, 1 - ALPHA) * se
    p_value = float(2 * stdtr(df, -abs(difference) / se))
    return RatioResult(
        float(np.exp(difference)), float(np.exp(difference - wide)), float(np.exp(difference + wide)),
        float(np.exp(difference - narrow)), float(np.exp(difference + narrow)), p_value, float(df),
        float(np.sqrt(between)), float(np.sqrt(within)), (len(before), len(after)),
        (sum(r.size for r in before), sum(r.size for r in after)), spread.source,
    )  # fmt: skip


def interval_of(sessions: tuple[FloatArray, ...], spread: Spread) -> tuple[float, float] | None:
    """95 % interval of what a run's results stand for, in their unit; None without a positive result.

    The same model as for a ratio, with one side: sessions scatter, repeats within them do."""
    from scipy.special import stdtrit

    if not sessions or any(np.any(r <= 0) for r in sessions):
        return None
    logs = [np.log(r) for r in sessions]
    between, df_b, within, df_w = _variances([logs], spread)
    part_b, part_w = between / len(logs), within / sum(x.size for x in logs)
    df = (part_b + part_w) ** 2 / (part_b**2 / df_b + part_w**2 / df_w)
    half = float(stdtrit(df, 1 - ALPHA / 2) * np.sqrt(part_b + part_w))
    middle = _mean(logs)
    return float(np.exp(middle - half)), float(np.exp(middle + half))


def _mean(side: list[FloatArray]) -> float:
    """Mean of the session means: every session counts alike."""
    return float(np.mean([x.mean() for x in side]))


def _variances(logs: list[list[FloatArray]], spread: Spread) -> tuple[float, float, float, float]:
    """Moderated between- and within-session variances with their degrees of freedom."""
    sessions = [x for side in logs for x in side]
    own_w = sum(float(((x - x.mean()) ** 2).sum()) for x in sessions)
    df_own_w = sum(x.size - 1 for x in sessions)
    within = (spread.within_df * spread.within**2 + own_w) / (spread.within_df + df_own_w)
    own_b, df_own_b = 0.0, 0
    for side in logs:
        means = np.array([x.mean() for x in side])
        own_b += float(((means - means.mean()) ** 2).sum())
        df_own_b += len(side) - 1
    repeats = float(np.mean([x.size for x in sessions]))
    # the scatter of session means holds the repeat noise too; what exceeds it is the session's own
    own_b = max(own_b - df_own_b * within / repeats, 0.0)
    # a machine whose repeats scatter widely is not steadier from one start to the next
    unsteady = UNSTEADY_UNKNOWN if spread.source == STATED_DEFAULT else UNSTEADY_SHARE
    prior = max(spread.between, unsteady * float(np.sqrt(within)))
    between, df_b = _moderated(own_b, df_own_b, prior, spread.between_df)
    return between, df_b, within, spread.within_df + df_own_w


def _moderated(own_sum: float, own_df: int, prior: float, prior_df: float) -> tuple[float, float]:
    """Own and prior variance pooled; where the own sessions contradict the prior (F, 10 %) they stand alone."""
    from scipy.special import fdtri

    if own_df and own_sum / own_df / prior**2 > fdtri(own_df, prior_df, 1 - CONTRADICTION):
        return own_sum / own_df, float(own_df)
    return (prior_df * prior**2 + own_sum) / (prior_df + own_df), prior_df + own_df


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


def judge(result: RatioResult, p_adjusted: float, margin_db: float | None = None) -> Judgement:
    """The word: claimed after correction, else equivalence by two one-sided tests, else what would tell.

    With `margin_db` the ratio is one of powers, and equivalence is said in decibel.
    """
    if p_adjusted < ALPHA:
        word = Word.BETTER if result.ratio > 1 else Word.WORSE
        return Judgement(word, word.value)
    bound = max(result.high90 - 1.0, 1.0 / result.low90 - 1.0)
    if margin_db is not None and 10.0 * np.log10(1.0 + bound) <= margin_db:
        return Judgement(Word.SAME, f"no difference above {10.0 * np.log10(1.0 + bound):.1f} dB")
    if margin_db is None and bound <= EQUIVALENCE_MARGIN:
        return Judgement(Word.SAME, f"no difference above {max(100 * bound, 0.5):.1f} %")
    return Judgement(Word.CANNOT_TELL, f"cannot tell: {_what_would(result)}")


def _what_would(result: RatioResult) -> str:
    effect = abs(float(np.log(result.ratio)))
    repeats = max(min(result.repeats) // max(min(result.sessions), 1), 1)
    spread = Spread(result.between, 30.0, result.within, 30.0)
    for sessions in range(min(result.sessions) + 1, MAX_SESSIONS + 1):
        if np.log1p(smallest_provable(spread, sessions, repeats)) <= effect:
            extra = sessions - min(result.sessions)
            return f"{extra} more session{'s' if extra > 1 else ''} each would"
    return f"a change this small is beyond {MAX_SESSIONS} sessions"


def smallest_provable(spread: Spread, sessions: int, repeats: int, power: float = 0.8) -> float:
    """Smallest gain (0.05 = 5 %) that so many sessions of so many repeats on each side prove 8 times in 10."""
    from scipy.special import stdtrit

    part_b = 2 * spread.between**2 / sessions
    part_w = 2 * spread.within**2 / (sessions * repeats)
    df_b = spread.between_df + 2 * (sessions - 1)
    df_w = spread.within_df + 2 * sessions * (repeats - 1)
    df = (part_b + part_w) ** 2 / (part_b**2 / df_b + part_w**2 / df_w)
    reach = stdtrit(df, 1 - ALPHA / 2) + stdtrit(df, power)
    return float(np.expm1(reach * np.sqrt(part_b + part_w)))
