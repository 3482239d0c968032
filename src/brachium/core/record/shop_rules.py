"""The shop's own tables and thresholds, as verdicts and predictions use them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from brachium.core.machine.kinds import MachineKind
from brachium.core.record.correction import NONE, Correction
from brachium.core.record.evidence import THRESHOLD, CompatibilityClaim
from brachium.core.record.money import NO_PRICES, WORTH_PER_EUR, Prices, Tax
from brachium.core.record.systems import SYSTEMS, SystemSpec
from brachium.core.record.work.repaste import Repaste
from brachium.core.record.work.step_minutes import StepMinutes

NO_TAX = Tax()


@dataclass(frozen=True)
class ShopRules:
    """The shop's own: the day (ISO), its table of systems, evidence, the threshold for it, supplies' age derating,
    tax, and the gain per EUR below which a further step is not worth its money."""

    today: str = ""
    systems: tuple[SystemSpec, ...] = SYSTEMS
    claims: tuple[CompatibilityClaim, ...] = ()
    threshold: float = THRESHOLD
    age_derating: float = 0.0
    tax: Tax = NO_TAX
    worth_per_eur: float = WORTH_PER_EUR
    prices: Prices = field(default_factory=lambda: NO_PRICES)  # of consumables
    repastes: tuple[Repaste, ...] = ()  # what they brought here
    correction: Correction = NONE  # of predictions, by the shop's own record
    step_minutes: Mapping[MachineKind, Mapping[str, StepMinutes]] = field(default_factory=dict)  # by kind of step
