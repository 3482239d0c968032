"""All machines of the demo shop: their records, and the simulated ones by the id a job names."""

from __future__ import annotations

from collections.abc import Callable

from brachium.core.record.job import Job
from brachium.demo import archive_store, donors, edit_suite, newsroom, outside_broadcast, playout, reception
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.tree import TreeState

SIMULATIONS: dict[str, Simulation] = {
    newsroom.JOB_ID: newsroom.SIMULATION,
    playout.JOB_ID: playout.SIMULATION,
    edit_suite.JOB_ID: edit_suite.SIMULATION,
    outside_broadcast.JOB_ID: outside_broadcast.SIMULATION,
    reception.JOB_ID: reception.SIMULATION,
}
OTHERS: tuple[Callable[[], Job], ...] = (
    playout.playout_job,
    edit_suite.edit_suite_job,
    outside_broadcast.outside_broadcast_job,
    reception.reception_job,
    archive_store.archive_store_job,
    donors.donor_laptop_job,
    donors.donor_desktop_job,
)
TREES: dict[str, TreeState] = {
    **{job_id: simulation.tree for job_id, simulation in SIMULATIONS.items()},
    archive_store.JOB_ID: archive_store.TREE,
}


def simulation_of(job: Job) -> Simulation:
    """The simulated machine that stands for a job; the newsroom laptop where the record names none."""
    return SIMULATIONS.get(job.simulated_as, newsroom.SIMULATION)
