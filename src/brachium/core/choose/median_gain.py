"""Median gain of every plan in closed form: the prediction's functional with its central values, vectorised.

Per group only a few figures of an option matter (memory bandwidth ratio and misses, drive latency and rate, the factors
of the services, a processor's rates and power, a cooler's rating), so the product is a broadcast over short arrays.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.choose.draws import Draws, draw
from brachium.core.choose.held_clock import carried, power_ceiling
from brachium.core.choose.new_processor import ProcessorChange, change_of, graphics_ratio, network_ratio
from brachium.core.choose.paging import fewer_waits
from brachium.core.choose.predict import LEAST_LATENCY, sequential_mb_s, waits_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.new_board import as_it_will_be
from brachium.core.machine.parts import Service
from brachium.core.machine.system_drive import system_drive
from brachium.core.plan.candidates import Candidate, Group, planned
from brachium.core.use.profile import UseProfile

if TYPE_CHECKING:
    from brachium.core.choose.compatibility import Option


@dataclass(frozen=True)
class Central:
    """Speed-ups along the axes of the product, each reshaped to broadcast; shares of time today; overlap 0..1."""

    shares: Mapping[str, float]
    overlap: float
    clock: FloatArray
    single: FloatArray
    bandwidth: FloatArray
    latency: FloatArray
    waits: FloatArray
    rate: FloatArray
    graphics: FloatArray
    network: FloatArray
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
        draws = draw(profile, figures, machine) if draws is None else draws
        return _Compiler(machine, axes, profile, figures, draws, heat, base).compiled()


@dataclass(frozen=True)
class _Cooling:
    """Factors on chip to plate and plate to room, each along its axis; `cooler` 0 = the old one stays, a new one goes
    on with a `fresh` layer of paste; `voltage` on the power at the same clock."""

    paste: FloatArray
    clean: FloatArray
    cooler: FloatArray
    voltage: FloatArray
    fresh: float


def _held(
    cooling: _Cooling, changes: list[ProcessorChange], along: Callable[[list[float]], FloatArray],
    figures: BeforeFigures, exponent: float, die: float, heat: HeatFacts | None,
) -> FloatArray:  # fmt: skip
    """Share of the full clock held then over today's, for every set of cooling options, voltage and processor."""
    fast, slow = figures.r_fast_k_w, figures.r_slow_k_w
    sink = np.where(cooling.cooler > 0.0, cooling.cooler, cooling.clean)
    paste = np.where(cooling.cooler > 0.0, cooling.fresh, cooling.paste)
    held = figures.full_clock_mhz / figures.sustained_clock_mhz
    ceiling = held if figures.throttled else power_ceiling(figures) or 1.0
    path = np.ones(np.broadcast_shapes(paste.shape, sink.shape))
    if fast is not None and slow is not None and figures.throttled:
        path = (fast + slow) / (fast * paste + slow * sink)
    same = np.clip((path / cooling.voltage) ** (1.0 / exponent), 1.0, ceiling)
    new = along([float(c.power_w is not None) for c in changes])
    limits = None
    if fast is not None and slow is not None and heat is not None:
        limits = np.maximum((along([c.limit_c for c in changes]) - heat.room_c) / (fast * die + slow * sink), 1.0)
    return np.where(new > 0.0, _of_another(changes, along, limits, exponent, held), same)


def _of_another(
    changes: list[ProcessorChange], along: Callable[[list[float]], FloatArray], carried_w: FloatArray | None,
    exponent: float, held: float,
) -> FloatArray:  # fmt: skip
    """Share of its rated clock that another processor holds by the heat that is carried, None = not known, and by what
    the board supplies, over today's share 1 / `held`; 1 where neither is known."""
    most = along([np.inf if c.board_w is None else c.board_w for c in changes])
    if carried_w is not None:
        most = np.minimum(most, carried_w)
    share = np.minimum((most / along([c.power_w or 1.0 for c in changes])) ** (1.0 / exponent), 1.0)
    return np.where(np.isfinite(most), share * held, 1.0)


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


def _drive(machine: Machine, chosen: tuple[Candidate, ...], draws: Draws) -> tuple[float, float, float]:
    """(speed-up of small reads, of waiting for them in the task, of long ones)."""
    later = planned(machine, chosen)
    then = as_it_will_be(machine, later)
    old, new = system_drive(machine, machine.configuration()), system_drive(then, later)
    if old is None or new is None or old[1] is new[1]:
        return 1.0, 1.0, 1.0
    late, fast = _one_value(draws.latency), _one_value(draws.rate)
    latency = max(old[1].read_latency_ms / new[1].read_latency_ms * late, LEAST_LATENCY)
    rate = sequential_mb_s(then, *new) / sequential_mb_s(machine, *old) * fast
    return latency, _one_value(waits_ratio(old[1], new[1], draws)), rate


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
    if key == "network":
        return c.network
    if key == "memory":
        return c.bandwidth
    if key == "random":
        return c.latency
    if key == "sequential":
        return c.rate
    if key == "paging":
        return c.waits * c.fewer_misses
    return 1.0


