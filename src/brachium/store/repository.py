"""Reading and writing jobs, runs and settings."""

from __future__ import annotations

import contextlib
import zlib
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING, Any

import numpy as np
from sqlalchemy import Connection, Row, bindparam, delete, func, insert, select, update
from sqlalchemy import text as statement

from brachium.core.base.merge import merge
from brachium.core.base.packed_text import packed, unpacked
from brachium.core.base.problems import ExpectedProblem
from brachium.core.record.card import JobCard, Waits, card_of
from brachium.core.record.job import Job, Stage
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
from brachium.store.edits import JobEdit, RunEdit, SettingEdit, StoredRun, WholeJob
from brachium.store.fingerprint import fingerprint
from brachium.store.merge_settings import merge_setting
from brachium.store.stored import EditDone, StoredJob, StoredSetting
from brachium.store.tables import EDIT, JOB, PHOTO, RUN, SENT, SERIES, SETTING

if TYPE_CHECKING:
    from brachium.store.server import ServerDatabase


STAMP = "%Y-%m-%dT%H:%M:%SZ"
SENT_KEPT = timedelta(days=400)

# made once: putting a statement together costs as much as running it
JOB_AS_IT_LIES = select(JOB.c.document, JOB.c.revision, JOB.c.changed_by).where(JOB.c.id == bindparam("key"))
JOB_TO_CHANGE = JOB_AS_IT_LIES.with_for_update()
CHANGE_JOB = update(JOB).where(JOB.c.id == bindparam("key"))
ADD_SENT = statement("insert into sent (token, at) values (:token, :at) on conflict (token) do nothing")
NEXT_RUN = select(func.coalesce(func.max(RUN.c.position), 0) + 1).scalar_subquery()
ADD_EDIT, ADD_RUN, ADD_SERIES = insert(EDIT), insert(RUN).values(position=NEXT_RUN), insert(SERIES)


