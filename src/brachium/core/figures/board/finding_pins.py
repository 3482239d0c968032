"""Findings on a drawing of the machine: a pin by kind and severity, and why it matters."""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.condition.findings import Finding, Severity, kind_of
from brachium.core.condition.zones import Zone
from brachium.core.figures.base.drawing import Dot, Sketch, Text

PIN_R = 9.0


def draw_pin(sketch: Sketch, finding: Finding, x: float, y: float) -> None:
    """A pin by its severity, legible without colour: hollow, half and full."""
    role = "alarm" if kind_of(finding).stops else "warm"
    fill = {Severity.SLIGHT: "sheet", Severity.CLEAR: f"{role}_wash", Severity.BAD: role}[finding.severity]
    sketch.add(Dot(x, y, PIN_R, role, fill, 1.6))
    letter = kind_of(finding).title[0]
    sketch.add(Text(x, y + 4, letter, "sheet" if finding.severity is Severity.BAD else role, 11, 600, "middle", True))


def zone_because(zone: Zone, found: list[Finding]) -> Because:
    """What was found in a zone and what it means."""
    worst = max((f.severity for f in found), default=None)
    facts = tuple(Fact(kind_of(f).title, f.severity.words, Origin.TYPED) for f in found)
    notes = tuple(dict.fromkeys(kind_of(f).caution for f in found if kind_of(f).caution))
    means = joined(
        "; ",
        (
            phrase("{title}: {means}, {price}", title=kind_of(f).title, means=kind_of(f).means, price=kind_of(f).price)
            for f in found
        ),
    )
    return Because(
        zone.title,
        "condition",
        means or "No finding is recorded here.",
        facts,
        phrase("worst: {worst}", worst=worst.words) if worst else "",
        "A finding added or taken out.",
        notes,
    )
