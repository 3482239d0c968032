"""Cores and packages from the kernel's own lists, with processors switched off counted where they can be."""

from __future__ import annotations

import re
from typing import Set, Tuple

from brachium_probe.tree import Tree

CPUS = "/sys/devices/system/cpu"


def cores(tree: Tree) -> Tuple[int, str]:
    """(cores in all, where from); 0 where nothing tells.

    A core is counted once by package, die and core id. A processor that is switched off shows no topology; then the
    number per package that /proc/cpuinfo states counts, times the packages.
    """
    seen, silent = set(), 0
    for entry in tree.names(CPUS):
        if re.match(r"^cpu\d+$", entry):
            folder = f"{CPUS}/{entry}/topology"
            core = tree.text(f"{folder}/core_id")
            if core is None:
                silent += 1
            else:
                seen.add((tree.text(f"{folder}/physical_package_id"), tree.text(f"{folder}/die_id"), core))
    stated = _stated(tree) * max(packages(tree), 1)
    if stated and (silent or not seen):
        return max(stated, len(seen)), "/proc/cpuinfo"
    return len(seen), "topology"


def packages(tree: Tree) -> int:
    """Processors in sockets, as far as the kernel shows them; 0 where it shows none."""
    found: Set[str] = set()
    for entry in tree.names(CPUS):
        number = tree.text(f"{CPUS}/{entry}/topology/physical_package_id") if entry.startswith("cpu") else None
        if number is not None and number != "-1":
            found.add(number)
    found |= set(re.findall(r"^physical id\s*:\s*(\d+)", tree.text("/proc/cpuinfo") or "", re.MULTILINE))
    return len(found)


def _stated(tree: Tree) -> int:
    match = re.search(r"^cpu cores\s*:\s*(\d{1,4})$", tree.text("/proc/cpuinfo") or "", re.MULTILINE)
    return int(match.group(1)) if match else 0


def last_cache_bytes(tree: Tree) -> int:
    """Size of the largest cache that the kernel shows for the first processor [byte]; 0 where it shows none."""
    folder = f"{CPUS}/cpu0/cache"
    sizes = [_size(tree.text(f"{folder}/{name}/size") or "") for name in tree.names(folder) if name.startswith("index")]
    return max(sizes, default=0)


def _size(text: str) -> int:
    match = re.match(r"^(\d{1,9})([KM]?)$", text.strip())
    return int(match.group(1)) * {"": 1, "K": 1 << 10, "M": 1 << 20}[match.group(2)] if match else 0
