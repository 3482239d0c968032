"""What predictions take for granted: judgement of the bench, each with its unit, its reason and its spread."""

from __future__ import annotations

# Power over clock near the top of a processor's range: exponent and spread; 1.0 to 3.5 is met in practice.
POWER_EXPONENT = (2.4, 0.3)
# Factor on the resistance of a step (1 = as it is) and its log-normal spread, where the cause lies there and where not:
# what fresh paste and clean fins brought at benches; the shop's own repastes take their place where there are any.
PASTE_AT_FAULT, PASTE_SOUND = (0.45, 0.25), (0.93, 0.06)
FINS_AT_FAULT, FINS_SOUND = (0.58, 0.20), (0.95, 0.04)
# Another fan in place of one that no longer reaches its speed: air rises three- to fivefold, a heatsink's resistance
# falls with its half to eight tenths of a power; one that is sound brings what its own wear took
FAN_AT_FAULT, FAN_SOUND = (0.50, 0.30), (0.985, 0.02)
# Power at the same clock with a voltage lowered by 25 to 75 mV of about 1.1 V, by its square: every value alike
VOLTAGE_POWER = (0.86, 0.955)
NOT_JUDGED = 0.5  # chance 0..1 of a fault that nobody looked for: neither believed nor ruled out
RESERVED_GIB = 0.6  # memory that system and graphics keep for themselves; 0.3 to 1.0
# Log-normal spreads of the working set: of a use that is only stated, and of memory in use that was seen; of its skew
WORKING_SPREAD, WORKING_MEASURED, SKEW_SPREAD = 0.25, 0.06, 0.2
# Share of memory in use up to which nothing is paged, and from which on something surely is; a kernel keeps some free
MEMORY_ROOM, MEMORY_SHORT = 0.90, 0.97
SHORT_BY = 0.15  # scale of how far above the memory the working set lies where the memory is full, as a share
# Time of paging over time of work were every access a miss, of a disk and of flash, and their log-normal spread; judged
# from machines with too little memory: a disk with half of it missing waits two thirds of the time
PAGED_BY_DISK, PAGED_BY_FLASH, PAGED_SPREAD = 4.0, 0.8, 1.0
# Share of the use's stated storage time that a task's pressure stall shows as reads of its own: of flash, of a disk
OWN_READS, OWN_READS_SPREAD = (0.1, 0.5), 1.1
# How far the waiting may lie from what paging and own reads explain, of the logarithm; what a draw counts that does not
# explain it at all, beside 1 of one that does; odds of time below which nothing is told apart
EXPLAINED_SPREAD, LEAST_BELIEVED, LEAST_ODDS = 0.5, 1e-3, 0.01
REQUEST_MS = (0.01, 0.06)  # what a request costs beside the drive: kernel, link, writing out what makes room [ms]
# Log-normal spread of the shares of time: of a profile that is only stated, and of shares that a run measured.
SHARE_SPREAD, SHARE_SPREAD_MEASURED = 0.20, 0.12
SCATTER = 0.009  # of a measured gain from one pair of sessions to the next, as a share
WAIT_SCATTER = 0.03  # the same of the time that is waited for storage: a drive's sessions lie further apart
LONG_READS = 0.4  # at most so much of the waiting for storage is long reads; small ones make up the rest
# Log-normal spread of what another die, another cooler and rated work rates bring against their figures.
DIE_SPREAD, SINK_SPREAD, RATE_SPREAD = 0.25, 0.15, 0.06
FRAMES_BY_GRAPHICS = (0.5, 1.0)  # share of the time of a frame that is the graphics chip's; the rest the processor's
CHANNEL_USE_RANGE = (0.75, 0.98)  # share of the added bandwidth that work really uses; every value alike
ASKED = 0.8  # the chance 0..1 with which a target is to be met
LEAST_GAIN = 1.01  # gain of work per time (1 = today) below which a shelf part is left on the shelf
POWER_BACK = 0.08  # scatter of the clock that a cured power limit gives back, of the logarithm
CURE_LIKELY = 0.05  # chance from which a battery or adapter is weighed as a cure of a power limit
CURE_UNLIKELY = 0.005  # chance below which it is nothing where the end of a boost explains the clock
