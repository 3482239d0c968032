"""Cases of the storage rules."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GB
from brachium.core.drives.health import DriveState
from brachium.core.fit.verdict import Level
from brachium.core.machine.drive_part import BayForm, DriveInterface, M2Key, Thread
from brachium.core.machine.machine import Lead, LeadKind
from brachium.core.machine.platform import BootMode, DriveMode
from tests.core.fit.bench_machines import DISK, NVME, PATA, SSD
from tests.core.fit.bench_machines import FitCase as C

F, L, N, U, R = Level.FITS, Level.LIMITED, Level.NEEDS_FIRST, Level.NOT_KNOWN, Level.REFUSED
SATA_M2 = replace(NVME, interface=DriveInterface.SATA, key=M2Key.B_M)
LARGE = replace(DISK, size_bytes=4000 * GB, sector_bytes=512)
LEGACY = {"platform.system.boot_mode": BootMode.LEGACY}
ONE_LEAD = (Lead("l1", "SATA power 1", LeadKind.SATA, "bay-1"),)
PAIR = {"platform.cache_pairs": (("bay-1", "bay-2"),), "fitted.bay-2": SSD}
MEDIA, CLEAN, CABLE = ({"drives": {"bay-1": s}} for s in (DriveState.MEDIA, DriveState.CLEAN, DriveState.INTERFACE))

STORAGE_CASES: tuple[C, ...] = (
    C("STO-IF", F, "SATA on a SATA port", {"bay-2": SSD}),
    C("STO-IF", F, "which the place carries too", {"m2": SATA_M2}, {"bays.m2.also": (DriveInterface.SATA,)}),
    C("STO-IF", R, "NVMe drive, but the port is SATA", {"bay-2": NVME}),
    C("STO-IF", R, "SATA drive, but the port is NVMe", {"m2": SATA_M2}),
    C("STO-IF", R, "parallel ATA drive", {"bay-1": PATA}),
    C("STO-KEY", F, "key M, 80 mm", {"m2": NVME}),
    C("STO-KEY", F, "key B+M, 60 mm", {"m2": replace(NVME, key=M2Key.B_M, length_mm=60)}, {"bays.m2.key": None}),
    C("STO-KEY", R, "key B does not go into a key M", {"m2": replace(NVME, key=M2Key.B)}),
    C("STO-KEY", R, "110 mm long", {"m2": replace(NVME, length_mm=110)}),
    C("STO-KEY", R, "chips on both sides", {"m2": replace(NVME, double_sided=True)}),
    C("STO-KEY", N, "standoff at 42 mm", {"m2": replace(NVME, length_mm=42)}),
    C("STO-KEY", U, "standoffs of m.2 place not known", {"m2": NVME}, {"bays.m2.lengths_mm": None}),
    C("STO-KEY", U, "drive's length not known", {"m2": replace(NVME, length_mm=None)}),
    C("STO-LINK", F, "540 MB/s within the link", {"bay-2": SSD}),
    C("STO-LINK", F, "150 MB/s within the link", {"bay-1": DISK}),
    C("STO-LINK", L, "limits it to 276 MB/s", {"bay-2": SSD}, {"bays.bay-2.link_mb_s": 300.0}),
    C("STO-LINK", L, "limits it to 368 MB/s", {"bay-2": SSD}, {"bays.bay-2.uplink_mb_s": 400.0}),
    C("STO-LINK", L, "limits it to 138 MB/s", {"bay-optical": SSD}, on="laptop"),
    C("STO-LINK", F, "138 to 540 MB/s, by the link, not recorded", {"bay-2": SSD}, {"bays.bay-2.link_mb_s": None}),
    C("STO-LINK", F, "130 MB/s within any link", {"bay-2": replace(SSD, outer_mb_s=130.0)},
      {"bays.bay-2.link_mb_s": None}),
    C("STO-BAY", F, "7 mm in a bay for 9.5 mm", {"bay-2": SSD}),
    C("STO-BAY", F, "26.1 mm in a bay for 26.1", {"bay-1": DISK}),
    C("STO-BAY", F, "M.2 in a place for M.2", {"m2": NVME}),
    C("STO-BAY", R, "12.5 mm high, the bay takes 9.5 mm", {"bay-2": replace(SSD, height_mm=12.5)}),
    C("STO-BAY", R, "3.5 in drive has no place", {"bay-2": DISK}),
    C("STO-BAY", N, "needs a 9.5 mm caddy first", {"bay-optical": SSD}, on="laptop"),
    C("STO-BAY", F, "9.5 mm caddy, which is at hand", {"bay-optical": SSD}, {"bays.bay-optical.needs_at_hand": True},
      on="laptop"),
    C("STO-BAY", N, "adapter frame first", {"bay-1": SSD}, {"bays.bay-1.needs": "2.5 in adapter frame"}),
    C("STO-BAY", N, "needs a bracket for a 2.5 in drive first", {"bay-1": SSD}),
    C("STO-BAY", F, "bracket for a 2.5 in drive, which is at hand", {"bay-1": SSD}, {"bays.bay-1.needs_at_hand": True}),
    C("STO-BAY", F, "in a bay of that form", {"bay-1": DISK}, {"bays.bay-1.max_height_mm": None}),
    C("STO-BAY", F, "no higher than what sits there", {"bay-main": SSD}, {"bays.bay-main.max_height_mm": None},
      on="laptop"),
    C("STO-BAY", U, "height of drive bay 2 not known", {"bay-2": SSD}, {"bays.bay-2.max_height_mm": None}),
    C("STO-SCREW", F, "takes M3 screws", {"bay-2": SSD}),
    C("STO-SCREW", F, "takes 6-32 screws", {"bay-1": DISK}),
    C("STO-SCREW", N, "M3 screws for the drive", {"bay-2": SSD}, {"bays.bay-2.thread": Thread.COARSE}),
    C("STO-SCREW", N, "M2.5 screws", {"m2": replace(NVME, thread=Thread.M2_5)}, {"bays.m2.thread": Thread.M2}),
    C("STO-POWER", F, "2 SATA power leads for 2 drives", {"bay-2": SSD}),
    C("STO-POWER", F, "pin 3 carries no power", {"bay-1": replace(DISK, power_disable=True)}),
    C("STO-POWER", None, "", {"bay-1": replace(DISK, name="other")}, {"leads": ONE_LEAD}),
    C("STO-POWER", R, "no power lead is free", {"bay-2": SSD}, {"leads": ONE_LEAD}),
    C("STO-POWER", N, "adapter from a 4-pin", {"bay-2": SSD},
      {"leads": (*ONE_LEAD, Lead("l4", "4-pin", LeadKind.DRIVE_4))}),
    C("STO-POWER", N, "pin 3 would keep it", {"bay-1": replace(DISK, power_disable=True)},
      {"parts.supply.pin3_power": True}),
    C("STO-POWER", U, "number of SATA power leads", {"bay-2": SSD}, {"leads": ()}),
    C("STO-SHARE", F, "switched off and empty", {"m2": NVME}),
    C("STO-SHARE", F, "switched off and empty", {"m2": NVME}, {"bays.m2.excludes": ("card-1",)}),
    C("STO-SHARE", R, "drive bay 2 off, which is filled", {"m2": NVME, "bay-2": SSD}),
    C("STO-SHARE", R, "drive bay 1 off, which is filled", {"m2": NVME}, {"bays.m2.excludes": ("bay-1",)}),
    C("STO-BOOT", F, "starts in UEFI mode", {"m2": NVME}),
    C("STO-BOOT", F, "as the old drive did", {"bay-2": SSD}, LEGACY),
    C("STO-BOOT", F, "starts in UEFI mode", {"bay-1": LARGE}),
    C("STO-BOOT", F, "as the old drive did", {"bay-1": replace(LARGE, sector_bytes=4096)}, LEGACY),
    C("STO-BOOT", L, "for data only", {"m2": NVME}, {"platform.board.nvme_start": False}),
    C("STO-BOOT", R, "does not start from NVMe", {"m2": NVME, "bay-1": None}, {"platform.board.nvme_start": False}),
    C("STO-BOOT", N, "ready for UEFI start first", {"m2": NVME}, LEGACY),
    C("STO-BOOT", R, "offers none for this drive", {"m2": NVME},
      {**LEGACY, "platform.board.boot_modes": (BootMode.LEGACY,)}),
    C("STO-BOOT", L, "an MBR reaches 2.2 TB", {"bay-1": LARGE}, LEGACY),
    C("STO-BOOT", U, "sectors of", {"bay-1": replace(LARGE, sector_bytes=None)}, LEGACY),
    C("STO-BOOT", U, "start mode of the installed system", {"bay-1": LARGE}, {"platform.system.boot_mode": None}),
    C("STO-MODE", F, "AHCI mode", {"bay-2": SSD}),
    C("STO-MODE", F, "AHCI mode", {"bay-main": SSD}, on="laptop"),
    C("STO-MODE", N, "runs in legacy mode", {"bay-2": SSD}, {"platform.board.drive_mode": DriveMode.LEGACY}),
    C("STO-MODE", N, "runs in legacy mode", {"bay-main": SSD}, {"platform.board.drive_mode": DriveMode.LEGACY},
      on="laptop"),
    C("STO-MODE", F, "works in AHCI and legacy mode", {"bay-2": SSD}, {"platform.board.drive_mode": None}),
    C("STO-CACHE", N, "work as one", {"bay-2": None}, PAIR),
    C("STO-CACHE", N, "work as one", {"bay-1": LARGE}, PAIR, {"data_safe": False}),
    C("STO-CACHE", None, "", {"m2": NVME}, {**PAIR, "bays.m2.excludes": ()}),
    C("STO-CACHE", None, "", {"bay-1": LARGE}),
    C("STO-DATA", F, "15 % stays free", {"bay-1": LARGE}),
    C("STO-DATA", F, "15 % stays free", {"bay-2": SSD}),
    C("STO-DATA", F, "stays free", {"bay-1": LARGE}, {"platform.system.used_bytes": None}, {"used_bytes": None}),
    C("STO-DATA", N, "less than 15 % free", {"bay-2": SSD}, around={"used_bytes": 430 * GB}),
    C("STO-DATA", R, "more than it holds", {"bay-2": SSD}, around={"used_bytes": 600 * GB}),
    C("STO-DATA", U, "bytes in use on the old drive", {"bay-2": SSD}, {"platform.system.used_bytes": None},
      {"used_bytes": None}),
    C("STO-HEALTH", F, "counters: clean", {"bay-1": LARGE}, around=CLEAN),
    C("STO-HEALTH", F, "counters: interface errors rise", {"bay-1": LARGE}, around=CABLE),
    C("STO-HEALTH", N, "image it before anything else", {"bay-1": LARGE}, around=MEDIA),
    C("STO-HEALTH", N, "new cable first", {"bay-2": SSD}, around=CABLE),
    C("STO-HEALTH", N, "fails, and stays: image it", {"bay-2": SSD}, around=MEDIA),
    C("STO-HEALTH", N, "fails, and stays: image it", {}, around=MEDIA),
    C("STO-THERM", F, "air or a pad reaches it", {"m2": NVME}),
    C("STO-THERM", F, "its own spreader", {"m2": replace(NVME, spreader=True)}, {"bays.m2.air": False}),
    C("STO-THERM", L, "no air there", {"m2": NVME}, {"bays.m2.air": False}),
    C("STO-THERM", L, "no air there", {"m2": replace(NVME, length_mm=60)}, {"bays.m2.air": False}),
    C("STO-THERM", F, "wants a pad where no air reaches it", {"m2": NVME}, {"bays.m2.air": None}),
    C("LEG-ATA", F, "full size and rate", {"old": PATA}),
    C("LEG-ATA", F, "full size and rate", {"old": replace(PATA, size_bytes=250 * GB, outer_mb_s=60.0)},
      {"bays.old.ata_bits": 48, "bays.old.cable_wires": 80}),
    C("LEG-ATA", L, "137 GB of it", {"old": replace(PATA, size_bytes=250 * GB)}),
    C("LEG-ATA", L, "33 MB/s", {"old": replace(PATA, outer_mb_s=60.0)}),
    C("LEG-ATA", U, "wires of the parallel cable", {"old": replace(PATA, outer_mb_s=60.0)},
      {"bays.old.cable_wires": None}),
    C("LEG-ATA", None, "", {"bay-2": replace(SSD, form=BayForm.IN_2_5)}),
)  # fmt: skip
