"""The one gate for arrays that enter the core: float64, right shape, increasing time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase

if TYPE_CHECKING:
    import numpy.typing as npt

    FloatArray = npt.NDArray[np.float64]
    BoolArray = npt.NDArray[np.bool_]
    IntArray = npt.NDArray[np.int32]
    IndexArray = npt.NDArray[np.intp]
else:  # they stand in signatures only
    FloatArray = BoolArray = IntArray = IndexArray = Any


class ArrayProblem(ValueError):  # noqa: N818 - said to people as it is named
    """An array breaks the gate's rules; the message names the sample."""


def frozen(values: npt.ArrayLike) -> FloatArray:
    """Return a read-only float64 copy of a one-dimensional array; a missing value is NaN."""
    out = np.array(values, dtype=np.float64, copy=True)
    if out.ndim != 1:
        raise ArrayProblem(phrase("expected one dimension, got shape {shape}", shape=out.shape))
    out.setflags(write=False)
    return out


def time_axis(values: npt.ArrayLike) -> FloatArray:
    """Return a read-only time axis, shape (n_samples,) [s].

    Raises ArrayProblem if it is shorter than two samples, holds NaN or does not strictly increase.
    """
    out = frozen(values)
    if out.size < 2:
        raise ArrayProblem("a time axis needs at least two samples")
    if not np.all(np.isfinite(out)):
        raise ArrayProblem(phrase("time is missing at sample {int}", int=int(np.argmin(np.isfinite(out))) + 1))
    steps = np.diff(out)
    if np.any(steps <= 0):
        bad = int(np.argmax(steps <= 0)) + 2
        raise ArrayProblem(phrase("time does not increase at sample {bad}", bad=bad))
    return out


def filled(values: FloatArray) -> FloatArray:
    """Fill NaN by linear interpolation over the sample index, ends held. All-NaN raises ArrayProblem."""
    good = np.isfinite(values)
    if not np.any(good):
        raise ArrayProblem("no finite value in the series")
    index = np.arange(values.size, dtype=np.float64)
    return np.interp(index, index[good], values[good])


def smoothed(values: FloatArray, width: int) -> FloatArray:
    """Centred moving mean over `width` samples with the ends repeated; same shape as the input."""
    width = max(1, min(int(width), values.size))
    left = width // 2
    padded = np.concatenate([np.full(left, values[0]), values, np.full(width - 1 - left, values[-1])])
    return np.convolve(padded, np.full(width, 1.0 / width), mode="valid")


def stretches(mask: BoolArray) -> tuple[tuple[int, int], ...]:
    """Return (first, past-the-end) index pairs of every run of True in `mask`."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8)))
    return tuple((int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True))


def columns(series: Sequence[FloatArray]) -> FloatArray:
    """Stack equal-length series into shape (n_samples, n_series)."""
    return np.stack([np.asarray(s, dtype=np.float64) for s in series], axis=1)
