"""The probe's run: checks, phases, tests, sampled once a second and written as it goes."""

from __future__ import annotations

import os
import sys
import time
from typing import Callable, Dict, List

from brachium_probe import facts
from brachium_probe.children import ChildGroup, ChildSpec
from brachium_probe.journal import JournalWriter
from brachium_probe.own_folder import OwnFolder
from brachium_probe.plan import COUNTED, ProbePlan, Test
from brachium_probe.sampler import SystemSampler
from brachium_probe.startup import start_up

STEP_S = 1.0
BUSY_FRAC = 0.05
ALLOWED_SHARE = 0.10


class Stopped(Exception):  # noqa: N818 - said to people as it is named
    """The run ends here; the text says why."""


class ProbeRun:
    """Goes through a plan once. `say` gets a line for every step."""

    def __init__(
        self, plan: ProbePlan, sampler: SystemSampler, journal: JournalWriter, say: Callable[[str], None]
    ) -> None:
        self._plan, self._sampler, self._journal, self._say = plan, sampler, journal, say
        self._start = self._next = time.monotonic()
        self._rows: List[Dict[str, float]] = []
        self._reason = ""
        self._group = ChildGroup([], self._command())
        self._own: OwnFolder | None = None

    def execute(self) -> bool:
        """Do it; everything is in the journal, also after a stop. Returns whether it went through."""
        self._journal.begin(1, facts.boot_id(self._sampler.tree))
        notes = [f"not measured here: {what}: {why}" for what, why in self._missing()]
        try:
            self._opening()
            self._read_start()
            self._phases()
            self._tests()
            complete = True
        except Stopped as stopped:
            notes.insert(0, f"stopped: {stopped}")
            self._say(f"stopped: {stopped}")
            complete = False
        finally:
            self._group.kill()
            self._tidy()
        self._journal.end(complete, notes)
        return complete

    def _missing(self) -> List[tuple]:  # type: ignore[type-arg]
        out = list(self._sampler.missing())
        if not self._plan.folder:
            out.append(("drive tests", "no folder is named for them"))
        value, why = start_up(self._sampler.tree)
        if value is None:
            out.append(("start-up", why))
        return out

    def _opening(self) -> None:
        problem = self._do("memory test", self._plan.memory_test())
        self._journal.check("mem_test", "Memory test by patterns", not problem, problem or "nothing found")
        if problem:
            raise Stopped(f"{problem}; results on such a memory mean nothing")
        if self._plan.folder:
            problem = self._make_folder() or self._do("test file", self._plan.layout())
            self._journal.check("drive_layout", "Test file on the drive", not problem, problem or "nothing found")
            if problem:
                self._say(f"drive tests are left out: {problem}")
                self._plan.folder = ""

    def _read_start(self) -> None:
        value, reason = start_up(self._sampler.tree)
        if value is not None:
            self._journal.repeat(COUNTED, value, not reason, reason)

    def _phases(self) -> None:
        for name, duration in self._plan.phases:
            if name == "load":
                self._begin(self._plan.load_specs())
            first = len(self._rows)
            self._pass(name, duration)
            if name == "idle":
                self._reason = self._calm(self._rows[first:])
            if name == "load":
                self._end_load(self._reason or self._beside(self._rows[first + 1 :]))

    def _end_load(self, reason: str) -> None:
        progress, wrong = self._group.progress(), self._group.wrong()
        self._group.kill()
        self._sampler.own_pids = []
        if wrong:
            self._journal.check("sustained", "Checksums under load", False, f"{wrong} wrong checksums under load")
            return
        rates = [_second_half([(_float(x, "elapsed_s"), _float(x, "units")) for x in lines]) for lines in progress]
        if rates and all(r > 0 for r in rates):
            self._journal.repeat("probe_sustained", sum(rates), not reason, reason)

    def _tests(self) -> None:
        for test in self._plan.tests():
            for _ in range(self._plan.repeats):
                self._one(test)
                self._pass("rest", 1.0)

    def _one(self, test: Test) -> None:
        first = len(self._rows)
        self._journal.quiet = test.key.startswith("probe_drive_")
        problem = self._do(f"test {test.key}", test.specs)
        self._journal.quiet = False
        if problem:
            self._journal.check(test.key, test.title, False, problem)
            return
        value = sum(self._group.results()) / test.per_unit
        reason = self._reason or self._beside(self._rows[first + 1 :])
        self._journal.repeat(test.key, value, not reason, reason)

    def _do(self, name: str, specs: List[ChildSpec]) -> str:
        """Run children to their end while sampling; returns what went wrong."""
        start = self._now()
        self._journal.enter(name, start)
        self._say(name)
        self._begin(specs)
        while not self._group.done():
            self._sample()
        wrong = self._group.wrong()
        problem = f"{wrong} wrong checksums: memory or processor is not stable" if wrong else self._group.problem()
        self._sampler.own_pids = []
        self._journal.phase(name, start, self._now())
        return problem

    def _begin(self, specs: List[ChildSpec]) -> None:
        self._group = ChildGroup(specs, self._command())
        self._group.start()
        self._sampler.own_pids = self._group.pids()

    def _pass(self, name: str, duration_s: float) -> None:
        start = self._now()
        self._journal.enter(name, start)
        if name != "rest":
            self._say(name)
        while self._now() - start < duration_s:
            self._sample()
        self._journal.phase(name, start, self._now())

    def _sample(self) -> None:
        now = time.monotonic()
        self._next = max(self._next + STEP_S, now)
        time.sleep(self._next - now)
        values = self._sampler.sample(time.monotonic())
        self._rows.append(values)
        keys = [c.key for c in self._sampler.channels()]
        self._journal.sample(round(self._now(), 4), [values.get(k, float("nan")) for k in keys])
        if self._journal.problem:
            raise Stopped(f"the run file cannot be written any more: {self._journal.problem}")
        if self._sampler.over_limit:
            raise Stopped(self._sampler.over_limit)

    def _now(self) -> float:
        return time.monotonic() - self._start

    def _calm(self, rows: List[Dict[str, float]]) -> str:
        for key, limit, name in (("util_frac", BUSY_FRAC, "processor"), ("disk_busy_frac", 0.10, "drive")):
            if _share_above(rows, key, limit) > ALLOWED_SHARE:
                return f"background load: {name} over {100 * limit:.0f} % in the calm phase"
        return ""

    def _beside(self, rows: List[Dict[str, float]]) -> str:
        if _share_above(rows, "background_frac", BUSY_FRAC) > ALLOWED_SHARE:
            return "background load beside the test: other programs worked"
        return ""

    def _command(self) -> List[str]:
        return [sys.executable, os.path.abspath(sys.argv[0]), "--child"]

    def _make_folder(self) -> str:
        """A folder of our own for the test file; returns what went wrong."""
        try:
            self._own = OwnFolder(self._plan.folder)
        except OSError as error:
            return f"{self._plan.folder}: {error.strerror or error}"
        self._plan.where = self._own.where()
        return ""

    def _tidy(self) -> None:
        if self._own is not None:
            self._own.close()


def _second_half(points: List[tuple]) -> float:  # type: ignore[type-arg]
    """Work rate over the second half of (elapsed, units) pairs."""
    if len(points) < 3:
        return float("nan")
    late = [p for p in points if p[0] >= 0.5 * points[-1][0]]
    first, last = late[0], late[-1]
    return float((last[1] - first[1]) / (last[0] - first[0])) if last[0] > first[0] else float("nan")


def _float(facts_: object, key: str) -> float:
    return float(facts_[key])  # type: ignore[index]


def _share_above(rows: List[Dict[str, float]], key: str, limit: float) -> float:
    values = [row[key] for row in rows if key in row]
    return sum(v > limit for v in values) / len(values) if values else 0.0
