"""The machine as it is after the work: the record with the plan's parts in their places."""

from __future__ import annotations

from brachium.app.view.job_view import JobView
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import planned


def as_finished(view: JobView) -> Machine:
    """The record with what the plan puts in and takes out."""
    machine = view.job.machine
    later = planned(machine, view.choice.chosen()).parts
    for place in {*machine.configuration().parts, *later}:
        machine = machine.with_part(place, later.get(place))
    return machine
