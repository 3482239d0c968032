"""Signs read from figures on paper: what was typed of the machine as it came in, where nothing was sampled."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
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
    return Observation("memory_use", state, phrase("{share}, typed", share=percent(share)), Origin.TYPED)


def _storage(figures: dict[str, float]) -> Observation | None:
    busy = figures.get("diskbusy")
    if busy is None or DISK_IDLE < busy < DISK_BUSY:
        return None
    return Observation(
        "stall",
        "much" if busy >= DISK_BUSY else "hardly",
        phrase("drive busy {busy:.0f} %, typed", busy=busy),
        Origin.TYPED,
    )


def _heat(machine: Machine, figures: dict[str, float]) -> list[Observation]:
    """Clock against its rating, and whether the chip stood at its limit when it fell."""
    chip, clock = machine.processor, figures.get("clock")
    rated = chip.boost_mhz or chip.base_mhz
    if clock is None or rated is None:
        return []
    hot, limit = figures.get("chipload"), chip.limit_c
    room_k = limit - hot if hot is not None and limit is not None else None
    words = phrase("{clock:.0f} of {rated:.0f} MHz, typed", clock=clock, rated=rated)
    at = phrase(", at {hot:.0f} °C of {limit:.0f} °C", hot=hot, limit=limit) if room_k is not None else ""
    states = _states(clock, chip.base_mhz, chip.boost_mhz, room_k)
    return [Observation(sign, state, phrase("{words}{at}", words=words, at=at), Origin.TYPED) for sign, state in states]


def _states(
    clock: float, base: float | None, boost: float | None, room_k: float | None
) -> tuple[tuple[str, str], ...]:  # fmt: skip
    """(sign, state) of a clock [MHz] with so much room to the chip's limit [K]; a boost that ends is no fault."""
    if boost is not None and clock >= TOP_CLOCK * boost:
        return ("top_clock", "as rated"), ("held", "not")
    if base is None:
        return ()  # nobody knows whether only the boost ended
    at_limit = room_k is not None and room_k <= NEAR_LIMIT_TYPED_K
    if clock >= TOP_CLOCK * base:  # at the limit heat may well take the boost away
        if boost is None:
            return ()  # nobody knows how high it could go
        known = room_k is not None and not at_limit
        return (("top_clock", "as rated"), ("held", "not")) if known else (("top_clock", "as rated"),)
    if at_limit:  # the highest clock is not told where heat pulls it down
        return (("held", "by heat"),)
    cool = room_k is not None and room_k >= COOL_K
    return (("top_clock", "below its base clock"), ("held", "far from its limit")) if cool else ()
