"""Every rule the program knows, in the order they are shown."""

from __future__ import annotations

from brachium.core.fit.board import BOARD_RULES
from brachium.core.fit.cards import CARD_RULES
from brachium.core.fit.cooling import COOLING_RULES
from brachium.core.fit.engine import Rule
from brachium.core.fit.locks import LOCK_RULES
from brachium.core.fit.memory import MEMORY_RULES
from brachium.core.fit.memory_population import POPULATION_RULES
from brachium.core.fit.memory_system import MEMORY_SYSTEM_RULES
from brachium.core.fit.platform import PLATFORM_RULES
from brachium.core.fit.power import POWER_RULES
from brachium.core.fit.processor import PROCESSOR_RULES
from brachium.core.fit.processor_heat import PROCESSOR_HEAT_RULES
from brachium.core.fit.storage import STORAGE_RULES
from brachium.core.fit.storage_place import STORAGE_PLACE_RULES
from brachium.core.fit.storage_start import STORAGE_START_RULES
from brachium.core.fit.supply import SUPPLY_RULES

ALL_RULES: tuple[Rule, ...] = (
    *MEMORY_RULES, *POPULATION_RULES, *MEMORY_SYSTEM_RULES, *STORAGE_RULES, *STORAGE_PLACE_RULES, *STORAGE_START_RULES,
    *POWER_RULES, *PROCESSOR_RULES, *PROCESSOR_HEAT_RULES, *COOLING_RULES, *CARD_RULES, *SUPPLY_RULES, *BOARD_RULES,
    *PLATFORM_RULES, *LOCK_RULES,
)  # fmt: skip
