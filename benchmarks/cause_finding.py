"""How well causes are found: simulated machines with one hidden cause, ranked first and after up to three checks.

Writes docs/cause-finding.md. Each machine is measured like a real one, then the proposed check is made, three times.
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from types import MappingProxyType

import numpy as np

from brachium.app.bench.runner import Runner
from brachium.app.intake.practice import PROTOCOL, made_check, practice_job
from brachium.app.view.cause_record import assessment_of
from brachium.core.base.units import GIB
from brachium.core.cause.assess import Assessment
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.cause.kinds import BY_ID, KINDS
from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.measure.own_tests import OwnResult
from brachium.core.measure.run import Run
from brachium.core.record.job import Job
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.practice_machine import HEALTHY, causes_for, make_paired_machine, make_practice_machine

MACHINES = 900
CHECKS = 3
FIRST_SEED = 10_000
CONFUSION = "| truth | machines | right at once | right after three | else |"
WELL, NONE = "well", "no cause"
LOGS, TYPED, SCAN = "a run, scan, looks", "typed figures, looks", "scan and looks alone"

NOTHING: Mapping[str, list[Found]] = MappingProxyType({})


@dataclass(frozen=True)
class Found:
    """Truth, what else is wrong (a third of the machines), what ranked first before any check and after each."""

    truth: str
    second: str
    firsts: tuple[str, ...]
    called: tuple[bool, ...]
    minutes: float


def find(seed: int, known_by: str = LOGS) -> Found:
    """Measure one machine, make the proposed checks, and note what ranks first.

    `known_by`: a run with what was scanned and looked at; figures typed from one, without scan and counters; or the
    scan and the looks alone.
    """
    paired = seed % 3 == 0
    job, run, figures = practice_job(seed, paired), None, None
    one = make_paired_machine(seed) if paired else make_practice_machine(seed)
    if known_by != SCAN:
        run = Runner(SimulatedBench(one.spec), PROTOCOL).execute("r", "as taken in", "")
        figures = figures_of(run, job.machine.processor.limit_c)
    if known_by == TYPED:
        job = replace(job, scan=None, health=(), own_results=(*one.own_results, *typed_from(run, figures, job)))
        run = figures = None
    job = made_check(job, COMPLAINT.id, "")  # every owner is asked what brought him
    firsts, called, paid = [], [], 0.0
    for k in range(CHECKS + 1):
        assessment = assessment_of(job, run, figures)
        firsts.append(assessment.ranked[0].kind.id)
        called.append(_any_called(assessment))
        if k < CHECKS and assessment.next is not None:
            job = made_check(job, assessment.next.check.id, "")
            paid += assessment.next.check.cost_min
    return Found(one.cause, one.second, tuple(firsts), tuple(called), paid)


def typed_from(run: Run, figures: BeforeFigures, job: Job) -> list[OwnResult]:
    """The guided figures as a technician reads them off a system's own monitor, rounded."""
    size = job.machine.configuration().memory_bytes() / GIB
    trace = run.sessions[0].trace
    found = {"clock": round(figures.sustained_clock_mhz, -1)}
    load, chip = trace.phase("load"), trace.values("temp_c")
    if load is not None and chip is not None:
        found["chipload"] = float(np.nanmax(chip[(trace.time_s > load.end_s - 60.0) & (trace.time_s <= load.end_s)]))
    if figures.memory_used_frac is not None:
        found["memwork"] = round(figures.memory_used_frac * size, 1)
    if figures.disk_busy_share is not None:
        found["diskbusy"] = round(100.0 * figures.disk_busy_share)
    return [OwnResult(f"{kind}-1", "before", value) for kind, value in found.items() if value > 0]


def _any_called(assessment: Assessment) -> bool:
    return bool(assessment.called)


def right(found: Found, checks: int) -> bool:
    """A true cause, or one that cannot be told from it, ranks first; nothing is called on a machine that is well."""
    if found.truth == HEALTHY:
        return not found.called[checks]
    first = BY_ID[found.firsts[checks]]
    return first.group in [BY_ID[c].group for c in (found.truth, found.second) if c]


def share(found: list[Found], checks: int, well: bool) -> tuple[int, int]:
    some = [f for f in found if (f.truth == HEALTHY) == well]
    return sum(right(f, checks) for f in some), len(some)


