"""Which state each sign is in: read from the before-run, the record, the scan, the findings and the drive's counters.

A sign that nothing was recorded for is left out, never taken for well. Thresholds are stated beside each sign.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from brachium.core.base.arrays import filled, smoothed
from brachium.core.base.units import gib, number, percent
from brachium.core.base.why import Origin
from brachium.core.cause.assumptions import (
    ABOVE,
    BELOW,
    CHIP_SHARE,
    DRIVE_SLOW,
    FAN_FAR,
    GRAPHICS,
    MEMORY_FULL,
    RATE,
    SINK_SHARE,
    SPACE,
    STALL,
    TOP_CLOCK,
    USABLE,
    WORN,
)
from brachium.core.cause.ranking import Observation
from brachium.core.cause.typed_signs import typed_signs
from brachium.core.condition.findings import Finding, Severity, kind_of
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.drives.health import DriveVerdict
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s, channel_sizes, possible_channels
from brachium.core.machine.scanned.scan import Scan
from brachium.core.machine.system_drive import system_drive
from brachium.core.measure.own_tests import OwnResult
from brachium.core.measure.run import Run
from brachium.core.measure.validity import settle_problem
from brachium.core.measure.waiting import Limit

DIRT = ("felt", "hair", "insects", "tar", "dust")


@dataclass(frozen=True)
class Known:
    """Everything that signs are read from. `verdicts` are of drives by place."""

    machine: Machine
    run: Run | None = None
    figures: BeforeFigures | None = None
    limits: tuple[Limit, ...] = ()
    scan: Scan | None = None
    findings: tuple[Finding, ...] = ()
    tried: tuple[TestResult, ...] = ()
    verdicts: Mapping[str, DriveVerdict] = field(default_factory=dict)
    own_results: tuple[OwnResult, ...] = ()
    weak_adapter: str = ""
    failing: frozenset[str] = frozenset()  # places of dying drives


def observations(known: Known) -> tuple[Observation, ...]:
    """Every sign that can be read."""
    found = [
        *_heat(known), *_power(known), *_memory(known), *_drive(known), *_task(known), *_looked_at(known),
    ]  # fmt: skip
    read = {o.sign for o in found}
    return (*found, *(o for o in typed_signs(known.machine, known.own_results) if o.sign not in read))


def _seen(sign: str, state: str, figure: str, origin: Origin = Origin.MEASURED) -> Observation:
    return Observation(sign, state, figure, origin)


def _heat(known: Known) -> list[Observation]:
    reading = known.figures.reading if known.figures is not None else None
    if reading is None:
        return []
    out = []
    throttle, stair = reading.throttle, reading.stair
    held = throttle is not None and throttle.kind is HeldBack.THERMAL
    if throttle is not None and throttle.kind is not HeldBack.NOT_KNOWN:
        held_by = {HeldBack.NONE: "not", HeldBack.BOOST_OVER: "not", HeldBack.THERMAL: "by heat"}
        state = held_by.get(throttle.kind, "far from its limit")
        out.append(_seen("held", state, f"{percent(throttle.share)} of the load"))
    if stair is not None:
        share = stair.chip_to_sink_k / max(stair.chip_to_sink_k + stair.sink_to_room_k, 1e-6)
        states = ("mostly heatsink to room", "evenly", "mostly chip to heatsink")
        state = states[(share > SINK_SHARE) + (share > CHIP_SHARE)]
        out.append(_seen("split", state, f"{percent(share)} of the rise before the heatsink", Origin.FITTED))
    rated = known.machine.fan_max_rpm
    if rated and held and not reading.fan_is_proxy:
        state = "far below its highest" if reading.fan_ref_rpm < FAN_FAR * rated else "near its highest"
        out.append(_seen("fan_speed", state, f"{number(reading.fan_ref_rpm, 3)} of {number(rated, 3)} /min"))
    return out


def _power(known: Known) -> list[Observation]:
    out = []
    chip, run = known.machine.processor, known.run
    if run is not None:
        top = _highest(run, "power_w", 5)
        if top is not None and chip.design_power_w:
            ratio = top / chip.design_power_w
            state = "above its design" if ratio > ABOVE else "well below" if ratio < BELOW else "as designed"
            out.append(_seen("power", state, f"{top:.0f} W, designed for {chip.design_power_w:.0f} W"))
        rated = known.scan.field("processor.max_mhz") if known.scan is not None else None
        clock = _highest(run, "clock_mhz", 3)
        if rated is not None and clock is not None:
            state = "as rated" if clock >= TOP_CLOCK * float(rated.value) else "below its rating"
            out.append(_seen("top_clock", state, f"{clock:.0f} of {float(rated.value):.0f} MHz"))
        if run.conditions.power_profile:
            saving = any(w in run.conditions.power_profile.lower() for w in ("sav", "quiet", "low-power", "cool"))
            out.append(_seen("profile", "saving" if saving else "balanced or faster", run.conditions.power_profile))
    return out + _supply(known)


def _supply(known: Known) -> list[Observation]:
    """Battery and adapter of a machine that has them."""
    if known.machine.kind not in PORTABLE:
        return []
    out = _battery(known)
    tried = {t.id: t.outcome for t in known.tried}
    if known.weak_adapter:
        out.append(_seen("adapter", "weak or not recognised", known.weak_adapter, Origin.SCANNED))
    elif tried.get("adapter") is TrialOutcome.WORKS or (known.scan is not None and known.scan.supplies):
        out.append(_seen("adapter", "strong enough", "as rated", Origin.SCANNED))
    return out


def _battery(known: Known) -> list[Observation]:
    tried = next((t.outcome for t in known.tried if t.id == "battery"), None)
    fitted = known.run.conditions.battery_fitted if known.run is not None else None
    batteries = known.scan.batteries if known.scan is not None else ()
    worn = next((b.health for b in batteries if b.health is not None), None)
    if fitted is False or tried in (TrialOutcome.ABSENT, TrialOutcome.FAILS) or (worn or 1.0) < WORN:
        figure = "missing" if fitted is False else f"{percent(worn)} of its design" if worn else "does not hold charge"
        return [_seen("battery", "missing or worn out", figure)]
    return [_seen("battery", "in order", "fitted")] if fitted or tried is TrialOutcome.WORKS else []


def _channels(machine: Machine) -> list[Observation]:
    sizes, possible = channel_sizes(machine, machine.configuration()), possible_channels(machine)
    if not sizes or possible is None or possible < 2:
        return []
    state = "all filled" if len(sizes) >= possible else "one empty"
    return [_seen("channels", state, f"{len(sizes)} of {possible}", machine.origin("slots"))]


def _memory(known: Known) -> list[Observation]:
    out = _channels(known.machine)
    machine, config = known.machine, known.machine.configuration()
    peak = bandwidth_mb_s(machine, config)
    rate = _median(known.run, "mem_bandwidth")
    if peak and rate is not None:
        state = "as they allow" if rate * 1000.0 > RATE * peak else "well under"
        out.append(_seen("rate", state, f"{rate:.1f} of {peak / 1000.0:.1f} GB/s"))
    size = config.memory_bytes()
    if known.scan is not None and size:
        out += _memory_scanned(known.scan, size)
    for check in known.run.checks if known.run is not None else ():
        if check.key == "mem_test" and check.passed is not None:
            out.append(_seen("memory_test", "nothing found" if check.passed else "wrong words", check.detail))
    return out


def _memory_scanned(scan: Scan, size: int) -> list[Observation]:
    """What system and firmware count of the memory that is fitted [byte]."""
    out = []
    usable = scan.field("memory.usable_bytes")
    if usable is not None:
        state = "all of it" if float(usable.value) / size > USABLE else "a part"
        out.append(_seen("system", state, f"{gib(int(usable.value))} of {gib(size)}", Origin.SCANNED))
    if scan.places:
        seen = sum(p.size_bytes or 0 for p in scan.places)
        state = "all seen" if seen >= 0.99 * size else "some not seen"
        out.append(_seen("counted", state, f"{gib(seen)} of {gib(size)}", Origin.SCANNED))
    return out


def _drive(known: Known) -> list[Observation]:
    place = system_drive(known.machine, known.machine.configuration())
    if place is None:
        return []
    bay, drive = place
    out = [_seen("drive_kind", "disk with an arm" if drive.rotational else "flash", drive.name, Origin.CATALOGUE)]
    link = next((b.link_mb_s for b in known.machine.bays if b.id == bay), None)
    sequential, random = _median(known.run, "drive_seq"), _median(known.run, "drive_rand_q1")
    if sequential is not None and random is not None:
        long_slow = sequential < DRIVE_SLOW * min(drive.outer_mb_s, link or drive.outer_mb_s)
        small_slow = random < DRIVE_SLOW * 1000.0 / drive.read_latency_ms
        states = {(False, False): "as its kind gives", (True, False): "slow in long reads",
                  (False, True): "slow in small reads", (True, True): "slow in both"}  # fmt: skip
        figure = f"{sequential:.0f} MB/s, {random:.0f} small reads/s"
        out.append(_seen("drive_rate", states[long_slow, small_slow], figure))
    out += _health(known)
    out += _link(known.scan)
    free = known.run.conditions.free_space_frac if known.run is not None else None
    if free is not None:
        out.append(_seen("space", "hardly any" if free < SPACE else "enough", f"{percent(free)} free"))
    return out


def _health(known: Known) -> list[Observation]:
    """The worst that any drive's counters say: media faults before interface errors before nothing."""
    order = ("media faults", "interface errors", "clean")
    read = [(order.index(v.sign), place, v) for place, v in known.verdicts.items() if v.sign]
    if not read:
        return []
    _, place, verdict = min(read, key=lambda r: r[0])
    return [_seen("health", verdict.sign, f"{known.machine.place_label(place)}: {verdict.text}")]


