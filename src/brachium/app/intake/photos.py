"""Photos of a job: read and scaled off the window's thread, kept once, shown in the order they were added."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from brachium.app.shop.workspace import Workspace, now_text
from brachium.core.base.problems import Problem
from brachium.core.record.job import Job, Photo
from brachium.formats.photo import ScaledPhoto, read_photo


def read_all(
    paths: Sequence[Path], stopped: Callable[[], bool] = lambda: False
) -> tuple[tuple[ScaledPhoto, ...], tuple[Problem, ...]]:
    """Every picture that can be read, and what is wrong with the others; `stopped` is asked before each."""
    good, bad = [], []
    for path in paths:
        if stopped():
            break
        try:
            good.append(read_photo(path))
        except Problem as problem:
            bad.append(problem)
    return tuple(good), tuple(bad)


def attach_photos(workspace: Workspace, job_id: str, photos: Sequence[ScaledPhoto]) -> int:
    """Keep pictures with a job; returns how many are new to it."""
    job = workspace.job(job_id)
    known = {p.id for p in job.photos}
    fresh = [p for p in {p.id: p for p in photos}.values() if p.id not in known]
    if fresh:
        for photo in fresh:
            workspace.keep_photo(photo.id, photo.data)
        added = tuple(Photo(p.id, p.width, p.height, "", now_text()) for p in fresh)
        workspace.edit("photo added" if len(fresh) == 1 else "photos added", replace(job, photos=(*job.photos, *added)))
    return len(fresh)


def with_caption(job: Job, photo_id: str, caption: str) -> Job:
    photos = tuple(replace(p, caption=caption) if p.id == photo_id else p for p in job.photos)
    return replace(job, photos=photos)


def without_photo(job: Job, photo_id: str) -> Job:
    """The record no longer shows the picture; it stays in the shop file, so that undo brings it back."""
    return replace(job, photos=tuple(p for p in job.photos if p.id != photo_id))
