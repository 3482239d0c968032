"""Median gain of every plan in closed form: the prediction's functional with its central values, vectorised.

Per group only a few figures of an option matter (memory bandwidth ratio and misses, drive latency and rate, the factors
of the two services), so the product is a broadcast over short arrays.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from brachium.core.arrays import FloatArray
from brachium.core.cause.figures import BeforeFigures
from brachium.core.choose.catalogue import Candidate, Group, planned
from brachium.core.choose.predict import (
    Draws,
    draw,
    miss_share,
    sequential_mb_s,
    system_drive,
)
from brachium.core.choose.profile import UseProfile
from brachium.core.machine.machine import Machine, bandwidth_mb_s
from brachium.core.machine.parts import Service

if TYPE_CHECKING:
    from brachium.core.choose.front import Option

LEAST_MISSES = 1e-3


@dataclass(frozen=True)
class Central:
    """Speed-ups along the axes of the product, each reshaped to broadcast; shares of time today; overlap 0..1."""

    shares: Mapping[str, float]
    overlap: float
    clock: FloatArray
    bandwidth: FloatArray
    latency: FloatArray
    rate: FloatArray
    fewer_misses: FloatArray
    shape: tuple[int, ...]

    @staticmethod
    def of(
        machine: Machine,
        axes: tuple[tuple[Option | None, ...], ...],
        profile: UseProfile,
        figures: BeforeFigures,
        draws: Draws | None = None,
    ) -> Central:
        """Compile the options of a machine; central values are the medians of the draws."""
        draws = draw(profile, figures) if draws is None else draws
        middle = {k: float(np.median(v)) for k, v in draws.shares.items()}
        at = {group: k for k, group in enumerate(Group)}
        n = len(axes)

        def along(group: Group, values: list[float]) -> FloatArray:
            return np.array(values).reshape([-1 if k == at[group] else 1 for k in range(n)])

        use = float(np.median(draws.channel_use))
        memory = [_memory(machine, _one(o), profile, use) for o in axes[at[Group.MEMORY]]]
        late, fast = float(np.median(draws.latency)), float(np.median(draws.rate))
        drive = [_drive(machine, _one(o), late, fast) for o in axes[at[Group.DRIVE]]]
        misses_today = miss_share(profile, machine.configuration())
        shares = {k: v / sum(middle.values()) for k, v in middle.items()}
        fewer = [1.0 / max(m / misses_today, LEAST_MISSES) if misses_today > 0 else 1.0 for _, m in memory]
        paste_factor, clean_factor = float(np.median(draws.paste)), float(np.median(draws.clean))
        paste = [paste_factor if _serves(o, Service.NEW_PASTE) else 1.0 for o in axes[at[Group.PASTE]]]
        clean = [clean_factor if _serves(o, Service.CLEAN_FINS) else 1.0 for o in axes[at[Group.CLEANING]]]
        return Central(
            shares, float(np.median(draws.overlap)),
            _clock(along(Group.PASTE, paste), along(Group.CLEANING, clean), figures,
                   float(np.median(draws.exponent))),
            along(Group.MEMORY, [b for b, _ in memory]), along(Group.DRIVE, [d[0] for d in drive]),
            along(Group.DRIVE, [d[1] for d in drive]), along(Group.MEMORY, fewer),
            tuple(len(a) for a in axes),
        )  # fmt: skip


def _one(option: Option | None) -> tuple[Candidate, ...]:
    return () if option is None else (option.candidate,)


def _serves(option: Option | None, service: Service) -> bool:
    return option is not None and service in option.candidate.services


def _memory(
    machine: Machine, chosen: tuple[Candidate, ...], profile: UseProfile, use: float
) -> tuple[float, float]:  # fmt: skip
    """(speed-up of memory-bound work, share of accesses that miss)."""
    today, later = machine.configuration(), planned(machine, chosen)
    before, after = bandwidth_mb_s(machine, today), bandwidth_mb_s(machine, later)
    gain = 1.0 + (after / before - 1.0) * use if before and after else 1.0
    return gain, miss_share(profile, later)


def _drive(machine: Machine, chosen: tuple[Candidate, ...], late: float, fast: float) -> tuple[float, float]:
    """(speed-up of small reads, of long ones)."""
    old, new = system_drive(machine, machine.configuration()), system_drive(machine, planned(machine, chosen))
    if old is None or new is None or old[1] is new[1]:
        return 1.0, 1.0
    latency = max(old[1].read_latency_ms / new[1].read_latency_ms * late, 0.2)
    return latency, sequential_mb_s(machine, *new) / sequential_mb_s(machine, *old) * fast


def _clock(paste: FloatArray, clean: FloatArray, figures: BeforeFigures, exponent: float) -> FloatArray:
    """Sustained clock over today's for every pair of services."""
    if not figures.throttled or figures.r_fast_k_w is None or figures.r_slow_k_w is None:
        return np.ones(np.broadcast_shapes(paste.shape, clean.shape))
    before = figures.r_fast_k_w + figures.r_slow_k_w
    after = figures.r_fast_k_w * paste + figures.r_slow_k_w * clean
    ceiling = figures.full_clock_mhz / figures.sustained_clock_mhz
    return np.clip((before / after) ** (1.0 / exponent), 1.0, ceiling)


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
    if key == "memory":
        return c.bandwidth
    if key == "random":
        return c.latency
    if key == "sequential":
        return c.rate
    if key == "paging":
        return c.latency * c.fewer_misses
    return 1.0
