"""From where on something is called worn or missing, as shares."""

from __future__ import annotations

WORN = 0.6  # of its design capacity, below which a battery is called worn
MISSING_MEMORY = 0.15  # of what is fitted that a system does not use, beyond what firmware and graphics keep
