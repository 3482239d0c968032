"""What may be read of a shop from any thread: a picture of it at one moment, and the shop file behind that.

The maps of the workspace belong to the thread that made it. A lane gets a reading: copies of the maps, which nobody
changes any more. A record that is not among them is read from the file and kept nowhere.
"""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterator, Mapping
from contextlib import suppress
from dataclasses import replace
from typing import TYPE_CHECKING, Any, TypeVar, cast

from brachium.app.bench.run_roles import AFTER, BEFORE, DAY_AFTER, DAY_BEFORE, LATER
from brachium.app.shop.kept import settings_of
from brachium.app.shop.run_cache import RunCache
from brachium.core.base.problems import Problem
from brachium.core.measure.history import History
from brachium.core.measure.reference import hardware_key
from brachium.core.measure.run import Run
from brachium.core.record.card import JobCard, Waits
from brachium.core.record.job import Job
from brachium.formats.limits import SHAPE
from brachium.formats.shop_documents import PRICE_LIST, REFERENCE_TABLE, ShopDocument
from brachium.store.edits import StoredRun

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView
    from brachium.core.measure.reference import ReferenceBand
    from brachium.core.plan.candidates import CatalogueItem
    from brachium.core.record.parts_shelf import ShelfPart
    from brachium.core.record.shop_rules import ShopRules
    from brachium.store.repository import Repository

MOST_TYPED = 24  # other machines' records that are read for their typed figures
ASIDE = "_unreadable"  # behind the key of what could not be read
T = TypeVar("T")
ParsedDocuments = dict[str, tuple[str, Any]]
"""Documents of the shop's own that were read, by key, with the text that they were read from."""


