"""Every flag on a run in which exactly that is wrong, and none on one in which nothing is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from brachium.core.base.arrays import frozen
from brachium.core.measure.conditions import Conditions, condition_differences
from brachium.core.measure.frames import frame_figures
from brachium.core.measure.run import MeasuredSession, Phase, Repeat, Run, Series, Trace
from brachium.core.measure.run_checks import run_flags, trace_flags
from brachium.core.measure.workloads import STANDARD, spec_of

Values = dict[str, np.ndarray]


Change = Callable[[np.ndarray, Values], tuple[np.ndarray, Values]]


def made(change: Change = lambda t, v: (t, v), load_s: float = 600.0) -> Trace:
    """Idle, load, cool-down at 1 Hz with lively readings, then changed."""
    time_s = np.arange(1000.0)
    busy = (time_s >= 120) & (time_s < 120 + load_s)
    rng = np.random.default_rng(1)
    values = {
        "temp_c": 40 + 35 * busy * (1 - np.exp(-(time_s - 120) / 60)) + rng.normal(0, 0.2, time_s.size),
        "power_w": 5 + 30 * busy + rng.normal(0, 0.1, time_s.size),
        "fan_rpm": 1900 + 1500 * busy + rng.normal(0, 8, time_s.size), "util_frac": 0.01 + 0.98 * busy,
        "room_c": 22 + 0.2 * np.sin(time_s / 200),
    }  # fmt: skip
    time_s, values = change(time_s, values)
    series = tuple(Series(k, "", "", frozen(v)) for k, v in values.items())
    return Trace(frozen(time_s), series, (Phase("load", 120.0, 120.0 + load_s),))


def _stuck(key: str) -> Change:
    def change(t: np.ndarray, v: Values) -> tuple[np.ndarray, Values]:
        values = v[key].copy()
        values[100:180] = values[100]
        return t, {**v, key: values}

    return change


def _gap(t: np.ndarray, v: Values) -> tuple[np.ndarray, Values]:
    keep = (t < 300) | (t > 317)
    return t[keep], {k: x[keep] for k, x in v.items()}


def _fahrenheit(t: np.ndarray, v: Values) -> tuple[np.ndarray, Values]:
    return t, {**v, "temp_c": np.where(t > 500, v["temp_c"] * 1.8 + 32, v["temp_c"])}


def _warmer(t: np.ndarray, v: Values) -> tuple[np.ndarray, Values]:
    return t, {**v, "room_c": 22 + t / 250}


def _power(first: int, past: int, watts: float, every: int = 0) -> Change:
    def change(t: np.ndarray, v: Values) -> tuple[np.ndarray, Values]:
        busy = (t >= first) & (t < past) & ((t % every < every / 2) if every else True)
        return t, {**v, "power_w": v["power_w"] + watts * busy}

    return change


@pytest.mark.parametrize(
    ("trace", "kind", "says"),
    [
        (made(), "", ""),
        (made(_power(40, 60, 15.0)), "burst", "other work before the load: 19 s"),
        (made(_power(400, 430, 14.0)), "burst", "other work in the load: 29 s"),
        (made(_power(500, 512, -20.0)), "burst", "rests in the load: 11 s"),
        (made(_power(800, 830, 12.0)), "burst", "other work in the cool-down: 29 s"),
        (made(_power(120, 150, 20.0)), "", ""),  # a boost budget
        (made(_power(300, 700, 14.0, every=20)), "", ""),  # a limit that is enforced over a window
        (made(_stuck("temp_c")), "stuck", "chip temperature stuck for 79 s from 100 s on"),
        (made(_stuck("power_w")), "stuck", "power stuck for"),
        (made(_gap), "gap", "1 gap over 5 s, the longest 19 s at 299 s"),
        (made(_fahrenheit), "jump", "a unit may have changed"),
        (made(_warmer), "room", "the room changed by 4.0 K"),
        (made(load_s=90.0), "short load", "90 s of load do not settle a heatsink"),
    ],
    ids=[
        "nothing",
        "burst before",
        "burst in",
        "rests",
        "burst after",
        "boost",
        "hunting",
        "stuck",
        "stuck power",
        "gap",
        "unit",
        "room",
        "short",
    ],
)
def test_each_fault_has_its_flag_and_no_other(trace: Trace, kind: str, says: str) -> None:
    found = trace_flags(trace)
    assert [f.kind for f in found] == ([kind] if kind else [])
    assert all(says in f.text for f in found)


def _run(values: list[float], lost: str = "") -> Run:
    test = spec_of("cpu_all")
    repeats = tuple(Repeat(test.key, v) for v in values) + ((Repeat(test.key, 50.0, False, lost),) if lost else ())
    session = MeasuredSession(1, Trace(frozen([]), (), ()), repeats)
    return Run("r", "", STANDARD, Conditions(), (test,), (session,), "", "")


@pytest.mark.parametrize(
    ("run", "kind", "says"),
    [
        (_run([60.0, 60.2, 59.9, 60.1, 60.0]), "", ""),
        (_run([55.0, 57.0, 59.0, 60.0, 61.0]), "drift", "results rise by 10.9 % over 5 repeats"),
        (_run([60.0, 60.2, 48.0, 60.1, 60.0]), "stray", "repeat 3 is 20.0 % off the median; it counts"),
        (_run([60.0, 60.2, 59.9, 60.1], "background load"), "left out", "1 repeat left out, background load"),
        (_run([60.0, 70.0]), "", ""),
    ],
)
def test_repeats_that_drift_or_stray_are_said_and_kept(run: Run, kind: str, says: str) -> None:
    found = run_flags(run)
    assert [f.kind for f in found] == ([kind] if kind else []) and all(says in f.text for f in found)
    assert run.results("cpu_all")[0].size >= 2, "nothing is taken out"


def test_the_remaining_edge_cases_are_flagged_where_they_belong() -> None:
    """Changed room between runs, a frame cap; units and offsets are found by the import (test_import_page)."""
    room = condition_differences(Conditions(room_c=21.0), Conditions(room_c=28.0))
    assert [d.name for d in room] == ["room"] and "not absolute" in room[0].text
    assert frame_figures(np.full(1000, 16.667)).cap == 60.0


def test_flags_of_several_sessions_name_their_session() -> None:
    run = _run([55.0, 57.0, 59.0, 60.0, 61.0])
    two = replace(run, sessions=(run.sessions[0], replace(run.sessions[0], number=2)))
    assert [f.text[:10] for f in run_flags(two)] == ["session 1:", "session 2:"]
