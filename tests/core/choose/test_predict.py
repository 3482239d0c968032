"""Prediction: the functional's bounds, contributions that add up, directions that make sense."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.app.view.job_view import JobView
from brachium.core.choose.predict import predict
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.plan.candidates import Candidate, candidates
from brachium.core.use.profile import PROFILES, RESOURCES, profile_of
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue

ALL = {c.id: c for c in candidates(MACHINE, demo_catalogue())}
PLAN = ("mem-4-l", "ssd-480@bay-main", "svc-clean", "svc-paste")


def chosen(*ids: str) -> tuple[Candidate, ...]:
    return tuple(ALL[i] for i in ids)


@pytest.fixture(scope="module")
def figures(finished_view: JobView) -> BeforeFigures:
    assert finished_view.causes.figures is not None
    return finished_view.causes.figures


def test_profiles_are_whole() -> None:
    for profile in PROFILES:
        assert sum(profile.shares.values()) == pytest.approx(1.0), profile.id
        assert set(profile.shares) == set(RESOURCES)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.floats(0.05, 1.0), min_size=2, max_size=5), st.lists(st.floats(0.5, 20.0), min_size=5, max_size=5),
    st.floats(0, 1),
)  # fmt: skip
def test_work_ratio_lies_between_the_slowest_and_fastest_speedup(
    shares: list[float], ups: list[float], overlap: float
) -> None:
    keys = [str(k) for k in range(len(shares))]
    share = {k: np.array([s / sum(shares)]) for k, s in zip(keys, shares, strict=True)}
    speed = {k: np.array([u]) for k, u in zip(keys, ups, strict=False)}
    ratio = float(work_ratio(share, speed, np.array([overlap]))[0])
    used = list(zip(keys, ups, strict=False))
    assert min(u for _, u in used) - 1e-9 <= ratio <= max(u for _, u in used) + 1e-9


def test_amdahl_is_the_case_without_overlap() -> None:
    share = {"a": np.array([0.4]), "b": np.array([0.6])}
    ratio = work_ratio(share, {"a": np.array([4.0])}, np.array([0.0]))
    assert float(ratio[0]) == pytest.approx(1 / (0.6 + 0.4 / 4))


def test_contributions_multiply_to_the_whole(figures: BeforeFigures) -> None:
    prediction = predict(MACHINE, chosen(*PLAN), profile_of("video"), figures)
    assert prediction is not None
    product = np.prod([c.band.mid for c in prediction.contributions])
    assert product == pytest.approx(prediction.band.mid, rel=0.03)
    assert prediction.band.low < prediction.band.mid < prediction.band.high


def test_same_seed_same_prediction_and_no_plan_no_prediction(figures: BeforeFigures) -> None:
    one, two = (predict(MACHINE, chosen(*PLAN), profile_of("video"), figures) for _ in range(2))
    assert one == two
    assert predict(MACHINE, (), profile_of("video"), figures) is None


def test_prediction_agrees_with_what_was_measured_on_the_owners_task(finished_view: JobView) -> None:
    """The task's measured speed-up lies within reach of the predicted band; the profile is wider than the task."""
    assert finished_view.choice.prediction is not None and finished_view.proof.comparison is not None
    task = finished_view.proof.comparison.gain("own_task")
    assert task is not None and task.result is not None
    band = finished_view.choice.prediction.band
    assert 0.75 * band.low <= task.result.ratio <= 1.25 * band.high


def test_a_service_brings_nothing_where_nothing_was_held_back(figures: BeforeFigures) -> None:
    cool = replace(figures, throttled=False)
    prediction = predict(MACHINE, chosen("svc-paste"), profile_of("video"), cool)
    assert prediction is not None and prediction.band.mid == pytest.approx(1.0, abs=0.002)


def test_a_cooling_gain_never_exceeds_the_full_clock(figures: BeforeFigures) -> None:
    ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
    prediction = predict(MACHINE, chosen("svc-paste", "svc-clean"), profile_of("video"), figures)
    assert prediction is not None and 1.0 < prediction.band.high <= ceiling


def test_memory_and_drive_hide_each_other(figures: BeforeFigures) -> None:
    """Once memory suffices the drive matters less than it would alone."""
    both = predict(MACHINE, chosen("mem-2x8-l", "ssd-480@bay-main"), profile_of("video"), figures)
    assert both is not None
    drive = next(c for c in both.contributions if c.candidate_id.startswith("ssd"))
    assert drive.alone.mid > drive.band.mid
