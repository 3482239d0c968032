"""A reference table: results of other machines by processor and test, as CSV."""

from __future__ import annotations

from collections.abc import Mapping

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import finite
from brachium.core.measure.reference import COLUMNS, hardware_key
from brachium.formats.cells import plain_cell
from brachium.formats.limits import csv_rows


def parse_table(text: str, place: str) -> Mapping[str, Mapping[str, tuple[float, ...]]]:
    """A reference table (CSV: hardware, test, value; one line a machine and test) as values by hardware key and test.

    Raises ExpectedProblem naming the line.
    """
    rows = csv_rows(text.removeprefix("\ufeff"), place)
    heads = [h.strip() for h in next(rows, (0, []))[1]]
    if not set(COLUMNS) <= set(heads):
        raise ExpectedProblem(
            phrase("the heading must name {columns}", columns=joined(", ", COLUMNS)),
            phrase("{place}, line 1", place=place),
            "Add the columns.",
        )
    out: dict[str, dict[str, list[float]]] = {}
    for line, cells in rows:
        if not any(c.strip() for c in cells):
            continue
        plain = {h: plain_cell(c.strip()) for h, c in zip(heads, cells, strict=False)}
        hardware, test = plain.get("hardware", ""), plain.get("test", "")
        value = finite(plain.get("value", ""))
        if value is None or value <= 0 or not hardware or not test:
            raise ExpectedProblem(
                phrase("{plain!r} is no result above zero, or a name is missing", plain=plain.get('value', '')[:40]),
                phrase("{place}, line {line}", place=place, line=line), "Put a name, a test's key and a number.",
            )  # fmt: skip
        out.setdefault(hardware_key(hardware), {}).setdefault(test, []).append(value)
    return {k: {t: tuple(v) for t, v in tests.items()} for k, tests in out.items()}