class Repository:
    """All access to the tables; every method is one transaction."""

    def __init__(self, database: Database | ServerDatabase, who: str = "") -> None:
        self._database, self.who = database, who
        self._written: dict[str, StoredJob] = {}  # as they were written last: what did not change is not read anew

    @property
    def shared(self) -> bool:
        """Whether other programs may have the shop open too."""
        return self._database.shared

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
        return self.stored_job(job_id).job

    def stored_job(self, job_id: str) -> StoredJob:
        """A record with its revision. Raises as `job` does."""
        with self._database.transaction() as c:
            row = c.execute(JOB_AS_IT_LIES, {"key": job_id}).one_or_none()
        if row is None:
            raise KeyError(job_id)
        return self._read(job_id, row)

    def _read(self, job_id: str, row: Row[Any, Any, Any]) -> StoredJob:
        known = self._written.get(job_id)
        if known is not None and known.revision == row.revision:
            return known
        return StoredJob(job_from_json(row.document, f"job {job_id}"), row.revision, row.changed_by)

    def revisions(self) -> dict[str, int]:
        """The revision of every record, by job id."""
        with self._database.transaction() as c:
            return {r.id: r.revision for r in c.execute(select(JOB.c.id, JOB.c.revision))}

    def card(self, job_id: str) -> JobCard | None:
        """The card of one job; None where there is no such job."""
        with self._database.transaction() as c:
            kept = c.execute(select(JOB.c.card).where(JOB.c.id == job_id)).scalar_one_or_none()
        return None if kept is None else card_from_json(kept) or self._card(job_id)

    def save_card(self, card: JobCard) -> None:
        with self._database.transaction(writes=True) as c:
            done = c.execute(update(JOB).where(JOB.c.id == card.id).values(card=card_to_json(card)))
            if done.rowcount:
                self._database.tell(c, "card", card.id)

    def save_job(self, edit: JobEdit) -> StoredJob:
        """Store an edit, merged into what lies there by now. Raises ExpectedProblem where a record that is taken in
        is there already."""
        with self._database.transaction(writes=True) as c:
            stored = self._save_job(c, edit) if _first_time(c, edit.token) else self._as_it_lies(c, edit)
        # only now: one that was written and never committed may bear the revision of another bench's edit
        self._written[edit.job_id] = replace(stored, clashes=())
        return stored

    def _as_it_lies(self, c: Connection, edit: JobEdit) -> StoredJob:
        """Of an edit that came before: what its sender did not hear about is told again, a clash too."""
        row = c.execute(JOB_AS_IT_LIES, {"key": edit.job_id}).one()
        stored = self._read(edit.job_id, row)
        clashes = merge(edit.before, edit.after, stored.job).clashes if edit.before is not None else ()
        return replace(stored, clashes=clashes)

    def _save_job(self, c: Connection, edit: JobEdit) -> StoredJob:
        job_id, now = edit.job_id, _now()
        row = c.execute(JOB_TO_CHANGE, {"key": job_id}).one_or_none()
        if row is None:
            self._database.ask_hidden(c, job_id)
            stored = self._insert_job(c, edit, now)
        else:
            if edit.before is None:
                raise ExpectedProblem("a machine of this id was taken in meanwhile", edit.after.name,
                                      "Take it in again; it gets another id. Nothing was changed.")  # fmt: skip
            theirs = self._read(job_id, row)
            merged = merge(edit.before, edit.after, theirs.job)
            if merged.value == theirs.job:
                return replace(theirs, clashes=merged.clashes)
            same = merged.value == edit.after and edit.card is not None
            card = edit.card if same and edit.card is not None else _card_again(merged.value, edit.card)
            who = theirs.changed_by if merged.clashes else self.who
            stored = StoredJob(merged.value, row.revision + 1, who, merged.clashes)
            c.execute(CHANGE_JOB, {
                "key": job_id, "document": job_to_json(merged.value), "changed_at": now, "card": card_to_json(card),
                "revision": stored.revision, "changed_by": self.who,
            })  # fmt: skip
        c.execute(ADD_EDIT, {"job_id": job_id, "at": now, "label": packed(edit.label), "seconds": edit.seconds,
                             "who": self.who})  # fmt: skip
        self._database.tell(c, "job", job_id, stored.revision)
        return stored

    def _insert_job(self, c: Connection, edit: JobEdit, now: str) -> StoredJob:
        position = 1 + (c.execute(select(func.max(JOB.c.position))).scalar() or 0)
        card = edit.card or card_of(edit.after)
        c.execute(insert(JOB).values(
            id=edit.job_id, position=position, document=job_to_json(edit.after), changed_at=now,
            card=card_to_json(card), revision=1, changed_by=self.who))  # fmt: skip
        return StoredJob(edit.after, 1, self.who)

    def add_whole(self, whole: WholeJob) -> None:
        """A job with photos and runs: all of it, or nothing. Raises ExpectedProblem where a run is there already."""
        with self._database.transaction(writes=True) as c:
            if not _first_time(c, whole.token):
                return
            for photo_id, data in whole.photos.items():
                _add_photo(c, photo_id, data)
            self._save_job(c, JobEdit(None, whole.job, whole.label, whole.card))
            for stored in whole.runs:
                _add_run(c, stored)

    def edits(self, job_id: str, most: int = 500) -> tuple[EditDone, ...]:
        """Who did what to a record, the latest first."""
        with self._database.transaction() as c:
            rows = c.execute(
                select(EDIT.c.at, EDIT.c.who, EDIT.c.label).where(EDIT.c.job_id == job_id)
                .order_by(EDIT.c.id.desc()).limit(most)
            ).all()  # fmt: skip
        return tuple(EditDone(r.at, r.who, unpacked(r.label)) for r in rows)

    def forget_sent(self) -> None:
        """Let go of tokens so old that no bench can still have their edits in its journal."""
        old = (datetime.now(UTC) - SENT_KEPT).strftime(STAMP)
        with self._database.transaction(writes=True) as c:
            c.execute(delete(SENT).where(SENT.c.at < old))

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

    def add_run(self, edit: RunEdit) -> None:
        """Store a run, or its document again where it was voided; runs are never edited otherwise."""
        run = edit.stored.run
        with self._database.transaction(writes=True) as c:
            if not _first_time(c, edit.token):
                return
            if edit.head_only:
                c.execute(update(RUN).where(RUN.c.id == run.id).values(document=run_to_json(run)))
            else:
                _add_run(c, edit.stored)
            self._database.tell(c, "run", edit.stored.job_id)

    def photo(self, photo_id: str) -> bytes:
        """A picture; empty where the file does not hold it."""
        with self._database.transaction() as c:
            return c.execute(select(PHOTO.c.data).where(PHOTO.c.id == photo_id)).scalar_one_or_none() or b""

    def add_photo(self, photo_id: str, data: bytes) -> None:
        """Keep a picture once."""
        with self._database.transaction(writes=True) as c:
            _add_photo(c, photo_id, data)

    def settings(self) -> dict[str, StoredSetting]:
        """Every document of the shop's own, by its key."""
        with self._database.transaction() as c:
            return {r.key: StoredSetting(r.value, r.revision, r.changed_by) for r in c.execute(select(SETTING))}

    def set_setting(self, edit: SettingEdit) -> StoredSetting:
        """Store a document of the shop's own, merged into what lies there by now."""
        try:
            return self._set_setting(edit)
        except ExpectedProblem:  # another bench kept the first one of its key between our look and our writing
            return self._set_setting(edit)

    def _set_setting(self, edit: SettingEdit) -> StoredSetting:
        with self._database.transaction(writes=True) as c:
            row = c.execute(select(SETTING).where(SETTING.c.key == edit.key).with_for_update()).one_or_none()
            if not _first_time(c, edit.token) and row is not None:
                clashes = merge_setting(edit.key, edit.before, edit.after, row.value)[1]
                return StoredSetting(row.value, row.revision, row.changed_by, clashes)
            stored = StoredSetting(edit.after, 1, self.who)
            if row is None:
                c.execute(insert(SETTING).values(
                    key=edit.key, value=edit.after, revision=1, changed_by=self.who))  # fmt: skip
            else:
                text, clashes = merge_setting(edit.key, edit.before, edit.after, row.value)
                stored = StoredSetting(text, row.revision + 1, row.changed_by if clashes else self.who, clashes)
                values = {"value": text, "revision": stored.revision, "changed_by": self.who}
                c.execute(update(SETTING).where(SETTING.c.key == edit.key).values(**values))
            self._database.tell(c, "setting", edit.key, stored.revision)
            return stored


