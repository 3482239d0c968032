"""The protocol that a job is measured with."""

from __future__ import annotations

from brachium.core.measure.run import Protocol
from brachium.core.measure.workloads import PROTOCOLS
from brachium.core.record.job import Job


def protocol_of(job: Job) -> Protocol:
    """The protocol that a job is measured with."""
    if job.setup.protocol == "own" and job.setup.own is not None:
        return job.setup.own
    return PROTOCOLS.get(job.setup.protocol, PROTOCOLS["standard"])
