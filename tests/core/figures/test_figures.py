"""Figures stay inside their frame at any size, keep their extremes, and say what they show."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtGui import QFontMetricsF
from pytestqt.qtbot import QtBot

from brachium.app.view.figures import ledger_of, run_strand, stair_of, traces_of
from brachium.app.view.job_view import JobView
from brachium.core.cause.assess import ladder
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Line, Polyline, Text
from brachium.core.figures.base.scale import Scale, decimated, round_ticks
from brachium.core.figures.base.text_width import text_width, wrapped
from brachium.core.figures.base.theme import CONTRAST, DARK, LIGHT, ROLES, Colours
from brachium.core.figures.base.verdict_shape import verdict_shape
from brachium.core.figures.board.fit_board import BoardState, fit_board
from brachium.core.figures.lists.bill import BillState, bill
from brachium.core.figures.lists.cause_list import cause_list
from brachium.core.figures.lists.check_list import check_list
from brachium.core.figures.lists.claim_list import claim_list
from brachium.core.figures.lists.ladder_list import ladder_list
from brachium.core.figures.lists.step_list import step_list
from brachium.core.figures.plots.evidence_balance import evidence_balance
from brachium.core.figures.plots.limit_bars import limit_bars
from brachium.core.figures.plots.plan_front import FrontState, plan_front
from brachium.core.figures.plots.repeats import repeat_dots
from brachium.core.figures.plots.traces import twin_traces
from brachium.core.fit.verdict import Level
from brachium.core.plan.candidates import planned
from brachium.core.record.kept_plans import Replacement
from brachium.ui.theme import theme


def bill_state(view: JobView) -> BillState:
    parts = tuple((c.id, c.title, c.price) for c in view.choice.chosen())
    assert view.choice.weighed is not None
    return BillState(parts, view.choice.cost, "EUR", view.choice.prediction, view.choice.weighed.odds)


def reach(drawing: Drawing) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of everything that is drawn, text by its estimated width."""
    xs, ys = [0.0], [0.0]
    for item in drawing.items:
        match item:
            case Line():
                xs += [item.x1, item.x2]
                ys += [item.y1, item.y2]
            case Polyline():
                xs += [float(item.points[:, 0].min()), float(item.points[:, 0].max())]
                ys += [float(item.points[:, 1].min()), float(item.points[:, 1].max())]
            case Box() | Hatch():
                xs += [item.x, item.x + item.w]
                ys += [item.y, item.y + item.h]
            case Dot():
                xs += [item.x - item.r, item.x + item.r]
            case Text():
                width = 0.9 * text_width(item.text, item.size, item.weight, item.condensed)
                left = item.x - {"start": 0, "middle": width / 2, "end": width}[item.anchor]
                xs += [left, left + width]
                ys += [item.y - 0.7 * item.size, item.y]
    return min(xs), min(ys), max(xs), max(ys)


def front_state(view: JobView) -> FrontState:
    choice = view.choice.weighed
    assert choice is not None
    other = Replacement(280.0, 2.2, 90.0, "a younger laptop")
    return FrontState(choice.front, choice.bands, choice.titles, choice.present, (), 150.0, other)


def figures(view: JobView, width: float, height: float) -> dict[str, Drawing]:
    """Every figure of the finished demo job at one size."""
    comparison = view.proof.comparison
    assert comparison is not None and view.choice.prediction is not None and view.measured.before is not None
    assert view.choice.weighed is not None
    board = BoardState(
        view.job.machine, planned(view.job.machine, view.choice.chosen()), {"slot-2": Level.FITS}, ("new paste",)
    )
    rows = tuple((t, view.measured.before.results(t.key)) for t in view.measured.before.tests)
    stair, ledger = stair_of(comparison, width, height), ledger_of(comparison, width)
    assert stair is not None and ledger is not None
    return {
        "traces": traces_of(comparison, 95.0, width, height),
        "stair": stair,
        "ledger": ledger,
        "board": fit_board(board, width, height),
        "plan": bill(bill_state(view), width),
        "front": plan_front(front_state(view), width, height),
        "causes": cause_list(view.causes.assessment, width),
        "claims": claim_list(comparison.heat, view.proof.targets, width),
        "balance": evidence_balance(view.causes.assessment.ranked[0], width),
        "checks": check_list(view.causes.assessment.checks, (), width, 6),
        "limits": limit_bars(view.causes.assessment.limits, width),
        "ladder": ladder_list(ladder({"look_place": "free", "look_fins": "felt or lint"}, view.job.machine), width),
        "steps": step_list(view.work.steps, {}, width),
        "dots": repeat_dots(rows, width, height, True),
    }


