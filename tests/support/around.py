"""Circumstances in which nothing stands in the way: no locks, little data, no heat limit."""

from __future__ import annotations

from brachium.core.base.units import GB
from brachium.core.fit.circumstances import Circumstances, HeatFacts
from brachium.core.machine.locks import Locks, LockState

NO_LOCKS = Locks(LockState.NONE, LockState.NONE, LockState.NONE, LockState.NONE)
EASY = Circumstances("2026-11-24", NO_LOCKS, 100 * GB, heat=HeatFacts(0.5, 22.0))