class ShopReading:
    """Cards, records, views, settings, runs and prices of one moment. Never changed after it was made."""

    def __init__(
        self, repository: Repository, runs: RunCache, standard: Callable[[], tuple[CatalogueItem, ...]],
        cards: Mapping[str, JobCard], jobs: Mapping[str, Job], views: Mapping[str, JobView],
        settings: Mapping[str, str], photos: Mapping[str, bytes], shelf_parts: tuple[ShelfPart, ...],
        catalogue: tuple[CatalogueItem, ...] | None, parsed: ParsedDocuments,
    ) -> None:  # fmt: skip
        self.repository, self._runs, self._standard = repository, runs, standard
        self._cards: dict[str, JobCard] = dict(cards)
        self._jobs: dict[str, Job] = dict(jobs)
        self._views: dict[str, JobView] = dict(views)
        self._fresh_settings: dict[str, str] = dict(settings)
        self._fresh_photos: dict[str, bytes] = dict(photos)
        self.shelf_parts = shelf_parts
        self._catalogue, self._parsed = catalogue, parsed
        self.put_aside: list[tuple[str, str]] = []  # (key, text) that could not be read

    # -- records

    def job_ids(self) -> tuple[str, ...]:
        return tuple(self._cards)

    def cards(self) -> tuple[JobCard, ...]:
        """What the rail shows of every job, in the order they were taken in."""
        return tuple(self._cards.values())

    def card(self, job_id: str) -> JobCard:
        return self._cards[job_id]

    def job(self, job_id: str) -> Job:
        """A record. Raises KeyError where there is none, ExpectedProblem where it cannot be read."""
        return self._jobs[job_id] if job_id in self._jobs else self.repository.job(job_id)

    def view(self, job_id: str) -> JobView | None:
        """The last computed view; None until the first one is there."""
        return self._views.get(job_id)

    # -- settings and prices

    def setting(self, key: str) -> str:
        """The text of a document of the shop's own; empty where it was never kept."""
        return self._fresh_settings.get(key, "")

    def kept(self, what: ShopDocument[T]) -> T:
        """A document of the shop's own; a text that cannot be read is put aside before anything is written over it."""
        text = self.setting(what.key)
        if not text:
            return what.empty
        known = self._parsed.get(what.key)
        if known is not None and known[0] == text:
            return cast(T, known[1])
        try:
            record = what.codec.read(text, what.codec.noun)
            self._parsed[what.key] = (text, record)
            return record
        except (Problem, *SHAPE):
            if self.setting(f"{what.key}{ASIDE}") != text:
                self._set_aside(f"{what.key}{ASIDE}", text)
            return what.empty

    def was_put_aside(self, what: ShopDocument[Any]) -> bool:
        """Whether a text of this document could not be read and lies aside in the shop file."""
        return bool(self.setting(f"{what.key}{ASIDE}"))

    def _set_aside(self, key: str, text: str) -> None:
        self.put_aside.append((key, text))

    @property
    def catalogue(self) -> tuple[CatalogueItem, ...]:
        """The shop's own price list, read when it is first needed; the standard classes where it has none."""
        if self._catalogue is None:
            from brachium.core.plan.candidates import with_weighed_offers

            own = self.kept(PRICE_LIST)
            self._catalogue = with_weighed_offers(own if own is not None else self._standard(), settings_of(self).rates)
        return self._catalogue

    def shop_rules(self) -> ShopRules:
        """The shop's own tables and thresholds, as of today."""
        from brachium.app.shop.rules import shop_rules  # late, like what else only views need: the window opens first

        return shop_rules(self)

    def photo(self, photo_id: str) -> bytes:
        """A kept picture (JPEG); empty where it is not there."""
        return self._fresh_photos.get(photo_id) or self.repository.photo(photo_id)

    # -- runs

    def run(self, job_id: str, role: str) -> Run | None:
        """The latest complete run of a role that is not voided."""
        return self._runs.latest(job_id, role)

    def last_of(self, job_id: str, role: str) -> Run | None:
        """The last run of a role that is not voided, also where it was cut off or failed."""
        found = [s.run for s in self._runs.of(job_id) if s.role == role and not s.run.void_reason]
        return found[-1] if found else None

    def all_runs(self, job_id: str) -> tuple[StoredRun, ...]:
        """Every run of a job in the order they arrived, voided and incomplete ones too."""
        return self._runs.of(job_id)

    def days(self, job_id: str, role: str) -> Run | None:
        """All watched days of a role that are not voided, as one; also those that a power loss cut off."""
        from brachium.core.use.watched_rows import joined_days

        return joined_days([s.run for s in self._runs.of(job_id) if s.role == role and not s.run.void_reason])

    @property
    def shared(self) -> bool:
        """Whether other benches have the shop open too."""
        return self.repository.shared

    def next_run_number(self, job_id: str) -> str:
        """A number for another run of a job that no run of it bears yet, nor one measured at another bench now."""
        number = str(self._runs.next_number(job_id))
        return f"{number}x{secrets.token_hex(2)}" if self.shared else number

    def history(self, job: Job) -> tuple[History, ...]:
        """Earlier runs that teach how much sessions scatter; the runs being compared are left out."""
        return self._runs.history(job.id, (BEFORE, AFTER), self._alike(job))

    def _alike(self, job: Job) -> set[str]:
        """Other jobs whose machine has the same processor."""
        key = hardware_key(job.machine.processor.name)
        return {c.id for c in self._cards.values() if key and c.hardware == key and c.id != job.id}

    def twin(self, run: Run) -> str:
        """The job that already holds this very run, whatever id it was given there; empty where none does."""
        return self._runs.twin(run)

    def references(self, job: Job) -> Mapping[str, ReferenceBand]:
        """Bands of results from other machines with the same processor, and from the shop's reference table."""
        from brachium.core.measure.reference import reference_bands
        from brachium.core.measure.typed_runs import with_own
        from brachium.formats.reference_table import parse_table

        key = hardware_key(job.machine.processor.name)
        text = self.kept(REFERENCE_TABLE) if key else ""
        alike = self._alike(job)
        own = with_own(self.run(job.id, BEFORE), BEFORE, job.own_tests, job.own_results, job.own_conditions)
        return reference_bands(
            self._with_typed(self._runs.befores(alike), alike), parse_table(text, "").get(key, {}) if text else {},
            own.conditions if own is not None else None,
        )  # fmt: skip

    def _with_typed(self, befores: dict[str, list[Run]], alike: set[str]) -> dict[str, list[Run]]:
        """Before-runs of other machines with what was typed of them, of the latest so many."""
        from brachium.core.measure.typed_runs import with_own

        for job_id in [c for c in self._cards if c in alike][-MOST_TYPED:]:
            with suppress(Problem, KeyError):
                other = self.job(job_id)
                run = with_own(next(iter(befores.get(job_id, [])), None), BEFORE, other.own_tests, other.own_results,
                               other.own_conditions)  # fmt: skip
                if run is not None:
                    befores[job_id] = [run]
        return befores

    # -- views

    def computed(self, job: Job) -> JobView:
        """Everything the pages show of a record; up to some seconds, so not in the window's thread."""
        from brachium.app.shop.own_evidence import with_own_jobs
        from brachium.app.view.job_view import compute_view
        from brachium.app.view.measured import JobRuns
        from brachium.core.measure.dates import date_doubts
        from brachium.core.plan.bench_services import offered_items

        before, after = self.run(job.id, BEFORE), self.run(job.id, AFTER)
        runs = JobRuns(
            before, after, self._between(job.id, before, after), self.run(job.id, LATER), self.history(job),
            self.references(job), date_doubts([s.run for s in self.all_runs(job.id)]),
            self.days(job.id, DAY_BEFORE), self.days(job.id, DAY_AFTER),
        )  # fmt: skip
        offered = offered_items(job.machine, self.shelf_parts, self.catalogue, job.id)
        rules = self.shop_rules()
        names = {i.id: i.part.name for i in self.catalogue if i.part is not None}
        rules = replace(rules, claims=with_own_jobs(job, rules.claims, self._finished(job), names))
        return compute_view(job, runs, offered, rules)

    def _finished(self, job: Job) -> Iterator[Job]:
        """Records of finished machines that may be of a job's model; those that cannot be read are left out."""
        model = job.machine.identity.model.lower()
        for card in self._cards.values():
            if model and card.waits in (Waits.DONE, Waits.ARCHIVED) and model in card.words:
                with suppress(Problem):
                    yield self.job(card.id)

    def _between(self, job_id: str, before: Run | None, after: Run | None) -> tuple[Run, ...]:
        """Runs of the machine's configurations that count and arrived between the two that are compared."""
        runs = [s.run for s in self._runs.of(job_id) if s.role in (BEFORE, AFTER)]
        ids = [r.id for r in runs]
        if before is None or after is None or before.id not in ids or after.id not in ids:
            return ()
        return tuple(
            r for r in runs[ids.index(before.id) + 1 : ids.index(after.id)] if r.complete and not r.void_reason
        )