@dataclass(frozen=True)
class _Compiler:
    """What the options of a machine bring, each along the axis of its group."""

    machine: Machine
    axes: tuple[tuple[Option | None, ...], ...]
    profile: UseProfile
    figures: BeforeFigures
    draws: Draws
    heat: HeatFacts | None
    base: tuple[Candidate, ...]

    def compiled(self) -> Central:
        middle = {k: float(np.median(v)) for k, v in self.draws.shares.items()}
        shares = {k: v / sum(middle.values()) for k, v in middle.items()}
        rated = _one_value(self.draws.rated)
        changes = [change_of(self.machine, _one(o)) for o in self._options(Group.PROCESSOR)]
        latency, waits, rate = self._drives()
        return Central(
            shares, _one_value(self.draws.overlap),
            self._held(changes) * self._along(Group.PROCESSOR, [_rated(rated, c.all_ratio) for c in changes])
            * self._power_back(changes),
            self._along(Group.PROCESSOR, [_rated(rated, c.single_ratio) for c in changes]),
            self._bandwidth(), latency, waits, rate, self._pictures(rated), self._network(), self._fewer_misses(),
            tuple(len(a) for a in self.axes),
        )  # fmt: skip

    def _power_back(self, changes: list[ProcessorChange]) -> FloatArray | float:
        """Factor on the clock of battery and adapter, where the processor stays."""
        if self.figures.power_clock is None:
            return 1.0
        factors = ((Group.BATTERY, self.draws.battery), (Group.ADAPTER, self.draws.adapter))
        battery, adapter = (
            self._along(g, [1.0 if o is None else _one_value(f) for o in self._options(g)]) for g, f in factors
        )
        most = carried(self.machine, self.figures, self.heat, _one_value(self.draws.exponent))
        back = np.minimum(np.maximum(battery, adapter), np.maximum(most, 1.0))
        stays = self._along(Group.PROCESSOR, [float(c.all_ratio is None) for c in changes])
        return np.where(stays > 0.0, back, 1.0)

    def _options(self, group: Group) -> tuple[Option | None, ...]:
        return self.axes[AXIS[group]]

    def _along(self, group: Group, values: Sequence[float]) -> FloatArray:
        return np.array(values).reshape([-1 if k == AXIS[group] else 1 for k in range(len(self.axes))])

    def _drives(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Speed-ups of small reads, of waiting for them in the task, and of long reads."""
        found = [_drive(self.machine, (*self.base, *_one(o)), self.draws) for o in self._options(Group.DRIVE)]
        latency, waits, rate = (self._along(Group.DRIVE, list(column)) for column in zip(*found, strict=True))
        return latency, waits, rate

    def _fewer_misses(self) -> FloatArray:
        """Speed-up of the task's waiting: less of the working set is missing."""
        today = self.machine.configuration()
        later = [planned(self.machine, _one(o)) for o in self._options(Group.MEMORY)]
        return self._along(Group.MEMORY, [_one_value(fewer_waits(self.draws.paging, today, c)) for c in later])

    def _pictures(self, rated: float) -> FloatArray:
        found = [graphics_ratio(self.machine, _one(o)) for o in self._options(Group.CARD)]
        return self._along(Group.CARD, [_rated(rated, g) for g in found])

    def _network(self) -> FloatArray:
        found = [network_ratio(self.machine, _one(o)) for o in self._options(Group.CARD)]
        return self._along(Group.CARD, [1.0 if n is None else n ** _one_value(self.draws.port) for n in found])

    def _bandwidth(self) -> FloatArray:
        use = _one_value(self.draws.channel_use)
        memory, chips = self._options(Group.MEMORY), self._options(Group.PROCESSOR)
        table = np.array([
            [_bandwidth(self.machine, (*self.base, *_one(m), *_one(c)), use) for c in chips] for m in memory
        ])  # fmt: skip
        sizes = {AXIS[Group.MEMORY]: len(memory), AXIS[Group.PROCESSOR]: len(chips)}
        return table.reshape([sizes.get(k, 1) for k in range(len(self.axes))])

    def _held(self, changes: list[ProcessorChange]) -> FloatArray:
        draws = self.draws
        paste, clean, sink = (_one_value(v) for v in (draws.paste, draws.clean, draws.sink))
        coolers = [change_of(self.machine, _one(o)).cooler_ratio for o in self._options(Group.COOLER)]
        cooling = _Cooling(
            self._along(Group.PASTE, [paste if _serves(o, Service.NEW_PASTE) else 1.0
                                      for o in self._options(Group.PASTE)]),
            self._along(Group.CLEANING, [clean if _serves(o, Service.CLEAN_FINS) else 1.0
                                         for o in self._options(Group.CLEANING)])
            * self._along(Group.FAN, [_one_value(draws.fan) if change_of(self.machine, _one(o)).fan else 1.0
                                      for o in self._options(Group.FAN)]),
            self._along(Group.COOLER, [0.0 if c is None else sink / c for c in coolers]),
            self._along(Group.VOLTAGE, [_one_value(draws.voltage) if _serves(o, Service.LOWER_VOLTAGE)
                                        and self.figures.lower_voltage else 1.0
                                        for o in self._options(Group.VOLTAGE)]), paste,
        )  # fmt: skip
        return _held(cooling, changes, lambda values: self._along(Group.PROCESSOR, values), self.figures,
                     _one_value(draws.exponent), paste * _one_value(draws.die), self.heat)  # fmt: skip


AXIS = {group: k for k, group in enumerate(Group)}


def _rated(rated: float, ratio: float | None) -> float:
    """A ratio of rated work rates; nothing changes where it is not known."""
    return rated * ratio if ratio else 1.0


def _one_value(values: FloatArray) -> float:
    """The median of the draws."""
    return float(np.median(values))
