"""Reading and writing jobs, runs and settings."""

from __future__ import annotations

import contextlib
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from sqlalchemy import Connection, delete, func, insert, select, update

from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.run import Run
from brachium.core.record.card import JobCard, Waits, card_of
from brachium.core.record.job import Job
from brachium.formats.records import (
    SeriesArray,
    card_from_json,
    card_to_json,
    job_from_json,
    job_to_json,
    run_arrays,
    run_from_json,
    run_heading,
    run_to_json,
)
from brachium.store.database import Database
from brachium.store.fingerprint import fingerprint
from brachium.store.tables import EDIT, JOB, PHOTO, RUN, SERIES, SETTING


@dataclass(frozen=True)
class StoredRun:
    """A run with the job and the role (before, after) it was taken for."""

    job_id: str
    role: str
    run: Run


class Repository:
    """All access to the tables; every method is one transaction."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def cards(self) -> tuple[JobCard, ...]:
        """A card of every job, in order; only where one is missing is the record itself read.

        A record that this program cannot read keeps its place, with a card that says so.
        """
        with self._database.transaction() as c:
            rows = c.execute(select(JOB.c.id, JOB.c.card).order_by(JOB.c.position, JOB.c.id)).all()
        return tuple(card_from_json(card) or self._card(job_id) for job_id, card in rows)

    def _card(self, job_id: str) -> JobCard:
        try:
            return card_of(self.job(job_id))
        except ExpectedProblem:
            return JobCard(job_id, job_id, Waits.BENCH, "cannot be read", job_id)

    def job(self, job_id: str) -> Job:
        """Raises KeyError where there is none, ExpectedProblem where its record cannot be read."""
        with self._database.transaction() as c:
            document = c.execute(select(JOB.c.document).where(JOB.c.id == job_id)).scalar_one_or_none()
        if document is None:
            raise KeyError(job_id)
        return job_from_json(document, f"job {job_id}")

    def save_card(self, card: JobCard) -> None:
        with self._database.transaction(writes=True) as c:
            c.execute(update(JOB).where(JOB.c.id == card.id).values(card=card_to_json(card)))

    def save_job(self, job: Job, label: str, seconds: float = 0.0, card: JobCard | None = None) -> None:
        """Insert or replace a job and note the edit."""
        with self._database.transaction(writes=True) as c:
            _save_job(c, job, label, seconds, card)

    def add_whole(
        self, job: Job, card: JobCard, runs: Sequence[StoredRun], photos: Mapping[str, bytes], label: str
    ) -> None:
        """A job with photos and runs: all of it, or nothing. Raises ExpectedProblem where a run is there already."""
        with self._database.transaction(writes=True) as c:
            for photo_id, data in photos.items():
                _add_photo(c, photo_id, data)
            _save_job(c, job, label, 0.0, card)
            for stored in runs:
                _add_run(c, stored)

    def runs(self, job_id: str) -> tuple[tuple[StoredRun, ...], tuple[ExpectedProblem, ...]]:
        """The runs of a job in the order they arrived, and a problem for each that this program cannot read."""
        with self._database.transaction() as c:
            heads = c.execute(
                select(RUN.c.id, RUN.c.role, RUN.c.document)
                .where(RUN.c.job_id == job_id)
                .order_by(RUN.c.position, RUN.c.id)
            ).all()
            out, bad = [], []
            for run_id, role, document in heads:
                rows = c.execute(select(SERIES).where(SERIES.c.run_id == run_id)).all()
                arrays = tuple(SeriesArray(r.session, r.key, r.unit, r.source, _unpack(r.data)) for r in rows)
                try:
                    out.append(StoredRun(job_id, role, run_from_json(document, arrays, f"run {run_id}")))
                except ExpectedProblem as problem:
                    bad.append(problem)
        return tuple(out), tuple(bad)

    def headings(self, most: int) -> tuple[StoredRun, ...]:
        """The runs that arrived last, without their arrays, newest first; those that cannot be read are left out."""
        with self._database.transaction() as c:
            rows = c.execute(
                select(RUN.c.job_id, RUN.c.role, RUN.c.id, RUN.c.document)
                .order_by(RUN.c.position.desc(), RUN.c.id.desc())
                .limit(most)
            ).all()
        out = []
        for r in rows:
            with contextlib.suppress(ExpectedProblem):
                out.append(StoredRun(r.job_id, r.role, run_heading(r.document, f"run {r.id}")))
        return tuple(out)

    def twin(self, wanted: str) -> str:
        """The job that holds the run with this fingerprint; empty where none does."""
        with self._database.transaction() as c:
            found = c.execute(select(RUN.c.job_id).where(RUN.c.fingerprint == wanted))
            return str(found.scalars().first() or "")

    def add_run(self, stored: StoredRun) -> None:
        """Store a run; runs are never edited, only voided."""
        with self._database.transaction(writes=True) as c:
            _add_run(c, stored)

    def replace_head(self, run: Run) -> None:
        """Store a run's document again (voided with a reason); its arrays stay."""
        with self._database.transaction(writes=True) as c:
            c.execute(update(RUN).where(RUN.c.id == run.id).values(document=run_to_json(run)))

    def photo(self, photo_id: str) -> bytes:
        """A picture; empty where the file does not hold it."""
        with self._database.transaction() as c:
            return c.execute(select(PHOTO.c.data).where(PHOTO.c.id == photo_id)).scalar_one_or_none() or b""

    def add_photo(self, photo_id: str, data: bytes) -> None:
        """Keep a picture once."""
        with self._database.transaction(writes=True) as c:
            _add_photo(c, photo_id, data)

    def setting(self, key: str) -> str | None:
        with self._database.transaction() as c:
            return c.execute(select(SETTING.c.value).where(SETTING.c.key == key)).scalar_one_or_none()

    def set_setting(self, key: str, value: str) -> None:
        with self._database.transaction(writes=True) as c:
            c.execute(delete(SETTING).where(SETTING.c.key == key))
            c.execute(insert(SETTING).values(key=key, value=value))


