"""What a comparison takes for granted, each with its unit and its reason."""

from __future__ import annotations

SENSOR_K = 0.6  # error of a chip's sensor [K], one standard deviation
SHARED_SPREAD = 0.08  # log-normal spread that both runs of a machine share, so that it does not count between them
CLOCK_CHANGED = 0.02  # of a sustained clock, from which on it is called changed: logs of one machine agree better
LEVEL_SPREAD = 0.12  # of the power that a level stands for, from one reading to the next: half a decibel
LEVEL_MARGIN_DB = 1.0  # below it nobody hears a difference between two levels
ROOM_HELD_K = (
    3.0  # between two rooms, beyond which what heat lets a machine sustain says more of the room than of the work
)
TEMPERATURE_MARGIN_K = 2.0  # below it no two read-off temperatures differ
TEMPERATURE_SPREAD = 0.35  # of a read-off temperature, carried as ten times its decimal logarithm: 1.5 K
