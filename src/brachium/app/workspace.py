"""The shop at work: jobs with undo and autosave, their runs, their computed views."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from brachium.app.consumables import follow
from brachium.app.edit_history import Edit, EditHistory
from brachium.app.lanes import Lanes
from brachium.app.learning import forget, learn_from
from brachium.app.own_evidence import with_own_jobs
from brachium.app.roles import AFTER as AFTER
from brachium.app.roles import BEFORE as BEFORE
from brachium.app.roles import LATER
from brachium.app.run_shelf import RunShelf
from brachium.app.shop_rules import keep_rates, rates_of, shop_rules
from brachium.core.choose.catalogue import CatalogueItem, weighed
from brachium.core.choose.prefilter import worth_judging
from brachium.core.choose.price_offer import Rates
from brachium.core.job.around import ShopRules
from brachium.core.job.card import JobCard, card_of
from brachium.core.job.gate import Ground, change_problem, stage_problem, tick_problem
from brachium.core.job.job import Job, Stage
from brachium.core.job.latches import Progress
from brachium.core.measure.history import History
from brachium.core.measure.reference import ReferenceBand, hardware_key, parse_table, reference_bands
from brachium.core.measure.run import Run
from brachium.core.problems import ExpectedProblem, Problem
from brachium.core.shelf.offers import shelf_items
from brachium.formats.catalogue import catalogue_text, read_catalogue
from brachium.formats.records import shelf_from_json
from brachium.formats.run_file import read_run_file
from brachium.formats.run_journal import JOURNAL_SUFFIX
from brachium.store.database import Database
from brachium.store.repository import Repository, StoredRun

if TYPE_CHECKING:
    from brachium.app.view import JobView

SHELF_KEY, REFERENCE_KEY, CATALOGUE_KEY = "shelf", "reference_table", "catalogue"


Listener = Callable[[str], None]


class Workspace:
    """All jobs of one database. Records are edited here and nowhere else; listeners hear the job's id.

    Cards of all jobs are at hand; a record is read when it is first asked for, its runs too.
    """

    def __init__(self, path: Path, lanes: Lanes, catalogue: tuple[CatalogueItem, ...]) -> None:
        self.lanes = lanes
        self._standard = catalogue
        self._catalogue: tuple[CatalogueItem, ...] | None = None
        self.database = Database(path)
        self.repository = Repository(self.database)
        self._cards = {card.id: card for card in self.repository.cards()}
        self._jobs: dict[str, Job] = {}
        self._runs = RunShelf(self.repository)
        kept = self.repository.setting(SHELF_KEY)
        self.shelf_parts = shelf_from_json(kept, "parts shelf") if kept else ()
        self._history = EditHistory()
        self._views: dict[str, JobView] = {}
        self._generation: dict[str, int] = {}
        self._tried: set[str] = set()
        self._fresh_photos: dict[str, bytes] = {}
        self._fresh_settings: dict[str, str] = {}  # said just now, perhaps not stored yet
        self.recovered: tuple[str, ...] = ()
        self.on_edited: list[Listener] = []
        self.on_view: list[Listener] = []
        self.on_problem: list[Callable[[Exception], None]] = []

    def _rules_for(self, job: Job) -> ShopRules:
        """The shop's rules with its own finished jobs as evidence."""
        rules = self.shop_rules()
        return replace(rules, claims=with_own_jobs(self, job, rules.claims))

    def shop_rules(self) -> ShopRules:
        """The shop's own tables and thresholds, as of today."""
        return shop_rules(self)

    # -- price list

    @property
    def catalogue(self) -> tuple[CatalogueItem, ...]:
        """The shop's own price list, read when it is first needed; the standard classes where it has none."""
        if self._catalogue is None:
            kept = self.setting(CATALOGUE_KEY)
            read = read_catalogue(kept, "price list") if kept else None
            self._catalogue = weighed(read.items if read is not None else self._standard, rates_of(self))
        return self._catalogue

    def set_catalogue(self, items: tuple[CatalogueItem, ...]) -> None:
        """Another price list from now on; views follow when they are asked for."""
        self._catalogue = items
        repository = self.repository
        self.lanes.submit(
            "store", lambda: repository.set_setting(CATALOGUE_KEY, catalogue_text(items)), None, self.report
        )
        for job_id in tuple(self._views):
            self.refresh(job_id)

    def set_rates(self, rates: Rates) -> None:
        """Other exchange rates from now on: offers are weighed anew off the caller's thread."""
        keep_rates(self, rates)
        items = self.catalogue
        self.lanes.submit("compute", lambda: weighed(items, rates), self.set_catalogue, self.report)

    # -- reading

    def job_ids(self) -> tuple[str, ...]:
        return tuple(self._cards)

    def cards(self) -> tuple[JobCard, ...]:
        """What the rail shows of every job, in the order they were taken in."""
        return tuple(self._cards.values())

    def card(self, job_id: str) -> JobCard:
        return self._cards[job_id]

    def job(self, job_id: str) -> Job:
        """A record. Raises KeyError where there is none, ExpectedProblem where it cannot be read."""
        if job_id not in self._jobs:
            self._jobs[job_id] = self.repository.job(job_id)
        return self._jobs[job_id]

    def run(self, job_id: str, role: str) -> Run | None:
        """The latest complete run of a role that is not voided."""
        return self._runs.latest(job_id, role)

    def last_of(self, job_id: str, role: str) -> Run | None:
        """The last run of a role that is not voided, also where it was cut off or failed."""
        found = [s.run for s in self._runs.of(job_id) if s.role == role and not s.run.void_reason]
        return found[-1] if found else None

    def all_runs(self, job_id: str) -> tuple[StoredRun, ...]:
        """Every run of a job, voided and incomplete ones too."""
        return self._runs.of(job_id)

    def history(self, job_id: str) -> tuple[History, ...]:
        """Earlier runs that teach how much sessions scatter; the runs being compared are left out."""
        return self._runs.history(job_id, (BEFORE, AFTER))

    def references(self, job: Job) -> Mapping[str, ReferenceBand]:
        """Bands of results from other machines with the same processor, and from the shop's reference table."""
        key = hardware_key(job.machine.processor.name)
        alike = {c.id for c in self._cards.values() if key and c.hardware == key and c.id != job.id}
        table = self.setting(REFERENCE_KEY)
        listed = parse_table(table, "reference table").get(key, {}) if table and key else {}
        return reference_bands(self._runs.befores(alike), listed)

    def twin(self, run: Run) -> str:
        """The job that already holds this very run, whatever id it was given there; empty where none does."""
        return self._runs.twin(run)

    def viewed(self) -> tuple[str, ...]:
        """Jobs whose view is at hand."""
        return tuple(self._views)

    def view(self, job_id: str) -> JobView | None:
        """The last computed view; None until the first one is there."""
        return self._views.get(job_id)

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
        self._save(job, "taken in")
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
        """Take the last edit back; returns its label, empty where there is none. Raises as `edit` does."""
        edit = self._history.last(job_id)
        if edit is None:
            return ""
        self._ask_gate(self.job(job_id), edit.before)
        self._history.undo(job_id)
        self._put(f"undo: {edit.label}", edit.before)
        return edit.label

    def redo(self, job_id: str) -> str:
        """Make the last edit that was taken back again; returns its label. Raises as `edit` does."""
        edit = self._history.last_undone(job_id)
        if edit is None:
            return ""
        self._ask_gate(self.job(job_id), edit.after)
        self._history.redo(job_id)
        self._put(f"redo: {edit.label}", edit.after)
        return edit.label

    # -- gates

    def tick_problem(self, job_id: str, step_id: str) -> str:
        """Why a work step may not be ticked now, by whatever way; empty where it may."""
        ground = self._ground(job_id)
        return "the steps are being made" if ground is None else tick_problem(self.job(job_id), step_id, ground)

    def stage_problem(self, job_id: str, stage: Stage) -> str:
        """Why nothing of a stage may be done now; empty where it may."""
        ground = self._ground(job_id)
        return stage_problem(self.job(job_id), stage, ground.progress if ground is not None else Progress())

    def _ground(self, job_id: str) -> Ground | None:
        """What gates are judged on: the steps last worked out, the record and the runs as they are now."""
        view = self.view(job_id)
        if view is None:
            return None
        done = {d.step_id for d in self.job(job_id).steps_done}
        left = sum(s.id not in done for s in view.steps)
        return Ground(view.steps, replace(view.progress, steps_open=left))

    def _ask_gate(self, before: Job, after: Job) -> None:
        problem = change_problem(before, after, self._ground(before.id))
        if problem:
            raise ExpectedProblem(f"not yet: {problem}", before.name, "Nothing was changed.")

    def _put(self, label: str, job: Job) -> None:
        before = self.job(job.id)
        self._jobs[job.id] = job
        if (before.handed_over, before.sold_for) != (job.handed_over, job.sold_for):
            self._learn(before, job)
        self._save(job, label)
        self._changed(job.id)

    def _learn(self, before: Job, job: Job) -> None:
        """A job that is handed over teaches the shop; one whose hand-over is taken back, by whatever way, does not."""
        view = self.view(job.id)
        if job.handed_over and view is not None:
            learn_from(self, replace(view, job=job), job.handed_over)
        elif before.handed_over and not job.handed_over:
            forget(self, job.id)

    def _save(self, job: Job, label: str) -> None:
        card = self._cards[job.id] = card_of(job, self._stage(job.id))
        self.lanes.submit("store", lambda: self.repository.save_job(job, label, card=card), None, self.report)

    def _stage(self, job_id: str) -> Stage | None:
        known = self._cards.get(job_id)
        return Stage(known.stage) if known is not None and known.stage else None

    def _card_again(self, view: JobView) -> None:
        """Keep the stage that was computed, so that the rail shows it at the next start."""
        card = card_of(self._jobs[view.job.id], view.stage)
        if card != self._cards[card.id]:
            self._cards[card.id] = card
            self.lanes.submit("store", lambda: self.repository.save_card(card), None, self.report)

    def setting(self, key: str) -> str:
        """Something of the shop's own; empty where it was never set."""
        return self._fresh_settings[key] if key in self._fresh_settings else self.repository.setting(key) or ""

    def save_setting(self, key: str, text: str) -> None:
        """Keep something of the shop's own, such as its shelf."""
        self._fresh_settings[key] = text
        self.lanes.submit("store", lambda: self.repository.set_setting(key, text), None, self.report)

    # -- photos

    def photo(self, photo_id: str) -> bytes:
        """A kept picture (JPEG); empty where it is not there. From any thread."""
        return self._fresh_photos.get(photo_id) or self.repository.photo(photo_id)

    def keep_photo(self, photo_id: str, data: bytes) -> None:
        self._fresh_photos[photo_id] = data  # until it is on disk

        def kept(_: None) -> None:
            self._fresh_photos.pop(photo_id, None)

        self.lanes.submit("store", lambda: self.repository.add_photo(photo_id, data), kept, self.report)

    # -- runs

    def add_run(self, job_id: str, role: str, run: Run, kept: Callable[[], None] = lambda: None) -> None:
        """Keep a captured run; `kept` is called once it is on disk, never where it could not be written."""
        stored = StoredRun(job_id, role, run)
        self._runs.add(stored)
        self.lanes.submit("store", lambda: self.repository.add_run(stored), lambda _: kept(), self.report)
        self._changed(job_id)

    def void_run(self, job_id: str, run_id: str, reason: str) -> None:
        """Void a run with a reason; it stays stored."""
        voided = self._runs.void(job_id, run_id, reason)
        self.lanes.submit("store", lambda: self.repository.replace_head(voided), None, self.report)
        self._changed(job_id)

    def journal_path(self, job_id: str, role: str, run_id: str) -> Path:
        """Where a run in progress is written."""
        return self._journals() / f"{job_id}@{role}-{run_id.rpartition('-')[2]}{JOURNAL_SUFFIX}"

    def _journals(self) -> Path:
        return self.database.path.with_name(f"{self.database.path.stem}-runs")

    def recover_runs(self) -> tuple[str, ...]:
        """Keep what killed programs had sampled, as incomplete runs; says what was found."""
        said = []
        for journal in sorted(self._journals().glob(f"*{JOURNAL_SUFFIX}")):
            job_id, _, rest = journal.name.removesuffix(JOURNAL_SUFFIX).rpartition("@")
            try:
                run = read_run_file(journal).run
            except Problem as problem:
                journal.rename(journal.with_suffix(".damaged"))
                said.append(problem.text)
                continue
            if job_id in self._cards and run.sessions:
                taken = {s.run.id for s in self._runs.of(job_id)}
                if run.id not in taken:
                    self.add_run(job_id, rest.partition("-")[0], run)
                    said.append(f"{self._cards[job_id].name}: a run was cut off; what it had sampled is kept.")
                self.lanes.drain("store")
            journal.unlink(missing_ok=True)
        return tuple(said)

    # -- views

    def refresh(self, job_id: str) -> None:
        """Compute the view anew in the background; a later request overtakes an earlier one."""
        generation = self._generation.get(job_id, 0) + 1
        self._generation[job_id] = generation
        job = self.job(job_id)

        def work() -> JobView | None:
            return self._computed(job) if self._generation[job_id] == generation else None

        def arrived(view: JobView | None) -> None:
            if view is not None and self._generation[job_id] == generation:
                self._views[job_id] = view
                self._card_again(view)
                follow(self, view)
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

        def work() -> JobView:
            return self._computed(self.job(card.id))

        def arrived(view: JobView) -> None:
            self._card_again(view)
            for listener in self.on_view:
                listener(card.id)
            self.compute_stages()

        self.lanes.submit("compute", work, arrived, lambda _: self.compute_stages())

    def _computed(self, job: Job) -> JobView:
        from brachium.app.view import compute_view  # late: the window opens without it

        before, after = self.run(job.id, BEFORE), self.run(job.id, AFTER)
        offered = (*shelf_items(self.shelf_parts, job.id), *worth_judging(job.machine, self.catalogue))
        rules = self._rules_for(job)
        between = self._between(job.id, before, after)
        return compute_view(
            job, before, after, offered, self.history(job.id), self.references(job), rules, between,
            self.run(job.id, LATER),
        )  # fmt: skip

    def _between(self, job_id: str, before: Run | None, after: Run | None) -> tuple[Run, ...]:
        """Runs that count, taken between the two that are compared."""
        if before is None or after is None:
            return ()
        return tuple(
            s.run
            for s in self._runs.of(job_id)
            if before.taken_at < s.run.taken_at < after.taken_at and s.run.complete and not s.run.void_reason
        )

    def compute_now(self, job_id: str) -> JobView:
        """Compute the view in this thread; for the command line."""
        view = self._computed(self.job(job_id))
        self._views[job_id] = view
        self._card_again(view)
        return view

    def _changed(self, job_id: str) -> None:
        for listener in self.on_edited:
            listener(job_id)
        self.refresh(job_id)

    def report(self, error: Exception) -> None:
        """Tell the listeners of a problem."""
        for listener in self.on_problem:
            listener(error)

    def close(self) -> None:
        self.lanes.close()
        self.database.close()


def now_text() -> str:
    return datetime.now().strftime("%Y-%m-%d %H:%M")
