"""Thermal pads: area by thickness, sheets to buy, cost, and the least resistance that a pad can have.

R = thickness / (k x area) is a lower bound without both boundaries; a pad is pressed to about four fifths of its
thickness. Offcuts are 15 % of the area. Source: heat conduction through a plane layer.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import ceil

from brachium.core.base.text import joined, phrase
from brachium.core.record.work.pads import PadRow
from brachium.core.work.assumptions import OFFCUT, PRESSED

_SIZE = r"(\d+(?:\.\d+)?)"
_ENTRY = re.compile(rf"^\s*{_SIZE}\s*(?:mm)?\s*:\s*(\d+)\s*[x×]\s*{_SIZE}\s*[x×]\s*{_SIZE}\s*(?:mm)?\s*$")


@dataclass(frozen=True)
class PadSum:
    """All pads of one thickness: area with offcuts [cm2], sheets, cost, least resistance of them together [K/W]."""

    thickness_mm: float
    area_cm2: float
    sheets: int
    cost: Decimal
    least_k_w: float | None


def read_pads(text: str) -> tuple[PadRow, ...]:
    """`1.0: 4 x 15 x 20; 0.5: 2 x 10 x 10`, thickness and pieces in mm. Raises ValueError naming the entry."""
    out = []
    for entry in (e for e in re.split(r"[;\n]", text) if e.strip()):
        found = _ENTRY.match(entry.replace(",", "."))
        if found is None:
            raise ValueError(
                phrase("“{entry}”: thickness: pieces x width x length, such as 1.0: 4 x 15 x 20", entry=entry.strip())
            )
        row = PadRow(float(found[1]), int(found[2]), float(found[3]), float(found[4]))
        if not 0.2 <= row.thickness_mm <= 6 or row.count < 1 or not row.area_mm2 > 0:
            raise ValueError(
                phrase("“{entry}”: 0.2 to 6 mm thick, one piece or more, sizes above 0", entry=entry.strip())
            )
        out.append(row)
    return tuple(out)


def pads_text(rows: Sequence[PadRow]) -> str:
    return joined(
        "; ",
        (
            phrase(
                "{thickness_mm:g}: {count} x {width_mm:g} x {length_mm:g}",
                thickness_mm=r.thickness_mm,
                count=r.count,
                width_mm=r.width_mm,
                length_mm=r.length_mm,
            )
            for r in rows
        ),
    )


def pad_sums(
    rows: Sequence[PadRow], sheet_mm2: float = 10_000.0, sheet_price: Decimal = Decimal(0),
    conductivity: float | None = None,
) -> tuple[PadSum, ...]:  # fmt: skip
    """By thickness, the thickest first. Raises ValueError for a sheet without area."""
    if not sheet_mm2 > 0:
        raise ValueError("a sheet's area is above 0 mm²")
    out = []
    for thickness in sorted({r.thickness_mm for r in rows}, reverse=True):
        area = sum(r.area_mm2 for r in rows if r.thickness_mm == thickness)
        bought = area * (1.0 + OFFCUT)
        sheets = ceil(bought / sheet_mm2 - 1e-9)
        cost = (sheet_price * Decimal(str(bought / sheet_mm2))).quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
        least = None if not conductivity else PRESSED * thickness / 1000.0 / (conductivity * area * 1e-6)
        out.append(PadSum(thickness, bought / 100.0, sheets, cost, least))
    return tuple(out)
