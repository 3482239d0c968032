"""A shop that is open at several benches: what changes elsewhere comes into view here, and who is at which machine."""

from __future__ import annotations

from collections.abc import Callable

from brachium.app.shop.workspace import Workspace
from brachium.core.base.packed_text import packed, unpacked
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.record.card import JobCard
from brachium.store.news import BenchState, News, NewsThread
from brachium.store.server import ServerDatabase
from brachium.store.stored import StoredJob

Found = tuple[JobCard, StoredJob | None]


class SharedShop:
    """Belongs to the thread that made the workspace; its maps change through `post` only."""

    def __init__(self, workspace: Workspace, database: ServerDatabase) -> None:
        self._workspace = workspace
        self.benches: tuple[BenchState, ...] = ()
        self.away = False
        self.on_benches: list[Callable[[], None]] = []
        self.on_away: list[Callable[[bool], None]] = []
        deliver = workspace.lanes.deliver
        self._news = NewsThread(
            database, workspace.bench_name, self._heard, lambda found: deliver(lambda: self._benches(found)),
            lambda: deliver(self._lost), lambda: deliver(self._back),
        )  # fmt: skip
        workspace.on_closing.append(self._news.close)

    def start(self) -> None:
        """Listen from now on; what changed since the workspace was made is looked for."""
        self._news.start()
        self._look_for_all()

    def announce(self, job_id: str, doing: str = "") -> None:
        """The machine in hand at this bench, and what is done with it."""
        self._news.announce(job_id, packed(doing))

    def at(self, job_id: str) -> tuple[BenchState, ...]:
        """The other benches that have a machine in hand."""
        return tuple(b for b in self.benches if b.job_id == job_id)

    # -- in the thread of the news

    def _heard(self, news: News) -> None:
        self._workspace.lanes.submit("news", lambda: self._fetch(news), lambda call: call(), _later)

    # -- in the lane of the news

    def _fetch(self, news: News) -> Callable[[], None]:
        """What to do in the owner's thread, with what had to be read for it at hand."""
        workspace = self._workspace
        match news.what:
            case "job" | "card":
                found = self._job(news)
                return (lambda: self._took(news.key, found)) if found is not None else _nothing
            case "run":
                return lambda: workspace.runs_elsewhere(news.key)
            case "setting":
                kept = workspace.repository.settings().get(news.key)
                return (lambda: workspace.setting_elsewhere(news.key, kept.text)) if kept is not None else _nothing
        return _nothing

    def _job(self, news: News) -> Found | None:
        workspace = self._workspace
        card = workspace.repository.card(news.key)
        if card is None:
            return None
        wanted = workspace.at_hand(news.key) and news.revision != workspace.revision(news.key)
        return card, self._stored(news.key) if wanted else None

    def _stored(self, job_id: str) -> StoredJob | None:
        """A record as it lies there; None where this program cannot read it, which its card says."""
        try:
            return self._workspace.repository.stored_job(job_id)
        except ExpectedProblem:
            return None

    # -- in the owner's thread

    def _took(self, job_id: str, found: Found) -> None:
        self._workspace.stored_elsewhere(job_id, *found)

    def _benches(self, found: tuple[BenchState, ...]) -> None:
        if found != self.benches:
            self.benches = tuple(BenchState(b.id, b.name, b.job_id, unpacked(b.doing)) for b in found)
            for listener in self.on_benches:
                listener()

    def _lost(self) -> None:
        if not self.away:
            self.away = True
            for listener in self.on_away:
                listener(True)

    def _back(self) -> None:
        """The server answers again: what waits is sent, what changed meanwhile is read."""
        self.away = False
        self._workspace.writes.flush()
        self._look_for_all(again=True)
        for listener in self.on_away:
            listener(False)

    def _look_for_all(self, again: bool = False) -> None:
        """Read whatever differs from what is known here; `again`: figures in view may be older than the runs there."""
        workspace = self._workspace

        def fetch() -> Callable[[], None]:
            found: dict[str, Found] = {}
            cards = {card.id: card for card in workspace.repository.cards()}
            for job_id, revision in workspace.repository.revisions().items():
                stale = workspace.at_hand(job_id) and revision != workspace.revision(job_id)
                if job_id in cards:  # one that was taken in since then is told by itself
                    found[job_id] = (cards[job_id], self._stored(job_id) if stale else None)
            settings = workspace.repository.settings()
            return lambda: took(found, {key: kept.text for key, kept in settings.items()})

        def took(found: dict[str, Found], settings: dict[str, str]) -> None:
            for job_id, one in found.items():
                if one[1] is not None or job_id not in workspace.job_ids() or workspace.card(job_id) != one[0]:
                    self._took(job_id, one)
            for key, text in settings.items():
                workspace.setting_elsewhere(key, text)
            workspace.runs_elsewhere("")
            if again:
                workspace.refresh_viewed()

        workspace.lanes.submit("news", fetch, lambda call: call(), _later)


def _nothing() -> None:
    pass


def _later(error: Exception) -> None:
    """A server that went away tells everything again when it is back; anything else is a bug."""
    if not isinstance(error, Problem | KeyError):
        raise error
