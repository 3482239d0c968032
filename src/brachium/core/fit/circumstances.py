"""What fit rules need beyond the record of the machine: the day, locks, drives' health, evidence, heat, the system."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from brachium.core.drives.health import DriveState
from brachium.core.machine.locks import Locks
from brachium.core.machine.parts import Service
from brachium.core.record.evidence import THRESHOLD, CompatibilityClaim
from brachium.core.record.systems import SystemSpec


@dataclass(frozen=True)
class HeatFacts:
    """From the before-run: chip to room [K/W], room [degC]."""

    resistance_k_w: float
    room_c: float


@dataclass(frozen=True)
class Circumstances:
    """`today` is an ISO date or empty. `used_bytes` of the system drive, `drives` the state of each drive bay,
    `starts` whether the machine starts now, `age_derating` the shop's own share off a supply's rating, `data_safe`
    whether the owner's data is settled, `network_heavy` whether the owner's work leans on the network, `part_facts`
    what was found out of parts for sale, in words by the key of its gap."""

    today: str = ""
    locks: Locks = field(default_factory=Locks)
    used_bytes: int | None = None
    drives: Mapping[str, DriveState] = field(default_factory=dict)
    claims: tuple[CompatibilityClaim, ...] = ()
    threshold: float = THRESHOLD
    heat: HeatFacts | None = None
    system: SystemSpec | None = None
    services: tuple[Service, ...] = ()
    starts: bool = True
    data_safe: bool = True
    network_heavy: bool = False
    age_derating: float = 0.0
    part_facts: Mapping[str, str] = field(default_factory=dict)
