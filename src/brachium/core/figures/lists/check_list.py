"""Checks as rows: what, minutes, what it tells for a minute; those already made with their answer."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import joined, phrase
from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.check import Check
from brachium.core.cause.checks import BY_ID as SLOW_OR_HOT
from brachium.core.cause.ranking import NextCheck
from brachium.core.cause.start.checks import BY_ID as NO_START
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.writing import Face, write
from brachium.core.record.checks import CheckDone

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
    sketch = Sketch(width, 0)
    most = max((c.bits_per_minute for c in proposed), default=1.0)
    y = 0.0
    for one in made:
        y = _made(sketch, one, y, width)
    for k, one_next in enumerate(proposed):
        y = _proposed(sketch, one_next, y, width, most, k == 0 and not blind, blind)
    if not made and not proposed:
        words = "No check would tell enough to be worth its minutes."
        y = write(sketch, 8, 10, width - 8, words, Face(13, role="soft"))
    sketch.height = y + 2
    return sketch.done("Checks", "made, and those that tell most for a minute")


def _made(sketch: Sketch, one: CheckDone, y: float, width: float) -> float:
    check = BY_ID[one.check]
    end = write(sketch, 20, y + 3, width - 80, check.title, Face(12, 500, "soft"))
    end = write(sketch, 20, end, width - 80, one.answer, Face(12)) + 3
    sketch.add(Line(0, end, width, end, "grid"), Dot(8, (y + end) / 2, 4, "cool", "cool"))
    sketch.add(Text(width - 2, (y + end) / 2 + 4, minutes(one.minutes), "soft", 11, anchor="end", condensed=True))
    label = phrase("{check}: {answer}", check=check.title, answer=one.answer)
    sketch.regions.append(Region(f"check:{check.id}", 0, y + 1, width, end - y - 2, label, because_check(check, None)))
    return end


def _proposed(sketch: Sketch, one: NextCheck, y: float, width: float, most: float, first: bool, blind: bool) -> float:
    check, room = one.check, width - BAR_W - 34
    title, cost = Face(12, 600 if first else 500), Face(11, role="soft", condensed=True)
    end = y + 6 + title.step * title.lines(check.title, room) + cost.step * cost.lines(_cost(check), room)
    if first:
        sketch.add(Box(0, y + 1, width, end - y - 2, "", "cool_wash"), Box(0, y + 1, 3, end - y - 2, "", "cool"))
    sketch.add(Line(0, end, width, end, "grid"), Dot(8, (y + end) / 2, 4, "soft"))
    write(sketch, 20, write(sketch, 20, y + 3, room, check.title, title), room, _cost(check), cost)
    tells = "" if blind else phrase(", {bits_per_minute:.2f} bit a minute", bits_per_minute=one.bits_per_minute)
    if not blind:
        x = width - BAR_W - 4
        sketch.add(Box(x, y + 8, max(BAR_W * one.bits_per_minute / most, 2.0), 7, "ink", "ink" if first else "", 1.0))
        sketch.add(
            Text(
                x,
                y + 28,
                phrase("{bits_per_minute:.2f} bit/min", bits_per_minute=one.bits_per_minute),
                "soft",
                11,
                condensed=True,
            )
        )
    because = because_check(check, None if blind else one)
    label = phrase("{check}, {cost}{tells}", check=check.title, cost=_cost(check), tells=tells)
    sketch.regions.append(Region(f"check:{check.id}", 0, y + 1, width, end - y - 2, label, because))
    return end


def _cost(check: Check) -> str:
    alone = (
        phrase(" and {unattended_min} by itself", unattended_min=minutes(check.unattended_min))
        if check.unattended_min
        else ""
    )
    opens = ", opens the machine" if check.opens else ""
    return phrase(
        "{attended_min} of yours{alone}{opens}", attended_min=minutes(check.attended_min), alone=alone, opens=opens
    )


def because_check(check: Check, following: NextCheck | None) -> Because:
    """How a check is done, what its answers are, and what it tells."""
    facts = [
        Fact("of yours", minutes(check.attended_min), Origin.ASSUMED),
        Fact("by itself", minutes(check.unattended_min), Origin.ASSUMED),
    ]
    if following is not None:
        facts.append(Fact("expected information", phrase("{bits:.2f} bit", bits=following.bits), Origin.COMPUTED))
    answers = joined("; ", check.sign.states)
    return Because(
        check.title, "information for a minute", check.how, tuple(facts), phrase("Answers: {answers}", answers=answers),
        "Every answer that comes in changes what is worth asking next.",
        (check.caution,) if check.caution else (),
    )  # fmt: skip