def _card_again(job: Job, card: JobCard | None) -> JobCard:
    return card_of(job, Stage(card.stage) if card is not None and card.stage else None)


def _first_time(c: Connection, token: str) -> bool:
    """Whether an edit is not in the shop yet; from now on it is."""
    return c.execute(ADD_SENT, {"token": token, "at": _now()}).rowcount == 1


def _add_photo(c: Connection, photo_id: str, data: bytes) -> None:
    if c.execute(select(PHOTO.c.id).where(PHOTO.c.id == photo_id)).first() is None:
        c.execute(insert(PHOTO).values(id=photo_id, data=data))


def _add_run(c: Connection, stored: StoredRun) -> None:
    """Behind every run that arrived before it."""
    run, document = stored.run, run_to_json(stored.run)
    c.execute(ADD_RUN, {
        "id": run.id, "job_id": stored.job_id, "role": stored.role, "taken_at": run.taken_at[:32],
        "document": document, "fingerprint": fingerprint(document),
    })  # fmt: skip
    rows = [
        {"run_id": run.id, "session": a.session, "key": a.key, "unit": a.unit, "source": a.source,
         "samples": int(a.values.size), "data": _pack(a.values)}
        for a in run_arrays(run)
    ]  # fmt: skip
    if rows:
        c.execute(ADD_SERIES, rows)


def _now() -> str:
    return datetime.now(UTC).strftime(STAMP)


def _pack(values: np.ndarray) -> bytes:
    return zlib.compress(np.ascontiguousarray(values, dtype="<f8").tobytes(), 6)


def _unpack(data: bytes) -> np.ndarray:
    return np.frombuffer(zlib.decompress(data), dtype="<f8")
