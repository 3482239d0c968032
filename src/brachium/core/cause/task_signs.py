"""Signs of the owner's task and of the calm phases: what the task waits for, its frames, what was asked of it."""

from __future__ import annotations

import re

from brachium.core.base.text import joined, many, phrase
from brachium.core.base.units import percent
from brachium.core.cause.assumptions import GRAPHICS, MANY_STUTTERS, MEMORY_FULL, STALL, TASK_BUSY, TASK_FREE
from brachium.core.cause.known import Known, observed
from brachium.core.cause.ranking import Observation
from brachium.core.cause.signs import BY_ID
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.measure.own_tests import KINDS, PREFIX, kind_of_test
from brachium.core.measure.validity import settle_problem
from brachium.core.measure.waiting import Limit
from brachium.core.measure.workloads import TESTS

BASIC_DRIVERS = ("basic", "vesa", "simpledrm", "efifb", "llvmpipe", "none", "standard display")
STUTTERS = re.compile(r"(\d+) stutter")


def task_signs(known: Known) -> list[Observation]:
    """What the owner's task and the calm phases show."""
    out = _task_figures(known.figures) if known.figures is not None else []
    own = next((x for x in known.limits if x.name == "test own_task"), None)
    out += _shares(own) if own is not None else []
    out += [*_beside_others(known), *_wishes(known)]
    out += _frame_cap(known)
    if known.run is not None:
        problems = [p for s in known.run.sessions if (p := settle_problem(s.trace))]
        state = "other programs at work" if problems else "calm"
        out.append(observed("calm", state, problems[0] if problems else "settle and idle"))
    return out


def _shares(own: Limit) -> list[Observation]:
    """What the owner's task waits for; nothing of what was not sampled."""
    out = []
    if "graphics" not in own.blind:
        share = own.shares["graphics"]
        state = "fully busy, processor waits" if share > GRAPHICS else "with room left"
        out.append(observed("graphics", state, phrase("{share} of the task", share=percent(share))))
    if not {"waiting for storage", "clock"} & set(own.blind):
        busy = own.shares["processor"] + own.shares["thread"]
        state = "nearly all of it" if busy >= TASK_BUSY else "a part of the time"
        out.append(observed("task_processor", state, phrase("{busy} of the task", busy=percent(busy))))
    if not own.blind:
        state = "a good part of its time" if own.shares["free"] >= TASK_FREE else "hardly"
        out.append(observed("task_free", state, percent(own.shares["free"])))
    return out


BANDS = (
    ("band_processor", ("cpu_", "sustained", "own:clock")), ("band_memory", ("mem_",)),
    ("band_drive", ("drive_", "start", "own:start")), ("band_heat", ("own:chip", "own:noise")),
)  # fmt: skip
TITLES = {t.key: t.title for t in TESTS} | {k.key: k.title for k in KINDS}


def _beside_others(known: Known) -> list[Observation]:
    """Results against those of machines like it, a sign for each resource; the worst one speaks."""
    out = []
    for sign, starts in BANDS:
        found = {k: good for k, good in known.beside_others.items() if k.removeprefix("probe_").startswith(starts)}
        if found:
            below = [k for k, good in found.items() if not good]
            words = joined(", ", (_title(k) for k in below)) or phrase(
                "{results} within", results=many(len(found), "result")
            )
            out.append(observed(sign, BY_ID[sign].states[bool(below)], words))
    return out


def _title(key: str) -> str:
    """Of a test, or of the kind that a typed one was made from."""
    plain = key.removeprefix("probe_")
    kind = (
        phrase("{prefix}{kind_of_test}", prefix=PREFIX, kind_of_test=kind_of_test(plain.removeprefix(PREFIX)))
        if plain.startswith(PREFIX)
        else plain
    )
    return TITLES.get(kind, plain)


def _wishes(known: Known) -> list[Observation]:
    """What was asked of a time, and the graphics driver, as stated."""
    out = []
    if known.wish_met is not None:
        state = "met, or not asked" if known.wish_met else "not met"
        out.append(observed("wish", state, "by the before-run"))
    driver = known.run.conditions.graphics_driver if known.run is not None else ""
    if driver:
        basic = any(word in driver.lower() for word in BASIC_DRIVERS)
        out.append(observed("gpu_driver", "basic or none" if basic else "the chip's own", driver))
    return out


def _frame_cap(known: Known) -> list[Observation]:
    """Whether the frames of a log stand on one even step."""
    capped = [r for r in known.own_results if "cap" in r.invalid]
    if capped:
        return [observed("cap", "on one even step", capped[-1].invalid)]
    logged = [r for r in known.own_results if r.how == "frame log"]
    if not logged:
        return []
    stutters = max((int(n) for r in logged for n in STUTTERS.findall(r.note)), default=0)
    return [observed("cap", "free", "frame log"),
            observed("stutter", "many" if stutters >= MANY_STUTTERS else "few", many(stutters, "stutter"))]  # fmt: skip


def _task_figures(figures: BeforeFigures) -> list[Observation]:
    out = []
    if figures.stall_measured:
        out.append(observed("stall", "much" if figures.stall_share > STALL else "hardly", percent(figures.stall_share)))
    if figures.memory_used_frac is not None:
        state = "full" if figures.memory_used_frac > MEMORY_FULL else "room left"
        out.append(observed("memory_use", state, percent(figures.memory_used_frac)))
    return out
