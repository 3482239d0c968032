"""Everything that signs are read from, and how a sign that was read is written down."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from brachium.core.base.late_numpy import np
from brachium.core.base.why import Origin
from brachium.core.cause.ranking import Observation
from brachium.core.condition.findings import Finding
from brachium.core.condition.trials import TestResult
from brachium.core.drives.health import DriveVerdict
from brachium.core.drives.readings import HealthReading
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.own_tests import OwnResult
from brachium.core.measure.run import Run
from brachium.core.measure.waiting import Limit
from brachium.core.record.checks import SwapTry


@dataclass(frozen=True)
class Known:
    """Everything that signs are read from. `verdicts` are of drives by place."""

    machine: Machine
    run: Run | None = None
    figures: BeforeFigures | None = None
    limits: tuple[Limit, ...] = ()
    scan: Scan | None = None
    findings: tuple[Finding, ...] = ()
    tried: tuple[TestResult, ...] = ()
    verdicts: Mapping[str, DriveVerdict] = field(default_factory=dict)
    own_results: tuple[OwnResult, ...] = ()
    weak_adapter: str = ""
    failing: frozenset[str] = frozenset()  # places of dying drives
    health: tuple[HealthReading, ...] = ()
    beside_others: Mapping[str, bool] = field(default_factory=dict)  # by test: whether it is as good as of its like
    swap_tries: tuple[SwapTry, ...] = ()
    wish_met: bool | None = None  # whether the before-run keeps what the owner asked of a time; None = nothing asked


def observed(sign: str, state: str, figure: str, origin: Origin = Origin.MEASURED) -> Observation:
    return Observation(sign, state, figure, origin)


def median_of(run: Run | None, test: str) -> float | None:
    """Median of a test's valid results, None without any."""
    if run is None:
        return None
    found = run.results(test) or run.results(f"probe_{test}")
    return float(np.median(np.concatenate(found))) if found else None
