"""What stands out in a scan, and everything read as rows."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.base.units import GB, GIB
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.scanned.remarks import remarks
from brachium.core.machine.scanned.scan import (
    Absent,
    Scan,
    ScannedBattery,
    ScannedDrive,
    ScannedField,
    ScannedModule,
    ScannedPlace,
)
from brachium.core.machine.scanned.scan_rows import scan_rows
from brachium.demo.newsroom import MACHINE

GOOD = ScannedBattery(True, 35.0, 44.0, "Wh", 35 / 44, 120)
CALM = Scan(batteries=(GOOD,))
DRIVE = ScannedDrive("sda", "SATA", 500 * GB, "Sandpiper 500", None, None, True, "6.0 Gbps", "6.0 Gbps")
PLACE = ScannedPlace(0x1100, 8 * GIB, "SO-DIMM", "DDR3", "A", None, 1600, 1600)


def usable(gib: float) -> ScannedField:
    return ScannedField("memory.usable_bytes", round(gib * GIB), "", "")


@pytest.mark.parametrize(
    ("scan", "says"),
    [
        (CALM, ""),
        (replace(CALM, drives=(DRIVE,)), ""),
        (replace(CALM, drives=(replace(DRIVE, link="1.5 Gbps"),)), "Drive sda runs at 1.5 Gbps, it could at 6.0 Gbps"),
        (replace(CALM, drives=(replace(DRIVE, link=None),)), ""),
        (replace(CALM, drives=(replace(DRIVE, kind="NVMe", link="gen 1 x4", link_max="gen 3 x4"),)), ""),
        (replace(CALM, drives=(replace(DRIVE, kind="NVMe", link="gen 3 x2", link_max="gen 3 x4"),)), "gen 3 x2"),
        (replace(CALM, places=(PLACE,)), ""),
        (replace(CALM, places=(replace(PLACE, configured_mts=1333),)), "A runs at 1333 MT/s, its module is rated 1600"),
        (Scan(), "No battery is seen"),
        (Scan(batteries=(replace(GOOD, present=False),)), "No battery is seen"),
        (Scan(batteries=(replace(GOOD, full=22.0, health=0.5),)), "The battery holds 50 %"),
        (replace(CALM, places=(PLACE,), fields=(usable(3),)), "The system uses 3 GiB of 8 GiB fitted"),
        (replace(CALM, places=(PLACE,), fields=(usable(7.6),)), ""),
    ],
)
def test_what_stands_out_is_said_with_its_reason(scan: Scan, says: str) -> None:
    found = remarks(MACHINE, scan)
    assert len(found) == bool(says)
    if says:
        assert says in found[0].text and found[0].because.facts and found[0].because.text


def test_a_desktop_needs_no_battery() -> None:
    assert remarks(replace(MACHINE, kind=MachineKind.TOWER), Scan()) == ()


def test_rows_hold_everything_with_raw_value_and_source() -> None:
    scan = Scan(
        (ScannedField("memory.usable_bytes", 4 * GIB, "4294967296", "/proc/meminfo"),),
        (PLACE, replace(PLACE, size_bytes=0), replace(PLACE, size_bytes=None)), (DRIVE,), (GOOD,), None,
        (Absent("identity.serial", "it may only be read with more rights", "run it as root"),), (),
        (ScannedModule("0-0050", "DDR3", 8 * GIB, 1600, (1.5, 1.35), "PLV", False),),
    )  # fmt: skip
    rows = scan_rows(scan)
    assert rows[0] == ("memory usable", "4 GiB", "4294967296", "/proc/meminfo")
    assert [r[1] for r in rows[1:4]] == ["8 GiB DDR3, 1600 of 1600 MT/s", "empty", "size not told"]
    assert rows[4][1] == "8 GiB DDR3-1600 1.5 V, 1.35 V, doubtful: its checksum is wrong"
    assert rows[5][1] == "500 GB SATA disk, 6.0 Gbps of 6.0 Gbps" and rows[6][1] == "35.0 of 44.0 Wh"
    assert rows[7] == ("identity serial", "not read", "it may only be read with more rights", "run it as root")


def test_a_place_of_unknown_size_counts_nothing() -> None:
    unknown = replace(PLACE, handle=2, size_bytes=None)
    assert not remarks(MACHINE, replace(CALM, places=(PLACE, unknown), fields=(usable(7.5),)))
    found = remarks(MACHINE, replace(CALM, places=(PLACE, unknown), fields=(usable(3.2),)))
    assert [r.text for r in found] == ["The system uses 3.2 GiB of 8 GiB fitted"]