def fingerprint_of(run: Run) -> str:
    """What tells this run from others, whatever id it has."""
    return fingerprint(run_to_json(run))


def _save_job(c: Connection, job: Job, label: str, seconds: float, card: JobCard | None) -> None:
    now = _now()
    values = {"document": job_to_json(job), "changed_at": now, "card": card_to_json(card or card_of(job))}
    if c.execute(update(JOB).where(JOB.c.id == job.id).values(**values)).rowcount == 0:
        position = 1 + (c.execute(select(func.max(JOB.c.position))).scalar() or 0)
        c.execute(insert(JOB).values(id=job.id, position=position, **values))
    c.execute(insert(EDIT).values(job_id=job.id, at=now, label=label, seconds=seconds))


def _add_photo(c: Connection, photo_id: str, data: bytes) -> None:
    if c.execute(select(PHOTO.c.id).where(PHOTO.c.id == photo_id)).first() is None:
        c.execute(insert(PHOTO).values(id=photo_id, data=data))


def _add_run(c: Connection, stored: StoredRun) -> None:
    """Behind every run that arrived before it."""
    run, document = stored.run, run_to_json(stored.run)
    position = 1 + (c.execute(select(func.max(RUN.c.position))).scalar() or 0)
    c.execute(
        insert(RUN).values(
            id=run.id,
            job_id=stored.job_id,
            role=stored.role,
            taken_at=run.taken_at[:32],
            document=document,
            fingerprint=fingerprint(document),
            position=position,
        )
    )
    rows = [
        {"run_id": run.id, "session": a.session, "key": a.key, "unit": a.unit, "source": a.source,
         "samples": int(a.values.size), "data": _pack(a.values)}
        for a in run_arrays(run)
    ]  # fmt: skip
    if rows:
        c.execute(insert(SERIES), rows)


def _now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


def _pack(values: np.ndarray) -> bytes:
    return zlib.compress(np.ascontiguousarray(values, dtype="<f8").tobytes(), 6)


def _unpack(data: bytes) -> np.ndarray:
    return np.frombuffer(zlib.decompress(data), dtype="<f8")
