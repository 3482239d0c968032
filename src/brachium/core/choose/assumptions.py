"""What predictions take for granted: judgement of the bench, each with its unit, its reason and its spread."""

from __future__ import annotations

# Power over clock near the top of a processor's range: exponent and spread; 1.0 to 3.5 is met in practice.
POWER_EXPONENT = (2.4, 0.3)
# Factor on the resistance of a step (1 = as it is) and its log-normal spread, where the cause lies there and where not:
# what fresh paste and clean fins brought at benches; the shop's own repastes take their place where there are any.
PASTE_AT_FAULT, PASTE_SOUND = (0.45, 0.25), (0.93, 0.06)
FINS_AT_FAULT, FINS_SOUND = (0.58, 0.20), (0.95, 0.04)
NOT_JUDGED = 0.5  # chance 0..1 of a fault that nobody looked for: neither believed nor ruled out
RESERVED_GIB = 0.6  # memory that system and graphics keep for themselves; 0.3 to 1.0
# Log-normal spread of the shares of time: of a profile that is only stated, and of shares that a run measured.
SHARE_SPREAD, SHARE_SPREAD_MEASURED = 0.20, 0.12
SCATTER = 0.007  # of a measured gain from one pair of sessions to the next, as a share
LONG_READS = 0.4  # at most so much of the waiting for storage is long reads; small ones make up the rest
# Log-normal spread of what another die, another cooler and rated work rates bring against their figures.
DIE_SPREAD, SINK_SPREAD, RATE_SPREAD = 0.25, 0.15, 0.06
FRAMES_BY_GRAPHICS = (0.5, 1.0)  # share of the time of a frame that is the graphics chip's; the rest the processor's
CHANNEL_USE_RANGE = (0.75, 0.98)  # share of the added bandwidth that work really uses; every value alike
ASKED = 0.8  # the chance 0..1 with which a target is to be met
LEAST_GAIN = 1.01  # gain of work per time (1 = today) below which a shelf part is left on the shelf
POWER_BACK = 0.06  # scatter of the clock that a cured power limit gives back, of the logarithm
CURE_LIKELY = 0.05  # chance from which a battery or adapter is weighed as a cure of a power limit
