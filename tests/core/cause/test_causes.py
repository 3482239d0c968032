"""Causes from doctored figures: what is called strong, what likely, what ruled out."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.app.view import JobView
from brachium.core.cause.causes import Cause, Strength, rank_causes
from brachium.core.cause.figures import BeforeFigures
from brachium.core.choose.profile import profile_of
from brachium.core.heat.throttle import HeldBack
from brachium.demo.newsroom import MACHINE

VIDEO = profile_of("video")


@pytest.fixture(scope="module")
def figures(finished_view: JobView) -> BeforeFigures:
    assert finished_view.figures is not None
    return finished_view.figures


def named(figures: BeforeFigures, cause_id: str) -> Cause | None:
    return next((c for c in rank_causes(MACHINE, figures, VIDEO) if c.id == cause_id), None)


def test_figures_of_the_before_run(figures: BeforeFigures) -> None:
    assert figures.throttled and 0.6 < figures.throttled_share < 0.9
    assert figures.full_clock_mhz == pytest.approx(3300, rel=0.01)
    assert 0.8 < figures.sustained_clock_mhz / figures.full_clock_mhz < 0.9
    assert 0.25 < figures.stall_share < 0.45 and figures.memory_used_frac is not None
    assert figures.reading is not None and figures.reading.stair is not None
    stair = figures.reading.stair
    assert stair.total_k_w == pytest.approx((figures.r_fast_k_w or 0) + (figures.r_slow_k_w or 0))
    assert stair.chip_to_sink_half_k < 2.0 and stair.sink_to_room_half_k < 4.0


@pytest.mark.parametrize(
    ("stall", "used", "strength"),
    [(0.3, 0.97, Strength.STRONG), (0.02, 0.97, Strength.RULED_OUT), (0.3, 0.6, Strength.RULED_OUT)],
)
def test_memory_is_short_only_if_it_is_full_and_the_task_waits(
    figures: BeforeFigures, stall: float, used: float, strength: Strength
) -> None:
    cause = named(replace(figures, stall_share=stall, memory_used_frac=used), "memory")
    assert cause is not None and cause.strength is strength
    assert cause.cost_frac == (stall if strength is Strength.STRONG else 0.0)


def test_what_was_not_measured_is_not_judged(figures: BeforeFigures) -> None:
    blind = replace(figures, stall_measured=False, disk_busy_share=None, reading=None)
    assert {c.id for c in rank_causes(MACHINE, blind, VIDEO)} == {"channels"}


@pytest.mark.parametrize(
    ("kind", "cause_id", "strength"),
    [(HeldBack.THERMAL, "heat", Strength.STRONG), (HeldBack.UNCLEAR, "power", Strength.LIKELY),
     (HeldBack.NONE, "heat", Strength.RULED_OUT)],
)  # fmt: skip
def test_a_falling_clock_is_called_heat_only_at_the_limit(
    figures: BeforeFigures, kind: HeldBack, cause_id: str, strength: Strength
) -> None:
    assert figures.reading is not None and figures.reading.throttle is not None
    throttle = replace(figures.reading.throttle, kind=kind)
    cause = named(replace(figures, reading=replace(figures.reading, throttle=throttle)), cause_id)
    assert cause is not None and cause.strength is strength
    if kind is HeldBack.UNCLEAR:
        assert "battery" in cause.next_check


def test_the_heat_cause_shows_clock_resistance_and_stair(figures: BeforeFigures) -> None:
    cause = named(figures, "heat")
    assert cause is not None
    facts = {f.label: f.value for f in cause.because.facts}
    assert facts["sustained clock"].endswith("MHz") and "±" in facts["total resistance"]
    assert "±" in facts["chip to heatsink"] and facts["temperature limit"] == "95 °C"
    assert "only a change after cleaning or new paste" in cause.because.would_change