def report(found: list[Found], by_input: Mapping[str, list[Found]] = NOTHING) -> str:
    """The document; `by_input` is the same machines known in other ways."""
    lines = [
        "# How well causes are found", "",
        f"{len(found)} simulated machines (`benchmarks/cause_finding.py`, seeds from {FIRST_SEED}), laptops and "
        "towers, each well or with a hidden cause of a drawn strength, a third of them with two at once in different "
        "parts. Its owner says what he complains of; one in eight speaks of something else. Every machine is measured "
        "like a real one (about 12 minutes of its time, one session), or known by a few typed figures, or by scan and "
        "looks alone. Then the check that the program proposes is made, three times. Looks are misjudged in 8 %, "
        "readings noted wrongly in 2 %, and a machine may show signs that have nothing to do with its cause.", "",
        "The machines come from a physics of their own, with four thermal nodes, but the kinds of causes and what is "
        "noticed of them were chosen by the same hands as the ranking: read this as *the ranking does what it means "
        "to do*, not as a rate for your shop. Of two causes at once either may rank first.",
        "",
        "| | right at once | after 1 check | after 2 | after 3 |", "|---|---|---|---|---|",
    ]  # fmt: skip
    for name, well in (
        ("machines with a cause: it ranks first", False),
        ("machines that are well: nothing is called", True),
    ):
        cells = [share(found, k, well) for k in range(CHECKS + 1)]
        lines.append(f"| {name} | " + " | ".join(f"{a} of {n} ({100 * a / n:.1f} %)" for a, n in cells) + " |")
    lines += ["", "The same machines by what was known of them, after three checks:", "",
              "| known by | cause ranks first | well: nothing is called |", "|---|---|---|"]  # fmt: skip
    for name, some in by_input.items():
        cells = [share(some, CHECKS, well) for well in (False, True)]
        lines.append(f"| {name} | " + " | ".join(f"{a} of {n} ({100 * a / n:.1f} %)" for a, n in cells) + " |")
    if by_input:
        whole = [share([f for some in by_input.values() for f in some], CHECKS, well) for well in (False, True)]
        lines.append("| all three | " + " | ".join(f"{a} of {n} ({100 * a / n:.1f} %)" for a, n in whole) + " |")
    paid = sorted(f.minutes for f in found)
    lines += ["", f"Three checks cost {paid[len(paid) // 2]:.0f} minutes (median; minutes that run by themselves count "
              "little).", "", "## Confusion after three checks", "",
              "Rows: the truth. What ranked first instead, where it was not right, and how often."]  # fmt: skip
    for name, known in (by_input or {LOGS: found}).items():
        lines += ["", f"### {name[:1].upper()}{name[1:]}", "", CONFUSION, "|---|---|---|---|---|"]
        rows = ((truth, [f for f in known if f.truth == truth]) for truth in ("", *(k.id for k in KINDS)))
        lines += [_row(truth, some) for truth, some in rows if some]
    return "\n".join([*lines, ""])


def _row(truth: str, some: list[Found]) -> str:
    wrong = Counter(BY_ID[f.firsts[CHECKS]].title if f.called[CHECKS] else NONE for f in some if not right(f, CHECKS))
    words = "; ".join(f"{name} {n}" for name, n in wrong.most_common()) or "-"
    name = BY_ID[truth].title if truth else "Nothing is wrong"
    return (
        f"| {name} | {len(some)} | {sum(right(f, 0) for f in some)} | {sum(right(f, CHECKS) for f in some)} | {words} |"
    )


def main() -> int:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else MACHINES
    seeds = range(FIRST_SEED, FIRST_SEED + count)
    with ProcessPoolExecutor() as pool:
        every = {k: list(pool.map(partial(find, known_by=k), seeds, chunksize=8)) for k in (LOGS, TYPED, SCAN)}
    found = every[LOGS]
    Path("docs/cause-finding.md").write_text(report(found, every), encoding="utf-8")
    for well in (False, True):
        print(WELL if well else "with a cause", [share(found, k, well) for k in range(CHECKS + 1)])
    print(len(causes_for(practice_job(FIRST_SEED).machine.kind)), "kinds a machine")
    return 0


if __name__ == "__main__":
    sys.exit(main())
