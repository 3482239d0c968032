"""Battery and adapter before a run."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.scanned.scan import Scan, ScannedAdapter, ScannedBattery, ScannedSupply
from brachium.core.record.job import Job
from brachium.core.stage.before_start import power_warnings
from brachium.demo.newsroom import newsroom_job
from brachium.demo.outside_broadcast import outside_broadcast_job

GOOD = Scan(batteries=(ScannedBattery(True, 35.0, 44.0, "Wh", 0.8),), adapters=(ScannedAdapter("AC", True),))
CALM = replace(newsroom_job(), scan=GOOD)


@pytest.mark.parametrize(
    ("job", "says"),
    [
        (CALM, ()),
        (outside_broadcast_job(), ("The battery is missing: the machine may hold itself",)),
        (replace(CALM, tried=(TestResult("battery", TrialOutcome.FAILS),)), ("The battery is not holding its charge",)),
        (replace(CALM, tried=(TestResult("adapter", TrialOutcome.FAILS),)), ("The adapter is not recognised",)),
        (replace(CALM, scan=replace(GOOD, batteries=())), ("No battery is seen",)),
        (replace(CALM, scan=replace(GOOD, adapters=(ScannedAdapter("AC", False),))), ("It ran on its battery",)),
        (
            replace(CALM, scan=replace(GOOD, supplies=(ScannedSupply(max_w=45),))),
            ("The adapter gives 45 W",),
        ),
        (replace(CALM, scan=replace(GOOD, supplies=(ScannedSupply(max_w=65),))), ()),
    ],
)
def test_a_machine_short_of_power_is_told_before_it_is_measured(job: Job, says: tuple[str, ...]) -> None:
    found = power_warnings(job)
    assert len(found) == len(says) and all(f.startswith(s) for f, s in zip(found, says, strict=True))
    tower = replace(job, machine=replace(job.machine, kind=MachineKind.TOWER))
    assert power_warnings(tower) == ()
