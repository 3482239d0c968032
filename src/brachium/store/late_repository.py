"""A repository that is loaded when it is first asked: a start whose shop is at hand asks it for nothing."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from brachium.store.database import Database
    from brachium.store.repository import Repository
    from brachium.store.server import ServerDatabase


class _Late:
    def __init__(self, database: Database | ServerDatabase, who: str) -> None:
        self._database, self._who = database, who
        self.shared = database.shared
        self._real: Repository | None = None
        self._lock = threading.Lock()

    def __getattr__(self, name: str) -> Any:
        with self._lock:
            if self._real is None:
                from brachium.store.repository import Repository

                self._real = Repository(self._database, self._who)
        return getattr(self._real, name)


def late_repository(database: Database | ServerDatabase, who: str = "") -> Repository:
    """As a repository; from whatever thread it is asked first."""
    made: Any = _Late(database, who)
    return made  # type: ignore[no-any-return]
