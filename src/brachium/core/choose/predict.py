"""Predicted gain of a plan with its spread, and what each change contributes.

Every ratio is a log-normal with a stated spread, drawn once with a fixed seed and shared by all subsets of the plan,
so that contributions add up. Contributions average the gain in its logarithm over all orders of applying the changes.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations
from math import factorial

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.band import Band
from brachium.core.base.why import Because
from brachium.core.choose.draws import DRAWS, Draws, draw
from brachium.core.choose.held_clock import clock_ratio, power_ratio
from brachium.core.choose.new_processor import ProcessorChange, change_of, graphics_ratio, network_ratio
from brachium.core.choose.paging import fewer_waits
from brachium.core.choose.prediction_reasons import reasons_of
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.drives.copy_time import mean_rate_mb_s
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.fit.rules.storage import link_ceiling_mb_s, link_of
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.new_board import as_it_will_be
from brachium.core.machine.parts import Drive
from brachium.core.machine.platform import BATTERY
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.system_drive import system_drive
from brachium.core.plan.candidates import Candidate, planned, services_of
from brachium.core.record.correction import NONE, Correction
from brachium.core.use.profile import UseProfile

LEAST_LATENCY = 0.2  # no drive that is offered answers five times later


@dataclass(frozen=True)
class Contribution:
    """What one change brings as part of the plan, and what it would bring alone; `unknown` says why nobody can tell."""

    candidate_id: str
    title: str
    band: Band
    alone: Band
    unknown: str = ""


@dataclass(frozen=True)
class Prediction:
    """Predicted work per time of a plan against today, with its 80 % band."""

    band: Band
    contributions: tuple[Contribution, ...]
    because: Because


def predict(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures,
    heat: HeatFacts | None = None, correction: Correction = NONE,
) -> Prediction | None:  # fmt: skip
    """Prediction of a plan; None for an empty plan. Needs the before-run's figures; `heat` for other processors,
    `correction` from the shop's own record."""
    if not chosen:
        return None
    draws = draw(profile, figures, machine)

    known: dict[tuple[str, ...], FloatArray] = {}

    def log_gain(subset: tuple[Candidate, ...]) -> FloatArray:
        ids = tuple(c.id for c in subset)
        if ids not in known:
            known[ids] = np.log(_gain(machine, subset, profile, figures, draws, heat))
        return known[ids]

    total = np.exp(log_gain(chosen))
    parts = tuple(
        Contribution(
            c.id, c.title,
            correction.applied(Band.of(np.exp(_average_gain(c, chosen, log_gain))), [c.group.value]),
            correction.applied(Band.of(np.exp(log_gain((c,)))), [c.group.value]),
            unknown_gain(machine, c, profile, figures),
        )
        for c in chosen
    )  # fmt: skip
    band = correction.applied(Band.of(total * draws.scatter), [c.group.value for c in chosen])
    return Prediction(band, parts, reasons_of(planned(machine, chosen), profile, figures, draws.paging, band))


def bands_of(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None = None,
) -> Band:  # fmt: skip
    """Band of a plan from common draws; an empty plan is today's machine."""
    gain = _gain(machine, chosen, profile, figures, draws, heat)
    band = Band.of(gain * draws.scatter if chosen else gain)
    return draws.correction.applied(band, [c.group.value for c in chosen])


def _average_gain(
    one: Candidate, chosen: tuple[Candidate, ...], log_gain: Callable[[tuple[Candidate, ...]], FloatArray]
) -> FloatArray:
    """Shapley value of one change on the logarithm of the gain, per draw."""
    others = [c for c in chosen if c is not one]
    n = len(chosen)
    out = np.zeros(DRAWS)
    for size in range(n):
        weight = factorial(size) * factorial(n - size - 1) / factorial(n)
        for subset in combinations(others, size):
            with_it = tuple(c for c in chosen if c is one or c in subset)
            out += weight * (log_gain(with_it) - log_gain(subset))
    return out


def _gain(
    machine: Machine, subset: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None,
) -> FloatArray:  # fmt: skip
    return work_ratio(draws.shares, speedups_of(machine, subset, profile, figures, draws, heat), draws.overlap)


