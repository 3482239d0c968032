"""Frame figures against plain arithmetic; caps and stutters; frame logs of several shapes."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.frames import frame_figures
from brachium.formats.frame_log import read_frame_log

RNG = np.random.default_rng(7)
FREE = RNG.lognormal(np.log(12.0), 0.2, 4000)


def test_rates_are_frames_over_time() -> None:
    times = np.concatenate([np.full(990, 10.0), np.full(10, 50.0)])
    f = frame_figures(times)
    assert f.average == pytest.approx(1000 / (9.9 + 0.5)) and f.seconds == pytest.approx(10.4)
    assert f.low1 == pytest.approx(20.0) and f.low01 == pytest.approx(20.0)
    assert frame_figures(times[:500]).low01 is None


@settings(max_examples=40, deadline=None)
@given(st.integers(300, 3000), st.floats(2.0, 60.0), st.integers(0, 1000))
def test_lows_are_below_the_average_and_scale_with_time(count: int, middle: float, seed: int) -> None:
    times = np.random.default_rng(seed).lognormal(np.log(middle), 0.3, count)
    f, twice = frame_figures(times), frame_figures(2 * times)
    assert f.low1 <= f.average and twice.average == pytest.approx(f.average / 2)
    assert f.low01 is None or f.low01 <= f.low1


def test_stutters_are_counted_and_a_slower_scene_is_none() -> None:
    times = np.full(2000, 10.0)
    times[[300, 900, 1500]] = 45.0
    assert frame_figures(times).stutters == 3
    slow = np.concatenate([np.full(500, 10.0), np.full(500, 30.0)])
    assert frame_figures(slow).stutters == 0


@pytest.mark.parametrize(
    ("times", "cap"),
    [
        (FREE, None),
        (np.clip(16.667 + RNG.normal(0, 0.05, 2000), 16.2, None), 60.0),
        (np.where(RNG.random(2000) < 0.8, 33.33, 50.0), 30.0),
        (np.where(RNG.random(2000) < 0.65, 1000 / 97.0, 14.0), 97.0),
        (np.where(RNG.random(2000) < 0.5, 12.0, 16.667), None),
    ],
)
def test_a_cap_is_found_only_where_most_frames_keep_to_it(times: np.ndarray, cap: float | None) -> None:
    f = frame_figures(times)
    assert f.cap == cap and ("capped at" in f.note) == (cap is not None)


LINES = [f"{t:.3f}" for t in FREE]
COLUMNS = [f"{k};{t};50".replace(".", ",") for k, t in enumerate(LINES)]
STAMPS = [f"{t / 1000:.6f}" for t in np.concatenate([[0.001], np.cumsum(FREE) + 1])]


@pytest.mark.parametrize(
    ("lines", "unit", "column"),
    [
        (LINES, "ms", "the only column"),
        (["frame time (ms)", *LINES], "ms", "frame time (ms)"),
        (["n;FrameTime;gpu", *COLUMNS], "ms", "FrameTime"),
        ([f"{t / 1000:.6f}" for t in FREE], "s", "the only column"),
        (["# note", *STAMPS], "time stamps in s", "the only column"),
    ],
)
def test_frame_logs_of_several_shapes_give_the_same(tmp_path: Path, lines: list[str], unit: str, column: str) -> None:
    (tmp_path / "f.csv").write_text("\n".join(lines))
    log = read_frame_log(tmp_path / "f.csv")
    assert (log.unit, log.column, log.bad_lines) == (unit, column, ())
    assert log.figures.average == pytest.approx(frame_figures(FREE).average, rel=2e-3)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "empty"),
        ("10\n" * 20, "20 frames are too few"),
        ("time;power\n" + "1;2\n" * 400, "no column for the frame time in line 1"),
        ("10\nbroken\n" * 400, "400 of 800 lines hold no frame time, first line 2"),
        ("90000\n" * 400, "no frame time"),
    ],
)
def test_bad_frame_logs_name_place_and_remedy(tmp_path: Path, text: str, says: str) -> None:
    (tmp_path / "f.csv").write_text(text)
    with pytest.raises(ExpectedProblem, match=says) as caught:
        read_frame_log(tmp_path / "f.csv")
    assert "f.csv" in caught.value.text and caught.value.remedy


def test_a_slow_frame_among_slow_ones_is_no_stutter() -> None:
    """2.5 times those around it and 8 ms more: 32 ms among 20 ms is neither, 60 ms is both."""
    calm = np.full(400, 20.0)
    assert frame_figures(np.where(np.arange(400) % 50 == 0, 32.0, calm)).stutters == 0
    assert frame_figures(np.where(np.arange(400) == 90, 60.0, calm)).stutters == 1
