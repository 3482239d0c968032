"""Checks as rows: what, minutes, what it tells for a minute; those already made with their answer."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.check import Check
from brachium.core.cause.checks import BY_ID as SLOW_OR_HOT
from brachium.core.cause.ranking import NextCheck
from brachium.core.cause.start.checks import BY_ID as NO_START
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.lists.candidate_list import clipped
from brachium.core.record.checks import CheckDone

ROW = 34.0
BY_ID = SLOW_OR_HOT | NO_START
BAR_W = 60.0


def check_list(
    following: Sequence[NextCheck], done: Sequence[CheckDone], width: float, rows: int, blind: bool = False
) -> Drawing:  # fmt: skip
    """Those that were made first, each with its answer, then the proposed ones, the one that tells most in front.

    `blind` keeps to itself what they tell, and the order that would give it away.
    """
    made = [d for d in done if d.check in BY_ID]
    if blind:
        following = sorted(following, key=lambda c: c.check.title)
    proposed = following[: len(following) if blind else max(rows - len(made), 2)]
    count = len(made) + len(proposed)
    sketch = Sketch(width, ROW * max(count, 1) + 2)
    most = max((c.bits_per_minute for c in proposed), default=1.0)
    for k, one in enumerate(made):
        _made(sketch, one, k * ROW, width)
    for k, one_next in enumerate(proposed, len(made)):
        _proposed(sketch, one_next, k * ROW, width, most, k == len(made) and not blind, blind)
    if not count:
        sketch.add(Text(8, 22, "No check would tell enough to be worth its minutes.", "soft", 13))
    return sketch.done("Checks", "made, and those that tell most for a minute")


def _made(sketch: Sketch, one: CheckDone, y: float, width: float) -> None:
    check = BY_ID[one.check]
    sketch.add(Line(0, y + ROW, width, y + ROW, "grid"), Dot(8, y + 17, 4, "cool", "cool"))
    sketch.add(Text(20, y + 15, clipped(check.title, width - 70, 12, 500), "soft", 12, 500))
    sketch.add(Text(20, y + 29, clipped(one.answer, width - 70, 12, 400), "ink", 12))
    sketch.add(Text(width - 2, y + 21, minutes(one.minutes), "soft", 11, anchor="end", condensed=True))
    label = f"{check.title}: {one.answer}"
    sketch.regions.append(Region(f"check:{check.id}", 0, y + 1, width, ROW - 2, label, because_check(check, None)))


def _proposed(sketch: Sketch, one: NextCheck, y: float, width: float, most: float, first: bool, blind: bool) -> None:
    check = one.check
    if first:
        sketch.add(Box(0, y + 1, width, ROW - 2, "", "cool_wash"), Box(0, y + 1, 3, ROW - 2, "", "cool"))
    sketch.add(Line(0, y + ROW, width, y + ROW, "grid"), Dot(8, y + 17, 4, "soft"))
    room = width - BAR_W - 34
    sketch.add(Text(20, y + 15, clipped(check.title, room, 12, 500), "ink", 12, 600 if first else 500))
    sketch.add(Text(20, y + 29, _cost(check), "soft", 11, condensed=True))
    tells = "" if blind else f", {one.bits_per_minute:.2f} bit a minute"
    if not blind:
        x = width - BAR_W - 4
        sketch.add(Box(x, y + 8, max(BAR_W * one.bits_per_minute / most, 2.0), 7, "ink", "ink" if first else "", 1.0))
        sketch.add(Text(x, y + 28, f"{one.bits_per_minute:.2f} bit/min", "soft", 11, condensed=True))
    because = because_check(check, None if blind else one)
    label = f"{check.title}, {_cost(check)}{tells}"
    sketch.regions.append(Region(f"check:{check.id}", 0, y + 1, width, ROW - 2, label, because))


def _cost(check: Check) -> str:
    alone = f" and {minutes(check.unattended_min)} by itself" if check.unattended_min else ""
    opens = ", opens the machine" if check.opens else ""
    return f"{minutes(check.attended_min)} of yours{alone}{opens}"


def because_check(check: Check, following: NextCheck | None) -> Because:
    """How a check is done, what its answers are, and what it tells."""
    facts = [
        Fact("of yours", minutes(check.attended_min), Origin.ASSUMED),
        Fact("by itself", minutes(check.unattended_min), Origin.ASSUMED),
    ]
    if following is not None:
        facts.append(Fact("expected information", f"{following.bits:.2f} bit", Origin.COMPUTED))
    answers = "; ".join(check.sign.states)
    return Because(
        check.title, "information for a minute", check.how, tuple(facts), f"Answers: {answers}",
        "Every answer that comes in changes what is worth asking next.",
        (check.caution,) if check.caution else (),
    )  # fmt: skip
