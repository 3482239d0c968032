"""Median gain of every plan in closed form: the prediction's functional with its central values, vectorised.

Per group only a few figures of an option matter (memory bandwidth ratio and misses, drive latency and rate, the factors
of the services, a processor's rates and power, a cooler's rating), so the product is a broadcast over short arrays.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.choose.new_processor import ProcessorChange, change_of, graphics_ratio
from brachium.core.choose.predict import Draws, draw, miss_share, sequential_mb_s
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine, bandwidth_mb_s
from brachium.core.machine.new_board import as_it_will_be
from brachium.core.machine.parts import Service
from brachium.core.machine.system_drive import system_drive
from brachium.core.plan.candidates import Candidate, Group, planned
from brachium.core.use.profile import UseProfile

if TYPE_CHECKING:
    from brachium.core.choose.compatibility import Option

LEAST_MISSES = 1e-3


@dataclass(frozen=True)
class Central:
    """Speed-ups along the axes of the product, each reshaped to broadcast; shares of time today; overlap 0..1."""

    shares: Mapping[str, float]
    overlap: float
    clock: FloatArray
    single: FloatArray
    bandwidth: FloatArray
    latency: FloatArray
    rate: FloatArray
    graphics: FloatArray
    fewer_misses: FloatArray
    shape: tuple[int, ...]

    @staticmethod
    def of(
        machine: Machine,
        axes: tuple[tuple[Option | None, ...], ...],
        profile: UseProfile,
        figures: BeforeFigures,
        draws: Draws | None = None,
        heat: HeatFacts | None = None,
        base: tuple[Candidate, ...] = (),
    ) -> Central:
        """Compile the options of a machine; central values are the medians of the draws. `base` is in every plan."""
        draws = draw(profile, figures) if draws is None else draws
        middle = {k: float(np.median(v)) for k, v in draws.shares.items()}
        at = {group: k for k, group in enumerate(Group)}
        n = len(axes)

        def along(group: Group, values: list[float]) -> FloatArray:
            return np.array(values).reshape([-1 if k == at[group] else 1 for k in range(n)])

        def one(values: FloatArray) -> float:
            return float(np.median(values))

        use = one(draws.channel_use)
        memory, chips = axes[at[Group.MEMORY]], axes[at[Group.PROCESSOR]]
        drive = [_drive(machine, (*base, *_one(o)), one(draws.latency), one(draws.rate)) for o in axes[at[Group.DRIVE]]]
        shares = {k: v / sum(middle.values()) for k, v in middle.items()}
        today = miss_share(profile, machine.configuration())
        misses = [miss_share(profile, planned(machine, _one(o))) for o in memory]
        fewer = [1.0 / max(m / today, LEAST_MISSES) if today > 0 else 1.0 for m in misses]
        paste = [one(draws.paste) if _serves(o, Service.NEW_PASTE) else 1.0 for o in axes[at[Group.PASTE]]]
        clean = [one(draws.clean) if _serves(o, Service.CLEAN_FINS) else 1.0 for o in axes[at[Group.CLEANING]]]
        changes = [change_of(machine, _one(o)) for o in chips]
        coolers = [change_of(machine, _one(o)).cooler_ratio for o in axes[at[Group.COOLER]]]
        held = _held(
            _Cooling(along(Group.PASTE, paste), along(Group.CLEANING, clean),
                     along(Group.COOLER, [0.0 if c is None else one(draws.sink) / c for c in coolers])),
            changes, lambda values: along(Group.PROCESSOR, values), figures,
            one(draws.exponent), one(draws.paste) * one(draws.die), heat,
        )  # fmt: skip
        rated = one(draws.rated)
        single = [rated * c.single_ratio if c.single_ratio else 1.0 for c in changes]
        every = [rated * c.all_ratio if c.all_ratio else 1.0 for c in changes]
        pictures = [graphics_ratio(machine, _one(o)) for o in axes[at[Group.CARD]]]
        bandwidth = np.array([[_bandwidth(machine, (*base, *_one(m), *_one(c)), use) for c in chips] for m in memory])
        return Central(
            shares, one(draws.overlap),
            held * along(Group.PROCESSOR, every),
            along(Group.PROCESSOR, single),
            bandwidth.reshape([len(memory) if k == at[Group.MEMORY] else len(chips) if k == at[Group.PROCESSOR] else 1
                               for k in range(n)]),
            along(Group.DRIVE, [d[0] for d in drive]), along(Group.DRIVE, [d[1] for d in drive]),
            along(Group.CARD, [rated * g if g else 1.0 for g in pictures]), along(Group.MEMORY, fewer),
            tuple(len(a) for a in axes),
        )  # fmt: skip


@dataclass(frozen=True)
class _Cooling:
    """Factors on chip to plate and plate to room, each along its axis; `cooler` 0 = the old one stays."""

    paste: FloatArray
    clean: FloatArray
    cooler: FloatArray


def _held(
    cooling: _Cooling, changes: list[ProcessorChange], along: Callable[[list[float]], FloatArray],
    figures: BeforeFigures, exponent: float, die: float, heat: HeatFacts | None,
) -> FloatArray:  # fmt: skip
    """Share of the full clock held then over today's, for every set of cooling options and processor."""
    fast, slow = figures.r_fast_k_w, figures.r_slow_k_w
    if fast is None or slow is None:
        return along([1.0] * len(changes))
    sink = np.where(cooling.cooler > 0.0, cooling.cooler, cooling.clean)
    ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
    same = np.ones(np.broadcast_shapes(cooling.paste.shape, sink.shape))
    if figures.throttled:
        same = np.clip(((fast + slow) / (fast * cooling.paste + slow * sink)) ** (1.0 / exponent), 1.0, ceiling)
    new = [k for k, c in enumerate(changes) if c.power_w is not None and heat is not None]
    if not new or heat is None:
        return same * along([1.0] * len(changes))
    watts = along([c.power_w or 1.0 for c in changes])
    limit = along([c.limit_c for c in changes])
    allowed = np.maximum((limit - heat.room_c) / (fast * die + slow * sink), 1.0)
    other = np.minimum((allowed / watts) ** (1.0 / exponent), 1.0) * ceiling
    return np.where(along([float(k in new) for k in range(len(changes))]) > 0.0, other, same)


