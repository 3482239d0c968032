"""Which state each sign is in: read from the before-run, the record, the scan, the findings and the drive's counters.

A sign that nothing was recorded for is left out, never taken for well. Thresholds are stated beside each sign.
"""

from __future__ import annotations

from brachium.core.base.arrays import filled, smoothed
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.base.units import gib, number, percent
from brachium.core.base.why import Origin
from brachium.core.cause.assumptions import (
    ABOVE,
    BELOW,
    CHIP_SHARE,
    COOL_K,
    FAN_FAR,
    HAS_BOOST,
    RATE,
    SINK_SHARE,
    TOP_CLOCK,
    USABLE,
    WORN,
)
from brachium.core.cause.drive_signs import drive_signs
from brachium.core.cause.known import Known, median_of, observed
from brachium.core.cause.looked_signs import looked_signs
from brachium.core.cause.ranking import Observation
from brachium.core.cause.task_signs import task_signs
from brachium.core.cause.typed_signs import typed_signs
from brachium.core.condition.trials import TrialOutcome
from brachium.core.heat.throttle import HeldBack, ThrottleFinding
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s, channel_sizes, possible_channels
from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.run import Run


def observations(known: Known) -> tuple[Observation, ...]:
    """Every sign that can be read."""
    found = [
        *_heat(known), *_power(known), *_memory(known), *drive_signs(known), *task_signs(known), *looked_signs(known),
    ]  # fmt: skip
    read = {o.sign for o in found}
    return (*found, *(o for o in typed_signs(known.machine, known.own_results) if o.sign not in read))


def _heat(known: Known) -> list[Observation]:
    reading = known.figures.reading if known.figures is not None else None
    if reading is None:
        return []
    out = []
    throttle, stair = reading.throttle, reading.stair
    held = throttle is not None and throttle.kind is HeldBack.THERMAL
    if throttle is not None and throttle.kind is not HeldBack.NOT_KNOWN:
        held_by = {HeldBack.NONE: "not", HeldBack.BOOST_OVER: "not", HeldBack.THERMAL: "by heat"}
        flat = _flat_and_cool(known, throttle) if held_by.get(throttle.kind) == "not" else ""
        state = "far from its limit" if flat else held_by.get(throttle.kind, "far from its limit")
        out.append(observed("held", state, flat or phrase("{share} of the load", share=percent(throttle.share))))
    if stair is not None:
        share = stair.chip_to_sink_k / max(stair.chip_to_sink_k + stair.sink_to_room_k, 1e-6)
        states = ("mostly heatsink to room", "evenly", "mostly chip to heatsink")
        state = states[(share > SINK_SHARE) + (share > CHIP_SHARE)]
        out.append(
            observed(
                "split", state, phrase("{share} of the rise before the heatsink", share=percent(share)), Origin.FITTED
            )
        )
    rated = known.machine.fan_max_rpm
    if rated and held and not reading.fan_is_proxy:
        state = "far below its highest" if reading.fan_ref_rpm < FAN_FAR * rated else "near its highest"
        out.append(
            observed(
                "fan_speed",
                state,
                phrase(
                    "{fan_ref_rpm} of {rated} /min", fan_ref_rpm=number(reading.fan_ref_rpm, 3), rated=number(rated, 3)
                ),
            )
        )
    return out


def _flat_and_cool(known: Known, found: ThrottleFinding) -> str:
    """The clock in words where it stood below the base clock from the start, while the chip was cool: it never fell."""
    chip, run = known.machine.processor, known.run
    hottest = _highest(run, "temp_c", 3) if run is not None else None
    clock = found.sustained_clock_mhz
    if chip.base_mhz is None or clock is None or hottest is None or chip.limit_c is None:
        return ""
    low = clock < TOP_CLOCK * chip.base_mhz and chip.limit_c - hottest >= COOL_K
    return (
        phrase(
            "{clock:.0f} of {base_mhz:.0f} MHz, {limit_c:.0f} K below its limit",
            clock=clock,
            base_mhz=chip.base_mhz,
            limit_c=chip.limit_c - hottest,
        )
        if low
        else ""
    )


def _power(known: Known) -> list[Observation]:
    out = []
    chip, run = known.machine.processor, known.run
    if run is not None:
        top = _highest(run, "power_w", 5)
        if top is not None and chip.design_power_w:
            ratio = top / chip.design_power_w
            state = "above its design" if ratio > ABOVE else "well below" if ratio < BELOW else "as designed"
            out.append(
                observed(
                    "power",
                    state,
                    phrase(
                        "{top:.0f} W, designed for {design_power_w:.0f} W", top=top, design_power_w=chip.design_power_w
                    ),
                )
            )
        out += _top_clock(known, _highest(run, "clock_mhz", 3))
        if run.conditions.boost or (run.conditions.boost is False and _has_boost(known)):
            out.append(observed("boost", "on" if run.conditions.boost else "off", "as the run says"))
        if run.conditions.power_profile:
            saving = any(w in run.conditions.power_profile.lower() for w in ("sav", "quiet", "low-power", "cool"))
            out.append(observed("profile", "saving" if saving else "balanced or faster", run.conditions.power_profile))
    return out + _supply(known)


