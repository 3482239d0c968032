"""The clock that a machine holds with a plan, over the one it holds today, by heat, power limits and voltage.

Power over clock follows P(f) = P0 (f / f0)^alpha. At the chip's limit the power is what the heat path carries, so that
f rises with (R today / R then / v)^(1/alpha), v = power at the same clock with a lowered voltage over today's.
"""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.choose.draws import Draws
from brachium.core.choose.new_processor import ProcessorChange
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Service
from brachium.core.plan.candidates import Group


def power_ratio(
    groups: Collection[Group], machine: Machine, figures: BeforeFigures, draws: Draws, heat: HeatFacts | None
) -> FloatArray | None:  # fmt: skip
    """Factor on the clock that battery and adapter of a plan give back, at most what the heat path carries; None where
    the plan has neither, or power holds nothing."""
    if figures.power_clock is None or not {Group.BATTERY, Group.ADAPTER} & set(groups):
        return None
    back = np.ones(draws.overlap.size)
    for group, factor in ((Group.BATTERY, draws.battery), (Group.ADAPTER, draws.adapter)):
        back = np.maximum(back, factor) if group in groups else back
    return np.minimum(back, np.maximum(carried(machine, figures, heat, draws.exponent), 1.0))


def carried(
    machine: Machine, figures: BeforeFigures, heat: HeatFacts | None, exponent: FloatArray | float
) -> FloatArray | float:  # fmt: skip
    """Clock at which the chip would come to its limit over the sustained one; infinite where nobody can tell."""
    fast, slow, reading, limit_c = figures.r_fast_k_w, figures.r_slow_k_w, figures.reading, machine.processor.limit_c
    if fast is None or slow is None or reading is None or heat is None or limit_c is None:
        return np.inf
    rise = (fast + slow) * reading.power_ref_w
    return np.asarray(((limit_c - heat.room_c) / rise) ** (1.0 / exponent)) if rise > 0 else np.inf


def clock_ratio(
    services: tuple[Service, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange,
    heat: HeatFacts | None,
) -> FloatArray | None:  # fmt: skip
    """Share of the full clock held then over that held today; None = as today.

    For the same processor the resistance is measured; of another only plate to room carries over, and a cooler's own
    part follows its rated power.
    """
    if change.power_w is not None:
        return _of_another(services, figures, draws, change, heat)
    if figures.throttled:
        ceiling: float | None = figures.full_clock_mhz / figures.sustained_clock_mhz
    else:
        ceiling = power_ceiling(figures) if change.lower_voltage else None
    if ceiling is None:
        return None
    path = _path_ratio(services, figures, draws, change) if figures.throttled else None
    voltage = draws.voltage if change.lower_voltage and figures.lower_voltage else None
    if path is None and voltage is None:
        return None
    more = (1.0 if path is None else path) / (1.0 if voltage is None else voltage)
    return np.clip(np.asarray(more ** (1.0 / draws.exponent)), 1.0, ceiling)


def power_ceiling(figures: BeforeFigures) -> float | None:
    """Up to what factor the clock rises where a power budget holds it; None where none does. A profile, a signal from
    outside or a weak adapter may hold the clock itself: then less power lifts nothing."""
    throttle = figures.reading.throttle if figures.reading is not None else None
    over = throttle is not None and throttle.kind is HeldBack.BOOST_OVER
    if throttle is None or not over or not throttle.sustained_clock_mhz or figures.highest_clock_mhz is None:
        return None
    return max(figures.highest_clock_mhz / throttle.sustained_clock_mhz, 1.0)  # one thread is let no higher


def _path_ratio(
    services: tuple[Service, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange
) -> FloatArray | None:
    """Resistance of the heat's way today over that with the plan; None = as today, or not measured."""
    fast, slow = figures.r_fast_k_w, figures.r_slow_k_w
    if fast is None or slow is None or not (services or change.fan or change.cooler_ratio is not None):
        return None
    fresh = Service.NEW_PASTE in services or change.cooler_ratio is not None  # a new cooler goes on with a new layer
    paste = draws.paste if fresh else np.ones(draws.overlap.size)
    return np.asarray((fast + slow) / (fast * paste + slow * _sink(services, draws, change)))


def _of_another(
    services: tuple[Service, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange,
    heat: HeatFacts | None,
) -> FloatArray | None:  # fmt: skip
    """Of another processor: the share of its rated clock that the heat's way and the board's supply carry at its
    design power, over the share held today. None where neither is known."""
    fast, slow, watts = figures.r_fast_k_w, figures.r_slow_k_w, change.power_w or 1.0
    allowed = [] if change.board_w is None else [np.full(draws.overlap.size, change.board_w)]
    if fast is not None and slow is not None and heat is not None:
        die = fast * draws.paste * draws.die  # a new layer of paste comes with another processor
        path = die + slow * _sink(services, draws, change)
        allowed.append(np.maximum((change.limit_c - heat.room_c) / path, 1.0))
    if not allowed:
        return None
    then = np.minimum((np.min(allowed, axis=0) / watts) ** (1.0 / draws.exponent), 1.0)
    return np.asarray(then * figures.full_clock_mhz / figures.sustained_clock_mhz)


def _sink(services: tuple[Service, ...], draws: Draws, change: ProcessorChange) -> FloatArray:
    """Factor on plate to room; a new cooler brings clean fins and a fan of its own."""
    if change.cooler_ratio is not None:
        return np.asarray(draws.sink / change.cooler_ratio)
    one = np.ones(draws.overlap.size)
    clean = draws.clean if Service.CLEAN_FINS in services else one
    return np.asarray(clean * (draws.fan if change.fan else one))


def rise_ratio(
    services: tuple[Service, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange
) -> FloatArray | None:
    """How far the chip rises over the room then, by how far it rises today, at the same clock or at another processor's
    design power; shape (DRAWS,), None = as today or not measured."""
    fast, slow = figures.r_fast_k_w, figures.r_slow_k_w
    if fast is None or slow is None or not (services or change.fan or change.cooler_ratio or change.power_w):
        return None
    one = np.ones(draws.overlap.size)
    fresh = Service.NEW_PASTE in services or change.power_w or change.cooler_ratio is not None
    paste = draws.paste if fresh else one
    sink = _sink(services, draws, change)
    die = paste * (draws.die if change.power_w else one)
    power = _power_then(figures, draws, change)
    return None if power is None else np.asarray(power * (fast * die + slow * sink) / (fast + slow))


def _power_then(figures: BeforeFigures, draws: Draws, change: ProcessorChange) -> FloatArray | float | None:
    """Power at the same clock, or at another processor's design power, over today's; None where that is not known."""
    if change.power_w:
        today_w = figures.reading.power_ref_w if figures.reading is not None else 0.0
        return change.power_w / today_w if today_w > 0.0 else None
    return draws.voltage if change.lower_voltage and figures.lower_voltage else 1.0
