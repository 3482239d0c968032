"""Cases from machines that walked in: what a record by hand leaves open, and ground that the first tables left out."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GB, GIB
from brachium.core.fit.verdict import Level
from brachium.core.machine.card_parts import Card, RadioKey
from brachium.core.machine.cooling_parts import FanPlug, Pad, Paste, PasteKind
from brachium.core.machine.drive_part import BayForm, Drive, DriveInterface
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Lead, LeadKind
from brachium.core.machine.platform import BootMode, CardSlot, ChipContact, DriveMode
from brachium.core.record.systems import SystemSpec
from tests.core.fit.bench_machines import (
    ADAPTER,
    BATTERY,
    BOARD,
    CARD,
    CHIP,
    COOLER,
    D3,
    DISK,
    FAN,
    NVME,
    OLD_CHIP,
    RADIO,
    SSD,
    SUPPLY,
    TOWER,
)
from tests.core.fit.bench_machines import FitCase as C

F, L, N, U, R = Level.FITS, Level.LIMITED, Level.NEEDS_FIRST, Level.NOT_KNOWN, Level.REFUSED
NEW = {"socket": CHIP}
TPM = SystemSpec("t", "asks for TPM", functions=("TPM 2.0",))
AVX = SystemSpec("a", "asks for AVX2", features=("AVX2",))
UEFI_ONLY = SystemSpec("u", "asks for UEFI", boot_mode=BootMode.UEFI)
LEGACY = {"platform.system.boot_mode": BootMode.LEGACY}
PLUGS = TOWER.leads
EIGHTS = (*PLUGS, Lead("e1", "8-pin 1", LeadKind.CARD_8), Lead("e2", "8-pin 2", LeadKind.CARD_8))
WIDE = (*PLUGS, Lead("w", "16-pin", LeadKind.CARD_16))
BIG16 = replace(CARD, name="wide plug", power_w=285.0, plugs=("16-pin",))
BOX = CardSlot("card-3", "Box outside", 4, 4, 3, outside=True)
OUTSIDE = {"platform.cards": (*TOWER.platform.cards, BOX)}
SPACER = {"bays.bay-main.needs": "2.5 mm spacer"}
CARRIER = Card("drive card", 4, 3, 10.0, (), 120.0, 1, False, False, carries=DriveInterface.NVME,
               carries_lengths_mm=(60, 80))  # fmt: skip
ON_CARD = {"card-1": CARRIER, "card-1.m2": NVME}
ARRAY = {"fitted.bay-2": replace(DISK, form=BayForm.IN_2_5, height_mm=9.5), "leads": EIGHTS}
NO_KIND = replace(D3, name="no kind", buffering=None)
PROFILE = replace(D3, name="fast", speed_mts=2000, standard_mts=1600)
FASTER = {"memory.board_max_mts": 2133, "parts.socket.memory_mts": 2133, "memory.derates": ()}
OWN_PLUG = {"platform.power.adapter_v": 19.5, "platform.power.plug": "own", "platform.power.polarity": "centre +"}
BY_19 = replace(ADAPTER, volts=19.5, plug="own", polarity="centre +")
ASKS = {"platform.power.battery_v": 11.1, "platform.power.battery_plug": "7 contacts"}
LIKE = replace(BATTERY, volts=10.8, plug="7 contacts")
SAS = Drive("server disk", DriveInterface.SAS, BayForm.IN_2_5, 15.0, 600 * GB, True, 200.0, 110.0, 6.0)
U2 = Drive("server ssd", DriveInterface.NVME, BayForm.IN_2_5, 15.0, 1600 * GB, False, 3200.0, 3200.0, 0.08)
RANGE = {"platform.contacts.pad_mm": None, "platform.chips": (ChipContact("vrm", "Voltage stage", None, 0.9, 1.1),)}
NO_LIST = {"platform.board.families": None}
COMBO = {"bays.m2.interface": DriveInterface.SATA, "bays.m2.also": (DriveInterface.NVME,), "bays.m2.link_mb_s": 600.0}

PROCESSOR_ROWS: tuple[C, ...] = (
    C("CPU-MOUNT", F, "sits in a socket", NEW, {"platform.board.soldered": False}, on="laptop"),
    C("CPU-SOCKET", F, "socket KM-2", NEW, {"platform.board.socket": None, "platform.board.revision": None},
      figure="the fitted processor"),
    C("CPU-SOCKET", R, "for socket KX-3, the board has KM-2", {"socket": replace(CHIP, socket="KX-3")},
      {"platform.board.socket": None}),
    C("CPU-CHIPSET", F, "as the fitted one", NEW, NO_LIST),
    C("CPU-CHIPSET", U, "families that the chipset lists", {"socket": replace(CHIP, family="D5")}, NO_LIST),
    C("CPU-FIRMWARE", N, "at least 2.0: read it on the first firmware page", NEW, {"identity.firmware": ""}),
    C("CPU-FIRMWARE", U, "firmware version not known", NEW, {"identity.firmware": ""}, {"starts": False}),
    C("CPU-FIRMWARE", U, "cannot order these two: A14 and 2.0", NEW,
      {"identity.firmware": "A14", "platform.board.steps": ()}),
    C("CPU-FIRMWARE", F, "2019-03-04 knows it", {"socket": replace(CHIP, first_firmware="2018-11-30")},
      {"identity.firmware": "2019-03-04", "platform.board.steps": ()}),
    C("CPU-FIRMWARE", N, "firmware 03/04/2019 first", {"socket": replace(CHIP, first_firmware="03/04/2019")},
      {"identity.firmware": "11/30/2018", "platform.board.steps": ()}),
    C("CPU-FIRMWARE", N, "firmware A14 first", {"socket": replace(CHIP, first_firmware="A14")},
      {"identity.firmware": "A9", "platform.board.steps": ()}),
    C("CPU-POWER", F, "84 W of at most 95 W; the clock it holds is not measured", NEW, around={"heat": None}),
    C("CPU-POWER", F, "35 W of at most 35 W", {"socket": replace(CHIP, power_w=35.0)},
      {"platform.board.power_w": 35.0}),
    C("CPU-POWER", L, "125 W on a board for 95 W", {"socket": replace(CHIP, power_w=125.0)}, around={"heat": None},
      figure="not measured"),
    C("CPU-POWER", U, "supply stage is specified for not known", {"socket": replace(CHIP, power_w=95.0)},
      {"platform.board.power_w": None}, {"heat": None}),
    C("CPU-ISA", R, "the board lacks TPM 2.0", {}, around={"system": TPM}),
    C("CPU-ISA", F, "has what the planned system asks for", {}, {"platform.board.functions": ("UEFI", "TPM 2.0")},
      {"system": TPM}),
    C("CPU-ISA", R, "needs AVX2", {}, {"fitted.socket": replace(OLD_CHIP, features=("64-bit",))}, {"system": AVX}),
    C("CPU-ISA", U, "processor's instructions", {}, {"fitted.socket": None}, {"system": AVX}),
    C("CPU-ISA", R, "lacks UEFI", {}, {"platform.board.functions": ()}, {"system": UEFI_ONLY}),
    C("CPU-ISA", F, "has what", {"board": replace(BOARD, functions=("UEFI", "TPM 2.0"))}, around={"system": TPM}),
    C("CPU-ISA", U, "functions of firmware", {"board": BOARD}, around={"system": TPM}),
)  # fmt: skip

MEMORY_ROWS: tuple[C, ...] = (
    C("MEM-PROFILE", N, "memory profile for 2000 MT/s", {"slot-1": PROFILE, "slot-3": PROFILE}, FASTER,
      figure="1600"),
    C("MEM-PROFILE", F, "1600 MT/s needs no profile", {"slot-1": PROFILE, "slot-3": PROFILE}),
    C("MEM-PROFILE", L, "sets no profiles: 1600 MT/s, not 2000", {"slot-1": PROFILE, "slot-3": PROFILE},
      {**FASTER, "memory.takes_profiles": False}),
    C("MEM-PROFILE", N, "memory profile for 2400 MT/s",
      {k: replace(D3, speed_mts=2400) for k in ("slot-1", "slot-3")},
      {"memory.board_max_mts": 2400, "parts.socket.memory_mts": 2400, "memory.derates": ()}),
    C("MEM-PROFILE", None, "", {"slot-2": D3}),
    C("MEM-REG", L, "without its ECC", {"slot-2": replace(D3, ecc=True)}, {"memory.takes_ecc": False}),
    C("MEM-DENS", F, "2 Gbit chips", {"slot-2": replace(D3, name="new")}),
    C("MEM-DENS", F, "runs here today", {"slot-1": None, "slot-2": D3}),
    C("MEM-REG", F, "runs here today", {"slot-1": None, "slot-2": NO_KIND}, {"fitted.slot-1": NO_KIND}),
    C("MEM-DENS", R, "8 Gbit", {"slot-1": replace(D3, size_bytes=8 * GIB, ranks=1, chip_width=8), "slot-3": None},
      {"memory.chip_max_gbit": 2.0, "slots.slot-1.max_bytes": 4 * GIB}),
)  # fmt: skip

STORAGE_ROWS: tuple[C, ...] = (
    C("STO-LINK", L, "limits it to 857 MB/s", {"m2": NVME}, {**COMBO, "bays.m2.also_link_mb_s": 985.0}),
    C("STO-LINK", F, "by the link, not recorded", {"m2": NVME}, COMBO),
    C("STO-LINK", F, "540 MB/s within the link", {"m2": replace(SSD, form=BayForm.M2)}, COMBO),
    C("STO-LINK", F, "3000 MB/s within the link", {"m2": NVME}),
    C("STO-BOOT", R, "legacy firmware starts from no drive of 4096-byte sectors",
      {"bay-1": replace(DISK, size_bytes=4000 * GB, sector_bytes=4096)}, LEGACY),
    C("STO-BOOT", F, "as the old drive did", {"bay-1": replace(DISK, size_bytes=4000 * GB, sector_bytes=4096)}),
    C("STO-BOOT", F, "data, not started from",
      {"bay-2": replace(SSD, sector_bytes=4096, role="data")}, LEGACY),
    C("STO-BOOT", F, "as the old drive did", {"bay-1": replace(DISK, sector_bytes=512)}, LEGACY),
    C("STO-BOOT", F, "starts in UEFI mode", {"board": BOARD}),
    C("STO-BOOT", R, "the system starts in UEFI mode", {"board": replace(BOARD, boot_modes=("legacy",))}),
    C("STO-BOOT", N, "ready for UEFI start first", {"board": replace(BOARD, boot_modes=("UEFI",))}, LEGACY),
    C("STO-BOOT", U, "start modes", {"board": replace(BOARD, boot_modes=None)}),
    C("STO-MODE", L, "has legacy mode only", {"bay-2": SSD},
      {"platform.board.drive_mode": DriveMode.LEGACY, "platform.board.drive_modes": (DriveMode.LEGACY,)}),
    C("STO-MODE", N, "hidden by the RAID mode", {"bay-2": SSD}, {"platform.board.drive_mode": DriveMode.RAID}),
    C("STO-MODE", N, "hidden by the RAID mode", {"m2": NVME}, {"platform.board.drive_mode": DriveMode.RAID}),
    C("STO-MODE", F, "AHCI mode", {"bay-2": SSD}, {"platform.board.drive_modes": tuple(DriveMode)}),
    C("STO-MODE", None, "", {"m2": NVME}),
    C("STO-THERM", N, "a pad or spreader first", {"m2": NVME}, {"bays.m2.air": False}),
    C("STO-THERM", N, "a pad or spreader first", {"m2": replace(NVME, length_mm=60)}, {"bays.m2.air": False}),
    C("STO-THERM", F, "its own spreader", {"m2": replace(NVME, spreader=True)}, {"bays.m2.air": False}),
    C("STO-IF", R, "SAS drive, but the port is SATA", {"bay-1": SAS}, figure="a SAS port takes both"),
    C("STO-IF", F, "SATA drive on a SAS port", {"bay-2": SSD}, {"bays.bay-2.interface": DriveInterface.SAS}),
    C("STO-IF", F, "SAS on a SAS port", {"bay-2": replace(SAS, height_mm=9.5)},
      {"bays.bay-2.interface": DriveInterface.SAS}),
    C("STO-BAY", R, "a 2.5 in drive does not go into an M.2", {"m2": U2}, figure="U.2"),
    C("STO-IF", R, "NVMe drive, but the port is SATA", {"bay-2": U2}),
    C("STO-BAY", N, "needs a 2.5 mm spacer first", {"bay-main": SSD}, SPACER, on="laptop"),
    C("STO-BAY", F, "2.5 mm spacer, which is at hand", {"bay-main": SSD},
      {**SPACER, "bays.bay-main.needs_at_hand": True}, on="laptop"),
    C("STO-BAY", F, "9.5 mm in a bay for 9.5 mm", {"bay-main": replace(SSD, height_mm=9.5)}, SPACER, on="laptop"),
    C("STO-LINK", L, "limits it to 1740 MB/s", ON_CARD, {"platform.cards.card-1.generation": 2},
      figure="gen 2 x4"),
    C("STO-LINK", F, "3000 MB/s within the link", ON_CARD),
    C("STO-BOOT", F, "starts in UEFI mode", ON_CARD),
    C("STO-BOOT", L, "for data only", ON_CARD, {"platform.board.nvme_start": False}),
    C("STO-KEY", F, "80 mm, standoff there", ON_CARD),
    C("STO-KEY", R, "110 mm long", {**ON_CARD, "card-1.m2": replace(NVME, length_mm=110)}),
    C("PSU-SPIN", F, "of 360 W on 12 V while the disks start", {"bay-2": replace(DISK, form=BayForm.IN_2_5)}),
    C("PSU-SPIN", R, "on 12 V while the disks start, the supply gives 90 W", {"bay-2": replace(DISK, name="second")},
      {"parts.supply.rated_12v_w": 90.0, "platform.board.staggered_start": False}, figure="2 disks at 24 W"),
    C("PSU-SPIN", U, "disks started in turn", {"bay-2": replace(DISK, name="second")},
      {"parts.supply.rated_12v_w": 90.0}),
    C("PSU-SPIN", F, "one after another", {"bay-2": replace(DISK, name="second")},
      {"parts.supply.rated_12v_w": 90.0, "parts.supply.rated_w": 120.0, "platform.board.staggered_start": True}),
    C("PSU-SPIN", U, "rating of its 12 V output", {"bay-2": replace(DISK, name="second")},
      {"parts.supply.rated_12v_w": None}),
    C("PSU-SPIN", None, "", {"bay-2": SSD}),
)  # fmt: skip

POWER_ROWS: tuple[C, ...] = (
    C("PSU-ADAPTER", R, "12 V, the machine takes 19.5 V", {"adapter": replace(BY_19, volts=12.0)}, OWN_PLUG,
      on="laptop"),
    C("PSU-ADAPTER", F, "65 W, 65 W asked for", {"adapter": BY_19}, OWN_PLUG, on="laptop"),
    C("PSU-ADAPTER", F, "90 W, 65 W asked for", {"adapter": replace(BY_19, rated_w=None, amps=4.62)}, OWN_PLUG,
      on="laptop"),
    C("PSU-ADAPTER", R, "plug 5.5 x 2.5, the machine takes own", {"adapter": replace(BY_19, plug="5.5 x 2.5")},
      OWN_PLUG, on="laptop"),
    C("PSU-ADAPTER", R, "centre -, the machine takes centre +", {"adapter": replace(BY_19, polarity="centre -")},
      OWN_PLUG, on="laptop"),
    C("PSU-ADAPTER", U, "adapter's voltage not known", {"adapter": replace(BY_19, volts=None)}, OWN_PLUG, on="laptop"),
    C("PSU-ADAPTER", U, "voltage that the machine takes not known", {"adapter": BY_19},
      {**OWN_PLUG, "platform.power.adapter_v": None}, on="laptop"),
    C("PSU-ADAPTER", F, "65 W, 65 W asked for", {"adapter": replace(BY_19, name="new")},
      {"fitted.adapter": BY_19, "platform.power.adapter_w": None, "platform.power.usb_c": None}, on="laptop"),
    C("PSU-ADAPTER", R, "takes no USB-C", {"adapter": replace(ADAPTER, usb_c_v=20.0, usb_c_a=3.25)},
      {**OWN_PLUG, "platform.power.usb_c": False},
      on="laptop"),
    C("PSU-ADAPTER", L, "gives 45 W, the machine asks for 65 W",
      {"adapter": replace(ADAPTER, usb_c_v=15.0, usb_c_a=3.0)}, {"platform.power.usb_c": True}, on="laptop"),
    C("BAT-FIT", F, "3 cells in series, 7 contacts", {"battery": LIKE}, ASKS, on="laptop"),
    C("BAT-FIT", R, "14.8 V, the machine takes 11.1 V", {"battery": replace(LIKE, volts=14.8)}, ASKS, on="laptop"),
    C("BAT-FIT", R, "plug 9 contacts, the machine takes 7 contacts", {"battery": replace(LIKE, plug="9 contacts")},
      ASKS, on="laptop"),
    C("BAT-FIT", U, "battery's voltage not known", {"battery": replace(LIKE, volts=None)}, ASKS, on="laptop"),
    C("BAT-FIT", U, "voltage of the machine's battery", {"battery": LIKE}, on="laptop"),
    C("BAT-FIT", F, "3 cells in series", {"battery": replace(LIKE, name="new")},
      {"fitted.battery": replace(LIKE, volts=11.1)}, on="laptop"),
    C("GFX-POWER", R, "draws 90 W: slot 75 W, no plugs; the largest card that fits draws 75 W",
      {"card-1": replace(CARD, power_w=90.0)}),
    C("GFX-POWER", R, "slot 75 W + 8-pin 150 W, but the supply has 6-pin alone; the largest card that fits draws 150",
      {"card-1": replace(CARD, power_w=180.0, plugs=("8-pin",))}),
    C("GFX-POWER", F, "180 W: slot 75 W + 8-pin 150 W", {"card-1": replace(CARD, power_w=180.0, plugs=("8-pin",))},
      {"leads": EIGHTS}),
    C("GFX-POWER", F, "180 W: slot 75 W + 8-pin 150 W",
      {"card-1": replace(CARD, power_w=180.0, plugs=("8-pin",)),
       "supply": replace(SUPPLY, name="new", connectors=("SATA power", "SATA power", "8-pin card power"))}),
    C("GFX-POWER", R, "the supply has none",
      {"card-1": replace(CARD, power_w=180.0, plugs=("8-pin",)),
       "supply": replace(SUPPLY, name="new", connectors=("SATA power", "8-pin processor power"))}),
    C("GFX-POWER", U, "connectors of new",
      {"card-1": replace(CARD, power_w=180.0, plugs=("8-pin",)), "supply": replace(SUPPLY, name="new")}),
    C("GFX-POWER", F, "285 W: slot 75 W + 16-pin 300 W", {"card-1": BIG16},
      {"leads": WIDE, "parts.supply.card_16_w": 300.0}),
    C("GFX-POWER", R, "the largest card that fits draws 225", {"card-1": BIG16},
      {"leads": WIDE, "parts.supply.card_16_w": 150.0}),
    C("GFX-POWER", U, "16-pin plug", {"card-1": BIG16}, {"leads": WIDE}),
    C("GFX-POWER", N, "adapter from 2 8-pin plugs to 16-pin", {"card-1": BIG16}, {"leads": EIGHTS}),
    C("GFX-POWER", R, "the supply has 6-pin alone", {"card-1": BIG16}),
    C("GFX-POWER", F, "50 W: slot 75 W", {"card-1": replace(CARD, power_w=50.0, low_profile=True)}),
    C("GFX-POWER", R, "slot 25 W", {"card-1": replace(CARD, power_w=50.0, low_profile=True)},
      {"kind": MachineKind.SMALL_DESKTOP, "platform.cards.card-1.power_w": 25.0}),
    C("GFX-POWER", U, "power of card slot 1", {"card-1": replace(CARD, power_w=50.0, low_profile=True)},
      {"kind": MachineKind.SMALL_DESKTOP}),
    C("PSU-LOAD", R, "the largest card that fits draws", {"card-1": replace(CARD, power_w=250.0, plugs=("8-pin",))},
      {"parts.supply.rated_w": 250.0, "parts.supply.rated_12v_w": 240.0, "leads": EIGHTS}),
)  # fmt: skip

CARD_ROWS: tuple[C, ...] = (
    C("GFX-SLOT", U, "length of card not known", {"card-1": replace(CARD, length_mm=None)}),
    C("GFX-SLOT", F, "gen 3 x16", {"card-1": replace(CARD, length_mm=170.0)},
      {"platform.cards.card-1.length_mm": 170.0}),
    C("GFX-SLOT", U, "lanes of card slot 1", {"card-1": CARD}, {"platform.cards.card-1.lanes": None}),
    C("GFX-SLOT", L, "gen 3 x4: 3.9 of 15.8 GB/s", {"card-3": CARD}, OUTSIDE, figure="box"),
    C("GFX-SLOT", L, "gen 3 x4", {"card-3": replace(CARD, length_mm=300.0, thickness=3)}, OUTSIDE),
    C("GFX-POWER", F, "supply of its own", {"card-3": replace(CARD, power_w=220.0, plugs=("8-pin", "6-pin"))},
      OUTSIDE),
    C("GFX-FW", L, "no picture under UEFI start", {"card-1": replace(CARD, legacy_only=True, needs_uefi=False)}),
    C("GFX-FW", F, "picture from the start", {"card-1": replace(CARD, legacy_only=True, needs_uefi=False)}, LEGACY),
    C("NET-RADIO", R, "half of it sits in a processor", {"radio": replace(RADIO, processor_bus=True)},
      {"platform.radio.processor_bus": False}),
    C("NET-RADIO", F, "key E, 2 antennas", {"radio": replace(RADIO, processor_bus=True)},
      {"platform.radio.processor_bus": True}),
    C("NET-RADIO", U, "wiring of the radio slot", {"radio": replace(RADIO, processor_bus=True)}),
    C("NET-RADIO", R, "the slot is wired to the processor alone", {"radio": replace(RADIO, processor_bus=False)},
      {"platform.radio.processor_bus": True}),
    C("NET-RADIO", F, "key A+E", {"radio": replace(RADIO, key=RadioKey.A_E)}),
)  # fmt: skip

COOLING_ROWS: tuple[C, ...] = (
    C("COOL-FAN", L, "at full speed only", {"fan-1": FAN}, {"platform.headers.fan-1.plug": FanPlug.PIN_3}),
    C("COOL-FAN", F, "4-pin on a 4-pin", {"fan-1": FAN}),
    C("COOL-PAD", F, "1 mm for 0.9 to 1.1 mm", {"pads": Pad("pad", 1.0)}, RANGE),
    C("COOL-PAD", N, "1.25 mm where 1 mm was", {"pads": Pad("pad", 1.25)}),
    C("COOL-PAD", R, "lift the plate", {"pads": Pad("pad", 2.0)}, RANGE),
    C("COOL-PAD", R, "do not reach", {"pads": Pad("pad", 0.5)}, RANGE),
    C("COOL-PASTE", F, "phase-change sheet", {"paste": Paste("sheet", PasteKind.PHASE_CHANGE)}, figure="warm"),
    C("COOL-PASTE", F, "phase-change sheet", {"paste": Paste("sheet", PasteKind.PHASE_CHANGE)}, on="laptop"),
    C("COOL-MOUNT", L, "the board comes out for its back plate", {"cooler": replace(COOLER, back_plate=True)},
      {"platform.case.cutout": False}),
    C("COOL-MOUNT", F, "mounting there", {"cooler": replace(COOLER, back_plate=True)}),
    C("COOL-MOUNT", U, "cut-out behind the socket", {"cooler": replace(COOLER, back_plate=True)},
      {"platform.case.cutout": None}),
)  # fmt: skip

REAL_CASES = (*PROCESSOR_ROWS, *MEMORY_ROWS, *STORAGE_ROWS, *POWER_ROWS, *CARD_ROWS, *COOLING_ROWS)
