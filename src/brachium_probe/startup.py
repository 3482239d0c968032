"""How long the machine's last start took, by the figures that firmware, loader and system leave behind.

Whole start = firmware and loader (systemd's Boot Loader Interface, else the ACPI firmware performance table) + kernel
and system until the run level was reached (record RUN_LVL of utmp(5), against the kernel's own start, btime of
proc(5)). What a person still waits for after that, a sign-in or programs loading, is not in it.
"""

from __future__ import annotations

import struct

from brachium_probe.tree import Tree

RUN_LEVEL, BOOT_TIME = 1, 2
RECORD = struct.Struct("=hxxi32s4s32s256shhiii16s20s")
LONGEST_S = 600.0
EFI = "/sys/firmware/efi/efivars"
FPDT = "/sys/firmware/acpi/fpdt/boot"
UPDATE_MARKS = ("/system-update", "/etc/system-update")


def loader_microseconds(tree: Tree, stem: str) -> int | None:
    """A loader's time stamp: four bytes of attributes, then digits in UTF-16."""
    names = [n for n in tree.names(EFI) if n.startswith(stem)]
    data = tree.bytes(f"{EFI}/{names[0]}") if names else None
    digits = (data or b"")[4:].decode("utf-16-le", "replace").strip("\x00 ")
    return int(digits) if digits.isdigit() and 0 < int(digits) < LONGEST_S * 1e6 else None


def firmware_table_s(tree: Tree) -> float | None:
    """Firmware's time until it started the loader [s], from its own table."""
    begin, launched = (tree.number(f"{FPDT}/{n}_ns") for n in ("firmware_start", "bootloader_launch"))
    if begin is None or launched is None or not 0 < launched - begin < LONGEST_S * 1e9:
        return None
    return float(launched - begin) / 1e9


def start_up(tree: Tree) -> tuple[float | None, str]:
    """(seconds of the whole start or None, why there is none or why it does not count)."""
    before = _before_kernel_s(tree)
    if before is None:
        return None, "the firmware does not say how long its part of the start took; time it by hand"
    after, why = _system_s(tree)
    if after is None:
        return None, why
    waiting = next((m for m in UPDATE_MARKS if tree.exists(m)), "")
    return before + after, "updates were pending for this start" if waiting else ""


def _before_kernel_s(tree: Tree) -> float | None:
    done = loader_microseconds(tree, "LoaderTimeExecUSec-")
    if done is not None:
        return done / 1e6
    begin, left = (tree.number(f"{FPDT}/{n}_ns") for n in ("firmware_start", "exitbootservice_end"))
    if begin is None or left is None or not 0 < left - begin < LONGEST_S * 1e9:
        return None
    return float(left - begin) / 1e9


def _system_s(tree: Tree) -> tuple[float | None, str]:
    """Kernel's start to the run level reached [s]."""
    hand = "time the start by hand"
    stat = (tree.bytes("/proc/stat") or b"").decode("ascii", "replace").splitlines()
    began = next((w[1] for w in map(str.split, stat) if w[:1] == ["btime"]), "")
    stamps = _stamps(tree.bytes("/run/utmp") or tree.bytes("/var/run/utmp") or b"")
    if not began.isdigit() or RUN_LEVEL not in stamps or BOOT_TIME not in stamps:
        return None, f"the system does not say when its start was over; {hand}"
    system, whole = stamps[BOOT_TIME] - int(began), stamps[RUN_LEVEL] - int(began)
    if not -1.0 <= system <= whole < LONGEST_S:  # btime is cut to whole seconds
        return None, f"the clock was set after the start, so its stamps do not fit together; {hand}"
    return whole, ""


def _stamps(data: bytes) -> dict[int, float]:
    """Time [s] of the last record of each kind; nothing where the records have another layout."""
    if not data or len(data) % RECORD.size:
        return {}
    found = {}
    for record in RECORD.iter_unpack(data):
        found[record[0]] = record[9] + record[10] / 1e6
    return found
