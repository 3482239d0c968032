"""Thermal pads of a machine: thickness, pieces and their size."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class PadRow:
    """Pads of one size: thickness, width, length [mm]."""

    thickness_mm: float
    count: int
    width_mm: float
    length_mm: float

    @property
    def area_mm2(self) -> float:
        return self.count * self.width_mm * self.length_mm
