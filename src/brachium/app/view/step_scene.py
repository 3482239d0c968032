"""The scene of a step of the machine in view."""

from __future__ import annotations

from brachium.app.view.job_view import JobView
from brachium.core.figures.work.scene import Scene, scene_of
from brachium.core.record.drive_states import bad_sectors, failing_places
from brachium.core.work.step import Step
from brachium.core.work.transfer import transfer_plan


def view_scene(view: JobView, step: Step) -> Scene:
    """What its picture shows, from the record in view."""
    job, chosen = view.job, view.choice.chosen()
    move = None
    if step.id == "clone":
        move = transfer_plan(job.machine, chosen, job.transfer, job.machine.platform.system.used_bytes,
                             failing_places(job), bad_sectors(job))  # fmt: skip
    return scene_of(job.machine, chosen, view.work.steps, step, job.screws, move)
