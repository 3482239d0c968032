"""What to see to before a run is started: battery and adapter, because a machine short of power measures its limit."""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
from brachium.core.condition.trials import TrialOutcome
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.scanned.remarks import remarks
from brachium.core.record.drive_states import failing_places
from brachium.core.record.job import Job

BESIDE_W = 20.0
LIMITS = "the machine may hold itself to a share of its speed, and the run measures that"


def drive_warning(job: Job) -> str:
    """A drive that is dying and should do no work before it is imaged; empty where none is known to be."""
    names = joined(" and ", (job.machine.place_label(p) for p in sorted(failing_places(job))))
    return (
        phrase("The drive in {names} is failing: image it first; every test that reads it may be its last", names=names)
        if names
        else ""
    )


def power_warnings(job: Job) -> tuple[str, ...]:
    """Sentences without their full stop; empty where nothing is known to be wrong."""
    if job.machine.kind not in PORTABLE:
        return ()
    tried = {t.id: t.outcome for t in job.tried}
    out = []
    if tried.get("battery") in (TrialOutcome.ABSENT, TrialOutcome.FAILS):
        word = "missing" if tried["battery"] is TrialOutcome.ABSENT else "not holding its charge"
        out.append(phrase("The battery is {word}: {limits}", word=word, limits=LIMITS))
    if tried.get("adapter") is TrialOutcome.FAILS:
        out.append(phrase("The adapter is not recognised: {limits}", limits=LIMITS))
    if job.scan is not None:
        if not out:
            out += [r.text for r in remarks(job.machine, job.scan) if r.because.rule == "BAT-STATE"]
        if job.scan.adapters and not any(a.online for a in job.scan.adapters):
            out.append("It ran on its battery when it was scanned; plug the adapter in")
        out += _weak(job)
    return tuple(out)


def _weak(job: Job) -> list[str]:
    """An adapter that leaves less than 20 W beside the processor's design power for screen, drives and charging."""
    assert job.scan is not None
    rated = max((s.max_w or 0 for s in job.scan.supplies), default=0)
    chip = job.machine.processor.design_power_w
    if not rated or chip is None or rated >= chip + BESIDE_W:
        return []
    return [
        phrase(
            "The adapter gives {rated} W, the processor alone takes {chip:.0f} W: {limits}",
            rated=rated,
            chip=chip,
            limits=LIMITS,
        )
    ]
