"""The protocol that a job is measured with."""

from __future__ import annotations

from brachium.core.base.units import GIB
from brachium.core.measure.run import Protocol
from brachium.core.measure.workloads import PROTOCOLS
from brachium.core.record.job import Job
from brachium.core.record.use_of_job import typed_use
from brachium.core.use.tests_by_use import chosen_for


def protocol_of(job: Job) -> Protocol:
    """The protocol that a job is measured with: the shop's own as it stands, else the tests that its use needs."""
    if job.setup.protocol == "own" and job.setup.own is not None:
        return job.setup.own
    return chosen_protocol(job, PROTOCOLS.get(job.setup.protocol, PROTOCOLS["standard"]))


def chosen_protocol(job: Job, protocol: Protocol) -> Protocol:
    """A shipped protocol with the tests that the job's use and memory need."""
    fitted = job.machine.configuration().memory_bytes()
    return chosen_for(protocol, typed_use(job), fitted / GIB if fitted else None)
