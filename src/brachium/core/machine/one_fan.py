"""Whether a fan's place is the one that blows on the processor's heatsink."""

from __future__ import annotations

import re

from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE
from brachium.core.machine.machine import Machine

OF_CHIP = re.compile(r"processor|cpu|cooler|heatsink", re.IGNORECASE)


def blows_on_chip(machine: Machine, place_id: str) -> bool:
    """Of a flat machine its only fan does; elsewhere a fan whose place is named after processor or cooler."""
    header = next((h for h in machine.platform.headers if h.id == place_id), None)
    if header is None:
        return False
    flat = machine.kind in PORTABLE or machine.kind in ON_ADAPTER
    return (flat and len(machine.platform.headers) == 1) or OF_CHIP.search(header.label) is not None