def _link(scan: Scan | None) -> list[Observation]:
    """Links below their best first. Of PCI Express only lanes count: at rest a link may have clocked down."""
    found = []
    for name, now, most, lanes_only in _links(scan) if scan is not None else ():
        a, b = (now.rpartition(" ")[2], most.rpartition(" ")[2]) if lanes_only else (now, most)
        state = "at its highest" if a == b else "below its highest"
        found.append(_seen("link", state, f"{name}: {now} of {most}", Origin.SCANNED))
    return sorted(found, key=lambda o: o.state, reverse=True)[:1]


def _links(scan: Scan) -> list[tuple[str, str, str, bool]]:
    """(name, link now, best link, whether only its lanes count) of drives and graphics cards (PCI class 03h)."""
    out = [(f"drive {d.name}", d.link, d.link_max, d.kind == "NVMe") for d in scan.drives if d.link and d.link_max]
    return out + [
        (f"graphics {d.address}", d.link, d.link_max, True)
        for d in scan.devices if d.link and d.link_max and str(d.kind or "").startswith("0x03")
    ]  # fmt: skip


def _task(known: Known) -> list[Observation]:
    """What the owner's task and the calm phases show."""
    out = _task_figures(known.figures) if known.figures is not None else []
    for limit in known.limits:
        if limit.name == "test own_task" and "graphics" not in limit.blind:
            share = limit.shares["graphics"]
            state = "fully busy, processor waits" if share > GRAPHICS else "with room left"
            out.append(_seen("graphics", state, f"{percent(share)} of the task"))
    out += _frame_cap(known)
    if known.run is not None:
        problems = [p for s in known.run.sessions if (p := settle_problem(s.trace))]
        state = "other programs at work" if problems else "calm"
        out.append(_seen("calm", state, problems[0] if problems else "settle and idle"))
    return out


