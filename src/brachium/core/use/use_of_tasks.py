"""The use profile calibrated on this very machine: everyday tasks say how much of their seconds waits for what.

Graphics, network and the person keep the profile's own shares: no task says anything of them. The rest is shared out
as the tasks of the use spent it: one thread or all threads by what a task can use, small or long reads by what it asks
of a drive. Memory bandwidth keeps its ratio to all threads.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.measure.feel_tests import EVERYDAY, SPLIT_WITHIN, WHERE
from brachium.core.measure.run import Run, parts_of
from brachium.core.use.profile import UseProfile
from brachium.core.use.tests_by_use import TASKS_OF

KEPT = ("graphics", "network", "person")
ALL_THREADS = ("task_together",)
IN_ORDER = ("task_compress", "task_photos", "task_sheet", "task_together")  # what they read and write lies in order
LEAST_TASKS = 2
MOST_OFF = 3.0 * SPLIT_WITHIN  # parts that miss their whole by more say nothing


def use_of_tasks(profile: UseProfile, run: Run) -> UseProfile | None:
    """The profile as the everyday tasks of a run calibrate it; None with fewer than two of them."""
    wanted = [k for k in TASKS_OF.get(profile.id, EVERYDAY) if run.results(k)]
    found = [s for s in (_shares(run, key) for key in wanted) if s is not None]
    if len(found) < LEAST_TASKS:
        return None
    mean = {name: sum(f[name] for f in found) / len(found) for name in found[0]}
    kept = {k: profile.shares.get(k, 0.0) for k in KEPT}
    left = 1.0 - sum(kept.values())
    threads = profile.shares.get("all", 0.0) + profile.shares.get("memory", 0.0)
    bound = profile.shares.get("memory", 0.0) / threads if threads > 0.0 else 0.0
    many = left * mean["all"]
    shares = {
        "single": left * mean["single"], "all": many * (1.0 - bound), "memory": many * bound,
        "random": left * mean["random"], "sequential": left * mean["sequential"], **kept,
    }  # fmt: skip
    title = phrase("{profile}, by {count} everyday tasks here", profile=profile.title, count=len(found))
    return replace(profile, shares=shares, title=title, measured=True)


def _shares(run: Run, key: str) -> Mapping[str, float] | None:
    """Where the seconds of one task went, without paging and what waits for nothing of the machine; sum 1."""
    parts = parts_of(run, key)
    results = [x for session in run.results(key) for x in session]
    whole = sorted(results)[len(results) // 2]
    if not parts or abs(sum(parts.get(k, 0.0) for k in WHERE) / whole - 1.0) > MOST_OFF:
        return None
    computed, waited = parts.get("processor", 0.0), parts.get("storage", 0.0)
    if computed + waited <= 0.0:
        return None
    computed, waited = computed / (computed + waited), waited / (computed + waited)
    many, ordered = key in ALL_THREADS, key in IN_ORDER
    return {
        "single": 0.0 if many else computed, "all": computed if many else 0.0,
        "random": 0.0 if ordered else waited, "sequential": waited if ordered else 0.0,
    }  # fmt: skip
