"""What Find cause hands to the prediction: how likely each cure helps, and the clock that a cured power limit gives
back."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.cause.assess import Assessment
from brachium.core.cause.checks import HELPS, NET_SPEED, TRY_VOLTAGE
from brachium.core.heat.before_figures import BeforeFigures

ALL_OF_ONE = 0.95  # of the highest clock, which one thread is let to: where all threads come to without a limit
SPEAKS_FOR = 0.3  # chance from which a cause is weighed though its own check was not made
LEAST = 1.02  # of the sustained clock, below which nothing is given back


def with_chances(figures: BeforeFigures, found: Assessment, base_mhz: float | None) -> BeforeFigures:
    """The figures with the chances that paste, fins, fan, battery or adapter are at fault.

    A clock held far from the chip's limit comes back to what it was before the limit set in, else to the base clock, or
    near the highest that one thread was let to.
    """
    held = any(o.sign == "held" and o.state == "far from its limit" for o in found.seen)
    return replace(
        figures, paste_chance=found.cause("paste").chance, fins_chance=found.cause("fins").chance,
        fan_chance=found.cause("fan").chance,
        battery_chance=found.cause("battery").chance, adapter_chance=found.cause("adapter").chance,
        network_chance=_of_the_network(found), lower_voltage=_lower_voltage(found),
        power_clock=_given_back(figures, base_mhz) if held else None,
    )  # fmt: skip


def _of_the_network(found: Assessment) -> float | None:
    """None where nothing told a slow port from a slow line behind it."""
    chance = found.cause("network").chance
    looked = any(o.sign == NET_SPEED for o in found.seen)
    return chance if looked or chance >= SPEAKS_FOR else None


def _lower_voltage(found: Assessment) -> bool | None:
    tried = [o.state for o in found.seen if o.sign == TRY_VOLTAGE]
    return tried[-1] == HELPS if tried else None


def _given_back(figures: BeforeFigures, base_mhz: float | None) -> float | None:
    throttle = figures.reading.throttle if figures.reading is not None else None
    if throttle is not None and throttle.sustained_clock_mhz:
        one = ALL_OF_ONE * (figures.highest_clock_mhz or 0.0)
        ratio = max(figures.full_clock_mhz, base_mhz or 0.0, one) / throttle.sustained_clock_mhz
    elif figures.typed_clock_mhz and base_mhz:
        ratio = base_mhz / figures.typed_clock_mhz
    else:
        return None  # no clock was logged or typed: the figures' own stand for nothing
    return ratio if ratio >= LEAST else None
