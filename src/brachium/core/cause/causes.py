"""Ranked causes from a before-run and the record: each with evidence, strength and the cheapest next check."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from brachium.core.because import Because, Fact, Origin
from brachium.core.cause.figures import BeforeFigures
from brachium.core.choose.predict import system_drive
from brachium.core.choose.profile import UseProfile
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.machine import Machine, active_channels, bandwidth_mb_s
from brachium.core.units import gib, number, percent, pm

STALL_MATTERS = 0.05
DISK_BUSY = 0.60


class Strength(StrEnum):
    STRONG = "strong"
    LIKELY = "likely"
    RULED_OUT = "not a cause"


@dataclass(frozen=True)
class Cause:
    """One cause: `cost_frac` is the share of the owner's working time that it takes, as far as known."""

    id: str
    title: str
    strength: Strength
    cost_frac: float
    evidence: str
    next_check: str
    check_minutes: float
    because: Because


def rank_causes(machine: Machine, figures: BeforeFigures, profile: UseProfile) -> tuple[Cause, ...]:
    """All causes looked at, the costliest first, ruled-out ones last."""
    found = [
        cause
        for cause in (
            _heat(figures, profile),
            _channels(machine, profile, figures),
            _memory_size(machine, figures, profile),
            _disk(machine, figures, profile),
        )
        if cause is not None
    ]
    return tuple(sorted(found, key=lambda c: (c.strength is Strength.RULED_OUT, -c.cost_frac)))


def _heat(figures: BeforeFigures, profile: UseProfile) -> Cause | None:
    reading = figures.reading
    if reading is None or reading.throttle is None:
        return None
    throttle = reading.throttle
    facts = [Fact("held back", f"{percent(throttle.share)} of the load", Origin.MEASURED)]
    if throttle.full_clock_mhz and throttle.sustained_clock_mhz:
        facts += [
            Fact("full clock", f"{number(throttle.full_clock_mhz, 3)} MHz", Origin.MEASURED),
            Fact("sustained clock", f"{number(throttle.sustained_clock_mhz, 3)} MHz", Origin.MEASURED),
        ]
    if throttle.limit_c is not None:
        origin = Origin.SCANNED if throttle.limit_is_stated else Origin.MEASURED
        facts.append(Fact("temperature limit", f"{throttle.limit_c:.0f} °C", origin))
    if reading.stair is not None:
        stair = reading.stair
        facts += [
            Fact("total resistance", pm(stair.total_k_w, stair.total_half_k_w, "K/W"), Origin.FITTED),
            Fact("chip to heatsink", pm(stair.chip_to_sink_k, stair.chip_to_sink_half_k, "K"), Origin.FITTED),
            Fact("heatsink to room", pm(stair.sink_to_room_k, stair.sink_to_room_half_k, "K"), Origin.FITTED),
        ]
    lost = profile.shares["all"] * (1.0 - figures.sustained_clock_mhz / figures.full_clock_mhz)
    if throttle.kind is HeldBack.THERMAL:
        because = Because(
            "Heat holds the chip back", "throttled share", throttle.reason[0].upper() + throttle.reason[1:] + ".",
            tuple(facts), f"{percent(throttle.share)} of the load held back",
            "The split says where the heat falls, not which part is bad: only a change after cleaning or new paste "
            "proves that. Clean first, it is the cheaper try.",
        )  # fmt: skip
        title = f"Heat holds the chip back for {percent(throttle.share)} of the load"
        check = "open, look at the fins and the paste"
        return Cause("heat", title, Strength.STRONG, lost, throttle.reason, check, 15, because)
    if throttle.kind is HeldBack.UNCLEAR:
        because = Because("The clock falls, not by heat", "throttled share", throttle.reason, tuple(facts),
                          f"{percent(throttle.share)} of the load held back", "Adapter and battery state.")  # fmt: skip
        return Cause("power", "The clock falls well below the temperature limit", Strength.LIKELY, lost,
                     throttle.reason, "check adapter rating and battery", 5, because)  # fmt: skip
    because = Because("Heat is not a cause", "throttled share", f"The {throttle.reason}.", tuple(facts))
    return Cause("heat", "Heat: the chip is not held back", Strength.RULED_OUT, 0.0, throttle.reason, "", 0, because)


