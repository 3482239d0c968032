"""What a stability test found: memory by patterns, results under load, and what it cannot exclude."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import minutes
from brachium.core.measure.run import Run


@dataclass(frozen=True)
class Stability:
    """In words; `passed` None where it was not finished."""

    passed: bool | None
    words: str
    cannot: tuple[str, ...]


def stability_of(run: Run | None) -> Stability | None:
    """Read a run of the stability protocol; None without one."""
    if run is None or not run.sessions:
        return None
    bad = [
        phrase("{title}: {detail}", title=lower_first(c.title), detail=c.detail)
        for c in run.checks
        if c.passed is False
    ]
    phases = {p.name: p.end_s - p.start_s for p in run.sessions[0].trace.phases}
    load, memory = phases.get("load", 0.0) / 60.0, phases.get("memory test", 0.0) / 60.0
    told = phrase(
        "memory {memory} by patterns, load {load} with every result checked", memory=minutes(memory), load=minutes(load)
    )
    if bad:
        return Stability(False, phrase("It failed: {bad}", bad=joined("; ", bad)), run.protocol.cannot)
    if not run.complete:
        return Stability(None, phrase("Not finished: {told}", told=told), run.protocol.cannot)
    return Stability(True, phrase("No error: {told}", told=told), run.protocol.cannot)
