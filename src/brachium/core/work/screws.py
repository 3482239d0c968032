"""The screw tray: what came out of which layer, in the order of removal; refitting runs it backwards and counts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, pi

from brachium.core.base.text import joined, phrase
from brachium.core.record.work.screws import ScrewGroup

HEADS = ("PH00", "PH0", "PH1", "PH2", "T5", "T6", "T8", "T10", "T15", "five-lobe", "tri-wing", "hex", "slot")
THREADS = ("M1.6", "M2", "M2.5", "M3", "M4", "6-32", "own")


def tray_groups(screws: Sequence[ScrewGroup], removed: Sequence[str]) -> tuple[ScrewGroup, ...]:
    """Groups in the order in which their layers came off; layers that nobody took off yet are left out."""
    return tuple(g for layer in removed for g in screws if g.layer == layer)


def open_screws(screws: Sequence[ScrewGroup], layer: str) -> str:
    """What is wrong with the screws of a layer that goes back, in words; empty where every one is accounted for."""
    out = []
    for group in screws:
        if group.layer != layer or group.captive:
            continue
        what = phrase("{thread} × {length_mm:g} mm", thread=group.thread, length_mm=group.length_mm)
        if group.back is None:
            out.append(phrase("{count} {what} not counted back", count=group.count, what=what))
        elif group.back < group.count:
            out.append(phrase("{count} {what} left over", count=group.count - group.back, what=what))
        elif group.back > group.count:
            out.append(phrase("{back} {what} more than came out", back=group.back - group.count, what=what))
    return joined("; ", out)


def all_open(screws: Sequence[ScrewGroup], layers: Sequence[str]) -> str:
    """The same for several layers."""
    return joined("; ", (words for layer in layers if (words := open_screws(screws, layer))))


@dataclass(frozen=True)
class TightenPlan:
    """Places of screws on a unit square (x, y) and the order of each pass, as indices."""

    places: tuple[tuple[float, float], ...]
    order: tuple[int, ...]
    passes: int = 2


_PLACES: dict[int, tuple[tuple[float, float], ...]] = {
    2: ((0.15, 0.5), (0.85, 0.5)),
    3: ((0.5, 0.12), (0.86, 0.8), (0.14, 0.8)),
    4: ((0.14, 0.14), (0.86, 0.14), (0.86, 0.86), (0.14, 0.86)),
    6: ((0.14, 0.12), (0.86, 0.12), (0.86, 0.5), (0.86, 0.88), (0.14, 0.88), (0.14, 0.5)),
}


_ORDERS = {6: (0, 3, 1, 4, 2, 5)}  # both diagonals first, the middle last


def tighten_plan(count: int) -> TightenPlan:
    """Crosswise: each next screw lies as far as can be from the last, of equals the one that is loose longest round the
    plate. Other counts than 2, 3, 4, 6 stand on a circle."""
    places = _PLACES.get(count) or tuple(_on_circle(k, count) for k in range(max(count, 1)))
    if count in _ORDERS:
        return TightenPlan(places, _ORDERS[count])
    left, order = list(range(len(places))), [0]
    left.remove(0)
    while left:
        x, y = places[order[-1]]
        following = max(left, key=lambda k: (round((places[k][0] - x) ** 2 + (places[k][1] - y) ** 2, 6), -k))
        order.append(following)
        left.remove(following)
    return TightenPlan(places, tuple(order))


def _on_circle(k: int, count: int) -> tuple[float, float]:
    from math import cos, sin

    angle = 2.0 * pi * k / count + atan2(-1.0, 0.0)
    return 0.5 + 0.4 * cos(angle), 0.5 + 0.4 * sin(angle)
