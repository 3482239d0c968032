"""Opens a shop wherever it lies; the library for servers is loaded only for one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from brachium.store.database import Database
from brachium.store.location import Place, ServerPlace

if TYPE_CHECKING:
    from brachium.store.server import ServerDatabase


def open_database(place: Place) -> Database | ServerDatabase:
    """Raises as the two do."""
    if not isinstance(place, ServerPlace):
        return Database(place)
    from brachium.store.server import ServerDatabase

    return ServerDatabase(place)
