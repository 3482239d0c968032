"""What is asked while the work is done: trouble and what it moves, ticks from paper, why a step stands where it is."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.condition.findings import KINDS as FINDINGS
from brachium.core.condition.zones import ZONES
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.work.trouble import Trouble
from brachium.core.work.doing.trouble import KINDS, Promises, consequences, finding_of, zone_of
from brachium.core.work.doing.typed_ticks import NOT_TIMED, read_ticks
from brachium.core.work.doing.why_now import why_now
from brachium.core.work.step import Step
from brachium.core.work.steps import steps_for
from brachium.demo.newsroom import newsroom_job
from tests.support.every_plan import base, task

STEPS = tuple(Step(f"s{k}", f"Step {k}", "") for k in range(1, 14))


def test_a_line_of_ticks_is_read_as_it_was_written() -> None:
    ticks = read_ticks("1-3, 7:12 9 ; 5 : 4,5 3:2", STEPS)
    assert [(t.step_id, t.minutes) for t in ticks] == [
        ("s1", NOT_TIMED), ("s2", NOT_TIMED), ("s3", 2.0), ("s5", 4.5), ("s7", 12.0), ("s9", NOT_TIMED),
    ]  # fmt: skip
    assert read_ticks("", STEPS) == () and len(read_ticks("1–13", STEPS)) == 13


@pytest.mark.parametrize(("text", "says"), [
    ("1 17", "There are 13 steps: 17 is not one of them"), ("0-2", "0 is not one"), ("9-4", "runs backwards"),
    ("1-3:10", "belong to one step"), ("four", "is not understood"), ("4:2000", "more than a day"),
    ("-3", "understood"),
])  # fmt: skip
def test_a_line_that_cannot_be_is_refused_by_its_word(text: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        read_ticks(text, STEPS)


@given(st.text(alphabet="0123456789 -:,.;–x", max_size=24))
def test_whatever_is_typed_ticks_steps_that_are_there_or_says_why_not(text: str) -> None:
    try:
        ticks = read_ticks(text, STEPS)
    except ValueError as problem:
        assert str(problem).endswith(".")
    else:
        assert {t.step_id for t in ticks} <= {s.id for s in STEPS} and all(t.minutes >= 0 for t in ticks)


PROMISES = Promises("2026-12-04", Decimal(260), Decimal("240.00"), 78.0)


def told(kind: str, price: str | None, promises: Promises = PROMISES, minutes: float = 12.0) -> str:
    amount = Decimal(price) if price is not None else None
    return " ".join(consequences(newsroom_job(), Trouble("open", kind, "now", minutes, amount), promises, "2026-12-01"))


def test_what_a_trouble_costs_and_which_promise_moves() -> None:
    words = told("stripped", "4.50")  # 12 min at the bench's 32 EUR an hour
    assert "12 min more, 6.40 EUR of work." in words and "4.50 EUR for a screw" in words
    assert "The ceiling of 260 EUR holds: 250.90 EUR." in words
    assert "Promised for 2026-12-04, in 3 days: it moves unless the part is here before; 1 h 18 min" in words
    dear = told("misfit", "40")
    assert "The promised 260 EUR move: 286.40 EUR so far. Ask the owner first." in dear
    unknown = told("ribbon", None)
    assert "price is not known yet" in unknown and "before the part" in unknown and "0 EUR for" not in unknown
    quick = told("clip", None)
    assert "it moves" not in quick and "To buy" not in quick and "in 3 days: 1 h 18 min of work are left" in quick
    free = Promises("", None, Decimal(0), 5.0)
    assert "No ceiling was agreed" in told("clip", None, free) and "Promised" not in told("clip", None, free)
    late = Promises("2026-11-20", Decimal(260), Decimal(1), 5.0)
    assert "which is over" in told("clip", None, late)


@pytest.mark.parametrize("kind", list(MachineKind))
def test_what_stays_broken_is_a_finding_where_the_step_was_done(kind: MachineKind) -> None:
    known = {f.id for f in FINDINGS}
    zones = {z.id for z in ZONES[kind.build]}
    for trouble in KINDS:
        met = Trouble("memory", trouble.id, "now", 5.0, words="left rear")
        found = finding_of(met, Step("memory", "Fit it", ""), kind)
        assert (found is None) == (trouble.id in ("misfit", "other"))
        if found is not None:
            assert found.kind in known and found.zone in zones and found.note == "left rear"
    for step_id in ("open", "cooler-off", "paste", "drive-2", "battery-off", "board-out-off", "first-start"):
        assert zone_of(Step(step_id, "", ""), kind) in zones


def test_every_step_that_opens_says_what_lies_under_it() -> None:
    tower = base(MachineKind.TOWER)
    steps = steps_for(tower, (task(tower, "processor"), task(tower, "memory")), ())
    by_id = {s.id: s for s in steps}
    assert "Under it: change the processor; renew the paste" in why_now(by_id["open"], steps)
    assert "; fit " in why_now(by_id["open"], steps) and "; fit " not in why_now(by_id["cooler-off"], steps)
    assert why_now(by_id["close"], steps).startswith("Nothing is left")
    assert all(why_now(s, steps) for s in steps if s.layer or s.id in ("memory-test", "load-test", "settings-noted"))
