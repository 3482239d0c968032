"""Dates of runs: a clock may be set back, or a date be none. Runs count in the order they arrived; doubt is said."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from brachium.core.base.text import phrase
from brachium.core.measure.run import Run


def moment_of(run: Run) -> datetime | None:
    """When a run was taken; None where its date is none."""
    try:
        return datetime.fromisoformat(run.taken_at.strip()).replace(tzinfo=None)
    except ValueError:
        return None


def date_doubts(runs: Sequence[Run]) -> dict[str, str]:
    """Why a run's date is doubted, by run id; `runs` in the order in which they arrived."""
    out: dict[str, str] = {}
    latest: tuple[datetime, Run] | None = None
    for run in runs:
        moment = moment_of(run)
        if moment is None:
            out[run.id] = phrase(
                "its date ({taken_at}) cannot be read; it counts in the order it arrived",
                taken_at=run.taken_at or "none",
            )
        elif latest is not None and moment < latest[0]:
            out[run.id] = phrase(
                "its date ({taken_at}) lies before that of the run that came before it ({taken_at2}): a clock was "
                "wrong; it counts in the order it arrived",
                taken_at=run.taken_at,
                taken_at2=latest[1].taken_at,
            )
        elif latest is None or moment >= latest[0]:
            latest = moment, run
    return out
