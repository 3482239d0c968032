"""A scan as rows for people: units, what is empty, what is not told."""

from __future__ import annotations

from brachium.core.base.units import GIB
from brachium.core.machine.scanned.scan import (
    Absent,
    Scan,
    ScannedBattery,
    ScannedDevice,
    ScannedDrive,
    ScannedField,
    ScannedModule,
    ScannedPack,
    ScannedPlace,
    ScannedSlot,
    ScannedSupply,
)
from brachium.core.machine.scanned.scan_rows import scan_rows

WHOLE = Scan(
    (ScannedField("memory.usable_bytes", 8 * GIB, "8589934592", "/proc/meminfo"),),
    (ScannedPlace(1, 4 * GIB, type="DDR3", speed_mts=1600, configured_mts=1333, locator="A1"), ScannedPlace(2, 0),
     ScannedPlace(3)),
    (ScannedDrive("sda", "SATA", 500 * 10**9, rotational=True, link="3.0 Gbps", link_max="6.0 Gbps",
                  counters={"pending": 3}), ScannedDrive("sdb", "USB")),
    (ScannedBattery(True, 30.0, 44.0, "Wh", cycles=120), ScannedBattery(True)),
    None, (Absent("identity.serial", "no rights", "sudo"),), (),
    (ScannedModule("0-0050", "DDR3", 4 * GIB, 1600, (1.35, 1.5)), ScannedModule("0-0051", "DDR4", checksum_ok=False)),
    (ScannedSlot("J1", "PCIe gen 3", 16, "in use"), ScannedSlot()),
    (ScannedDevice("0000:01:00.0", link="gen 1 x8", link_max="gen 3 x16"), ScannedDevice("0000:00:1f.0")),
    (), (ScannedPack("pack", design_mwh=44_000), ScannedPack()), (ScannedSupply("psu", max_w=300), ScannedSupply()),
)  # fmt: skip


def test_every_kind_of_thing_is_a_row_with_its_unit() -> None:
    assert [row[:3] for row in scan_rows(WHOLE)] == [
        ("memory usable", "8 GiB", "8589934592"),
        ("memory slot 1", "4 GiB DDR3, 1333 of 1600 MT/s", "A1"), ("memory slot 2", "empty", ""),
        ("memory slot 3", "size not told", ""),
        ("module at 0-0050", "4 GiB DDR3-1600 1.35 V, 1.5 V", ""),
        ("module at 0-0051", "size not told DDR4-? , doubtful: its checksum is wrong", ""),
        ("drive sda", "500 GB SATA disk, 3.0 Gbps of 6.0 Gbps", ""), ("drive sdb", "size not told USB drive", ""),
        ("drive sda, pending", "3", ""),
        ("battery", "30.0 of 44.0 Wh", "120 cycles"), ("battery", "capacity not told", ""),
        ("battery, design", "44.0 Wh", "pack"), ("battery, design", "not told", ""),
        ("power supply", "300 W", "psu"), ("power supply", "rating not told", ""),
        ("card slot J1", "PCIe gen 3 x16", "in use"), ("card slot", "", ""),
        ("device 0000:01:00.0", "gen 1 x8", "at most gen 3 x16"), ("device 0000:00:1f.0", "no link data", ""),
        ("identity serial", "not read", "no rights"),
    ]  # fmt: skip
