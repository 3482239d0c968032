"""What happens at other benches of a shop on a server: heard as it happens, by a thread and a connection of its own.

The same connection says every few seconds that this bench is there, and with which machine. Where it breaks, the
server counts as away for the whole program until it answers again.
"""

from __future__ import annotations

import contextlib
import json
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

import psycopg

from brachium.store.server import CHANNEL, ServerDatabase

LOOK_S, HEARTBEAT_S, GONE_S, RETRY_S = 0.2, 4.0, 15.0, 1.0
FORGOTTEN_S = 3600.0


@dataclass(frozen=True)
class News:
    """Something changed elsewhere: "job", "card", "run", "setting" or "bench", its key, its revision."""

    what: str
    key: str
    revision: int = 0


@dataclass(frozen=True)
class BenchState:
    """Another program that has the shop open: its bench's name, the machine in hand, what it does there (packed)."""

    id: str
    name: str
    job_id: str
    doing: str


class NewsThread:
    """`heard` gets the news, `benches` everyone else who is there, `lost` and `back` tell of the server; all are called
    in the thread."""

    def __init__(
        self, database: ServerDatabase, name: str, heard: Callable[[News], None],
        benches: Callable[[tuple[BenchState, ...]], None], lost: Callable[[], None], back: Callable[[], None],
    ) -> None:  # fmt: skip
        self._database, self._name = database, name
        self._heard, self._benches, self._lost, self._back = heard, benches, lost, back
        self._mine, self._said = ("", ""), ("", "")
        self._stop, self._listening = threading.Event(), threading.Event()
        self._thread = threading.Thread(target=self._run, name="brachium-news", daemon=True)

    def start(self, wait_s: float = 3.0) -> None:
        """Begin, and wait until nothing can be missed any more."""
        self._thread.start()
        self._listening.wait(wait_s)

    def announce(self, job_id: str, doing: str) -> None:
        """The machine in hand here and what is done with it, for the others."""
        self._mine = (job_id, doing)

    def close(self) -> None:
        """This bench is gone."""
        self._stop.set()
        self._thread.join(5.0)

    def _run(self) -> None:
        first = True
        while not self._stop.is_set():
            try:
                with self._database.connect(autocommit=True) as connection:
                    connection.execute(f"listen {CHANNEL}")
                    self._database.came_back()
                    self._say(connection)
                    self._listening.set()
                    if not first:
                        self._back()
                    first = False
                    self._listen(connection)
                    self._go(connection)
            except psycopg.Error:
                if not self._stop.is_set():
                    self._database.went_away()
                    self._lost()
                    self._stop.wait(RETRY_S)

    def _go(self, connection: psycopg.Connection) -> None:
        with contextlib.suppress(psycopg.errors.InsufficientPrivilege):
            connection.execute("delete from bench where id = %s", (self._database.client,))
            self._tell(connection)

    def _listen(self, connection: psycopg.Connection) -> None:
        said_at = time.monotonic()
        self._look_around(connection)
        while not self._stop.is_set():
            crowd = False
            for note in connection.notifies(timeout=LOOK_S, stop_after=50):
                crowd = self._take(note.payload) or crowd
            now = time.monotonic()
            if self._mine != self._said or now - said_at > HEARTBEAT_S:
                if self._mine == self._said:
                    crowd = True  # whoever fell silent is gone
                self._say(connection)
                said_at = now
            if crowd:
                self._look_around(connection)

    def _take(self, payload: str) -> bool:
        """Pass one on; whether it is of who is there."""
        try:
            said = json.loads(payload)
            if said["from"] == self._database.client:
                return False
            news = News(str(said["what"]), str(said["key"]), int(said["revision"]))
        except (ValueError, KeyError, TypeError):
            return False  # somebody else uses the channel
        if news.what == "bench":
            return True
        self._heard(news)
        return False

    def _say(self, connection: psycopg.Connection) -> None:
        """A user who may only read cannot leave word; others are heard all the same."""
        try:
            self._leave_word(connection)
        except psycopg.errors.InsufficientPrivilege:
            self._said = self._mine

    def _leave_word(self, connection: psycopg.Connection) -> None:
        changed, self._said = self._mine != self._said, self._mine
        job_id, doing = self._said
        done = connection.execute(
            "insert into bench (id, name, job_id, doing, seen) values (%s, %s, %s, %s, extract(epoch from now())) "
            "on conflict (id) do update set job_id = excluded.job_id, doing = excluded.doing, seen = excluded.seen "
            "returning xmax = 0",
            (self._database.client, self._name, job_id, doing),
        ).fetchone()  # fmt: skip
        connection.execute("delete from bench where seen < extract(epoch from now()) - %s", (FORGOTTEN_S,))
        if changed or (done is not None and done[0]):
            self._tell(connection)

    def _tell(self, connection: psycopg.Connection) -> None:
        news = json.dumps({"what": "bench", "key": "", "revision": 0, "from": self._database.client})
        connection.execute("select pg_notify(%s, %s)", (CHANNEL, news))

    def _look_around(self, connection: psycopg.Connection) -> None:
        rows = connection.execute(
            "select id, name, job_id, doing from bench where id <> %s and seen > extract(epoch from now()) - %s "
            "order by name, id", (self._database.client, GONE_S),
        ).fetchall()  # fmt: skip
        self._benches(tuple(BenchState(*row) for row in rows))
