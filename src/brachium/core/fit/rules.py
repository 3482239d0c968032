"""Every rule the program knows, in the order they are shown."""

from __future__ import annotations

from brachium.core.fit.engine import Rule
from brachium.core.fit.memory import MEMORY_RULES
from brachium.core.fit.power import POWER_RULES
from brachium.core.fit.storage import STORAGE_RULES

ALL_RULES: tuple[Rule, ...] = MEMORY_RULES + STORAGE_RULES + POWER_RULES
