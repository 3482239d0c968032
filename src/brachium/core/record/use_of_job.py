"""How the owner's work spends its time: the job's own profile, else the shipped one; measured shares where wanted."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.measure.run import Run
from brachium.core.measure.waiting import Limit
from brachium.core.record.job import Job
from brachium.core.use.day_of_use import DayOfUse
from brachium.core.use.measured_shares import measured_use
from brachium.core.use.profile import UseProfile, profile_of
from brachium.core.use.use_of_day import use_of_day
from brachium.core.use.use_of_tasks import use_of_tasks


def typed_use(job: Job) -> UseProfile:
    """As a person stated it."""
    own = job.own_use
    return own if own is not None and own.id == job.profile_id else profile_of(job.profile_id)


def use_of(job: Job, limits: Sequence[Limit], day: DayOfUse | None = None, run: Run | None = None) -> UseProfile:
    """What predictions start from: measured shares where the job asks for them, else the profile's own."""
    profile = typed_use(job)
    return (measured_of(profile, limits, day, run) if job.measured_shares else None) or profile


def measured_of(
    profile: UseProfile, limits: Sequence[Limit], day: DayOfUse | None = None, run: Run | None = None
) -> UseProfile | None:
    """The profile as it was measured: by watched days, else by the owner's task that was sampled, else by the everyday
    tasks of a run; None without any of them."""
    watched = use_of_day(profile, day) if day is not None else None
    return watched or measured_use(profile, limits) or (use_of_tasks(profile, run) if run is not None else None)
