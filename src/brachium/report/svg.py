"""Writes a drawing as SVG, with the colours of the token record."""

from __future__ import annotations

from html import escape

from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Item, Line, Polyline, Text
from brachium.core.figures.base.theme import LIGHT, TYPE, Colours


def drawing_to_svg(drawing: Drawing, colours: Colours = LIGHT, standalone: bool = True) -> str:
    """SVG text. With `standalone` it carries the XML name space and a film behind the figure."""
    size = f'width="{drawing.width:.0f}" height="{drawing.height:.0f}"'
    head = f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="0 0 {drawing.width:.0f} {drawing.height:.0f}">'
    parts = [head, f"<title>{escape(drawing.title, quote=False)}</title>"]
    if drawing.about:
        parts.append(f"<desc>{escape(drawing.about, quote=False)}</desc>")
    if standalone:
        parts.append(f'<rect width="100%" height="100%" fill="{colours.film}"/>')
    writer = _Writer(colours)
    parts += [writer.item(item) for item in drawing.items]
    parts.append("</svg>")
    return "\n".join(parts)


class _Writer:
    def __init__(self, colours: Colours) -> None:
        self._c = colours

    def item(self, item: Item) -> str:
        match item:
            case Line():
                place = f'x1="{item.x1:.1f}" y1="{item.y1:.1f}" x2="{item.x2:.1f}" y2="{item.y2:.1f}"'
                return f"<line {place} {self._stroke(item.role, item.width, item.dash)}/>"
            case Polyline():
                points = " ".join(f"{x:.1f},{y:.1f}" for x, y in item.points.tolist())
                tag = "polygon" if item.closed else "polyline"
                style = f"{self._stroke(item.role, item.width, item.dash)} {self._fill(item.fill)}"
                return f'<{tag} points="{points}" {style} stroke-linejoin="round"/>'
            case Box():
                place = f'x="{item.x:.1f}" y="{item.y:.1f}" width="{max(item.w, 0):.1f}" height="{max(item.h, 0):.1f}"'
                stroke = self._stroke(item.role, item.width, item.dash) if item.role else ""
                return f'<rect {place} rx="{item.radius:.1f}" {stroke} {self._fill(item.fill)}/>'
            case Dot():
                stroke = self._stroke(item.role, item.width, ()) if item.width else ""
                return (
                    f'<circle cx="{item.x:.1f}" cy="{item.y:.1f}" r="{item.r:.1f}" {stroke} {self._fill(item.fill)}/>'
                )
            case Hatch():
                return self._hatch(item)
            case Text():
                return self._text(item)

    def _stroke(self, role: str, width: float, dash: tuple[float, ...]) -> str:
        dashes = f' stroke-dasharray="{" ".join(f"{d:g}" for d in dash)}"' if dash else ""
        return f'stroke="{self._c.role(role)}" stroke-width="{width:g}"{dashes}'

    def _fill(self, role: str) -> str:
        return f'fill="{self._c.role(role)}"' if role else 'fill="none"'

    def _hatch(self, item: Hatch) -> str:
        """Slanted lines clipped to the rectangle by arithmetic, so that no clip path is needed."""
        lines = []
        start = item.x - item.h
        while start < item.x + item.w:
            x1, y1 = start, item.y + item.h
            x2, y2 = start + item.h, item.y
            if x1 < item.x:
                x1, y1 = item.x, y1 - (item.x - x1)
            if x2 > item.x + item.w:
                x2, y2 = item.x + item.w, y2 + (x2 - item.x - item.w)
            if x2 > x1:
                lines.append(f"M{x1:.1f} {y1:.1f}L{x2:.1f} {y2:.1f}")
            start += item.spacing
        return f'<path d="{"".join(lines)}" {self._stroke(item.role, 1.0, ())} fill="none"/>'

    def _text(self, item: Text) -> str:
        family = TYPE.condensed if item.condensed else TYPE.family
        style = f'font-family="{family}, sans-serif" font-size="{item.size:g}" font-weight="{item.weight}"'
        place = f'x="{item.x:.1f}" y="{item.y:.1f}" text-anchor="{item.anchor}"'
        return f'<text {place} {style} fill="{self._c.role(item.role)}">{escape(item.text, quote=False)}</text>'