def _has_boost(known: Known) -> bool:
    """Whether the chip is known to have a clock above its base: one without reads as switched off for ever."""
    scanned = known.scan.field("processor.max_mhz") if known.scan is not None else None
    chip = known.machine.processor
    most = float(scanned.value) if scanned is not None else chip.boost_mhz
    return most is not None and chip.base_mhz is not None and most > HAS_BOOST * chip.base_mhz


def _top_clock(known: Known, clock: float | None) -> list[Observation]:
    """The highest clock seen against base and boost; that it is as rated is said only where the boost is known."""
    base = known.machine.processor.base_mhz
    scanned = known.scan.field("processor.max_mhz") if known.scan is not None else None
    boost = float(scanned.value) if scanned is not None else None
    if clock is None:
        return []
    if base is not None and clock < TOP_CLOCK * base:
        return [
            observed(
                "top_clock", "below its base clock", phrase("{clock:.0f} of {base:.0f} MHz", clock=clock, base=base)
            )
        ]
    if boost is None:
        return []
    state = "as rated" if clock >= TOP_CLOCK * boost else "below its boost"
    return [observed("top_clock", state, phrase("{clock:.0f} of {boost:.0f} MHz", clock=clock, boost=boost))]


def _supply(known: Known) -> list[Observation]:
    """Battery and adapter of a machine that has them."""
    if known.machine.kind not in PORTABLE:
        return []
    out = _battery(known)
    tried = {t.id: t.outcome for t in known.tried}
    if known.weak_adapter:
        out.append(observed("adapter", "weak or not recognised", known.weak_adapter, Origin.SCANNED))
    elif tried.get("adapter") is TrialOutcome.WORKS or (known.scan is not None and known.scan.supplies):
        out.append(observed("adapter", "strong enough", "as rated", Origin.SCANNED))
    return out


def _battery(known: Known) -> list[Observation]:
    tried = next((t.outcome for t in known.tried if t.id == "battery"), None)
    fitted = known.run.conditions.battery_fitted if known.run is not None else None
    batteries = known.scan.batteries if known.scan is not None else ()
    worn = next((b.health for b in batteries if b.health is not None), None)
    if fitted is False or tried in (TrialOutcome.ABSENT, TrialOutcome.FAILS) or (worn or 1.0) < WORN:
        figure = (
            "missing"
            if fitted is False
            else phrase("{worn} of its design", worn=percent(worn))
            if worn
            else "does not hold charge"
        )
        return [observed("battery", "missing or worn out", figure)]
    return [observed("battery", "in order", "fitted")] if fitted or tried is TrialOutcome.WORKS else []


def _channels(machine: Machine) -> list[Observation]:
    sizes, possible = channel_sizes(machine, machine.configuration()), possible_channels(machine)
    if not sizes or possible is None or possible < 2:
        return []
    state = "all filled" if len(sizes) >= possible else "one empty"
    return [
        observed(
            "channels",
            state,
            phrase("{count} of {possible}", count=len(sizes), possible=possible),
            machine.origin("slots"),
        )
    ]


def _memory(known: Known) -> list[Observation]:
    out = _channels(known.machine)
    machine, config = known.machine, known.machine.configuration()
    peak = bandwidth_mb_s(machine, config)
    rate = median_of(known.run, "mem_bandwidth")
    if peak and rate is not None:
        state = "as they allow" if rate * 1000.0 > RATE * peak else "well under"
        out.append(observed("rate", state, phrase("{rate:.1f} of {peak:.1f} GB/s", rate=rate, peak=peak / 1000.0)))
    size = config.memory_bytes()
    if known.scan is not None and size:
        out += _memory_scanned(known.scan, size)
    for check in known.run.checks if known.run is not None else ():
        if check.key == "mem_test" and check.passed is not None:
            out.append(observed("memory_test", "nothing found" if check.passed else "memory errors", check.detail))
    return out


def _memory_scanned(scan: Scan, size: int) -> list[Observation]:
    """What system and firmware count of the memory that is fitted [byte]."""
    out = []
    usable = scan.field("memory.usable_bytes")
    if usable is not None:
        state = "all of it" if float(usable.value) / size > USABLE else "a part"
        out.append(
            observed(
                "system", state, phrase("{int} of {size}", int=gib(int(usable.value)), size=gib(size)), Origin.SCANNED
            )
        )
    if scan.places:
        seen = sum(p.size_bytes or 0 for p in scan.places)
        state = "all seen" if seen >= 0.99 * size else "some not seen"
        out.append(
            observed("counted", state, phrase("{seen} of {size}", seen=gib(seen), size=gib(size)), Origin.SCANNED)
        )
    return out


def _highest(run: Run, key: str, width: int) -> float | None:
    """Highest smoothed value of a series over all sessions."""
    found = [v for s in run.sessions if (v := s.trace.values(key)) is not None and np.isfinite(v).sum() > width]
    return max((float(smoothed(filled(v), width).max()) for v in found), default=None)
