"""Why nobody can say what a change brings: never a factor of one; empty where it can be said, or is surely nothing."""

from __future__ import annotations

from collections.abc import Callable

from brachium.core.choose.assumptions import CURE_LIKELY, CURE_UNLIKELY
from brachium.core.choose.held_clock import power_ceiling
from brachium.core.choose.new_processor import change_of, graphics_ratio, network_ratio
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.card_parts import Card
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.use.profile import UseProfile

NO_HEAT = "the way of the heat was not measured: power, clock and temperature under load"
Reason = Callable[[Machine, Candidate, UseProfile, BeforeFigures], str]


def unknown_gain(machine: Machine, candidate: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    """What is missing, in words; the change is then neither counted as nothing nor recommended for it."""
    reason = _REASONS.get(candidate.group)
    return reason(machine, candidate, profile, figures) if reason is not None else ""


def _processor(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    change = change_of(machine, (one,))
    same = machine.configuration().processor() in [a.part for a in one.assignments]
    if same or (change.all_ratio is not None and change.single_ratio is not None):
        return ""
    return "the rated work of one of the two processors is not recorded, nor family, cores and clocks of both"


def _memory(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    return "" if machine.configuration().memory_bytes() else "the memory that is fitted today is not recorded"


def _card(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    shows = any(isinstance(a.part, Card) and a.part.display is not False for a in one.assignments)
    if any(isinstance(a.part, Card) and a.part.network_mbit_s for a in one.assignments):
        return _network(machine, one, profile, figures)
    if not shows:
        return "what work leans on it, and its rate, are not recorded"
    if profile.shares.get("graphics", 0.0) <= 0.0 or graphics_ratio(machine, (one,)) is not None:
        return ""
    return "the rated graphics work of the card, or of what is fitted today, is not recorded"


def _network(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    if profile.shares.get("network", 0.0) <= 0.0:
        return ""
    if network_ratio(machine, (one,)) is None:
        return "the rate of today's network port is not recorded"
    known = figures.network_chance is not None
    return "" if known else "whether the port or the line behind it is slow: time a long copy on Find cause"


def _cooler(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    if _heat_takes_nothing(figures):
        return ""
    if figures.r_fast_k_w is None or figures.r_slow_k_w is None:
        return NO_HEAT
    return "" if change_of(machine, (one,)).cooler_ratio is not None else "a rating of the old or new cooler is missing"


def _fan(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    if _heat_takes_nothing(figures):
        return ""
    if not change_of(machine, (one,)).fan:
        return "what more air through the case brings is measured, not predicted: hold the fan at full speed"
    return NO_HEAT if figures.r_fast_k_w is None or figures.r_slow_k_w is None else ""


def _service(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    unmeasured = figures.r_fast_k_w is None or figures.r_slow_k_w is None
    return NO_HEAT if unmeasured and not _heat_takes_nothing(figures) else ""


def _heat_takes_nothing(figures: BeforeFigures) -> bool:
    """Whether a run with a clock shows that heat takes nothing from the work."""
    throttle = figures.reading.throttle if figures.reading is not None else None
    return throttle is not None and throttle.kind in (HeldBack.NONE, HeldBack.BOOST_OVER)


def _power(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    chance = figures.battery_chance if one.group is Group.BATTERY else figures.adapter_chance
    throttle = figures.reading.throttle if figures.reading is not None else None
    boost_over = throttle is not None and throttle.kind is HeldBack.BOOST_OVER
    least = CURE_UNLIKELY if boost_over else CURE_LIKELY  # a limit above the base clock looks like the end of a boost
    if (chance or 0.0) < least or figures.power_clock is not None:
        return ""
    return "the clock that it gives back is not known: base clock, or a load with another one"


def _voltage(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    if figures.power_clock is not None and not figures.throttled:
        return "whether it is power or the clock itself that is held: cure what holds it first"
    if not figures.throttled and power_ceiling(figures) is None:
        seen = figures.reading is not None and figures.reading.throttle is not None
        return "" if seen else "what holds the clock under load was not measured"
    if figures.lower_voltage is None:
        return "whether its firmware lets the voltage be lowered: try it on Find cause"
    return ""


def _radio(machine: Machine, one: Candidate, profile: UseProfile, figures: BeforeFigures) -> str:
    return "rates of the old and new radio are not recorded" if profile.shares.get("network", 0.0) > 0.0 else ""


_REASONS: dict[Group, Reason] = {
    Group.MEMORY: _memory,
    Group.PROCESSOR: _processor, Group.CARD: _card, Group.COOLER: _cooler, Group.FAN: _fan, Group.PASTE: _service,
    Group.VOLTAGE: _voltage,
    Group.CLEANING: _service, Group.BATTERY: _power, Group.ADAPTER: _power, Group.RADIO: _radio,
}  # fmt: skip
