"""Signs read from figures on paper: what was typed of the machine as it came in, where nothing was sampled."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from brachium.core.base.units import GIB, percent
from brachium.core.base.why import Origin
from brachium.core.cause.assumptions import COOL_K, DISK_BUSY, DISK_IDLE, MEMORY_FULL, NEAR_LIMIT_TYPED_K, TOP_CLOCK
from brachium.core.cause.ranking import Observation
from brachium.core.machine.machine import Machine
from brachium.core.measure.own_tests import OwnResult, kind_of_test


def typed_signs(machine: Machine, results: Sequence[OwnResult]) -> tuple[Observation, ...]:
    """Every sign that the typed figures tell; a figure without its counterpart in the record tells nothing."""
    figures = _medians(results)
    found = [_memory(machine, figures), _storage(figures)]
    return (*(o for o in found if o is not None), *_heat(machine, figures))


def _medians(results: Sequence[OwnResult]) -> dict[str, float]:
    by_kind: dict[str, list[float]] = {}
    for result in results:
        if not result.invalid:
            by_kind.setdefault(kind_of_test(result.test_id), []).append(result.value)
    return {kind: float(np.median(values)) for kind, values in by_kind.items()}


def _memory(machine: Machine, figures: dict[str, float]) -> Observation | None:
    size = machine.configuration().memory_bytes()
    used = figures.get("memwork", figures.get("memidle"))
    if used is None or not size:
        return None
    share = used * GIB / size
    if "memwork" not in figures and share <= MEMORY_FULL:
        return None  # room left while idle says nothing of the work
    state = "full" if share > MEMORY_FULL else "room left"
    return Observation("memory_use", state, f"{percent(share)}, typed", Origin.TYPED)


def _storage(figures: dict[str, float]) -> Observation | None:
    busy = figures.get("diskbusy")
    if busy is None or DISK_IDLE < busy < DISK_BUSY:
        return None
    return Observation(
        "stall", "much" if busy >= DISK_BUSY else "hardly", f"drive busy {busy:.0f} %, typed", Origin.TYPED
    )


def _heat(machine: Machine, figures: dict[str, float]) -> list[Observation]:
    """Clock against its rating, and whether the chip stood at its limit when it fell."""
    chip = machine.processor
    clock, rated = figures.get("clock"), chip.boost_mhz or chip.base_mhz
    if clock is None or rated is None:
        return []
    words = f"{clock:.0f} of {rated:.0f} MHz, typed"
    if clock >= TOP_CLOCK * (chip.base_mhz or rated):  # a boost that ends is no fault
        return [
            Observation("top_clock", "as rated", words, Origin.TYPED),
            Observation("held", "not", words, Origin.TYPED),
        ]
    hot, limit = figures.get("chipload"), chip.limit_c
    if hot is None or limit is None:
        return []  # nobody knows by what
    words = f"{words}, at {hot:.0f} °C of {limit:.0f} °C"
    if hot >= limit - NEAR_LIMIT_TYPED_K:  # the highest clock is not told where heat pulls it down
        return [Observation("held", "by heat", words, Origin.TYPED)]
    states = (("top_clock", "below its rating"), ("held", "far from its limit")) if hot <= limit - COOL_K else ()
    return [Observation(sign, state, words, Origin.TYPED) for sign, state in states]
