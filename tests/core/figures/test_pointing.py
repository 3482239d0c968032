"""What a press inside a figure means: small points take a finger's width, what is under the point comes first."""

from __future__ import annotations

import math

from hypothesis import given
from hypothesis import strategies as st

from brachium.core.figures.base.drawing import Region, region_at

SIDES = st.integers(2, 200)
PLACES = st.integers(0, 600)
REGIONS = st.lists(st.tuples(PLACES, PLACES, SIDES, SIDES), min_size=1, max_size=8).map(
    lambda rows: [Region(str(k), x, y, w, h, f"region {k}") for k, (x, y, w, h) in enumerate(rows)]
)


@given(st.floats(-40, 40), st.floats(-40, 40))
def test_a_point_of_six_pixels_is_hit_within_sixteen_of_its_middle(dx: float, dy: float) -> None:
    point = Region("point", 97, 197, 6, 6, "a plan")
    hit = region_at([point], 100 + dx, 200 + dy) is point
    assert hit == (max(abs(dx), abs(dy)) <= 16)


@given(REGIONS, PLACES, PLACES)
def test_what_is_under_the_point_comes_before_what_is_near(regions: list[Region], x: int, y: int) -> None:
    under = [r for r in regions if r.x <= x <= r.x + r.w and r.y <= y <= r.y + r.h]
    found = region_at(regions, x, y)
    if under:
        assert found in under and found.w * found.h == min(r.w * r.h for r in under)
    elif found is not None:
        away = math.hypot(x - found.x - found.w / 2, y - found.y - found.h / 2)
        assert away <= math.hypot(max(found.w, 32) / 2, max(found.h, 32) / 2) + 1e-6


def test_between_two_small_points_the_nearer_is_meant() -> None:
    left, right = Region("left", 0, 0, 8, 8, "left"), Region("right", 24, 0, 8, 8, "right")
    assert region_at([left, right], 13, 4) is left and region_at([left, right], 19, 4) is right
