"""The shop's own tables: systems with their floors and end dates as CSV, evidence for claims as JSON."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from datetime import date

from pydantic import TypeAdapter, ValidationError

from brachium.core.fit.evidence import Claim
from brachium.core.fit.systems import SystemSpec
from brachium.core.machine.platform import BootMode
from brachium.core.problems import ExpectedProblem
from brachium.core.units import GB, GIB
from brachium.formats.records import said

_CLAIMS = TypeAdapter(tuple[Claim, ...])
COLUMNS = (
    "id", "title", "bits", "memory_gib", "drive_gb", "cores", "features", "functions", "start_mode", "ceiling_gib",
    "support_ends",
)  # fmt: skip
REMEDY = "Export the table to see its columns, or look into docs/formats/shop.md."


def claims_to_json(claims: Sequence[Claim]) -> str:
    return _CLAIMS.dump_json(tuple(claims)).decode()


def claims_from_json(text: str, place: str) -> tuple[Claim, ...]:
    """Raises ExpectedProblem naming the first bad field."""
    try:
        return _CLAIMS.validate_json(text)
    except ValidationError as error:
        raise said(error, place) from error


def systems_to_csv(systems: Sequence[SystemSpec]) -> str:
    """The table of systems; reading it gives the same ones."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for s in systems:
        writer.writerow((
            s.id, s.title, s.bits, f"{s.memory_bytes / GIB:g}", f"{s.drive_bytes / GB:g}", s.cores,
            "+".join(s.features), "+".join(s.functions), s.boot_mode or "",
            f"{s.ceiling_bytes / GIB:g}" if s.ceiling_bytes else "", s.support_ends,
        ))  # fmt: skip
    return out.getvalue()


def systems_from_csv(text: str, place: str) -> tuple[SystemSpec, ...]:
    """Raises ExpectedProblem with the line of the first bad row."""
    reader = csv.DictReader(io.StringIO(text), restval="")
    missing = [c for c in ("id", "title") if c not in (reader.fieldnames or [])]
    if missing:
        raise ExpectedProblem(f"columns are missing: {', '.join(missing)}", f"{place}, line 1", REMEDY)
    out = {}
    for row in reader:
        try:
            spec = _system({k: v or "" for k, v in row.items() if k})
        except ValueError as error:
            raise ExpectedProblem(f"cannot read this system ({error})", f"{place}, line {reader.line_num}",
                                  REMEDY) from None  # fmt: skip
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
        row["id"], row["title"], int(row.get("bits") or 64), int(float(row.get("memory_gib") or 0) * GIB),
        int(float(row.get("drive_gb") or 0) * GB), int(row.get("cores") or 1), _words(row.get("features", "")),
        _words(row.get("functions", "")), BootMode(mode) if mode else None,
        int(float(ceiling) * GIB) if ceiling else None, ends,
    )  # fmt: skip


def _words(text: str) -> tuple[str, ...]:
    return tuple(w.strip() for w in text.split("+") if w.strip())
