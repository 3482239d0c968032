"""Which tests a machine and its use need: those whose resource carries enough of the owner's time.

In *Standard* the tests that were always there stay, so that runs of years remain comparable; of the newer ones it takes
the tasks of the use and those that stand for a resource with a fair share of the time. *Quick* takes the few that carry
most of it. What is left out is said; a protocol of one's own may hold them all.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from brachium.core.base.text import joined, phrase
from brachium.core.measure.feel_tests import EVERYDAY, GRAPHICS, LADDER
from brachium.core.measure.run import Protocol
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, spec_of
from brachium.core.use.profile import UseProfile

FAIR_SHARE = 0.06  # of the time from which on Standard measures what carries it
GRAPHICS_SHARE = 0.10
QUICK_MORE = 2  # newer tests in Quick, none that say again what an older one says
SAID_ALREADY = ("cpu_integer", "cpu_float", "mem_copy", "drive_stream", "drive_q1")
# older tests that Quick leaves out: what a newer one says better, and deep queues where small reads carry little
QUICK_OUT, DEEP, DEEP_FROM = ("mem_gather",), "drive_rand_q32", 0.16
# newer tests that stand for a resource of the use profile, the most telling first
STAND_FOR: Mapping[str, tuple[str, ...]] = {
    "single": ("mem_latency",), "all": ("cpu_integer", "cpu_float"), "memory": ("mem_latency", "mem_copy"),
    "random": ("drive_q1", "drive_flush"), "sequential": ("drive_stream",), "graphics": GRAPHICS,
}  # fmt: skip
# everyday tasks in the order in which a use needs them
TASKS_OF: Mapping[str, tuple[str, ...]] = {
    "office": ("task_start_cold", "task_sheet", "task_files", "task_start_warm"),
    "calls": ("task_together", "task_start_cold", "task_start_warm"),
    "audio": ("task_together", "task_start_cold", "task_files"),
    "photo": ("task_photos", "task_files", "task_start_cold"),
    "video": ("task_together", "task_photos", "task_compress"),
    "build": ("task_files", "task_compress", "task_database", "task_start_warm"),
    "games": ("task_start_cold", "task_together"),
    "machines": ("task_database", "task_together", "task_compress", "task_files"),
    "files": ("task_files", "task_database", "task_compress"),
    "media": ("task_start_cold", "task_photos"),
}
SCENES = ("frames_720", "soft_scene")  # of which a machine has one
MORE_OFTEN = 1.5  # working sets over the machine's memory at which the ladder is worth its time


def chosen_for(protocol: Protocol, profile: UseProfile, memory_gib: float | None) -> Protocol:
    """The protocol with the newer tests that this use and this machine need, and what was left out among `cannot`.

    `memory_gib` is what is fitted [GiB]; None where nobody knows.
    """
    newer = {*COMPILED, *COMPILED_DRIVE, *EVERYDAY, LADDER, *GRAPHICS}
    wanted = _wanted(profile, memory_gib)
    if protocol.name == "Quick":
        wanted = tuple(k for k in wanted if k not in SAID_ALREADY)[:QUICK_MORE]
        wanted = (*wanted, *(SCENES if SCENES[0] in wanted else ()))
        newer |= {*QUICK_OUT, *(() if profile.shares.get("random", 0.0) >= DEEP_FROM else (DEEP,))}
    kept = tuple(t for t in protocol.tests if t not in newer or t in wanted)
    out = [t for t in protocol.tests if t not in kept]
    if not out:
        return protocol
    named = joined("; ", (spec_of(t).title for t in out[:3]))
    more = phrase(" and {count} more", count=len(out) - 3) if len(out) > 3 else ""
    said = phrase("left out, since this use hardly needs them: {named}{more}", named=named, more=more)
    return replace(protocol, tests=kept, cannot=(*protocol.cannot, said))


def _wanted(profile: UseProfile, memory_gib: float | None) -> tuple[str, ...]:
    """Newer tests that are worth their time, those that carry most of it first: the tasks of the use stand for all."""
    tasks = TASKS_OF.get(profile.id, TASKS_OF["office"])
    least = {"graphics": GRAPHICS_SHARE}
    fair = [r for r in STAND_FOR if profile.shares.get(r, 0.0) >= least.get(r, FAIR_SHARE)]
    fair.sort(key=lambda r: -profile.shares[r])
    short = memory_gib is not None and memory_gib < MORE_OFTEN * profile.working_set_gib
    first = (tasks[0], *(SCENES if "graphics" in fair else ()), *(STAND_FOR[r][0] for r in fair[:2]), tasks[1])
    rest = (key for r in fair for key in STAND_FOR[r])
    return tuple(dict.fromkeys((*first, *tasks, *((LADDER,) if short else ()), *rest)))
