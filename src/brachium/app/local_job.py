"""A record for the machine that the program stands on, filled with what it says of itself."""

from __future__ import annotations

from brachium.app.importing import free_id
from brachium.app.workspace import Workspace
from brachium.core.because import Origin
from brachium.core.job.job import LOCAL, Job
from brachium.core.machine.machine import Identity, Machine, Processor
from brachium_probe import facts
from brachium_probe.tree import Tree

PLACEHOLDERS = ("to be filled by o.e.m.", "default string", "system product name", "not specified", "none", "unknown")


def take_this_machine(workspace: Workspace, tree: Tree | None = None) -> str:
    """Take the machine in that the program stands on; returns the id, also of a record that is there already."""
    for job_id in workspace.job_ids():
        if workspace.job(job_id).bench == LOCAL:
            return job_id
    job = _record(workspace, tree or Tree())
    workspace.add_job(job)
    return job.id


def _record(workspace: Workspace, tree: Tree) -> Job:
    model = _said(tree, "product_name") or facts.processor_name(tree) or "this machine"
    identity = Identity(
        _said(tree, "sys_vendor"), model, "", None, _said(tree, "bios_version"), facts.system_name(tree)
    )
    threads = facts.thread_count(tree) or None
    machine = Machine(
        identity=identity, processor=Processor(facts.processor_name(tree), None, threads),
        origins={f"identity.{name}": Origin.SCANNED for name in ("maker", "model", "firmware", "system")}
        | {"processor": Origin.SCANNED},
    )  # fmt: skip
    return Job(free_id(workspace, "this machine"), "This machine", machine, bench=LOCAL)


def _said(tree: Tree, name: str) -> str:
    """A field of the firmware's own description; placeholders count as absent."""
    text = tree.text(f"/sys/class/dmi/id/{name}") or ""
    return "" if text.lower() in PLACEHOLDERS else text
