"""First start: what the firmware should see after the work against what it sees, and what a difference may come from.

Expected figures follow from the record with the plan's parts in their places. Seen ones come from a fresh scan, or
are typed off the screen. Sizes are compared as systems show them (2 TB reads as 1.82 TiB).
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from brachium.core.base.text import counted, joined, lower_first, phrase
from brachium.core.base.units import drive_size, gib, shown_size
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.memory_rates import channel_sizes, memory_speed_mts
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.scanned.from_scan import machine_of
from brachium.core.machine.scanned.places_on_links import link_mb_s
from brachium.core.machine.scanned.scan import Scan
from brachium.core.work.assumptions import SIZE_SLACK


@dataclass(frozen=True)
class Expected:
    """One thing to look for: key, what it is called, how it should read, its number where it has one."""

    key: str
    label: str
    words: str
    number: float | None = None


@dataclass(frozen=True)
class Cause:
    """What a difference often comes from, and the next check, the cheapest first."""

    words: str
    check: str


@dataclass(frozen=True)
class Looked:
    """One thing looked for: how it should read, how it reads (empty = not looked at), whether it agrees, why it may
    not."""

    expected: Expected
    seen: str
    agrees: bool | None
    causes: tuple[Cause, ...] = ()


_CAUSES: dict[str, tuple[Cause, ...]] = {
    "processor": (
        Cause("the firmware is too old for it", "read the firmware's version in the set-up"),
        Cause("the settings of the old one are kept", "load the defaults once"),
    ),
    "memory": (
        Cause("a module is not home", "out, clean the contacts, in until both clips close"),
        Cause("a dead slot or a faulty module", "Find cause, Swap grid: one module in one slot at a time"),
        Cause("more than the board or the graphics' share lets through", "read the set-up's own total"),
    ),
    "channels": (Cause("modules in the wrong slots", "the board's own order of slots"),),
    "speed": (
        Cause("the profile is not chosen", "memory profile in the set-up"),
        Cause("another module or the processor is slower", "Choose: MEM-SPEED says which"),
    ),
    "slot": (
        Cause("the module is not home", "out, clean the contacts, in until both clips close"),
        Cause("a dead slot or a faulty module", "Find cause, Swap grid"),
    ),
    "drive": (
        Cause("cable or power plug", "both ends, then another cable"),
        Cause("the slot is switched off, or shared with another", "drive mode and ports in the set-up"),
    ),
    "link": (Cause("cable or a port of the slower kind", "another cable, then another port"),),
    "fan": (Cause("its plug", "power off, open, plug home; never run without it"),),
    "battery": (Cause("its plug", "power off, open, plug home"),),
    "mode": (Cause("settings were lost with the power", "start mode and order in the set-up"),),
}  # fmt: skip


def expected_of(machine: Machine) -> tuple[Expected, ...]:
    """What to look for on a machine as it should be now."""
    config = machine.configuration()
    out = [
        _processor(machine, config),
        *_memory(machine, config),
        *_drives(machine, config),
        Expected("fan", "Fan", "turns"),
    ]
    if isinstance(config.parts.get("battery"), Battery):
        out.append(Expected("battery", "Battery", "seen"))
    mode = machine.platform.system.boot_mode
    if mode is not None:
        out.append(Expected("mode", "Start mode", mode.value))
    return tuple(out)


def _processor(machine: Machine, config: Configuration) -> Expected:
    chip = config.processor()
    threads = (chip.threads if chip is not None else None) or machine.processor.threads
    name = chip.name if chip is not None else machine.processor.name
    own = machine.processor
    cores = chip.cores if chip is not None else own.cores
    clock = chip.base_mhz if chip is not None else own.base_mhz
    about = [
        counted(cores, "{count} core", "{count} cores") if cores else "",
        phrase("{threads} threads", threads=threads) if threads else "",
        phrase("{clock:.2f} GHz", clock=clock / 1000) if clock else "",
    ]
    return Expected("processor", "Processor", joined(", ", (w for w in (name, *about) if w)), threads)


def _memory(machine: Machine, config: Configuration) -> list[Expected]:
    total = config.memory_bytes()
    unsaid = [s for s in machine.slots if not s.takes_module and s.id not in config.modules()]
    out = [Expected("memory", "Memory in all", phrase("{total} and what is soldered", total=gib(total)), None) if unsaid
           else Expected("memory", "Memory in all", gib(total), float(total))]  # fmt: skip
    if config.modules():
        sizes = channel_sizes(machine, config)
        if sizes is not None:
            out.append(Expected("channels", "Memory channels", str(len(sizes)), float(len(sizes))))
    speed = memory_speed_mts(machine, config)
    if speed:
        out.append(Expected("speed", "Memory speed", phrase("{speed} MT/s", speed=speed), float(speed)))
    for slot in machine.slots:
        module = config.modules().get(slot.id)
        size = module.size_bytes if module is not None else 0
        if slot in unsaid:  # its size is not recorded: nothing to expect
            continue
        out.append(Expected(f"slot:{slot.id}", slot.label, gib(size) if size else "empty", float(size)))
    return out


def _drives(machine: Machine, config: Configuration) -> list[Expected]:
    out = []
    for bay in machine.bays:
        drive = config.drives().get(bay.id)
        if drive is None:
            continue
        words = phrase(
            "{size_bytes}, shown as {size_bytes2}",
            size_bytes=drive_size(drive.size_bytes),
            size_bytes2=shown_size(drive.size_bytes),
        )
        out.append(Expected(f"drive:{bay.id}", bay.label, words, float(drive.size_bytes)))
        if bay.link_mb_s is not None:
            title = phrase("Link of {bay}", bay=lower_first(bay.label))
            out.append(
                Expected(
                    f"link:{bay.id}", title, phrase("{link_mb_s:.0f} MB/s", link_mb_s=bay.link_mb_s), bay.link_mb_s
                )
            )
    return out


def seen_in(machine: Machine, scan: Scan) -> dict[str, str]:
    """What a fresh scan says of each thing; what it does not tell is left out."""
    seen = machine_of(scan)
    config = seen.configuration()
    out = {"memory": gib(config.memory_bytes()), "battery": "seen" if "battery" in config.parts else "not seen"}
    if seen.processor.threads:
        out["processor"] = phrase(
            "{processor}, {threads} threads", processor=seen.processor.name, threads=seen.processor.threads
        )
    out |= _memory_seen(machine, seen, scan) | _drives_seen(machine, scan)
    mode = scan.text("firmware.mode")
    if mode:
        out["mode"] = mode
    return out


def _memory_seen(machine: Machine, seen: Machine, scan: Scan) -> dict[str, str]:
    config = seen.configuration()
    out = {}
    if config.modules():
        sizes = channel_sizes(seen, config)
        if sizes is not None:
            out["channels"] = str(len(sizes))
        speeds = [p.configured_mts for p in scan.places if p.size_bytes and p.configured_mts]
        if speeds:
            out["speed"] = phrase("{speeds} MT/s", speeds=min(speeds))
    for slot, twin in zip(machine.slots, seen.slots, strict=False):
        module = config.modules().get(twin.id)
        out[f"slot:{slot.id}"] = gib(module.size_bytes) if module is not None else "empty"
    return out


def _drives_seen(machine: Machine, scan: Scan) -> dict[str, str]:
    out = {}
    drives = [d for d in scan.drives if d.kind in ("SATA", "NVMe") and d.size_bytes]
    filled = [b for b in machine.bays if b.id in machine.configuration().drives()]
    for bay, drive in zip(filled, drives, strict=False):
        out[f"drive:{bay.id}"] = phrase("{size_bytes}", size_bytes=drive_size(drive.size_bytes or 0))
        rate = link_mb_s(drive)
        if rate:
            out[f"link:{bay.id}"] = phrase("{rate:.0f} MB/s", rate=rate)
    return out | {f"drive:{bay.id}": "not seen" for bay in filled[len(drives) :]}


def looked_at(machine: Machine, seen: Mapping[str, str]) -> tuple[Looked, ...]:
    """Each expected thing against how it reads."""
    out = []
    for expected in expected_of(machine):
        text = seen.get(expected.key, "").strip()
        agrees = None if not text else _agrees(expected, text)
        causes = _CAUSES.get(expected.key.partition(":")[0], ()) if agrees is False else ()
        out.append(Looked(expected, text, agrees, causes))
    return tuple(out)


def _agrees(expected: Expected, text: str) -> bool | None:
    """Sizes within 4 %, other numbers exactly, words by what they hold."""
    plain = text.lower()
    if expected.key in ("fan", "battery"):
        return plain in ("turns", "seen", "yes", "ok") or plain.startswith(("turn", "seen"))
    if expected.key == "mode":
        return expected.words.lower() in plain
    if expected.key == "processor":
        numbers = re.findall(r"(\d+)\s*threads?", plain)
        return not numbers or expected.number is None or int(numbers[-1]) == int(expected.number)
    value = size_in(plain) if expected.key.partition(":")[0] in ("memory", "slot", "drive") else _number(plain)
    if expected.key == "memory" and expected.number is None:
        return None  # how much is soldered nobody recorded
    if value is None or expected.number is None:
        return plain == expected.words.lower()
    if expected.number == 0:
        return value == 0
    slack = SIZE_SLACK if expected.key.partition(":")[0] in ("memory", "drive") else 0.01
    return abs(value - expected.number) <= slack * expected.number


_UNITS = {"tib": 1 << 40, "gib": 1 << 30, "mib": 1 << 20, "tb": 10**12, "gb": 10**9, "mb": 10**6}


def size_in(text: str) -> float | None:
    """Bytes of a size as people type it off a screen; the last one where there are several."""
    if text.strip() in ("empty", "0", "none", "not seen"):
        return 0.0
    found = re.findall(r"(?<![\d.,])(\d+(?:[.,]\d+)?)\s*(tib|gib|mib|tb|gb|mb)", text.lower())
    if not found:
        return None
    value, unit = found[-1]
    return float(value.replace(",", ".")) * _UNITS[unit]


def _number(text: str) -> float | None:
    found = re.search(r"\d+(?:\.\d+)?", text.replace(",", "."))
    return float(found.group()) if found else None
