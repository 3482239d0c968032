"""Heat stair: temperature falling from chip to heatsink to room at equal power and fan speed, with intervals."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import phrase
from brachium.core.base.units import number, pm
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text, dimension_v
from brachium.core.figures.base.scale import Scale, round_ticks
from brachium.core.heat.claims import Stair

LEFT, TOP, FOOT = 30.0, 22.0, 22.0


@dataclass(frozen=True)
class StairColumn:
    """One configuration in the figure."""

    name: str
    stair: Stair
    after: bool


def heat_stair(
    columns: tuple[StairColumn, ...], power_w: float, fan_rpm: float, width: float, height: float
) -> Drawing:
    """Blocks hang from the chip's level down to the room's; whiskers are 95 % intervals of each step."""
    sketch = Sketch(width, height)
    top_k = max(c.stair.chip_to_sink_k + c.stair.sink_to_room_k for c in columns) * 1.08
    scale = Scale(0.0, top_k, height - FOOT, TOP)
    for tick in round_ticks(0.0, top_k, 4):
        sketch.add(Line(LEFT, scale(tick), width, scale(tick), "grid"))
        sketch.add(
            Text(LEFT - 6, scale(tick) + 4, phrase("{tick:g}", tick=tick), "soft", 11, anchor="end", condensed=True)
        )
    sketch.add(Text(LEFT - 6, TOP - 8, "K", "soft", 11, anchor="end"))
    sketch.add(Text(LEFT + 2, TOP - 8, "over room temperature", "soft", 11, condensed=True))
    each = (width - LEFT) / len(columns)
    for index, column in enumerate(columns):
        _column(sketch, column, scale, LEFT + index * each, each, power_w, fan_rpm)
    sketch.add(Line(LEFT, scale(0.0), width, scale(0.0), "ink", 1.4))
    return sketch.done(
        "Heat stair", phrase("at {power_w:.0f} W and {fan_rpm} /min", power_w=power_w, fan_rpm=number(fan_rpm, 3))
    )


def _column(
    sketch: Sketch, column: StairColumn, scale: Scale, left: float, room: float, power_w: float, fan_rpm: float
) -> None:
    role = "cool" if column.after else "warm"
    stair = column.stair
    block = min(room * 0.30, 74.0)
    x1 = left + room * 0.08
    x2 = x1 + block
    total = stair.chip_to_sink_k + stair.sink_to_room_k
    sink = stair.sink_to_room_k
    steps = (
        ("chip", x1, total, sink, stair.chip_to_sink_k, stair.chip_to_sink_half_k, "chip to heatsink"),
        ("sink", x2, sink, 0.0, stair.sink_to_room_k, stair.sink_to_room_half_k, "heatsink to room"),
    )
    for key, x, high, low, value, half, name in steps:
        y, h = scale(high), scale(low) - scale(high)
        dash = () if key == "chip" or stair.sink_is_settled else (5.0, 4.0)
        sketch.add(Box(x, y, block, h, role, role if column.after else "", 1.4, dash=dash))
        middle = x + block / 2
        sketch.extend(_whisker(scale, middle, high, half, column.after))
        ink = "on_cool" if column.after else "ink"
        at = min(max(y + h / 2 + 5, y + 15), y + h - 4)
        if h > 18:
            sketch.add(Text(middle, at, phrase("{value:.0f} K", value=value), ink, 13, 600, "middle"))
        else:
            sketch.add(Text(middle, y - 6, phrase("{value:.0f} K", value=value), role, 13, 600, "middle"))
        because = Because(
            phrase("{column}: {name} {pm}", column=column.name, name=name, pm=pm(value, half, "K")),
            "two-node heat fit",
            "The step at the stated power and fan speed. It holds die, spreader and plate as well as the paste: "
            "only its change between two runs of this machine speaks of the paste."
            if key == "chip"
            else "Heatsink, fins, fan and vents together, at equal fan speed.",
            (
                Fact("step", pm(value, half, "K"), Origin.FITTED),
                Fact("power", phrase("{power_w:.1f} W", power_w=power_w), Origin.MEASURED),
                Fact("fan speed", phrase("{fan_rpm} /min", fan_rpm=number(fan_rpm, 3)), Origin.MEASURED),
                Fact("total resistance", pm(stair.total_k_w, stair.total_half_k_w, "K/W"), Origin.FITTED),
                Fact("load lasted", phrase("{load_s:.0f} s", load_s=stair.load_s), Origin.MEASURED),
                Fact("slow time constant", phrase("{tau_slow_s:.0f} s", tau_slow_s=stair.tau_slow_s), Origin.FITTED),
            ),
            "" if stair.sink_is_settled else "not settled: the fitted asymptote is shown",
        )
        sketch.regions.append(Region(f"stair:{column.name}:{key}", x, y, block, max(h, 12), because.title, because))
    xd = x2 + block + 10
    if xd + 44 < left + room + 4:
        sketch.extend(dimension_v(xd, scale(total), scale(0.0)))
        sketch.add(Text(xd + 7, scale(total / 2) + 4, phrase("{total:.0f} K", total=total), "soft", 12, 500))
    sketch.add(Text(x1, scale.start + 15, column.name, role, 12, 600))


def _whisker(scale: Scale, x: float, value: float, half: float, solid: bool) -> tuple[Line, ...]:
    """The interval at the top edge of a block."""
    y1, y2 = scale(value + half), scale(value - half)
    role = "ink"
    return (
        Line(x, y1, x, y2, role, 1.2),
        Line(x - 4, y1, x + 4, y1, role, 1.2),
        Line(x - 4, y2, x + 4, y2, role, 1.2),
    )
