"""What the Measure page says and draws of a run: its conditions and checks in words, its repeats as dots."""

from __future__ import annotations

import numpy as np

from brachium.app.bench.recorder import LiveView
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.units import percent
from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.plots.repeats import repeat_dots
from brachium.core.measure.conditions import in_words
from brachium.core.measure.run import NOT_MEASURED, Protocol, Run, missing_of
from brachium.core.measure.validity import early_problem
from brachium.core.measure.workloads import TESTS

TOLD = (("fan", "fan mode"), ("adapter", "adapter"), ("battery", "charging"), ("power limits", "power limits"),
        ("boost", "boost"), ("memory", "memory profile"), ("encryption", "encryption"),
        ("temperature from", "temperature from"))  # fmt: skip


def phases_s(protocol: Protocol) -> float:
    return sum(p.duration_s for p in protocol.phases)


def run_text(run: Run) -> str:
    """Conditions, then what was checked and found, what is missing."""
    c = run.conditions
    words = in_words(c)
    parts = [
        c.boot_medium,
        "on mains" if c.mains else "",
        "battery fitted" if c.battery_fitted else "",
        c.power_profile,
        *(phrase("{name} {words}", name=name, words=words[key]) for name, key in TOLD if words[key]),
        c.system,
        c.graphics_driver,
        phrase("{free_space_frac} free", free_space_frac=percent(c.free_space_frac))
        if c.free_space_frac is not None
        else "",
        phrase("“{remark}”", remark=c.remark) if c.remark else "",
    ]
    text = joined(", ", (p for p in parts if p))
    lines = [(upper_first(text) + ".") if text else "No conditions were logged."]
    lines += [phrase("{title}: {detail}.", title=k.title, detail=k.detail) for k in run.checks]
    lines += [phrase("{n}.", n=upper_first(n)) for n in run.notes if not n.startswith(NOT_MEASURED)]
    missing = [what for what, _ in missing_of(run)]
    if missing:
        lines.append(phrase("Not measured here: {missing}.", missing=joined(", ", missing)))
    return joined("\n", lines)


def live_words(live: LiveView) -> str:
    """What to do while a run goes on; where its calm phase is not calm, by what and how to wait for it."""
    problem = early_problem(live.trace, live.progress.phase) if live.trace is not None else ""
    if not problem:
        return "Leave it closed and alone; the run goes on by itself."
    named = phrase(" At work: {others}.", others=joined(", ", live.others)) if live.others else ""
    return (phrase("{problem}.{named} Press Pause, close them or let updates end, then Go on: the calm phase begins "
"anew.", problem=upper_first(problem), named=named))  # fmt: skip


def dots(run: Run, width: float, height: float, after: bool) -> Drawing:
    rows = tuple((t, tuple(s.results(t.key) for s in run.sessions)) for t in run.tests)
    return repeat_dots(rows, width, height, after)


def live_dots(
    live: LiveView, protocol: Protocol, offered: tuple[str, ...], width: float, height: float, after: bool
) -> Drawing:
    rows = []
    for test in (t for t in TESTS if t.key in protocol.tests and t.key in offered):
        sessions = [s.results(test.key) for s in live.finished if s.number != live.session]
        present = np.array([r.value for r in live.repeats if r.test == test.key])
        rows.append((test, (*sessions, present)))
    return repeat_dots(tuple(rows), width, height, after)
