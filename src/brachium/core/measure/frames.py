"""Frame times to figures: average, the low rates of the slowest frames, stutters, and whether a cap hides the machine.

Rates are frames over time, never means of rates: 100 frames in 2 s are 50 a second, whatever each one took.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import joined, phrase
from brachium.core.measure.assumptions import CAP_SHARE, CAP_WIDTH, STUTTER_FACTOR, STUTTER_MS

LEAST_FRAMES = 300
WINDOW = 31
USUAL_CAPS = (24.0, 30.0, 40.0, 45.0, 48.0, 50.0, 60.0, 72.0, 75.0, 90.0, 100.0, 120.0, 144.0, 165.0, 240.0)


@dataclass(frozen=True)
class FrameFigures:
    """Rates in frames per second. `low1` = rate over the slowest 1 % of frames, `low01` over the slowest 0.1 %.

    `cap` is the rate that most frames keep to, None where none does; a capped average says nothing of the machine.
    """

    frames: int
    seconds: float
    average: float
    low1: float
    low01: float | None
    stutters: int
    cap: float | None

    @property
    def note(self) -> str:
        """What has to be said beside the figures; empty where nothing has."""
        said = []
        if self.cap is not None:
            said.append(
                phrase("capped at {cap:g} frames a second: the average is the cap's, not the machine's", cap=self.cap)
            )
        if self.low01 is None:
            said.append("too few frames for the slowest 0.1 %")
        return joined("; ", said)


def frame_figures(times_ms: FloatArray) -> FrameFigures:
    """Figures of frame times, shape (n_frames,) [ms]. Raises ValueError where they are too few or not positive."""
    if times_ms.size < LEAST_FRAMES:
        raise ValueError(
            phrase(
                "{size} frames are too few, at least {least_frames} are needed",
                size=times_ms.size,
                least_frames=LEAST_FRAMES,
            )
        )
    if not np.all(np.isfinite(times_ms)) or np.any(times_ms <= 0):
        bad = int(np.argmax(~np.isfinite(times_ms) | (times_ms <= 0))) + 1
        raise ValueError(phrase("frame {bad} has no positive time", bad=bad))
    ordered = np.sort(times_ms)[::-1]
    total_s = float(times_ms.sum()) / 1000.0
    return FrameFigures(
        int(times_ms.size), total_s, times_ms.size / total_s, _low(ordered, 0.01),
        _low(ordered, 0.001) if times_ms.size >= 1000 else None, _stutters(times_ms), _cap(times_ms),
    )  # fmt: skip


def _low(slowest_first: FloatArray, share: float) -> float:
    """Rate over the slowest share of the frames [1/s]."""
    count = max(int(np.ceil(share * slowest_first.size)), 1)
    return 1000.0 * count / float(slowest_first[:count].sum())


def _stutters(times_ms: FloatArray) -> int:
    """Frames that took much longer than those around them: 2.5 times their median and 8 ms more."""
    half = WINDOW // 2
    padded = np.pad(times_ms, half, mode="edge")
    around = np.median(np.lib.stride_tricks.sliding_window_view(padded, WINDOW), axis=1)
    return int(np.count_nonzero((times_ms > STUTTER_FACTOR * around) & (times_ms > around + STUTTER_MS)))


def _cap(times_ms: FloatArray) -> float | None:
    """The rate of a cap: most frames lie within 2 % of one time, and few are faster than it."""
    middle = float(np.median(times_ms))
    near = np.abs(times_ms / middle - 1.0) <= CAP_WIDTH
    faster = np.mean(times_ms < (1.0 - CAP_WIDTH) * middle)
    if np.mean(near) < CAP_SHARE or faster > 0.15:
        return None
    rate = 1000.0 / float(times_ms[near].mean())
    usual = min(USUAL_CAPS, key=lambda r: abs(r - rate))
    return usual if abs(usual / rate - 1.0) < 0.03 else round(rate, 1)
