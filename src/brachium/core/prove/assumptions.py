"""What a comparison takes for granted, each with its unit and its reason."""

from __future__ import annotations

SENSOR_K = 0.6  # error of a chip's sensor [K], one standard deviation
SHARED_SPREAD = 0.08  # log-normal spread that both runs of a machine share, so that it does not count between them