def speedups_of(
    machine: Machine, subset: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures, draws: Draws,
    heat: HeatFacts | None = None,
) -> dict[str, FloatArray]:  # fmt: skip
    """Speed-up of each resource that a plan changes, each of shape (DRAWS,)."""
    today, later = machine.configuration(), planned(machine, subset)
    speedups: dict[str, FloatArray] = {}
    change = change_of(machine, subset)
    clock = _clock(machine, subset, figures, draws, change, heat)
    if clock is not None:
        speedups["all"] = clock
    if change.all_ratio is not None:
        speedups["chip"] = change.all_ratio * draws.rated  # read by the odds of targets
    if change.single_ratio is not None:
        speedups["single"] = change.single_ratio * draws.rated
    graphics = graphics_ratio(machine, subset)
    if graphics is not None:
        speedups["graphics"] = graphics * draws.rated
    port = network_ratio(machine, subset)
    if port is not None:
        speedups["network"] = port**draws.port
    then = as_it_will_be(machine, later)
    rates = bandwidth_mb_s(machine, today), bandwidth_mb_s(then, later)
    if rates[0] and rates[1] and rates[0] != rates[1]:
        speedups["memory"] = 1.0 + (rates[1] / rates[0] - 1.0) * draws.channel_use
    return speedups | _storage((machine, then), today, later, draws)


def charge_ratio(today: Configuration, later: Configuration) -> float | None:
    """Charge of the battery that will be there over today's; None = as today or not known."""
    old, new = today.parts.get(BATTERY), later.parts.get(BATTERY)
    if not isinstance(old, Battery) or not isinstance(new, Battery) or old == new:
        return None
    return new.full_wh / old.full_wh if new.full_wh and old.full_wh else None


def _clock(
    machine: Machine, subset: tuple[Candidate, ...], figures: BeforeFigures, draws: Draws, change: ProcessorChange,
    heat: HeatFacts | None,
) -> FloatArray | None:  # fmt: skip
    """Speed-up of work on all threads: what cooling, power and another processor do to its clock; None = as today."""
    cooled = clock_ratio(services_of(subset), figures, draws, change, heat)
    if change.all_ratio is not None:
        rated = change.all_ratio * draws.rated
        return rated if cooled is None else cooled * rated
    back = power_ratio({c.group for c in subset}, machine, figures, draws, heat)
    if cooled is None or back is None:
        return back if cooled is None else cooled
    return np.maximum(cooled, back)  # what holds the power back goes once


def _storage(
    machines: tuple[Machine, Machine], today: Configuration, later: Configuration, draws: Draws
) -> dict[str, FloatArray]:
    """`machines` as it is and as it will be: another board has other links."""
    out: dict[str, FloatArray] = {}
    machine, then = machines
    old, new = system_drive(machine, today), system_drive(then, later)
    if old is not None and new is not None and old[1] is not new[1]:
        out["random"] = np.maximum(old[1].read_latency_ms / new[1].read_latency_ms * draws.latency, LEAST_LATENCY)
        out["sequential"] = sequential_mb_s(then, *new) / sequential_mb_s(machine, *old) * draws.rate
        out["paging"] = waits_ratio(old[1], new[1], draws)
    if today.memory_bytes() != later.memory_bytes():
        out["paging"] = out.get("paging", 1.0) * fewer_waits(draws.paging, today, later)
    return out


def waits_ratio(old: Drive, new: Drive, draws: Draws) -> FloatArray:
    """How much shorter a task waits for the same requests of another drive: drive, kernel and link together, shape
    (DRAWS,)."""
    before = old.read_latency_ms + draws.request_ms
    return np.maximum(before / (new.read_latency_ms / draws.latency + draws.request_ms), LEAST_LATENCY)


def sequential_mb_s(machine: Machine, place_id: str, drive: Drive) -> float:
    """Mean sequential rate over the drive, at most what its link carries [MB/s]."""
    mean = mean_rate_mb_s(drive)
    bay = next((b for b in machine.bays if b.id == place_id), None)
    rate = link_of(bay, drive) if bay is not None else None
    return mean if bay is None or rate is None else min(mean, link_ceiling_mb_s(bay, rate, drive.interface))