def _one(option: Option | None) -> tuple[Candidate, ...]:
    return () if option is None else (option.candidate,)


def _serves(option: Option | None, service: Service) -> bool:
    return option is not None and service in option.candidate.services


def _bandwidth(machine: Machine, chosen: tuple[Candidate, ...], use: float) -> float:
    """Speed-up of memory-bound work."""
    before = bandwidth_mb_s(machine, machine.configuration())
    later = planned(machine, chosen)
    after = bandwidth_mb_s(as_it_will_be(machine, later), later)
    return 1.0 + (after / before - 1.0) * use if before and after else 1.0


def _drive(machine: Machine, chosen: tuple[Candidate, ...], late: float, fast: float) -> tuple[float, float]:
    """(speed-up of small reads, of long ones)."""
    later = planned(machine, chosen)
    then = as_it_will_be(machine, later)
    old, new = system_drive(machine, machine.configuration()), system_drive(then, later)
    if old is None or new is None or old[1] is new[1]:
        return 1.0, 1.0
    latency = max(old[1].read_latency_ms / new[1].read_latency_ms * late, 0.2)
    return latency, sequential_mb_s(then, *new) / sequential_mb_s(machine, *old) * fast


def central_gain(c: Central) -> FloatArray:
    """Gain of every plan over today, shape of the product."""
    parts = [(share, _speed(c, key)) for key, share in c.shares.items()]
    total: FloatArray = np.zeros(c.shape)
    largest: FloatArray = np.zeros(c.shape)
    for share, speed in parts:
        time = share / speed
        total = total + time
        largest = np.maximum(largest, time)
    whole, top = sum(c.shares.values()), max(c.shares.values())
    today = c.overlap * top + (1.0 - c.overlap) * whole
    return today / (c.overlap * largest + (1.0 - c.overlap) * total)


def _speed(c: Central, key: str) -> FloatArray | float:
    if key == "all":
        return c.clock
    if key == "single":
        return c.single
    if key == "graphics":
        return c.graphics
    if key == "memory":
        return c.bandwidth
    if key == "random":
        return c.latency
    if key == "sequential":
        return c.rate
    if key == "paging":
        return c.latency * c.fewer_misses
    return 1.0
