"""The shop at work: jobs with undo and autosave, their runs, their computed views."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from brachium.app.bench.run_roles import AFTER as AFTER
from brachium.app.bench.run_roles import BEFORE as BEFORE
from brachium.app.shared.bench_name import bench_name
from brachium.app.shared.bench_rights import bench_problem, bench_work_problem
from brachium.app.shared.lanes import Lanes
from brachium.app.shared.local_machine import own_record
from brachium.app.shared.merged_records import MergedRecords
from brachium.app.shared.open_clashes import OpenClash, OpenClashes, chosen_setting
from brachium.app.shared.outbox import Outbox
from brachium.app.shop.edit_history import Edit, EditHistory
from brachium.app.shop.kept import keep_rates
from brachium.app.shop.kept_start import read_start, shop_start, write_start
from brachium.app.shop.reading import ShopReading
from brachium.app.shop.run_cache import RunCache
from brachium.app.shop.store_queue import StoreQueue, Ticket
from brachium.core.base.merge import Clash, merge, with_value
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.core.measure.run import Run
from brachium.core.record.card import JobCard, card_of
from brachium.core.record.job import Job, Stage
from brachium.formats.ids import JOURNAL_SUFFIX, id_problem
from brachium.formats.shop_documents import PRICE_LIST, SETTINGS, SHELF, ShopDocument
from brachium.store.edits import JobEdit, PhotoEdit, RunEdit, SettingEdit, ShopEdit, StoredRun, WholeJob
from brachium.store.late_repository import late_repository
from brachium.store.location import Place
from brachium.store.open_database import open_database
from brachium.store.roles import Role
from brachium.store.stored import StoredJob, StoredSetting

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView
    from brachium.core.plan.candidates import CatalogueItem
    from brachium.core.plan.price_offer import Rates
    from brachium.core.stage.gate import GateGround

__all__ = ["AFTER", "BEFORE", "Workspace", "now_text"]
T = TypeVar("T")
Listener = Callable[[str], None]


class Workspace(ShopReading):
    """All jobs of one database. Records are edited here and nowhere else; listeners hear the job's id.

    Cards of all jobs are at hand; a record is read when it is first asked for, its runs too. The maps belong to the
    thread that made the workspace; lanes get a `reading`, and what they work out comes back through `post`.
    """

    def __init__(
        self, place: Place, lanes: Lanes, catalogue: Callable[[], tuple[CatalogueItem, ...]], bench: str = ""
    ) -> None:
        self.lanes = lanes
        self.bench_name = bench or bench_name()
        self.database = open_database(place)
        repository = late_repository(self.database, self.bench_name)
        try:
            self.outbox = Outbox(self.database, repository)
            self.recovered: tuple[str, ...] = self.outbox.send_left()
            self._start = None if self.database.shared else read_start(self.database.path)
            kept = self._start or shop_start(repository)
        except BaseException:
            self.database.close()  # or a second try would find it taken
            raise
        cards = {card.id: card for card in kept.cards}
        super().__init__(
            repository, RunCache(repository), catalogue, cards, kept.jobs, {}, kept.settings, {}, (), None, kept.parsed
        )
        self.start_with = ""  # the machine whose record and figures are to be at hand at the next start
        self._sent, self._viewed_at = 0, dict[str, tuple[int, date]]()
        self._maps = threading.RLock()  # without a window the lanes deliver by themselves
        self._history = EditHistory()
        self._generation: dict[str, int] = {}
        self._tried: set[str] = set()
        self._records, self._settings_sent = MergedRecords(), Counter[str]()
        self.clashes = OpenClashes()
        self.on_edited: list[Listener] = []
        self.on_view: list[Listener] = []
        self.on_view_made: list[Callable[[JobView], None]] = []
        self.on_handed_over: list[Callable[[JobView], None]] = []
        self.on_taken_back: list[Listener] = []
        self.on_problem: list[Callable[[Exception], None]] = []
        self.on_saving: list[Callable[[int], None]] = []
        self.on_settings: list[Listener] = []  # the key of a document of the shop's own that changed elsewhere
        self.on_clash: list[Callable[[], None]] = []
        self.on_closing: list[Callable[[], None]] = []
        self.writes = StoreQueue(lanes, self.report, self._saving)
        self.shelf_parts = self.kept(SHELF)
        for left in self.outbox.left_to_choose():
            self._to_choose(left.edit, left.clashes, left.who)

    def reading(self) -> ShopReading:
        """The shop as it is now, for a lane."""
        with self._maps:
            return ShopReading(
                self.repository, self._runs, self._standard, self._cards, self._jobs, self._views,
                self._fresh_settings, self._fresh_photos, self.shelf_parts, self._catalogue, self._parsed,
            )  # fmt: skip

    def _take_back(self, reading: ShopReading) -> None:
        """What a lane found out about the shop itself: a price list read, settings that cannot be."""
        if self._catalogue is None:
            self._catalogue = reading._catalogue
        for key, text in reading.put_aside:
            self._set_aside(key, text)
        for problem in self._runs.unread():
            self.report(problem)

    def _set_aside(self, key: str, text: str) -> None:
        self.save_setting(key, text)

    # -- price list

    def set_catalogue(self, items: tuple[CatalogueItem, ...]) -> None:
        """Another price list from now on; views follow when they are asked for."""
        self._catalogue = items
        self.keep(PRICE_LIST, items)
        self.refresh_viewed()

    def set_rates(self, rates: Rates) -> None:
        """Other exchange rates from now on: offers are weighed anew off the caller's thread."""
        from brachium.core.plan.candidates import with_weighed_offers

        keep_rates(self, rates)
        items = self.catalogue
        self.lanes.submit("compute", lambda: with_weighed_offers(items, rates), self.set_catalogue, self.report)

    # -- reading

    def job(self, job_id: str) -> Job:
        """A record. Raises KeyError where there is none, ExpectedProblem where it cannot be read."""
        found = self._jobs.get(job_id)
        if found is None:
            read = self.repository.stored_job(job_id)
            with self._maps:  # an edit that was made meanwhile stands
                found = self._jobs.setdefault(job_id, read.job)
            self._records.arrived(job_id, read)
        return found

    def refresh_viewed(self) -> None:
        """Compute every view that is at hand anew: something of the shop's own changed."""
        for job_id in tuple(self._views):
            self.refresh(job_id)

    def undo_label(self, job_id: str) -> str:
        edit = self._history.last(job_id)
        return edit.label if edit is not None else ""

    def redo_label(self, job_id: str) -> str:
        edit = self._history.last_undone(job_id)
        return edit.label if edit is not None else ""

    # -- editing

    def add_job(self, job: Job) -> None:
        self._jobs[job.id] = job
        self._runs.begin(job.id)
        self._save(None, job, "taken in")
        self._changed(job.id)

    def edit(self, label: str, job: Job) -> None:
        """Replace a job's record; saved at once, undoable. Raises ExpectedProblem where a gate is shut."""
        before = self.job(job.id)
        if before == job:
            return
        self._ask_gate(before, job)
        self._history.add(Edit(label, before, job))
        self._put(label, job)

    def undo(self, job_id: str) -> str:
        """Take this bench's last edit back, whatever others changed since; returns its label, empty where there is
        none. Raises as `edit` does."""
        edit = self._history.last(job_id)
        if edit is None:
            return ""
        job = self._moved(edit, edit.after, edit.before, self._history.forget)
        self._history.undo(job_id)
        self._put(phrase("undo: {edit}", edit=edit.label), job)
        return edit.label

    def redo(self, job_id: str) -> str:
        """Make the last edit that was taken back again; returns its label. Raises as `edit` does."""
        edit = self._history.last_undone(job_id)
        if edit is None:
            return ""
        job = self._moved(edit, edit.before, edit.after, self._history.forget_undone)
        self._history.redo(job_id)
        self._put(phrase("redo: {edit}", edit=edit.label), job)
        return edit.label

    def _moved(self, edit: Edit, here: Job, there: Job, forget: Callable[[str], object]) -> Job:
        """The record with one edit taken back or made again; what another bench changed since stays."""
        now = self.job(edit.after.id)
        moved = merge(here, there, now).value
        if moved == now and here != now:
            forget(now.id)
            raise ExpectedProblem(
                phrase("“{edit}” was changed at another bench since", edit=edit.label), now.name,
                "That edit stays; nothing was changed.",
            )  # fmt: skip
        self._ask_gate(now, moved)
        return moved

    # -- gates

    def tick_problem(self, job_id: str, step_id: str) -> str:
        """Why a work step may not be ticked now, by whatever way; empty where it may."""
        from brachium.core.stage.gate import tick_problem  # late, like the others: the window opens without it

        shut = bench_work_problem(self.database.role)
        if shut:
            return shut
        ground = self._ground(job_id)
        return "the steps are being made" if ground is None else tick_problem(self.job(job_id), step_id, ground)

    def stage_problem(self, job_id: str, stage: Stage) -> str:
        """Why nothing of a stage may be done now; empty where it may."""
        from brachium.core.stage.gate import stage_problem
        from brachium.core.stage.latches import Progress

        shut = bench_work_problem(self.database.role) if stage is not Stage.TAKE_IN else ""
        if shut:
            return shut
        try:
            ground = self._ground(job_id)
        except Problem as problem:
            return problem.what
        return stage_problem(self.job(job_id), stage, ground.progress if ground is not None else Progress())

    def _ground(self, job_id: str) -> GateGround | None:
        """What gates are judged on: the steps last worked out, the record and the runs as they are now."""
        from brachium.core.stage.gate import GateGround

        record, view = self.job(job_id), self.view(job_id)
        if view is None:
            return None
        done = {d.step_id for d in record.steps_done}
        left = sum(s.id not in done for s in view.work.steps)
        has_before, has_after = (
            self.run(job_id, role) is not None or view.job.has_typed(role) for role in (BEFORE, AFTER)
        )
        progress = replace(view.standing.progress, steps_open=left, has_before=has_before, has_after=has_after)
        return GateGround(view.work.steps, progress)

    def _ask_gate(self, before: Job, after: Job) -> None:
        from brachium.core.stage.gate import change_problem

        work = (before.steps_done, before.handed_over) != (after.steps_done, after.handed_over)
        shut = self.role_problem(before.id) or (bench_work_problem(self.database.role) if work else "")
        if shut:
            raise ExpectedProblem(shut, before.name, "Nothing was changed.")
        problem = change_problem(before, after, self._ground(before.id))
        if problem:
            raise ExpectedProblem(phrase("not yet: {problem}", problem=problem), before.name, "Nothing was changed.")

    def _put(self, label: str, job: Job) -> None:
        before = self.job(job.id)
        self._jobs[job.id] = job
        if (before.handed_over, before.sold_for) != (job.handed_over, job.sold_for):
            self._tell_hand_over(before, job)
        self._save(before, job, label)
        self._changed(job.id)

    def _tell_hand_over(self, before: Job, job: Job) -> None:
        """Tell of a job that is handed over, and of one whose hand-over is taken back, by whatever way."""
        view = self.view(job.id)
        if job.handed_over and view is not None:
            for handed in self.on_handed_over:
                handed(replace(view, job=job))
        elif before.handed_over and not job.handed_over:
            for taken_back in self.on_taken_back:
                taken_back(job.id)

    def _save(self, before: Job | None, job: Job, label: str) -> None:
        card = self._cards[job.id] = card_of(job, self._stage(job.id))
        edit = JobEdit(before, job, label, card)
        self._records.sent(edit)

        def store() -> None:
            stored = self.repository.save_job(edit)
            if stored.clashes:
                self.outbox.clashed(edit)
            self.lanes.deliver(lambda: self._settled(edit, stored))

        self._send(edit, store, refused=lambda error: self._not_taken(edit, error))

    def _send(
        self, edit: ShopEdit, store: Callable[[], object], done: Callable[[], None] = lambda: None,
        refused: Callable[[Exception], None] | None = None,
    ) -> Ticket:  # fmt: skip
        """Store an edit behind those that wait; on its way to a server it lies in this computer's journal."""
        self._sent += 1
        kept = self.outbox.keep(edit, self.lanes, self.report)

        def work() -> None:
            kept()
            store()
            self.outbox.stored(edit)

        def not_taken(error: Exception) -> None:
            self.outbox.refused(edit)
            (refused or self.report)(error)

        return self.writes.submit(work, done, not_taken)

    def _settled(self, edit: JobEdit, stored: StoredJob) -> None:
        """An edit lies in the shop; where others edited meanwhile, the record in view becomes what lies there."""
        merged = self._records.settled(edit, stored)
        if stored.clashes:
            self._to_choose(edit, stored.clashes, stored.changed_by)
        if merged is not None:
            self._show_merged(merged)

    def _not_taken(self, edit: JobEdit, error: Exception) -> None:
        merged = self._records.refused(edit)
        if edit.before is None:
            self._forget(edit.job_id)
        elif merged is not None:
            self._show_merged(merged)
        self.report(error)

    def _show_merged(self, job: Job) -> None:
        if self._jobs.get(job.id) != job:
            self._jobs[job.id] = job
            self._cards[job.id] = card_of(job, self._stage(job.id))
            self._changed(job.id)

    # -- what happens at other benches

    def stored_elsewhere(self, job_id: str, card: JobCard, stored: StoredJob | None) -> None:
        """Another bench took a machine in or changed it; `stored` where its record is at hand here."""
        merged = self._records.arrived(job_id, stored) if stored is not None else None
        if merged is not None and self._jobs.get(job_id) != merged:
            self._jobs[job_id] = merged
            if job_id in self._views:
                self.refresh(job_id)
        here = self._jobs.get(job_id)  # with edits that are still on their way from here, which the card does not know
        stage = Stage(card.stage) if card.stage else None
        self._cards[job_id] = card if here is None else card_of(here, stage)
        for listener in self.on_edited:
            listener(job_id)

    def at_hand(self, job_id: str) -> bool:
        """Whether the record was read here."""
        return job_id in self._jobs

    def revision(self, job_id: str) -> int:
        """The revision of a record that is known here; 0 where it was not read."""
        return self._records.revision(job_id)

    def runs_elsewhere(self, job_id: str) -> None:
        """Another bench kept a run: it is read when it is asked for."""
        self._runs.forget(job_id)
        if job_id in self._views:
            self.refresh(job_id)

    def setting_elsewhere(self, key: str, text: str) -> None:
        """Another bench changed a document of the shop's own; not while an edit of it is on its way from here."""
        if self._settings_sent[key] or self._fresh_settings.get(key) == text:
            return
        self._fresh_settings[key] = text
        if key in (PRICE_LIST.key, SETTINGS.key):
            self._catalogue = None
        if key == SHELF.key:
            self.shelf_parts = self.kept(SHELF)
        for listener in self.on_settings:
            listener(key)
        self.refresh_viewed()

    def is_here(self, job_id: str) -> bool:
        """Whether a record of "this machine" is of the computer that the program stands on, not of another bench's."""
        return not self.shared or own_record(self.database.path) == job_id

    def role_problem(self, job_id: str) -> str:
        """Why this bench's role may not change a record; empty where it may. The shop itself has the last word."""
        role = self.database.role
        return bench_problem(role, role is Role.COUNTER and self._begun(job_id))

    def _begun(self, job_id: str) -> bool:
        """Whether bench work has: a run, a ticked step, a hand-over; as far as that can be read now."""
        try:
            job = self.job(job_id)
            return bool(job.steps_done or job.handed_over or self._runs.of(job_id))
        except (Problem, KeyError):
            return False

    # -- two values for one field

    def _to_choose(self, edit: JobEdit | SettingEdit, clashes: tuple[Clash, ...], who: str) -> None:
        self.clashes.add(edit, clashes, who)
        for listener in self.on_clash:
            listener()

    def choose(self, clash: OpenClash, mine: bool) -> None:
        """A person chose between the value typed here and the one from elsewhere, which lies in the shop.

        Raises as `edit` does, and where the value has no place any more; then it is still to be chosen.
        """
        if mine and isinstance(clash.edit, JobEdit):
            job = self.job(clash.edit.job_id)
            changed = with_value(job, clash.clash.path, clash.clash.mine)
            if changed == job and clash.clash.mine != clash.clash.theirs:
                raise ExpectedProblem("what this value belongs to is gone from the record", job.name, "Type it again.")
            self.edit(phrase("{edit}, chosen again", edit=clash.edit.label), changed)
        elif mine and isinstance(clash.edit, SettingEdit):
            self.save_setting(clash.edit.key, chosen_setting(clash, self.setting(clash.edit.key)))
        if self.clashes.take(clash):
            self.outbox.chosen(clash.edit)
        for listener in self.on_clash:
            listener()

    def _stage(self, job_id: str) -> Stage | None:
        known = self._cards.get(job_id)
        return Stage(known.stage) if known is not None and known.stage else None

    def _card_again(self, view: JobView) -> None:
        """Keep the stage that was computed, so that the rail shows it at the next start."""
        card = card_of(self._jobs.get(view.job.id, view.job), view.standing.stage)
        if card != self._cards[card.id]:
            self._cards[card.id] = card
            if self.database.role is Role.READER:
                return
            self.writes.submit(lambda: self.repository.save_card(card))

    def keep(self, what: ShopDocument[T], value: T) -> None:
        """Keep a document of the shop's own, such as its shelf."""
        self.save_setting(what.key, what.codec.text(value))

    def save_setting(self, key: str, text: str) -> None:
        """Keep the text of a document of the shop's own under its key."""
        edit = SettingEdit(key, self._fresh_settings.get(key), text)
        if edit.before == text:
            return
        self._fresh_settings[key] = text
        self._settings_sent[key] += 1

        def store() -> None:
            stored = self.repository.set_setting(edit)
            if stored.clashes:
                self.outbox.clashed(edit)
            self.lanes.deliver(lambda: self._setting_settled(edit, stored))

        def refused(error: Exception) -> None:
            self._settings_sent[key] -= 1
            self.setting_elsewhere(key, edit.before or "")
            self.report(error)

        self._send(edit, store, refused=refused)

    def _setting_settled(self, edit: SettingEdit, stored: StoredSetting) -> None:
        self._settings_sent[edit.key] -= 1
        if stored.clashes:
            self._to_choose(edit, stored.clashes, stored.changed_by)
        self.setting_elsewhere(edit.key, stored.text)

    def _saving(self) -> None:
        for listener in self.on_saving:
            listener(self.writes.unsaved)

    # -- photos

    def keep_photo(self, photo_id: str, data: bytes) -> None:
        self._fresh_photos[photo_id] = data  # until it is on disk

        def kept() -> None:
            self._fresh_photos.pop(photo_id, None)

        self._send(PhotoEdit(photo_id, data), lambda: self.repository.add_photo(photo_id, data), kept)

    # -- runs

    def add_run(self, job_id: str, role: str, run: Run, kept: Callable[[], None] = lambda: None) -> Ticket:
        """Keep a captured run; `kept` is called once it is on disk, never where it could not be written.

        A run that the shop file refuses is taken out again, and that is reported.
        """
        stored = StoredRun(job_id, role, run)
        self._runs.add(stored)
        refused = lambda error: self._refused((stored,), error)  # noqa: E731
        edit = RunEdit(stored)

        def done() -> None:
            self._runs.kept(stored)
            kept()

        ticket = self._send(edit, lambda: self.repository.add_run(edit), done, refused)
        self._changed(job_id)
        return ticket

    def add_whole(self, job: Job, runs: tuple[StoredRun, ...], photos: Mapping[str, bytes], label: str) -> Ticket:
        """Take a job in with its photos and runs, all of it or nothing."""
        self._jobs[job.id] = job
        self._runs.begin(job.id)
        for stored in runs:
            self._runs.add(stored)
        self._fresh_photos.update(photos)
        card = self._cards[job.id] = card_of(job, self._stage(job.id))

        def kept() -> None:
            for photo_id in photos:
                self._fresh_photos.pop(photo_id, None)
            for stored in runs:
                self._runs.kept(stored)

        def refused(error: Exception) -> None:
            kept()
            self._forget(job.id)
            self._refused(runs, error)

        whole = WholeJob(job, card, runs, photos, label)
        ticket = self._send(whole, lambda: self.repository.add_whole(whole), kept, refused)
        self._changed(job.id)
        return ticket

    def _refused(self, runs: tuple[StoredRun, ...], error: Exception) -> None:
        for stored in runs:
            self._runs.drop(stored)
        for job_id in {stored.job_id for stored in runs} & set(self._cards):
            self._changed(job_id)
        self.report(error)

    def _forget(self, job_id: str) -> None:
        """A job that never came to lie in the shop file."""
        for map_ in (self._jobs, self._cards, self._views):
            map_.pop(job_id, None)
        for listener in self.on_edited:
            listener(job_id)

    def after_stored(self, tickets: tuple[Ticket, ...], then: Callable[[], None]) -> None:
        """Do something once all of these are on disk; nothing where one was refused, which is reported by itself."""
        self.writes.submit(lambda: None, lambda: then() if all(t.kept for t in tickets) else None)

    def void_run(self, job_id: str, run_id: str, reason: str) -> None:
        """Void a run with a reason; it stays stored."""
        edit = RunEdit(self._runs.void(job_id, run_id, reason), head_only=True)
        self._send(edit, lambda: self.repository.add_run(edit))
        self._changed(job_id)

    def journal_path(self, job_id: str, role: str, run_id: str) -> Path:
        """Where a run in progress is written. Raises ExpectedProblem where the id came with a foreign shop file and is
        no name of a file."""
        problem = id_problem(job_id)
        if problem:
            raise ExpectedProblem(
                phrase("the id of this record {problem}", problem=problem),
                self.job(job_id).name,
                "Duplicate the record.",
            )
        return self.journals() / f"{job_id}@{role}-{run_id.rpartition('-')[2]}{JOURNAL_SUFFIX}"

    def journals(self) -> Path:
        """The folder of runs in progress."""
        return self.database.path.with_name(f"{self.database.path.stem}-runs")

    # -- views

    def refresh(self, job_id: str) -> None:
        """Compute the view anew in the background; a later request overtakes an earlier one.

        A record that cannot be read is reported and has no view.
        """
        if job_id not in self._cards:
            return
        generation = self._generation.get(job_id, 0) + 1
        self._generation[job_id] = generation
        try:
            job = self.job(job_id)
        except Problem as problem:
            self.report(problem)
            return
        reading, sent = self.reading(), self._sent
        as_of = (sent, date.today())
        kept = self._start.view_of(job) if self._start is not None and not sent else None

        def work() -> JobView | None:
            if self._generation.get(job_id) != generation:
                return None
            return (kept() if kept is not None else None) or reading.computed(job)

        def arrived(view: JobView | None) -> None:
            self._take_back(reading)
            self._viewed_at[job_id] = as_of
            if view is not None and self._generation.get(job_id) == generation and job_id in self._cards:
                self._views[job_id] = view
                self._card_again(view)
                self._view_made(view)
                for listener in self.on_view:
                    listener(job_id)

        self.lanes.submit("compute", work, arrived, self.report)

    def compute_stages(self) -> None:
        """Work out, one after the other in the background, where machines stand that were never computed.

        Only their cards are kept; a record that cannot be read keeps its place without a stage.
        """
        card = next((c for c in self._cards.values() if not c.stage and c.id not in self._tried), None)
        if card is None:
            return
        self._tried.add(card.id)
        reading = self.reading()

        def work() -> JobView:
            return reading.computed(reading.job(card.id))

        def arrived(view: JobView) -> None:
            self._take_back(reading)
            if card.id in self._jobs and self._jobs[card.id] != view.job:
                return self.refresh(card.id)  # edited meanwhile
            self._card_again(view)
            for listener in self.on_view:
                listener(card.id)
            return self.compute_stages()

        self.lanes.submit("compute", work, arrived, lambda _: self.compute_stages())

    def compute_now(self, job_id: str) -> JobView:
        """Compute the view in this thread; for the command line."""
        view = self.computed(self.job(job_id))
        self._take_back(self)
        self._views[job_id] = view
        self._card_again(view)
        self._view_made(view)
        return view

    def _view_made(self, view: JobView) -> None:
        for made in self.on_view_made:
            made(view)

    def _changed(self, job_id: str) -> None:
        for listener in self.on_edited:
            listener(job_id)
        self.refresh(job_id)

    def report(self, error: Exception) -> None:
        """Tell the listeners of a problem."""
        for listener in self.on_problem:
            listener(error)

    def close(self) -> None:
        for goodbye in self.on_closing:
            goodbye()
        self.writes.close()
        self.lanes.close()
        self.outbox.close()
        self.database.close()
        if self.start_with in self._jobs and not self.database.shared and not self.writes.waiting:
            self._keep_start(self._jobs[self.start_with])

    def _keep_start(self, job: Job) -> None:
        """What the next start shows first lies ready for it, as long as nobody changes the file."""
        view = self._views.get(job.id)
        fresh = view is not None and view.job == job and self._viewed_at.get(job.id) == (self._sent, date.today())
        write_start(
            self.database.path, tuple(self._cards.values()), self._fresh_settings, self._parsed, job,
            view if fresh else None,
        )  # fmt: skip


def now_text() -> str:
    return datetime.now().strftime("%Y-%m-%d %H:%M")
