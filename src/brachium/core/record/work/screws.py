"""Screws that came out of a layer of the machine."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ScrewGroup:
    """Screws of one kind from one layer: count, driver, length [mm], thread; `back` = put back, None = not counted.

    `captive` ones stay in their plate and are never counted as lost; `numbered` plates have their own order.
    """

    layer: str
    count: int
    head: str = "PH1"
    length_mm: float = 5.0
    thread: str = "M2.5"
    captive: bool = False
    numbered: bool = False
    back: int | None = None
