"""How long a sensor may be silent, or stand still, before its samples no longer count."""

from __future__ import annotations

GAP_S = 5.0


STUCK_S = 30.0
