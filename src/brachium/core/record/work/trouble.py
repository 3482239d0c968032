"""Trouble met at a step of the work: what it was, what it cost, what was done."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True)
class Trouble:
    """`kind` is the id of a kind of trouble (core/work/doing/trouble.py), `minutes` and `price` what it costs beyond
    the plan; `price` None = nobody knows yet."""

    step_id: str
    kind: str
    when: str
    minutes: float
    price: Decimal | None = None
    words: str = ""
