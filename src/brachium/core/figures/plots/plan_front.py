"""Plan front: cost against predicted gain, the front with its bands, today and another machine as references."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from brachium.core.base.band import Band
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.units import ratio_band
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.choose.front import Front
from brachium.core.choose.plan_space import Plan
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Polyline, Region, Sketch, Text, lines_of_text
from brachium.core.figures.base.scale import Scale, round_ticks
from brachium.core.figures.base.text_width import text_width, wrapped
from brachium.core.record.kept_plans import NamedPlan, Replacement

LEFT, RIGHT, FOOT, REASON = 44.0, 10.0, 22.0, 14.0


@dataclass(frozen=True)
class FrontState:
    """What is drawn: the front, bands of its plans by their ids, titles, the plan in hand, kept plans, limits."""

    front: Front
    bands: Mapping[tuple[str, ...], Band]
    titles: Mapping[str, str]
    present: Plan | None
    kept: Sequence[NamedPlan] = ()
    budget: float | None = None
    other: Replacement | None = None
    more: bool = False  # the plan in hand holds changes whose gain nobody knows


def plan_front(state: FrontState, width: float, height: float) -> Drawing:
    """Full dot = recommended, ring = the plan in hand; the line is the best-value line, bars hold 8 of 10 draws."""
    sketch = Sketch(width, height)
    front = state.front
    reason = wrapped(upper_first(front.reason), width - LEFT - RIGHT - 16, 12, 500, True)
    across, up = _scales(state, width, height, 12.0 + REASON * len(reason))
    _stop(sketch, reason)
    for tick in round_ticks(up.low, up.high, 4):
        sketch.add(Line(LEFT, up(tick), width - RIGHT, up(tick), "hair" if tick == 1.0 else "grid"))
        sketch.add(
            Text(LEFT - 6, up(tick) + 4, phrase("× {tick:g}", tick=tick), "soft", 11, anchor="end", condensed=True)
        )
    for tick in (t for t in round_ticks(0.0, across.high, 5) if across(t) < width - RIGHT - 34):
        sketch.add(
            Text(across(tick), height - 6, phrase("{tick:g}", tick=tick), "soft", 11, anchor="middle", condensed=True)
        )
    sketch.add(Text(width - RIGHT, height - 6, "EUR", "soft", 11, anchor="end", condensed=True))
    for cost, gain in front.cloud:
        if cost <= across.high and gain >= up.low:
            sketch.add(Dot(across(float(cost)), up(float(gain)), 1.8, "hair", "", 1.0))
    line = np.array([(across(front.plans[k].cost), up(front.plans[k].gain)) for k in front.hull])
    if len(line) > 1:
        sketch.add(Polyline(line, "cool", 1.4))
    for index, plan in enumerate(front.plans):
        _point(sketch, state, index, plan, across, up)
    _present(sketch, state, across, up)
    _other(sketch, state, across, up)
    _budget(sketch, state, across, up)
    return sketch.done(
        "Plan front",
        phrase("{admissible} plans of {count} within the limits", admissible=front.admissible, count=front.count),
    )


def _scales(state: FrontState, width: float, height: float, top: float) -> tuple[Scale, Scale]:
    plans = state.front.plans
    costs = [p.cost for p in plans] + ([state.present.cost] if state.present is not None else [])
    gains = [p.gain for p in plans] + [b.high for b in state.bands.values()]
    if state.budget is not None:
        costs.append(state.budget)
    if state.other is not None:
        costs.append(state.other.price)
        gains.append(state.other.gain)
    low = 1.0 - 0.07 * max(max(gains) - 1.0, 0.2)  # room for the word below today
    return (Scale(0.0, max(max(costs) * 1.06, 20.0), LEFT, width - RIGHT),
            Scale(low, max(max(gains) * 1.02, 1.1), height - FOOT, top))  # fmt: skip


def _budget(sketch: Sketch, state: FrontState, across: Scale, up: Scale) -> None:
    if state.budget is not None:
        x = across(state.budget)
        sketch.add(Line(x, up.end, x, up.start, "warm", 1.0, (4.0, 3.0)))
        _named(sketch, Text(x - 6, up.end + 12, "budget", "warm", 11, anchor="end", condensed=True))


def _point(sketch: Sketch, state: FrontState, index: int, plan: Plan, across: Scale, up: Scale) -> None:
    x, y = across(plan.cost), up(plan.gain)
    chosen, on_hull = index == state.front.chosen, index in state.front.hull
    band = state.bands.get(plan.ids)
    if band is not None and on_hull:
        sketch.add(Line(x, up(band.low), x, up(band.high), "cool", 1.2))
    if index == 0:
        sketch.add(Dot(x, y, 4.5, "warm", "sheet", 1.6))
        _named(sketch, Text(x + 10, y + 16, "today", "warm", 11, 500, condensed=True))
    else:
        r = 6.5 if chosen else 4.0 if on_hull else 2.8
        sketch.add(Dot(x, y, r, "cool", "cool" if chosen else "sheet", 1.4))
    what = joined(", ", (state.titles.get(i, i) for i in plan.ids)) or "today"
    words = ratio_band(band.low, band.mid, band.high) if band is not None else phrase("× {gain:.2f}", gain=plan.gain)
    label = phrase("{what}: {cost:.0f} EUR, {words}", what=what, cost=plan.cost, words=words)
    sketch.regions.append(
        Region(f"plan:{'+'.join(plan.ids)}", x - 8, y - 8, 16, 16, label, _because(state, plan, what))
    )


def _because(state: FrontState, plan: Plan, what: str) -> Because:
    band = state.bands.get(plan.ids)
    facts = [
        Fact("cost, all in", phrase("{cost:.2f} EUR", cost=plan.cost), Origin.COMPUTED),
        Fact("of yours", phrase("{attended_min:.0f} min", attended_min=plan.attended_min), Origin.ASSUMED),
        Fact("median gain", phrase("× {gain:.2f}", gain=plan.gain), Origin.COMPUTED),
    ]
    if band is not None:
        facts.append(
            Fact("8 of 10 draws", phrase("× {low:.2f} to {high:.2f}", low=band.low, high=band.high), Origin.COMPUTED)
        )
    chosen = plan == state.front.recommended
    return Because(
        upper_first(what), "plan front",
        "No plan is cheaper and brings as much. Press to take it over. Along the best-value line each further step "
        "brings less for its money; one stops where a step is not worth it any more, or could never be shown.",
        tuple(facts), phrase("recommended: {reason}", reason=state.front.reason) if chosen else "",
        "Prices, the budget, the rate, measured shares of the owner's work.",
    )  # fmt: skip


def _present(sketch: Sketch, state: FrontState, across: Scale, up: Scale) -> None:
    if state.present is not None and state.present.ids:
        x, y = across(state.present.cost), up(max(state.present.gain, up.low))
        sketch.add(Dot(x, y, 10.0, "ink", "", 1.6))
        named = next((k.name for k in state.kept if set(k.ids) == set(state.present.ids)), "in hand")
        if state.more:  # at least so much: an arrow to where it may lie
            tip = max(y - 34.0, up.end)
            sketch.add(Line(x, y - 10.0, x, tip, "ink", 1.4), Line(x - 4, tip + 5, x, tip, "ink", 1.4),
                       Line(x + 4, tip + 5, x, tip, "ink", 1.4))  # fmt: skip
            named = phrase("{named}, and more", named=named)
        right = x < across.end - 70
        left, anchor = (x + 15, "start") if right else (x - 15, "end")
        _named(sketch, Text(left, y + 14, named, "ink", 11, 600, anchor, True))


def _other(sketch: Sketch, state: FrontState, across: Scale, up: Scale) -> None:
    if state.other is None:
        return
    x, y = across(state.other.price), up(max(state.other.gain, up.low))
    sketch.add(Box(x - 5, y - 5, 10, 10, "warm", "sheet", 1.6))
    end = x > across.end - 80
    _named(
        sketch,
        Text(x - 10 if end else x + 10, y - 8, "another machine", "warm", 11, 500, "end" if end else "start", True),
    )
    label = phrase("another machine: {price:.0f} EUR, × {gain:.2f}", price=state.other.price, gain=state.other.gain)
    because = Because("Another machine", "reference", state.other.note or "Typed figures, for comparison.", (
        Fact("price", phrase("{price:.2f} EUR", price=state.other.price), Origin.TYPED),
        Fact("work per time", phrase("× {gain:.2f}", gain=state.other.gain), Origin.TYPED),
        Fact("to set it up", phrase("{minutes:.0f} min", minutes=state.other.minutes), Origin.TYPED),
    ))  # fmt: skip
    sketch.regions.append(Region("other", x - 8, y - 8, 16, 16, label, because))


def _stop(sketch: Sketch, reason: tuple[str, ...]) -> None:
    """Why one stops at the full dot, above the plot: no line of it is covered."""
    sketch.add(Dot(LEFT + 5, 8, 4.0, "cool", "cool"))
    sketch.add(*lines_of_text(reason, Text(LEFT + 16, 12, "", "cool", 12, 500, condensed=True), REASON))


def _named(sketch: Sketch, words: Text) -> None:
    """A name in the plot on a ground of its own, so that no line runs through it."""
    wide = text_width(words.text, words.size, words.weight, words.condensed) + 6
    left = words.x - {"start": 3.0, "middle": wide / 2, "end": wide - 3}[words.anchor]
    sketch.add(Box(left, words.y - 11, wide, 15, "", "film"), words)
