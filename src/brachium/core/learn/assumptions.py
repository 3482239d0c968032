"""How fast the shop's own record is believed, each with its reason."""

from __future__ import annotations

PRIOR_JOBS = 15.0  # jobs that the model itself stands for: with as many of its own a shop counts half
NEAR_K = 5.0  # between two rooms within which an aged machine is compared as it is [K]
MOST_MONTHS, DAYS_A_MONTH = 12.0, 30.44  # the furthest that a machine is to be looked at again
SPENT_PCT = 80  # percent of a drive's life from which on it is said
LEAST_S = 0.05  # of waiting for paging, as a share of time; below it nothing is left to gain
MOVED = 0.01  # of a gain, below which a change is said to have moved nothing
