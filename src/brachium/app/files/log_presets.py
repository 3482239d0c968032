"""How a person said a logger's columns are to be read, remembered by the heading line."""

from __future__ import annotations

import json

from brachium.app.shop.workspace import Workspace
from brachium.formats.limits import parse_json
from brachium.formats.sensor_log import Reading

KEY = "log_presets"
MOST = 100


def signature(headers: tuple[str, ...]) -> str:
    """What tells one logger's heading from another's."""
    return "|".join(h.strip().lower() for h in headers)


class LogPresets:
    """Kept with the shop; the latest ones first, old ones are forgotten."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._known: dict[str, dict[str, dict[str, str]]] = workspace.kept(KEY, _parsed, {})

    def reading(self, headers: tuple[str, ...]) -> Reading | None:
        kept = self._known.get(signature(headers))
        return Reading(kept["units"], kept["columns"]) if kept is not None else None

    def remember(self, headers: tuple[str, ...], reading: Reading) -> None:
        """Keep what was said; nothing is kept where nothing was."""
        if not (reading.units or reading.columns):
            return
        key = signature(headers)
        rest = {k: v for k, v in self._known.items() if k != key}
        new = {key: {"units": dict(reading.units), "columns": dict(reading.columns)}, **rest}
        self._known = dict(list(new.items())[:MOST])
        self._workspace.save_setting(KEY, json.dumps(self._known, ensure_ascii=False))


def _parsed(text: str) -> dict[str, dict[str, dict[str, str]]]:
    """What was kept. Raises ExpectedProblem or an error of its shape where it cannot be read."""
    plain = parse_json(text, KEY)
    return {
        str(k): {part: {str(a): str(b) for a, b in v[part].items()} for part in ("units", "columns")}
        for k, v in plain.items()
    }
