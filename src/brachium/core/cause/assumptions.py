"""Where a sign is called one thing or the other: judgement of the bench, tried on simulated machines of many kinds."""

from __future__ import annotations

CHIP_SHARE, SINK_SHARE = 0.47, 0.29  # usual shares of the way from chip to room, of a sound machine; 0.1 either side
ABOVE, BELOW = 1.30, 0.72  # of the usual share, from where on a step is called large or small
FAN_FAR = 0.70  # of the speed that a fan can turn
TOP_CLOCK = 0.93  # of the rated clock, below which the top is called not reached
STALL, MEMORY_FULL, SPACE = 0.10, 0.93, 0.15  # shares: time waiting for storage, memory in use, drive that is free
RATE, DRIVE_SLOW = 0.43, 0.50  # of the peak bandwidth, and of a drive's own rate, below which they are called slow
USABLE, WORN = 0.80, 0.35  # of the memory fitted that a system uses; of a battery's design capacity
GRAPHICS = 0.30  # of a task during which graphics were fully busy and the processor waited
UNLIKELY = 0.08  # chance 0..1 below which a cause is not listed
PROVES = 3.0  # natural log-odds from which one answer explains the heat; a look does not
CALLED, SETTLED = 0.5, 0.9  # chances 0..1 from which a cause is named, and from which nothing more is checked
OVERHEAD_MIN = 5.0  # of a person, around every check
LITTLE_BITS_MIN = 0.004  # bits a minute below which a check is not worth its time
LEAST_COST = 0.03  # of the expected minutes, so that a check that costs nothing is not put before everything
STORAGE_COST, SLOW_MEMORY_COST = 0.8, 0.5  # of the profile's time on storage and memory, lost where they are the cause
DISK_BUSY, DISK_IDLE = 80.0, 30.0  # of the time [%], from which on work waits for a drive, and below which it does not
NEAR_LIMIT_TYPED_K, COOL_K = 4.0, 12.0  # of a read-off temperature to the chip's limit: at it, and far from it
IMPOSSIBLE = 8.0  # natural log-odds off a cause in a part that the machine does not have
LOADED_BY = 0.3  # chance of a dying drive from which on no check loads it
DRIVE_HOT_C, LIFE_USED, SPARE_LEFT = 65, 90, 10  # of a drive's own figures [degC, %, %]
TASK_BUSY = 0.85  # of a task's time that the processor worked at its full clock
TASK_FREE, MANY_STUTTERS = 0.35, 10  # share of a task's time in which nothing of the machine limits; in one frame log
# worth of a check that can end the search; the chances of the cause in front from which on and up to which it counts
ENDS, ENDS_FROM, SETTLED_BY_CHECK = 2.0, 0.40, 0.99
LEAST_SHARE = 0.05  # of the use's time, from which on a resource has to be looked at before nothing is said to hold it
HAS_BOOST = 1.03  # of the base clock, above which the highest one is a boost
