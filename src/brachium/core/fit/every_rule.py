"""Every rule the program knows, in the order they are shown."""

from __future__ import annotations

from brachium.core.fit.engine import Rule
from brachium.core.fit.rules.adapter_and_battery import ADAPTER_AND_BATTERY_RULES
from brachium.core.fit.rules.board import BOARD_RULES
from brachium.core.fit.rules.card_power import CARD_POWER_RULES
from brachium.core.fit.rules.cards import CARD_RULES
from brachium.core.fit.rules.cooling import COOLING_RULES
from brachium.core.fit.rules.drive_power import POWER_RULES
from brachium.core.fit.rules.heat_contacts import CONTACT_RULES
from brachium.core.fit.rules.locks import LOCK_RULES
from brachium.core.fit.rules.memory import MEMORY_RULES
from brachium.core.fit.rules.memory_population import POPULATION_RULES
from brachium.core.fit.rules.memory_profile import PROFILE_RULES
from brachium.core.fit.rules.memory_size import SIZE_RULES
from brachium.core.fit.rules.memory_speed import SPEED_RULES
from brachium.core.fit.rules.memory_system import MEMORY_SYSTEM_RULES
from brachium.core.fit.rules.platform import PLATFORM_RULES
from brachium.core.fit.rules.processor import PROCESSOR_RULES
from brachium.core.fit.rules.processor_heat import PROCESSOR_HEAT_RULES
from brachium.core.fit.rules.storage import STORAGE_RULES
from brachium.core.fit.rules.storage_place import STORAGE_PLACE_RULES
from brachium.core.fit.rules.storage_start import STORAGE_START_RULES
from brachium.core.fit.rules.supply import SUPPLY_RULES

ALL_RULES: tuple[Rule, ...] = (
    *MEMORY_RULES, *SIZE_RULES, *SPEED_RULES, *PROFILE_RULES, *POPULATION_RULES, *MEMORY_SYSTEM_RULES, *STORAGE_RULES,
    *STORAGE_PLACE_RULES, *STORAGE_START_RULES, *POWER_RULES, *PROCESSOR_RULES, *PROCESSOR_HEAT_RULES, *COOLING_RULES,
    *CONTACT_RULES, *CARD_RULES, *CARD_POWER_RULES, *SUPPLY_RULES, *ADAPTER_AND_BATTERY_RULES, *BOARD_RULES,
    *PLATFORM_RULES, *LOCK_RULES,
)  # fmt: skip
