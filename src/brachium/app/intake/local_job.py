"""A record for the machine that the program stands on, filled with what it says of itself; scans of it later."""

from __future__ import annotations

from dataclasses import replace

from brachium.app.shared.local_machine import remember_record
from brachium.app.shop.free_job_id import free_job_id
from brachium.app.shop.workspace import Workspace, now_text
from brachium.app.view.cause_record import readings_of
from brachium.core.machine.machine import Machine
from brachium.core.machine.scanned.from_scan import filled_from_scan
from brachium.core.machine.scanned.scan import Scan
from brachium.core.record.job import LOCAL, Job
from brachium.formats.scan_plain import scan_from_plain
from brachium_probe import scan as scanner
from brachium_probe.tree import Tree


def scan_tree(tree: Tree | None = None) -> Scan:
    """Read this machine, or a captured tree. Never raises for what the tree holds."""
    tree = tree or Tree()
    return scan_from_plain(scanner.scan(tree), tree.root or "this machine")


def this_machine(workspace: Workspace) -> str:
    """The record of the machine that the program stands on; empty where there is none yet."""
    return next((c.id for c in workspace.cards() if c.bench == LOCAL and workspace.is_here(c.id)), "")


def take_this_machine(workspace: Workspace, scan: Scan) -> str:
    """Take the machine in that the program stands on; returns the id, also of a record that is there already."""
    known = this_machine(workspace)
    if known:
        return known
    job = _named(workspace, Job("", "This machine", Machine(), bench=LOCAL), scan)
    workspace.add_job(job)
    if workspace.shared:
        remember_record(workspace.database.path, job.id)
    return job.id


def with_scan(job: Job, scan: Scan) -> Job:
    """The record with everything filled in that it did not hold; what it holds is left to the person."""
    made = replace(job, machine=filled_from_scan(job.machine, scan), scan=scan)
    return made if scan == job.scan else replace(made, health=(*job.health, *readings_of(made, scan, now_text())))


def _named(workspace: Workspace, job: Job, scan: Scan) -> Job:
    made = with_scan(replace(job, id=free_job_id(workspace, job.name)), scan)
    if made.machine.identity.model:
        return made
    identity = replace(made.machine.identity, model=scan.text("processor.name") or job.name)
    return replace(made, machine=replace(made.machine, identity=identity))
