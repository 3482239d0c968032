"""Verdict shapes: a block seated in a bracket. Legible without colour, from 14 to 64 px.

fits: the block fills the bracket; limited: half of it; needs first: a key mark in the hollow block;
not known: dashed outline; refused: a bar across the bracket.
"""

from __future__ import annotations

from brachium.core.figures.base.drawing import Box, Dot, Item, Line, path
from brachium.core.fit.verdict import Level

ROLE = {
    Level.FITS: "cool",
    Level.LIMITED: "cool",
    Level.NEEDS_FIRST: "warm",
    Level.NOT_KNOWN: "soft",
    Level.REFUSED: "alarm",
}


def verdict_shape(level: Level, x: float, y: float, size: float) -> tuple[Item, ...]:
    """Items of the shape in a square of `size` px with its top left at (x, y)."""
    role = ROLE[level]
    stroke = max(size / 12.0, 1.2)
    inset = size * 0.10
    left, right, bottom = x + inset, x + size - inset, y + size * 0.86
    bracket = path((left, y + size * 0.24), (left, bottom), (right, bottom), (right, y + size * 0.24),
                   role="ink" if level is not Level.REFUSED else role, width=stroke)  # fmt: skip
    gap = size * 0.14 + stroke * 0.4
    bx, bw = left + gap, right - left - 2 * gap
    top, floor = y + size * 0.10, bottom - gap
    block_h = floor - top
    if level is Level.FITS:
        return (bracket, Box(bx, top, bw, block_h, role, role, stroke))
    if level is Level.LIMITED:
        return (bracket, Box(bx, top, bw, block_h, role, "", stroke * 0.8),
                Box(bx, top + block_h / 2, bw, block_h / 2, role, role, stroke * 0.8))  # fmt: skip
    if level is Level.NEEDS_FIRST:
        cx = bx + bw / 2
        head = size * 0.11
        return (bracket, Box(bx, top, bw, block_h, role, "", stroke * 0.8),
                Dot(cx, top + block_h * 0.33, head, role, role, 0.0),
                Line(cx, top + block_h * 0.33, cx, top + block_h * 0.84, role, stroke * 1.1))  # fmt: skip
    if level is Level.NOT_KNOWN:
        dash = max(size / 9.0, 1.8)
        return (bracket, Box(bx, top, bw, block_h, role, "", stroke * 0.8, 0.0, (dash, dash * 0.8)))
    middle = y + size * 0.52
    return (bracket, Line(x, middle, x + size, middle, role, stroke * 1.3))


def latch_shape(open_: bool, lifted: bool, x: float, y: float, size: float) -> tuple[Item, ...]:
    """A latch on the track as a contact: closed circuit = way free, two open plates = shut; lifted gets a ring."""
    role = "warm" if lifted else "ink" if open_ else "soft"
    mid = y + size / 2
    if open_:
        return (
            Line(x, mid, x + size, mid, role, 1.4),
            Dot(x + size / 2, mid, size * 0.16, role, "film" if lifted else role),
        )
    gap = size * 0.12
    cx = x + size / 2
    return (
        Line(x, mid, cx - gap, mid, role, 1.4),
        Line(cx - gap, mid - size * 0.36, cx - gap, mid + size * 0.36, role, 1.4),
        Line(cx + gap, mid - size * 0.36, cx + gap, mid + size * 0.36, role, 1.4),
        Line(cx + gap, mid, x + size, mid, role, 1.4),
    )
