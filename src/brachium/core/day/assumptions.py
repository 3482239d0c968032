"""How long steps take and how far that scatters, each with its unit and its reason."""

from __future__ import annotations

USUAL_SPREAD = 0.3  # log-normal spread of a step's minutes before any were logged
PRIOR = 5.0  # timed steps that the estimate itself stands for
LONGEST_MIN = 90  # of a block that a person plans with [min]
