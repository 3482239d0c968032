"""What a shop states of itself once: hours, people, thresholds, tax, exchange rates, how its reports speak."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal

from brachium.core.record.evidence import THRESHOLD
from brachium.core.record.money import WORTH_PER_EUR, Tax

USUAL_HOURS = "09:00-12:30, 13:30-18:00"
MOST_HANDS = 12  # technicians, benches


@dataclass(frozen=True)
class ShopSettings:
    """Every setting of the shop with its default.

    `opening_hours` of a working day; `evidence_threshold` the chance 0..1 from which a claim is believed;
    `age_derating` the share off a supply's rating a year; `worth_per_eur` the gain below which a further EUR is not
    worth it; `rates` what one of another currency costs in the list's own, as typed on `rates_day` (ISO). Language and
    currency of reports are empty where they are the program's own; `watched_folder` is empty where none is watched.
    `demo_filled` notes that the demo shop was taken in whole.
    """

    opening_hours: str = USUAL_HOURS
    technicians: int = 1
    benches: int = 2
    evidence_threshold: float = THRESHOLD
    age_derating: float = 0.0
    tax: Tax = field(default_factory=Tax)
    worth_per_eur: float = WORTH_PER_EUR
    rates: Mapping[str, Decimal] = field(default_factory=dict)
    rates_day: str = ""
    correct_predictions: bool = True
    report_language: str = ""
    report_currency: str = ""
    watched_folder: str = ""
    demo_filled: bool = False