def _channels(machine: Machine, profile: UseProfile, figures: BeforeFigures) -> Cause | None:
    config = machine.configuration()
    active, _ = active_channels(machine, config)
    possible = min(machine.memory.channels, len({s.channel for s in machine.slots}))
    rate = bandwidth_mb_s(machine, config)
    if rate is None or possible < 2:
        return None
    facts = (
        Fact("channels filled", f"{active} of {possible}", machine.origin("slots")),
        Fact("bandwidth now", f"{rate / 1000:.1f} GB/s", Origin.COMPUTED),
        Fact("with both", f"{rate * possible / active / 1000:.1f} GB/s", Origin.COMPUTED),
        Fact("memory share of the work", percent(profile.shares["memory"]), Origin.ASSUMED),
    )
    if active >= possible:
        because = Because("All memory channels are filled", "MEM-CHAN", "Nothing is lost here.", facts)
        return Cause("channels", "Memory channels: all filled", Strength.RULED_OUT, 0.0, "", "", 0, because)
    lost = profile.shares["memory"] * (1.0 - active / possible) * (1.0 - figures.stall_share)
    because = Because(
        "One memory channel carries everything", "MEM-CHAN",
        "Each filled channel moves 8 bytes per transfer; the empty place leaves half of the width unused.", facts,
        f"{percent(lost)} of the working time", "An equal module in the empty place.",
    )  # fmt: skip
    title = f"Memory runs on {active} channel of {possible}"
    return Cause("channels", title, Strength.STRONG, lost, f"one of {possible} channels is empty",
                 "try a shelf module in the empty place", 10, because)  # fmt: skip


def _memory_size(machine: Machine, figures: BeforeFigures, profile: UseProfile) -> Cause | None:
    if not figures.stall_measured:
        return None
    size = machine.configuration().memory_bytes()
    facts = [
        Fact("waiting for storage", percent(figures.stall_share), Origin.MEASURED),
        Fact("memory fitted", gib(size), machine.origin("slots")),
        Fact("working set", f"{profile.working_set_gib:g} GiB", Origin.ASSUMED),
    ]
    if figures.memory_used_frac is not None:
        facts.insert(1, Fact("memory in use", percent(figures.memory_used_frac), Origin.MEASURED))
    short = figures.stall_share > STALL_MATTERS and (figures.memory_used_frac or 0.0) > 0.9
    if not short:
        because = Because(
            "Memory size is not a cause", "stall share", "The task hardly waits for paging.", tuple(facts)
        )
        return Cause("memory", "Memory size: enough for the task", Strength.RULED_OUT, 0.0, "", "", 0, because)
    because = Because(
        "The task pages to the drive", "stall share",
        "Memory was full and the whole task stood still, waiting for storage. A faster drive hides part of this, "
        "memory removes it.", tuple(facts), f"{percent(figures.stall_share)} of the task's time",
        "The task's working set, read while it runs with memory to spare.",
    )  # fmt: skip
    title = f"Out of memory: the task waits {percent(figures.stall_share)} of its time for paging"
    return Cause("memory", title, Strength.STRONG, figures.stall_share, "memory full, task stalled",
                 "close everything else and time the task again", 10, because)  # fmt: skip


def _disk(machine: Machine, figures: BeforeFigures, profile: UseProfile) -> Cause | None:
    drive = system_drive(machine, machine.configuration())
    if drive is None or figures.disk_busy_share is None:
        return None
    facts = [
        Fact("drive busy", percent(figures.disk_busy_share), Origin.MEASURED),
        Fact("one 4 KiB read", f"{drive[1].read_latency_ms:g} ms", Origin.CATALOGUE),
        Fact("storage share of the work", percent(profile.shares["random"] + profile.shares["sequential"]),
             Origin.ASSUMED),
    ]  # fmt: skip
    if figures.disk_mb_s is not None:
        facts.insert(1, Fact("moving only", f"{figures.disk_mb_s:.1f} MB/s", Origin.MEASURED))
    if figures.disk_busy_share < DISK_BUSY and not drive[1].rotational:
        because = Because("The drive is not a cause", "drive busy share", "It is seldom busy.", tuple(facts))
        return Cause("disk", "Drive: seldom busy", Strength.RULED_OUT, 0.0, "", "", 0, because)
    share = profile.shares["random"] + profile.shares["sequential"]
    lost = 0.8 * share * (1.0 - figures.stall_share) if drive[1].rotational else 0.2 * share
    because = Because(
        "The drive is busy while little moves", "drive busy share",
        "A disk that is always busy with small reads spends its time moving its arm. Health counters come first: "
        "a dying drive looks the same.", tuple(facts), f"busy {percent(figures.disk_busy_share)} of the task",
        "Health counters that speak against the drive itself: then the data is imaged before anything else.",
    )  # fmt: skip
    title = f"The drive is busy {percent(figures.disk_busy_share)} of the task while little moves"
    return Cause("disk", title, Strength.LIKELY, lost, "busy, low throughput", "read the health counters", 2, because)
