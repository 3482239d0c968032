"""Figures of the bench: day sheet, screw tray, tightening, cautions, the supply's load, the board with all places."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest

from brachium.core.base.units import GIB
from brachium.core.day.blocks import Block, DayJob, Placed, Sheet, ShopDay
from brachium.core.day.opening import DAY_MIN
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Line, Text
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.board.fit_board import COOLING, BoardState, board_height, fit_board
from brachium.core.figures.lists.caution_list import caution_list, sign_shape, wrapped
from brachium.core.figures.plots.day_sheet import LEFT, RIGHT, day_sheet, span
from brachium.core.figures.plots.latency_curve import latency_curve
from brachium.core.figures.plots.load_bar import load_bar
from brachium.core.figures.plots.paste_figure import paste_figure
from brachium.core.figures.plots.screw_tray import screw_tray, tighten_figure
from brachium.core.fit.assumptions import HEADROOM
from brachium.core.fit.load import load_parts
from brachium.core.fit.verdict import Level
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.places import with_place
from brachium.core.record.work.paste import Contact, Method
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.hazards import HAZARDS
from brachium.core.work.paste import paste_amount
from brachium.core.work.screws import tighten_plan
from tests.core.fit.bench_machines import CARD, D3, LAPTOP, TOWER

HOURS = ((540, 750), (810, 1080), (DAY_MIN + 540, DAY_MIN + 1080))
SHOP = ShopDay(1, 2, HOURS, 535)


def texts(drawing: Drawing) -> list[str]:
    return [t.text for t in drawing.items if isinstance(t, Text)]


def inside(drawing: Drawing) -> None:
    """Nothing is drawn beyond the figure's edges, and no two regions are the same."""
    ids = [r.id for r in drawing.regions]
    assert len(ids) == len(set(ids))
    for region in drawing.regions:
        assert region.x >= -8 and region.x + region.w <= drawing.width + 8, region.id
        assert region.y >= -8 and region.y + region.h <= drawing.height + 8, region.id


def sheet_of(*starts: int, late: int = 0) -> tuple[Sheet, tuple[DayJob, ...]]:
    jobs, placed = [], []
    for k, start in enumerate(starts):
        block = Block(f"j{k}/b", f"j{k}", "Open and clean", ("s",), 60, 30, True)
        jobs.append(DayJob(f"j{k}", f"Machine {k}", (block,), 0, 900))
        placed.append(Placed(block, start, 0, 0))
    return Sheet(tuple(placed), late, 0, 0, "", {"j0": late}), tuple(jobs)


def test_stretches_stand_where_their_minutes_are() -> None:
    sheet, jobs = sheet_of(600, 660)
    drawing = day_sheet(sheet, jobs, SHOP, {"j0": 0.93, "j1": 0.4}, 0, 800)
    inside(drawing)
    begin, end = span(SHOP, 0)
    scale = (800 - LEFT - RIGHT) / (end - begin)
    region = next(r for r in drawing.regions if r.id == "j0/b")
    assert region.x == pytest.approx(LEFT + (600 - begin) * scale) and region.w == pytest.approx(60 * scale)
    tails = [h for h in drawing.items if isinstance(h, Hatch)]
    assert tails[0].x == pytest.approx(region.x + region.w) and tails[0].w == pytest.approx(30 * scale)
    words = texts(drawing)
    assert "93 %" in words and "40 %" in words and words.count("in time") == 2 and "09:00" in words


def test_a_late_machine_says_so_and_another_day_shows_its_own() -> None:
    sheet, jobs = sheet_of(600, late=25)
    assert "25 min late" in texts(day_sheet(sheet, jobs, SHOP, {}, 0, 800))
    tomorrow, jobs = sheet_of(DAY_MIN + 600)
    assert not day_sheet(tomorrow, jobs, SHOP, {}, 0, 800).regions
    assert len(day_sheet(tomorrow, jobs, SHOP, {}, 1, 800).regions) == 1
    assert "Nothing is planned for this day." in texts(day_sheet(Sheet((), 0, 0), (), SHOP, {}, 0, 800))


def test_the_tray_draws_screws_to_their_length_and_counts_what_is_back() -> None:
    groups = (
        ScrewGroup("cover", 8, "PH1", 5.0),
        ScrewGroup("cover", 2, "T8", 9.0, back=2),
        ScrewGroup("cooler", 4, captive=True),
    )
    out = screw_tray(groups, {"cover": "Cover", "cooler": "Cooler"}, False, 600)
    inside(out)
    shanks = [b.w for b in out.items if isinstance(b, Box) and b.h == 5]
    assert shanks[1] / shanks[0] == pytest.approx(9 / 5), "to scale"
    back = texts(screw_tray(groups, {}, True, 600))
    assert "? back" in back and "2 back" in back and "stay in" in back and "8 × PH1" in back


@pytest.mark.parametrize("count", [2, 3, 4, 6])
def test_the_order_of_tightening_is_numbered_from_one(count: int) -> None:
    drawing = tighten_figure(tighten_plan(count), False)
    numbers = [t.text for t in drawing.items if isinstance(t, Text) and t.text.isdigit()]
    assert sorted(numbers) == [str(k) for k in range(1, count + 1)] and "crosswise, in this order" in texts(drawing)
    assert "by the plate's own numbers" in texts(tighten_figure(tighten_plan(count), True))


@pytest.mark.parametrize("width", [180.0, 320.0, 640.0])
def test_cautions_are_wrapped_to_their_width_and_none_is_cut(width: float) -> None:
    rows = tuple((h.sign, h.words) for h in HAZARDS)
    drawing = caution_list(rows, width)
    inside(drawing)
    assert [r.label for r in drawing.regions] == [words for _, words in rows]
    for _, words in rows:
        lines = wrapped(words, width - 46)
        assert " ".join(lines) == words and all(text_width(x, 13, 500) <= width - 46 or " " not in x for x in lines)
    assert all(a.y + a.h <= b.y + 3 for a, b in pairwise(drawing.regions)), "one below the other"