def _frame_cap(known: Known) -> list[Observation]:
    """Whether the frames of a log stand on one even step."""
    capped = [r for r in known.own_results if "cap" in r.invalid]
    if capped:
        return [_seen("cap", "on one even step", capped[-1].invalid)]
    logged = any(r.how == "frame log" for r in known.own_results)
    return [_seen("cap", "free", "frame log")] if logged else []


def _task_figures(figures: BeforeFigures) -> list[Observation]:
    out = []
    if figures.stall_measured:
        out.append(_seen("stall", "much" if figures.stall_share > STALL else "hardly", percent(figures.stall_share)))
    if figures.memory_used_frac is not None:
        state = "full" if figures.memory_used_frac > MEMORY_FULL else "room left"
        out.append(_seen("memory_use", state, percent(figures.memory_used_frac)))
    return out


def _looked_at(known: Known) -> list[Observation]:
    """What was seen when it was taken in; without any look nothing is concluded."""
    if not known.findings and not known.tried:
        return []
    blocked, vents = _found(known, ("vent",), Severity.SLIGHT)
    dirty, dirt = _found(known, DIRT, Severity.CLEAR)
    loud, fan = _found(known, ("fan",), Severity.SLIGHT)
    drive_bad, drive = _found(known, ("noise", "cable"), Severity.SLIGHT)
    failing = next((t for t in known.tried if t.id == "fan" and t.outcome is TrialOutcome.FAILS), None)
    if failing is not None:
        loud, fan = True, failing.note or "the fan test failed"
    return [
        _seen("vents", "blocked or covered" if blocked else "nothing found", vents, Origin.TYPED),
        _seen("dirt", "felted or much" if dirty else "none or slight", dirt, Origin.TYPED),
        _seen("noise", "noisy or stuck" if loud else "quiet or plain", fan, Origin.TYPED),
        _seen("drive_noise", "noisy or cable loose" if drive_bad else "quiet", drive, Origin.TYPED),
    ]


def _found(known: Known, kinds: Sequence[str], least: Severity) -> tuple[bool, str]:
    """(whether a finding of these kinds is at least so severe, which ones in words)."""
    worst: dict[str, Severity] = {}
    for finding in known.findings:
        worst[finding.kind] = max(worst.get(finding.kind, Severity.SLIGHT), finding.severity)
    names = {f.kind: kind_of(f).title.lower() for f in known.findings}
    bad = [k for k in kinds if worst.get(k, 0) >= least]
    return bool(bad), ", ".join(names[k] for k in bad) or "nothing found"


def _highest(run: Run, key: str, width: int) -> float | None:
    """Highest smoothed value of a series over all sessions."""
    found = [v for s in run.sessions if (v := s.trace.values(key)) is not None and np.isfinite(v).sum() > width]
    return max((float(smoothed(filled(v), width).max()) for v in found), default=None)


def _median(run: Run | None, test: str) -> float | None:
    if run is None:
        return None
    found = run.results(test) or run.results(f"probe_{test}")
    return float(np.median(np.concatenate(found))) if found else None
