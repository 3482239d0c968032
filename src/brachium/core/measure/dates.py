"""Dates of runs: a clock may be set back, or a date be none. Runs count in the order they arrived; doubt is said."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

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
            out[run.id] = f"its date ({run.taken_at or 'none'}) cannot be read; it counts in the order it arrived"
        elif latest is not None and moment < latest[0]:
            out[run.id] = (
                f"its date ({run.taken_at}) lies before that of the run that came before it ({latest[1].taken_at}): a "
                "clock was wrong; it counts in the order it arrived"
            )
        elif latest is None or moment >= latest[0]:
            latest = moment, run
    return out
