"""Condition map: a plain line drawing of the kind of machine, its zones, and the findings pinned to them."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.why import Because, Fact, Origin
from brachium.core.condition.findings import Finding, Severity, kind_of
from brachium.core.condition.zones import ZONES, Zone
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.text_width import text_width
from brachium.core.machine.kinds import MachineKind

PIN_R = 9.0


def condition_map(
    kind: MachineKind, findings: Sequence[Finding], selected: str, width: float, height: float
) -> Drawing:
    """Draw the machine; region ids are `zone:` and the zone's id."""
    sketch = Sketch(width, height)
    _outline(sketch, kind.build, width, height)
    for zone in ZONES[kind.build]:
        _zone(sketch, zone, [f for f in findings if f.zone == zone.id], zone.id == selected, width, height)
    return sketch.done("Condition map", f"{kind}, {len(findings)} findings")


def _outline(sketch: Sketch, build: MachineKind, w: float, h: float) -> None:
    """What makes the kind recognisable; zones are drawn into it."""
    if build is MachineKind.LAPTOP:
        sketch.add(Box(0.16 * w, 0.005 * h, 0.68 * w, 0.385 * h, "ink", "sheet", 1.4, 8))
        sketch.add(
            path(
                (0.16 * w, 0.42 * h),
                (0.84 * w, 0.42 * h),
                (0.95 * w, 0.98 * h),
                (0.05 * w, 0.98 * h),
                role="ink",
                width=1.4,
                fill="sheet",
                closed=True,
            )
        )
        _keys(sketch, 0.20 * w, 0.46 * h, 0.60 * w, 0.24 * h)
    elif build is MachineKind.ALL_IN_ONE:
        sketch.add(Box(0.10 * w, 0.005 * h, 0.80 * w, 0.685 * h, "ink", "sheet", 1.4, 6))
        sketch.add(
            path(
                (0.44 * w, 0.69 * h),
                (0.56 * w, 0.69 * h),
                (0.58 * w, 0.94 * h),
                (0.68 * w, 0.985 * h),
                (0.32 * w, 0.985 * h),
                (0.42 * w, 0.94 * h),
                role="ink",
                width=1.4,
                closed=True,
            )
        )
    elif build is MachineKind.HANDHELD:
        sketch.add(Box(0.02 * w, 0.04 * h, 0.96 * w, 0.94 * h, "ink", "sheet", 1.4, 46))
        for x in (0.13, 0.87):
            sketch.add(Dot(x * w, 0.32 * h, 0.05 * h, "soft", "", 1.2))
    else:
        sketch.add(Box(0.02 * w, 0.03 * h, 0.96 * w, 0.94 * h, "ink", "sheet", 1.4, 3))
        sketch.add(Line(0.20 * w, 0.03 * h, 0.20 * w, 0.97 * h, "hair"))
        fan = (0.58 * w, (0.23 if build is MachineKind.TOWER else 0.30) * h)
        sketch.add(Dot(*fan, 0.07 * h, "soft", "", 1.2), Dot(*fan, 0.02 * h, "soft", "", 1.2))


def _keys(sketch: Sketch, x: float, y: float, w: float, h: float) -> None:
    for row in range(1, 4):
        sketch.add(Line(x, y + row * h / 4, x + w, y + row * h / 4, "grid"))
    for column in range(1, 12):
        sketch.add(Line(x + column * w / 12, y, x + column * w / 12, y + h, "grid"))


def _zone(sketch: Sketch, zone: Zone, found: list[Finding], selected: bool, w: float, h: float) -> None:
    x, y, zw, zh = zone.x * w, zone.y * h, zone.w * w, zone.h * h
    role = "cool" if selected else "soft" if found else "hair"
    sketch.add(
        Box(
            x,
            y,
            zw,
            zh,
            role,
            "cool_wash" if selected else "",
            1.6 if selected else 1.0,
            3,
            () if selected or found else (3.0, 3.0),
        )
    )
    pins = len(found) * (2 * PIN_R + 4)
    if text_width(zone.title, 11, condensed=True) < zw - 8 - (pins if zh < 40 else 0):
        sketch.add(Text(x + 6, y + min(15, zh - 4), zone.title, "soft", 11, condensed=True))
    for index, finding in enumerate(found):
        _pin(sketch, finding, x + zw - PIN_R - 5 - index * (2 * PIN_R + 4), y + zh - PIN_R - 5)
    worst = max((f.severity for f in found), default=None)
    text = f"{zone.title}: {', '.join(kind_of(f).title.lower() for f in found) or 'nothing found'}"
    sketch.regions.append(Region(f"zone:{zone.id}", x, y, zw, zh, text, _because(zone, found, worst)))


def _pin(sketch: Sketch, finding: Finding, x: float, y: float) -> None:
    """A pin by its severity, legible without colour: hollow, half and full."""
    role = "alarm" if kind_of(finding).stops else "warm"
    fill = {Severity.SLIGHT: "sheet", Severity.CLEAR: f"{role}_wash", Severity.BAD: role}[finding.severity]
    sketch.add(Dot(x, y, PIN_R, role, fill, 1.6))
    letter = kind_of(finding).title[0]
    sketch.add(Text(x, y + 4, letter, "sheet" if finding.severity is Severity.BAD else role, 11, 600, "middle", True))


def _because(zone: Zone, found: list[Finding], worst: Severity | None) -> Because:
    facts = tuple(Fact(kind_of(f).title, f.severity.words, Origin.TYPED) for f in found)
    notes = tuple(dict.fromkeys(kind_of(f).caution for f in found if kind_of(f).caution))
    means = "; ".join(f"{kind_of(f).title}: {kind_of(f).means}, {kind_of(f).price}" for f in found)
    return Because(
        zone.title,
        "condition",
        means or "Nothing was found here.",
        facts,
        f"worst: {worst.words}" if worst else "",
        "A finding added or taken out.",
        notes,
    )
