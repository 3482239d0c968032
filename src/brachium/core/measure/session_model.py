"""log result = configuration + session + repeat, with neither spread known: a posterior by quadrature.

Repeats have tails (Student t with four degrees of freedom): one slow repeat hardly moves a session. The spread within
sessions and the spread between them are not known either; both are summed over on a grid, under a prior learned from
earlier sessions, so that what is not known about them widens the interval. A drift over the repeats that all sessions
share (warming up) is taken out as far as it stands out of the noise.

Sources: Gelman et al. (2013), Bayesian Data Analysis, 5.4 (normal hierarchical model) and 17.2 (t errors); James and
Stein (1961) for the share of the drift. Alternatives tried: docs/decisions/0020.
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.arrays import BoolArray, FloatArray, IndexArray
from brachium.core.base.late_numpy import np
from brachium.core.measure.spread import Spread

TAILS_DF = 4.0  # of the repeats' t distribution
SCALE_OF_SD = 0.85  # of normal repeats: the scale that the t distribution finds for them, per standard deviation
WITHIN_NODES, BETWEEN_NODES, PLACE_NODES = 9, 13, 61
REACH_WITHIN, REACH_BETWEEN, REACH_PLACE = 2.6, 3.0, 3.0
HALVINGS = 40
TINY = 1e-9  # a result read twice alike is not known better than this


@dataclass(frozen=True)
class Posterior:
    """A mixture of normal distributions of a logarithm, and what it says of both spreads (geometric means).

    `mean`, `variance` and `weight` have the shape (..., WITHIN_NODES, BETWEEN_NODES); weights add up to one.
    """

    mean: FloatArray
    variance: FloatArray
    weight: FloatArray
    between: FloatArray
    within: FloatArray

    def below(self, x: FloatArray | float) -> FloatArray:
        """Probability that the logarithm is below `x`; shape of `x`, whose last axes are those of the pairs."""
        from scipy.special import ndtr  # late: the window opens without it

        at = np.asarray(x, dtype=np.float64)[..., None, None]
        return np.asarray((self.weight * ndtr((at - self.mean) / np.sqrt(self.variance))).sum((-1, -2)))

    @property
    def middle(self) -> FloatArray:
        """Mean of the mixture."""
        return np.asarray((self.weight * self.mean).sum((-1, -2)))

    def two_sided(self) -> FloatArray:
        """Twice the smaller tail beyond zero."""
        low = self.below(0.0)
        return np.asarray(2.0 * np.minimum(low, 1.0 - low))

    def quantiles(self, probabilities: tuple[float, ...]) -> FloatArray:
        """Shape (probabilities, pairs...). By halving: the mixture has no closed form."""
        off = self.mean - self.middle[..., None, None]
        far = 12.0 * np.sqrt((self.variance + off**2).max((-1, -2)))
        wanted = np.reshape(probabilities, (-1, *(1,) * far.ndim))
        low, high = (np.broadcast_to(self.middle + side * far, (len(probabilities), *far.shape)) for side in (-1, 1))
        for _ in range(HALVINGS):
            half = 0.5 * (low + high)
            under = self.below(half) < wanted
            low, high = np.where(under, half, low), np.where(under, high, half)
        return np.asarray(0.5 * (low + high))


def difference(logs: FloatArray, after: BoolArray, spread: Spread) -> Posterior:
    """Posterior of mean after minus mean before.

    `logs` has the shape (..., sessions, repeats), NaN where there is no result; `after` (sessions,) tells the sides.
    """
    repeated = bool(max(np.count_nonzero(after), np.count_nonzero(~after)) > 1)
    sessions = _sessions(_without_drift(logs), spread, repeated)
    sides = [_side(sessions, np.flatnonzero(after == side)) for side in (False, True)]
    mean = sides[1].mean - sides[0].mean
    return _mixture(sessions, mean, sides[0].variance + sides[1].variance, sides[0].log_fit + sides[1].log_fit)


def level(logs: FloatArray, spread: Spread) -> Posterior:
    """Posterior of the mean of one side; shapes as for `difference`."""
    sessions = _sessions(_without_drift(logs), spread, logs.shape[-2] > 1)
    side = _side(sessions, np.arange(logs.shape[-2]))
    return _mixture(sessions, side.mean, side.variance, side.log_fit)


@dataclass(frozen=True)
class _Sessions:
    """Each session's place for every spread within (shape (..., sessions, within)), and the prior of both spreads."""

    mean: FloatArray
    variance: FloatArray
    log_fit: FloatArray  # of the repeats, with the prior of both spreads, (..., within, between)
    between: FloatArray  # (within, between)
    within: FloatArray  # (within,)


