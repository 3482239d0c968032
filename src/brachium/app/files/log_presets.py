"""How a person said a logger's columns are to be read, remembered by the heading line."""

from __future__ import annotations

from brachium.app.shop.kept import KeepsShop
from brachium.formats.log_columns import LogReadings, Reading
from brachium.formats.shop_documents import LOG_PRESETS

MOST = 100


def heading_key(headers: tuple[str, ...]) -> str:
    """What tells one logger's heading from another's."""
    return "|".join(h.strip().lower() for h in headers)


class LogPresets:
    """Kept with the shop; the latest ones first, old ones are forgotten."""

    def __init__(self, shop: KeepsShop) -> None:
        self._shop = shop
        self._known = dict(shop.kept(LOG_PRESETS).by_heading)

    def reading(self, headers: tuple[str, ...]) -> Reading | None:
        """What was said of this heading; None where nothing was."""
        return self._known.get(heading_key(headers))

    def remember(self, headers: tuple[str, ...], reading: Reading) -> None:
        """Keep what was said; nothing is kept where nothing was."""
        if not (reading.units or reading.columns):
            return
        key = heading_key(headers)
        rest = {k: v for k, v in self._known.items() if k != key}
        new = {key: Reading(dict(reading.units), dict(reading.columns)), **rest}
        self._known = dict(list(new.items())[:MOST])
        self._shop.keep(LOG_PRESETS, LogReadings(self._known))
