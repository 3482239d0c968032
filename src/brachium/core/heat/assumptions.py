"""What fits and claims take for granted, each with its unit and where it comes from."""

from __future__ import annotations

PULLED_DOWN_FRAC = 0.97  # of the full clock, below which it is called pulled down
NEAR_LIMIT_K = 3.0  # so near to the limit the limit is at work [K]: the sensor's step and its error
MIN_SHARE = 0.02  # of the load, below which being pulled down is called a passing thing
AT_LIMIT_FRAC = 0.6  # of the time of being held back, that is spent at the limit where heat is the cause
BOOST_WITHIN_S = 150.0  # into the load, by which a boost budget is over: usual ones last 8 to 56 s
FLAT_FRAC = 0.025  # of the clock, by which a shelf moves that nothing pulls at
HOT_C = 80.0  # below it no machine without a stated limit is held back by heat [degC]
SENSOR_NOISE_K = 1.0  # of a sensor that reads whole degrees [K]
CLAIM_FACTOR = 1.5  # half-widths from which a change is claimed (docs/decisions/0004)
MIN_TAUS, PLATEAU_TAUS = 1.5, 3.0  # time constants that a load must last to be judged, and to have settled
SEPARATE_K, SHARES_K = 4.0, 5.0  # rise that a step must show to be told from another, and to have a share [K]
ROOM_DIFFERENCE_K = 10.0  # between two runs' rooms, beyond which air itself differs too much [K]
# Mismatch of the model, of the rise, of the change itself and of the other step's change (docs/decisions/0021)
PASTE_TERMS, AIRFLOW_TERMS = (0.013, 0.125, 0.05), (0.025, 0.20, 0.10)
NO_FAN_PASTE, NO_FAN_AIRFLOW = 1.25, 4.0  # times as wide without a fan column
SIGMA_K = 0.6  # error of a chip's sensor [K], one standard deviation
HUBER_SIGMAS = 3.0  # standard deviations from which a sample counts by its distance only
FAN_OFFSET_PRIOR = 0.15  # spread of the share of heat that leaves without the fan
ALPHA, ALPHA_LOW, ALPHA_HIGH = 2.4, 1.0, 3.5  # power over clock: where it cannot be fitted, and the range that is met
SPREAD_NEEDED = 0.08  # of the clock within a run, from which on that exponent can be fitted
LEAST_CLOCK = 0.2  # of the full clock, below which no state is looked for
# Without a power reading: watts at rest and added at full load of a small chip, and how watts follow the clock. Only
# the shape over time counts; scale drops out of every claim that such a trace allows.
PROXY_IDLE_W, PROXY_LOAD_W, PROXY_EXPONENT = 3.0, 27.0, 2.5
PROXY_FAN_RPM, PROXY_FAN_RANGE_RPM = 800.0, 1000.0  # without a fan reading: at rest, and up to the hottest
LIMITED_POWER, LIMITED_CLOCK = 0.75, 0.88  # of the other run's, below which both say that a run was held down by power
FAN_CHANGED, CURVE_CHANGED = 1.1, 1.15  # ratio of fan speeds under load, and at one temperature, that is a change
FAN_LAW_SURE, FAN_LAW_MISMATCH = 0.4, 0.25  # half-width of the fan's exponent up to which it is used; of the kelvin
# Of the task's share of time waiting for storage, log-normal: sampled, and told from a typed share of the drive's time;
# and how much of a time in which the drive is busy the task waits for it (0.5 to 1.0: some of it is read ahead)
STALL_SPREAD, STALL_SPREAD_TYPED = 0.10, 0.35
WAITS_WHILE_BUSY = 0.7
