"""Edits on their way to the shop: to a file they go straight, to a server through this computer's journal."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from brachium.app.shared.lanes import Lanes
from brachium.core.base.merge import Clash, merge
from brachium.core.base.problems import EnvironmentProblem, Problem, from_os_error
from brachium.core.base.text import many, phrase
from brachium.store.database import Database
from brachium.store.edit_journal import CLASH, EditJournal
from brachium.store.edits import JobEdit, PhotoEdit, RunEdit, SettingEdit, ShopEdit, WholeJob
from brachium.store.merge_settings import merge_setting
from brachium.store.roles import Role

if TYPE_CHECKING:
    from brachium.store.repository import Repository
    from brachium.store.server import ServerDatabase

NOTHING = lambda: None  # noqa: E731


@dataclass(frozen=True)
class LeftClash:
    """An edit of an earlier start of which a person has not chosen yet."""

    edit: JobEdit | SettingEdit
    clashes: tuple[Clash, ...]
    who: str


class Outbox:
    """`keep` is called by the owner's thread, the rest by the store lane."""

    def __init__(self, database: Database | ServerDatabase, repository: Repository) -> None:
        """Raises EnvironmentProblem where the journal's folder cannot be made."""
        self._repository, self._writes = repository, database.role > Role.READER
        self._journal: EditJournal | None = None
        if isinstance(database, Database):
            return
        folder = database.path.with_name(f"{database.path.stem}-edits")
        try:
            self._journal = EditJournal(folder, database.client)
        except OSError as error:
            raise from_os_error(error, str(folder)) from error

    @property
    def journals(self) -> bool:
        """Whether what is not in the shop yet lies safe on this computer."""
        return self._journal is not None

    def keep(self, edit: ShopEdit, lanes: Lanes, report: Callable[[Exception], None]) -> Callable[[], None]:
        """Bring an edit into the journal; the answer waits until it is there."""
        journal = self._journal
        if journal is None:
            return NOTHING
        kept = lanes.submit("journal", lambda: journal.keep(edit), None, report)
        return lambda: kept.result()

    def stored(self, edit: ShopEdit) -> None:
        if self._journal is not None:
            self._journal.done(edit)

    def refused(self, edit: ShopEdit) -> None:
        if self._journal is not None:
            self._journal.refused(edit)

    def clashed(self, edit: ShopEdit) -> None:
        """A person has to choose: the edit is kept until then."""
        if self._journal is not None:
            self._journal.clashed(edit)

    def chosen(self, edit: ShopEdit) -> None:
        if self._journal is not None:
            self._journal.chosen(edit)

    def send_left(self) -> tuple[str, ...]:
        """Send what an earlier start could not; says what was sent. Raises EnvironmentProblem, and what waits stays."""
        if self._journal is None:
            return ()
        sent, said = 0, []
        for edit in self._journal.left():
            try:
                if self._send(edit):
                    self._journal.clashed(edit)
                else:
                    self._journal.done(edit)
                sent += 1
            except EnvironmentProblem:
                raise
            except (Problem, KeyError) as problem:
                self._journal.refused(edit)
                said.append(problem.text if isinstance(problem, Problem) else str(problem))
        if self._writes:
            self._repository.forget_sent()
        if sent:
            said.insert(0, phrase("{edits} that waited here came into the shop.", edits=many(sent, "edit")))
        return tuple(said)

    def _send(self, edit: ShopEdit) -> bool:
        """Whether a person has to choose."""
        match edit:
            case JobEdit():
                return bool(self._repository.save_job(edit).clashes)
            case SettingEdit():
                return bool(self._repository.set_setting(edit).clashes)
            case WholeJob():
                self._repository.add_whole(edit)
            case RunEdit():
                self._repository.add_run(edit)
            case PhotoEdit():
                self._repository.add_photo(edit.photo_id, edit.data)
        return False

    def left_to_choose(self) -> Iterator[LeftClash]:
        """What was left to a person at an earlier start, against what lies in the shop now; what agrees by now goes."""
        journal = self._journal
        for edit in journal.left(CLASH) if journal is not None else ():
            assert journal is not None
            try:
                left = self._against_now(edit)
            except (Problem, KeyError):
                journal.refused(edit)
                continue
            if left is not None and left.clashes:
                yield left
            else:
                journal.done(edit)

    def _against_now(self, edit: ShopEdit) -> LeftClash | None:
        """Raises Problem or KeyError where what it was made of is gone."""
        if isinstance(edit, JobEdit) and edit.before is not None:
            stored = self._repository.stored_job(edit.job_id)
            return LeftClash(edit, merge(edit.before, edit.after, stored.job).clashes, stored.changed_by)
        if isinstance(edit, SettingEdit):
            kept = self._repository.settings()[edit.key]
            clashes = merge_setting(edit.key, edit.before, edit.after, kept.text)[1]
            return LeftClash(edit, clashes, kept.changed_by)
        return None

    def close(self) -> None:
        if self._journal is not None:
            self._journal.close()
