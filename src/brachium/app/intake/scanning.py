"""Scans of the machine that a job stands for: this one, or a simulated one through the tree it would show."""

from __future__ import annotations

import tempfile
from pathlib import Path

from brachium.app.intake.local_job import scan_tree
from brachium.core.base.problems import from_os_error
from brachium.core.machine.scanned.scan import Scan
from brachium.core.record.job import LOCAL, Job
from brachium_probe.tree import Tree


def scan_of(job: Job) -> Scan:
    """Read the job's machine. Raises EnvironmentProblem where a simulated tree cannot be written."""
    if job.bench == LOCAL:
        return scan_tree()
    from brachium.demo.machines import TREES, simulation_of  # late: the window opens without the simulated machines
    from brachium.devices.simulated.tree import write_tree

    state = TREES.get(job.simulated_as) or simulation_of(job).tree
    with tempfile.TemporaryDirectory(prefix="brachium-") as folder:
        try:
            root = write_tree(job.machine, state, Path(folder) / "tree")
        except OSError as error:
            raise from_os_error(error, folder) from error
        return scan_tree(Tree(str(root)))