@dataclass(frozen=True)
class _Side:
    mean: FloatArray
    variance: FloatArray
    log_fit: FloatArray


def _sessions(logs: FloatArray, spread: Spread, repeated: bool) -> _Sessions:
    """Where each session lies, by quadrature over its place, for every spread within."""
    there = np.isfinite(logs)
    step = np.linspace(-REACH_WITHIN, REACH_WITHIN, WITHIN_NODES)
    within = np.exp(np.log(SCALE_OF_SD * spread.within) + spread.within_log_sd * step)
    low = np.where(there, logs, np.inf).min(-1)[..., None] - REACH_PLACE * within
    high = np.where(there, logs, -np.inf).max(-1)[..., None] + REACH_PLACE * within
    place = low[..., None] + (high - low)[..., None] * np.linspace(0.0, 1.0, PLACE_NODES)
    fit = np.zeros(place.shape)
    for k in range(logs.shape[-1]):
        here = there[..., k]
        away = (np.where(here, logs[..., k], 0.0)[..., None, None] - place) / within[:, None]
        one = 0.5 * (TAILS_DF + 1.0) * np.log1p(away**2 / TAILS_DF) + np.log(within)[:, None]
        fit -= here[..., None, None] * one
    top = fit.max(-1, keepdims=True)
    share = np.exp(fit - top)
    whole = share.sum(-1)
    mean = (share * place).sum(-1) / whole
    variance = (share * (place - mean[..., None]) ** 2).sum(-1) / whole
    log_repeats = (np.log(whole * (high - low)) + top[..., 0]).sum(-2)
    nodes = np.linspace(-REACH_BETWEEN, REACH_BETWEEN, BETWEEN_NODES)
    up, down = spread.between_log_sds(repeated)
    sds = np.where(nodes > 0.0, up, down)
    follow = np.where(step > 0.0, *spread.sessions_follow)
    centre = np.log(spread.between) + follow * spread.within_log_sd * step
    between = np.exp(centre[:, None] + sds * nodes)
    prior = -0.5 * step[:, None] ** 2 - 0.5 * nodes**2 + np.log(sds)
    return _Sessions(mean, variance + TINY**2, log_repeats[..., None] + prior, between, within)


def _side(sessions: _Sessions, which: IndexArray) -> _Side:
    """The mean of a side for every pair of spreads, with a flat prior on it."""
    mean = sessions.mean[..., which, :, None]
    weight = 1.0 / (sessions.variance[..., which, :, None] + sessions.between**2)
    total = weight.sum(-3)
    middle = (weight * mean).sum(-3) / total
    misfit = (weight * (mean - middle[..., None, :, :]) ** 2).sum(-3)
    return _Side(middle, 1.0 / total, 0.5 * (np.log(weight).sum(-3) - misfit - np.log(total)))


def _mixture(sessions: _Sessions, mean: FloatArray, variance: FloatArray, log_fit: FloatArray) -> Posterior:
    log_weight = sessions.log_fit + log_fit
    weight = np.exp(log_weight - log_weight.max((-1, -2), keepdims=True))
    weight /= weight.sum((-1, -2), keepdims=True)
    between = np.exp((weight * np.log(sessions.between)).sum((-1, -2)))
    within = np.exp((weight.sum(-1) * np.log(sessions.within)).sum(-1)) / SCALE_OF_SD
    return Posterior(mean, variance, weight, np.asarray(between), np.asarray(within))


def _without_drift(logs: FloatArray) -> FloatArray:
    """Take out the line over the order of the repeats that all sessions share, by the share 1 - 1/F of it."""
    there = np.isfinite(logs)
    count = there.sum(-1, keepdims=True)
    order = np.arange(logs.shape[-1], dtype=np.float64)
    place = np.where(there, order - np.where(there, order, 0.0).sum(-1, keepdims=True) / count, 0.0)
    away = np.where(there, logs - np.where(there, logs, 0.0).sum(-1, keepdims=True) / count, 0.0)
    squares = np.maximum((place**2).sum((-1, -2)), TINY)
    slope = (place * away).sum((-1, -2)) / squares
    rest = ((away - slope[..., None, None] * place) ** 2).sum((-1, -2))
    df = there.sum((-1, -2)) - logs.shape[-2] - 1
    f_value = slope**2 * squares / np.maximum(rest / np.maximum(df, 1), TINY**2)
    share = np.where(df > 0, np.maximum(0.0, 1.0 - 1.0 / np.maximum(f_value, TINY)), 0.0)
    middle = (logs.shape[-1] - 1) / 2.0
    return np.asarray(logs - (share * slope)[..., None, None] * (order - middle))
