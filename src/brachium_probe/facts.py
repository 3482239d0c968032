"""What the machine says of its state before a run: system, governor, mains, battery, free space, drive of a folder."""

from __future__ import annotations

import os
import re
import shutil

from brachium_probe.counters import disks, memory_total_bytes
from brachium_probe.tree import Tree

LIVE_ROOTS = ("squashfs", "overlay", "overlayfs", "aufs", "tmpfs", "ramfs")
CPU0 = "/sys/devices/system/cpu/cpu0/cpufreq"
CHARGE = {
    "charging": "charging", "full": "not charging", "not charging": "not charging", "discharging": "running down",
}  # fmt: skip


def conditions(tree: Tree, room_c: float | None, folder: str) -> dict[str, object]:
    """Conditions as far as the machine can tell, by the run file's names; what it does not say is None or empty."""
    free = None
    if folder:
        usage = shutil.disk_usage(folder)
        free = usage.free / usage.total
    supplies = _supplies(tree)
    mains = [s for s in supplies if s[0] == "Mains"]
    batteries = [s for s in supplies if s[0] == "Battery" and s[2] != "Device"]
    profile = tree.text("/sys/firmware/acpi/platform_profile") or tree.text(f"{CPU0}/scaling_governor") or ""
    return {
        "room_c": room_c, "room_note": "typed" if room_c is not None else "", "boot_medium": _boot_medium(tree),
        "mains": any(s[1] == "1" for s in mains) if mains else None,
        "battery_fitted": any(s[3] != "0" for s in batteries) if batteries else None,
        "power_profile": profile, "system": system_name(tree),
        "firmware": tree.text("/sys/class/dmi/id/bios_version") or "", "free_space_frac": free,
        **_battery_state(tree), "boost": _boost(tree),
    }  # fmt: skip


def _battery_state(tree: Tree) -> dict[str, object]:
    """Charge and what the battery does, of the first one that the machine runs from."""
    for name in tree.names("/sys/class/power_supply"):
        base = f"/sys/class/power_supply/{name}"
        if tree.text(f"{base}/type") == "Battery" and tree.text(f"{base}/scope") != "Device":
            level = tree.number(f"{base}/capacity")
            state = CHARGE.get((tree.text(f"{base}/status") or "").lower(), "")
            return {"charge": state, "charge_frac": level / 100.0 if level is not None and 0 <= level <= 100 else None}
    return {"charge": "", "charge_frac": None}


def _boost(tree: Tree) -> bool | None:
    """Whether the clock may go above its base; None where the system has no such switch."""
    base = "/sys/devices/system/cpu"
    found = (tree.text(f"{base}/{name}/no_turbo") for name in tree.names(base) if name.endswith("_pstate"))
    off = next((text for text in found if text is not None), None)
    on = tree.text(f"{base}/cpufreq/boost")
    if off in ("0", "1"):
        return off == "0"
    return on == "1" if on in ("0", "1") else None


def system_name(tree: Tree) -> str:
    """Distribution and kernel."""
    match = re.search(r'^PRETTY_NAME="?([^"\n]+)', tree.text("/etc/os-release") or "", re.MULTILINE)
    kernel = tree.text("/proc/sys/kernel/osrelease") or ""
    return ", ".join(p for p in (match.group(1) if match else "", f"kernel {kernel}" if kernel else "") if p)


def machine_name(tree: Tree) -> str:
    """Signature of the machine: product, processor, threads, memory. Runs of different ones are not compared."""
    product = tree.text("/sys/class/dmi/id/product_name") or ""
    gib = (memory_total_bytes(tree) or 0) / 2**30
    parts = [product, processor_name(tree), f"{thread_count(tree)} threads", f"{gib:.1f} GiB"]
    return ", ".join(p for p in parts if p)


def processor_name(tree: Tree) -> str:
    match = re.search(r"^model name\s*:\s*(.+)$", tree.text("/proc/cpuinfo") or "", re.MULTILINE)
    if match is None:
        return ""
    return " ".join(re.sub(r"\((R|TM)\)|CPU|Processor", " ", match.group(1), flags=re.IGNORECASE).split())


def thread_count(tree: Tree) -> int:
    return len([e for e in tree.names("/sys/devices/system/cpu") if re.match(r"^cpu\d+$", e)])


def boot_id(tree: Tree) -> str:
    return tree.text("/proc/sys/kernel/random/boot_id") or ""


def mount_of(folder: str) -> tuple[str, str]:
    """(file system type, device path) of the mount that a folder lies in."""
    real = os.path.realpath(folder)
    best, kind, device = "", "", ""
    for line in (Tree().text("/proc/self/mounts") or "").splitlines():
        source, point, fs = line.split()[:3]
        point = point.replace("\\040", " ")
        inside = real == point or real.startswith(point.rstrip("/") + "/")
        if inside and len(point) >= len(best):
            best, kind, device = point, fs, source
    return kind, device


def disk_of(folder: str, tree: Tree) -> str:
    """Name of the whole drive that a folder lies on; empty where it cannot be told (network, encrypted, pooled)."""
    name = os.path.basename(os.path.realpath(mount_of(folder)[1]))
    whole = disks(tree)
    return next((d for d in whole if name == d or re.match(rf"^{re.escape(d)}p?\d+$", name)), "")


def _boot_medium(tree: Tree) -> str:
    for line in (tree.text("/proc/mounts") or "").splitlines():
        words = line.split()
        if len(words) > 2 and words[1] == "/":
            return "live system" if words[2] in LIVE_ROOTS else "installed system"
    return ""


def _supplies(tree: Tree) -> list[tuple[str, str, str, str]]:
    """(type, online, scope, present) of every supply."""
    out = []
    for entry in tree.names("/sys/class/power_supply"):
        folder = f"/sys/class/power_supply/{entry}"
        values = [tree.text(f"{folder}/{name}") or "" for name in ("type", "online", "scope", "present")]
        out.append((values[0], values[1], values[2], values[3]))
    return out
