"""Every kind of item as SVG."""

from __future__ import annotations

import re
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Item, Line, Polyline, Text
from brachium.core.figures.base.theme import DARK, LIGHT
from brachium.report.svg import drawing_to_svg

NS = "{http://www.w3.org/2000/svg}"


def parsed(*items: Item) -> ElementTree.Element:
    return ElementTree.fromstring(drawing_to_svg(Drawing(200, 100, "A & B", items, (), "about <it>"), LIGHT, False))


@pytest.mark.parametrize(
    ("item", "tag", "attributes"),
    [
        (Line(1, 2, 3, 4, "warm", 1.5, (4.0, 2.0)), "line",
         {"x1": "1.0", "y2": "4.0", "stroke": LIGHT.warm, "stroke-dasharray": "4 2"}),
        (Box(1, 2, 30, 40, "", "cool_wash"), "rect", {"width": "30.0", "fill": LIGHT.cool_wash}),
        (Box(1, 2, -3, 40, "ink"), "rect", {"width": "0.0", "fill": "none", "stroke": LIGHT.ink}),
        (Dot(5, 6, 2, "cool", "", 1.0), "circle", {"r": "2.0", "fill": "none", "stroke": LIGHT.cool}),
        (Polyline(np.array([[0.0, 1.0], [2.0, 3.0]])), "polyline", {"points": "0.0,1.0 2.0,3.0", "fill": "none"}),
        (Polyline(np.array([[0.0, 1.0], [2.0, 3.0]]), fill="cool", closed=True), "polygon", {"fill": LIGHT.cool}),
        (Text(9, 9, "5 < 6", "soft", 11, 600, "end", True), "text",
         {"text-anchor": "end", "font-weight": "600", "font-family": "Barlow Semi Condensed, sans-serif"}),
    ],
)  # fmt: skip
def test_items(item: Item, tag: str, attributes: dict[str, str]) -> None:
    root = parsed(item)
    element = root.find(f"{NS}{tag}")
    assert element is not None
    assert attributes.items() <= element.attrib.items()
    assert root.findtext(f"{NS}title") == "A & B" and root.findtext(f"{NS}desc") == "about <it>"
    if isinstance(item, Text):
        assert element.text == "5 < 6"


@given(st.floats(0, 100), st.floats(0, 100), st.floats(2, 80), st.floats(2, 80), st.floats(3, 12))
def test_hatching_never_leaves_its_rectangle(x: float, y: float, w: float, h: float, spacing: float) -> None:
    path = parsed(Hatch(x, y, w, h, "hair", spacing)).find(f"{NS}path")
    assert path is not None
    numbers = [float(n) for n in re.findall(r"-?\d+\.\d+", path.attrib["d"])]
    xs, ys = numbers[0::2], numbers[1::2]
    assert all(x - 0.1 <= v <= x + w + 0.1 for v in xs)
    assert all(y - 0.1 <= v <= y + h + 0.1 for v in ys)


def test_a_figure_on_its_own_carries_its_ground_and_theme() -> None:
    drawing = Drawing(10, 10, "t", (Dot(1, 1, 1),))
    assert DARK.film in drawing_to_svg(drawing, DARK) and DARK.ink in drawing_to_svg(drawing, DARK)
    assert LIGHT.film not in drawing_to_svg(drawing, LIGHT, standalone=False)
