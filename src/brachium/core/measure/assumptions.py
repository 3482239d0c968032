"""When a sample, a session or a difference counts: judgement of the bench, each with its unit and its reason."""

from __future__ import annotations

# Of the spread between sessions (docs/decisions/0020): how much further up than down it may lie from what was learned
# (and with one session on each side) and from the stated default; the shares of a wider and of a narrower spread within
# sessions that it has too, of the logarithms
UPWARD_LEARNED, UPWARD_ONCE, UPWARD_STATED = 1.65, 1.25, 0.85
FOLLOW_LEARNED, FOLLOW_STATED = (1.0, 0.35), (0.5, 0.0)
EQUIVALENCE_MARGIN = 0.05  # share within which two results are called the same
ROOM_ABSOLUTE_K = 5.0  # between two rooms, from which on temperatures are not compared as they are [K]
FREE_SPACE_FRAC = 0.15  # between two free shares of a drive, from which on its tests are not compared
BACKGROUND_CPU_FRAC, BACKGROUND_DISK_FRAC = 0.05, 0.10  # shares of other programs from which on a repeat is invalid
STUTTER_FACTOR, STUTTER_MS = 2.5, 8.0  # a frame so many times and so much longer than its like is a stutter
CAP_SHARE, CAP_WIDTH = 0.6, 0.02  # of the frames within so wide a step, from which on a cap is suspected
ALLOWED_SHARE = 0.10  # of the settle and idle phases that other programs may take
MEMORY_FULL, ALL_BUSY, GRAPHICS_BUSY = 0.93, 0.80, 0.90  # shares from which on a resource is called at its end
SHORT_LOAD_S = 240.0  # a load below it rarely settles [s]
ROOM_DRIFT_K, JUMP_K = 2.0, 25.0  # of the room within a run, and of a chip from one sample to the next [K]
DRIFT_SHARE, STRAY_SHARE, STRAY_MADS = 0.02, 0.03, 3.5  # of repeats: drift, stray ones by share and by deviations
SHOP_DF = 12.0  # degrees of freedom that other machines' sessions are worth together, beside a machine's own
# By how much a machine's spread may differ from that of: itself on another day, its like, any other; of the logarithm
DOUBT_OWN, DOUBT_ALIKE, DOUBT_OTHER = 0.3, 0.4, 0.5
STRAY_CAP = 2.5  # robust deviations from which on a repeat teaches no more about the spread
CHARGE_LOW, CHARGE_APART = 0.3, 0.2  # of a battery: below it power is cut, and apart by so much it is another condition
PROMISE_APART = 0.15  # share by which a run may prove less than it promised before that is said
