"""The shop's own tables: systems with their floors and end dates, as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from datetime import date

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import finite
from brachium.core.base.units import GB, GIB
from brachium.core.machine.platform import BootMode
from brachium.core.record.systems import SystemSpec
from brachium.formats.cells import guarded, plain_cell
from brachium.formats.limits import csv_rows

COLUMNS = (
    "id", "title", "bits", "memory_gib", "drive_gb", "cores", "features", "functions", "start_mode", "ceiling_gib",
    "support_ends",
)  # fmt: skip
REMEDY = "Export the table to see its columns, or look into docs/formats/shop.md."


def systems_to_csv(systems: Sequence[SystemSpec]) -> str:
    """The table of systems; reading it gives the same ones."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for s in systems:
        writer.writerow(guarded(
            s.id, s.title, s.bits, f"{s.memory_bytes / GIB:g}", f"{s.drive_bytes / GB:g}", s.cores,
            "+".join(s.features), "+".join(s.functions), s.boot_mode or "",
            f"{s.ceiling_bytes / GIB:g}" if s.ceiling_bytes else "", s.support_ends,
        ))  # fmt: skip
    return out.getvalue()


def systems_from_csv(text: str, place: str) -> tuple[SystemSpec, ...]:
    """Raises ExpectedProblem with the line of the first bad row."""
    rows = csv_rows(text, place)
    heads = [h.strip() for h in next(rows, (0, []))[1]]
    missing = [c for c in ("id", "title") if c not in heads]
    if missing:
        raise ExpectedProblem(
            phrase("columns are missing: {missing}", missing=joined(", ", missing)),
            phrase("{place}, line 1", place=place),
            REMEDY,
        )
    out = {}
    for line, cells in rows:
        if not any(cells):
            continue
        try:
            spec = _system({h: plain_cell(c) for h, c in zip(heads, cells, strict=False) if h})
        except (ValueError, KeyError, OverflowError) as error:
            raise ExpectedProblem(
                phrase("cannot read this system ({error})", error=error),
                phrase("{place}, line {line}", place=place, line=line),
                REMEDY,
            ) from None
        out[spec.id] = spec
    return tuple(out.values())


def _system(row: dict[str, str]) -> SystemSpec:
    if not row["id"]:
        raise ValueError("an id is missing")
    ends = row.get("support_ends", "")
    if ends:
        date.fromisoformat(ends)
    ceiling = row.get("ceiling_gib", "")
    mode = row.get("start_mode", "")
    return SystemSpec(
        row["id"], row["title"], int(row.get("bits") or 64), _size(row.get("memory_gib"), GIB),
        _size(row.get("drive_gb"), GB), int(row.get("cores") or 1), _words(row.get("features", "")),
        _words(row.get("functions", "")), BootMode(mode) if mode else None,
        _size(ceiling, GIB) if ceiling else None, ends,
    )  # fmt: skip


def _size(text: str | None, unit: int) -> int:
    value = finite(text or "0")
    if value is None or not 0 <= value <= 1e9:
        raise ValueError(phrase("{text!r} is no size", text=text))
    return int(value * unit)


def _words(text: str) -> tuple[str, ...]:
    return tuple(w.strip() for w in text.split("+") if w.strip())