@settings(max_examples=12, deadline=None)
@given(st.floats(480, 1400), st.floats(260, 900))
def test_nothing_leaves_the_frame_and_every_region_can_be_hit(
    finished_view: JobView, width: float, height: float
) -> None:
    for name, drawing in figures(finished_view, width, height).items():
        left, top, right, bottom = reach(drawing)
        assert left >= -1 and top >= -3, (name, left, top)
        assert right <= drawing.width + 2 and bottom <= drawing.height + 3, (name, right, bottom, drawing.height)
        assert drawing.title and drawing.regions, name
        ids = [r.id for r in drawing.regions]
        assert len(set(ids)) == len(ids), name
        assert all(r.w > 0 and r.h > 0 and r.label for r in drawing.regions), name


def test_every_role_that_is_drawn_exists(finished_view: JobView) -> None:
    for drawing in figures(finished_view, 800, 400).values():
        used = {getattr(i, k) for i in drawing.items for k in ("role", "fill") if getattr(i, k, "")}
        assert used <= set(ROLES)


def test_before_is_hollow_and_warm_after_solid_and_cool(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None
    drawing = stair_of(comparison, 400, 300)
    assert drawing is not None
    boxes = [i for i in drawing.items if isinstance(i, Box)]
    assert [(b.role, b.fill) for b in boxes] == [("warm", "")] * 2 + [("cool", "cool")] * 2


def test_stair_heights_are_the_steps(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None and comparison.heat.stairs is not None
    drawing = stair_of(comparison, 400, 300)
    assert drawing is not None
    boxes = [i for i in drawing.items if isinstance(i, Box)]
    before = comparison.heat.stairs[0]
    ratio = boxes[0].h / boxes[1].h
    assert ratio == pytest.approx(before.chip_to_sink_k / before.sink_to_room_k, rel=1e-6)


def test_ledger_is_sorted_and_its_dots_sit_at_the_ratios(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None
    drawing = ledger_of(comparison, 800)
    assert drawing is not None
    dots = [i for i in drawing.items if isinstance(i, Dot)]
    xs = [d.x for d in dots]
    assert xs == sorted(xs, reverse=True)
    ratios = sorted((g.result.ratio for g in comparison.gains if g.result), reverse=True)
    logs = np.log(ratios)
    np.testing.assert_allclose(np.diff(xs) / np.diff(logs), (xs[0] - xs[-1]) / (logs[0] - logs[-1]), rtol=1e-6)


def test_traces_are_aligned_at_load_onset(finished_view: JobView) -> None:
    assert finished_view.measured.before is not None and finished_view.measured.after is not None
    pair = (
        run_strand(finished_view.measured.before, "before", False, 95.0),
        run_strand(finished_view.measured.after, "after", True, 95.0),
    )
    drawing = twin_traces(pair, 800, 400)
    curves = [i for i in drawing.items if isinstance(i, Polyline)]
    assert len(curves) == 8, "two runs in four lanes"
    clock = curves[2:4]
    onset = [float(c.points[np.argmax(np.abs(np.diff(c.points[:, 1]))), 0]) for c in clock]
    assert onset[0] == pytest.approx(onset[1], abs=3.0)
    assert any(isinstance(i, Hatch) for i in drawing.items), "the held-back stretch is hatched"


@settings(max_examples=50, deadline=None)
@given(st.integers(50, 5000), st.integers(10, 400), st.integers(0, 999))
def test_thinning_keeps_the_extremes(n: int, columns: int, seed: int) -> None:
    values = np.random.default_rng(seed).normal(size=n)
    t, v = decimated(np.arange(float(n)), values, columns)
    assert v.min() == values.min() and v.max() == values.max()
    assert v.size <= max(2 * columns, n) and np.all(np.diff(t) >= 0)


@given(st.floats(-1e4, 1e4), st.floats(1e-2, 1e4), st.integers(2, 8))
def test_ticks_are_round_and_inside(low: float, span: float, wanted: int) -> None:
    ticks = round_ticks(low, low + span, wanted)
    assert len(ticks) <= 2 * wanted + 2
    assert all(low - 1e-6 * span <= t <= low + span + 1e-6 * span for t in ticks)


def test_log_scale_maps_ratios_evenly() -> None:
    scale = Scale(0.5, 8.0, 0.0, 400.0, log=True)
    assert scale(2.0) == pytest.approx(200.0)
    assert scale(1.0) - scale(0.5) == pytest.approx(scale(8.0) - scale(4.0))


@given(st.text("abcWi m", max_size=80), st.floats(20, 400))
def test_wrapped_text_loses_nothing_and_fits(text: str, room: float) -> None:
    lines = wrapped(text, room, 13, 500)
    assert "".join("".join(lines).split()) == "".join(text.split()), "no sign is lost, none is added"
    assert all(text_width(line, 13, 500) <= room or len(line) == 1 for line in lines)


@given(st.floats(60, 400))
def test_a_figure_and_its_unit_stay_on_one_line(room: float) -> None:
    text = "the next step costs 7 EUR for 3 h 32 min at 21.3 GB/s, 35 W, 4 cores and 98 % of it"
    lines = wrapped(text, room, 13)
    assert " ".join(lines) == text
    for pair in ("7 EUR", "3 h", "32 min", "21.3 GB/s", "35 W", "98 %"):
        assert any(pair in line for line in lines), pair


def test_widths_are_those_of_the_shipped_fonts(qtbot: QtBot) -> None:
    theme.load_fonts()
    for words in (
        "8 GiB DDR3L-1600 SO-DIMM",
        "Übergabe: geprüft",
        "× 1.93 (1.74 to 2.17)",
        "fenêtre déjà",
        "0123456789",
    ):
        for weight, condensed in ((400, False), (600, False), (500, True)):
            shown = QFontMetricsF(theme.font(13, weight, condensed)).horizontalAdvance(words)
            assert shown <= text_width(words, 13, weight, condensed) <= 1.04 * shown + 1.0, (words, weight)


@pytest.mark.parametrize("level", list(Level))
@pytest.mark.parametrize("size", [14.0, 22.0, 64.0])
def test_verdict_shapes_stay_in_their_square(level: Level, size: float) -> None:
    items = verdict_shape(level, 0, 0, size)
    left, top, right, bottom = reach(Drawing(size, size, "", items))
    assert left >= -0.5 and top >= -0.5 and right <= size + 0.5 and bottom <= size + 0.5


def luminance(value: str) -> float:
    parts = [int(value[k : k + 2], 16) / 255 for k in (1, 3, 5)]
    linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


LOOKS = pytest.mark.parametrize("colours", [LIGHT, DARK, CONTRAST], ids=["light", "dark", "contrast"])


def contrast(colours: Colours, one: str, other: str) -> float:
    """Contrast ratio of two roles (WCAG 2.2, 1.4.3)."""
    low, high = sorted((luminance(colours.role(one)), luminance(colours.role(other))))
    return (high + 0.05) / (low + 0.05)


@LOOKS
def test_contrast_of_text_and_marks(colours: Colours) -> None:
    least = 7.0 if colours is CONTRAST else 4.5
    for ground in ("film", "sheet", "cool_wash", "warm_wash", "alarm_wash"):
        own = {"warm_wash": ("ink", "soft", "warm"), "alarm_wash": ("ink", "soft", "alarm"),
               "cool_wash": ("ink", "soft", "cool")}  # fmt: skip
        for text in own.get(ground, ("ink", "soft", "cool", "warm", "alarm")):
            assert contrast(colours, text, ground) >= least, (text, ground)
    for ground in ("film", "sheet"):
        for mark in ("edge", "soft", "cool", "warm", "alarm"):
            assert contrast(colours, mark, ground) >= 3.0, (mark, ground)


@LOOKS
def test_ink_on_the_planned_part_can_be_read(colours: Colours) -> None:
    assert contrast(colours, "on_cool", "cool") >= 4.5