def test_every_hazard_has_a_sign_of_its_own_family() -> None:
    drawn = {h.sign: len(sign_shape(h.sign, 0, 0, 30)) for h in HAZARDS}
    assert all(count >= 2 for count in drawn.values()) and len(drawn) >= 7


def test_the_load_is_stacked_to_its_sum_and_the_headroom_line_is_a_quarter_more() -> None:
    parts = load_parts(TOWER, TOWER.configuration(), 65.0)
    drawing = load_bar(parts, 400.0, 500)
    inside(drawing)
    whole = sum(p.watts for p in parts)
    scale = (500 - 8) / (400.0 * 1.04)
    assert sum(r.w for r in drawing.regions) == pytest.approx(whole * scale, rel=0.05)
    line = next(x for x in drawing.items if isinstance(x, Line) and x.dash)
    assert line.x1 == pytest.approx(4.0 + HEADROOM * whole * scale) and "rated 400 W" in texts(drawing)
    assert any("read its label" in t for t in texts(load_bar(parts, None, 500)))


@pytest.mark.parametrize("method", list(Method))
def test_paste_is_drawn_within_its_contact(method: Method) -> None:
    amount = paste_amount(900.0, Contact.SPREADER)
    drawing = paste_figure(900.0, amount, method)
    assert method.value in drawing.about and "10 mm" in texts(drawing) and len(drawing.items) >= 5


def test_the_board_shows_every_place_once_and_each_can_be_chosen() -> None:
    for machine in (TOWER, LAPTOP):
        state = BoardState(machine, machine.configuration(), {})
        drawing = fit_board(state, 640, board_height(machine))
        inside(drawing)
        ids = {r.id for r in drawing.regions}
        wanted = {p.id for p in (*machine.slots, *machine.bays, *machine.leads, *machine.platform.cards)}
        assert wanted | {COOLING, "socket"} <= ids
        assert ("supply" in ids) is (machine.kind is not MachineKind.LAPTOP) and ("battery" in ids) is (
            machine.kind is MachineKind.LAPTOP)  # fmt: skip


def test_sixteen_memory_places_and_many_bays_stay_apart() -> None:
    machine = TOWER
    for kind, count in (("dimm-ddr3", 12), ("bay-2.5", 6), ("card-x4", 4), ("fan", 3)):
        for _ in range(count):
            machine, _place = with_place(machine, kind)
    drawing = fit_board(BoardState(machine, machine.configuration(), {}), 430, board_height(machine))
    inside(drawing)
    slots = [r for r in drawing.regions if r.id.startswith("slot")]
    assert len(slots) == 16 and all(a.y + a.h <= b.y + 4 for a, b in pairwise(slots))


def test_a_planned_card_is_solid_with_its_verdict_and_a_lead_stays_a_lead() -> None:
    planned = TOWER.configuration().with_changes({"card-1": CARD})
    before = fit_board(BoardState(TOWER, TOWER.configuration(), {}), 640, 420)
    after = fit_board(BoardState(TOWER, planned, {"card-1": Level.LIMITED}, (), "card-1"), 640, 420)
    assert len(after.items) > len(before.items)
    label = next(r.label for r in after.regions if r.id == "card-1")
    assert "gen 3 x16" in label and "free" in next(r.label for r in before.regions if r.id == "card-1")
    flat = replace(TOWER, leads=())
    assert not any(r.id == "l1" for r in fit_board(BoardState(flat, flat.configuration(), {}), 640, 420).regions)


def test_a_module_that_moves_says_from_where_and_one_that_leaves_that_it_is_out() -> None:
    """The chosen population on the board: kept, moved, added, taken out."""
    big, small = replace(D3, name="big", size_bytes=8 * GIB), replace(D3, name="small", size_bytes=2 * GIB)
    machine = TOWER.with_part("slot-1", small).with_part("slot-3", D3)
    planned = machine.configuration().with_changes({"slot-1": big, "slot-2": small, "slot-3": None})
    for height, said in (
        (300, {"from 1"}),
        (1400, {"from memory slot 1", "to memory slot 2", "out: 4 GiB DDR3-1600"}),
    ):
        drawing = fit_board(BoardState(machine, planned, {}), 640, height)
        words = " | ".join(i.text for i in drawing.items if isinstance(i, Text))
        assert all(w in words for w in said), words


def test_a_latency_curve_shows_both_sides_and_either_alone() -> None:
    before = tuple((4096.0 * 2**k, 1.5 * 1.4**k) for k in range(14))
    after = tuple((x, 0.8 * y) for x, y in before)
    both = latency_curve(before, after, 600.0, 200.0)
    dots = [i for i in both.items if isinstance(i, Dot)]
    assert len(dots) == 28 and {d.fill for d in dots} == {"film", "cool"}
    warm, cool = ([d for d in dots if d.role == r] for r in ("warm", "cool"))
    assert all(a.x == b.x and a.y < b.y for a, b in zip(warm, cool, strict=True)), "less time lies lower"
    assert all(0 <= d.x <= 600 and 0 <= d.y <= 200 for d in dots)
    assert "32 M" in both.regions[0].because.facts[0].label  # type: ignore[union-attr]
    alone = latency_curve((), after, 600.0, 200.0)
    assert sum(isinstance(i, Dot) for i in alone.items) == 14
    assert latency_curve((), (), 600.0, 200.0).about == "not measured"
