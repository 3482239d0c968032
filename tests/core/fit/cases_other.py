"""Cases of the card, supply, board, platform and lock rules."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GB, GIB
from brachium.core.fit.verdict import Level
from brachium.core.machine.card_parts import RadioKey
from brachium.core.machine.locks import Locks, LockState
from brachium.core.machine.machine import Lead, LeadKind
from brachium.core.machine.memory_part import MemoryGeneration
from brachium.core.machine.platform import BootMode
from brachium.core.record.systems import SystemSpec
from tests.core.fit.bench_machines import ADAPTER, BATTERY, BOARD, CARD, CHIP, D3, NVME, OLD_CHIP, RADIO, SSD, SUPPLY
from tests.core.fit.bench_machines import FitCase as C

F, L, N, U, R = Level.FITS, Level.LIMITED, Level.NEEDS_FIRST, Level.NOT_KNOWN, Level.REFUSED
ONE = {"card-1": CARD}
SMALL = replace(CARD, lanes=4, generation=2, power_w=15.0, length_mm=160.0)
STRONG = replace(CARD, power_w=120.0, plugs=("6-pin",))
LEGACY = {"platform.system.boot_mode": BootMode.LEGACY}
NO_PLUG = {"leads": (Lead("l1", "SATA power 1", LeadKind.SATA, "bay-1"), Lead("p", "p", LeadKind.PROCESSOR_8))}
NEW_BOARD = {"board": BOARD}
DESK = SystemSpec("d", "Desk", 64, 4 * GIB, 32 * GB, 2, ("64-bit",), (), None, None, "2029-06-30")
LIGHT = SystemSpec("l", "Light", 32, GIB, 8 * GB, support_ends="2030-01-01")
FREE = Locks(LockState.NONE, LockState.NONE, LockState.NONE, LockState.NONE)


def system(**changes: object) -> dict[str, object]:
    return {"system": replace(DESK, **changes)}  # type: ignore[arg-type]


def locks(**changes: LockState) -> dict[str, object]:
    return {"locks": replace(FREE, **changes)}


SHUT, HANDLED, ASK = LockState.SHUT, LockState.HANDLED, LockState.NOT_ASKED

CARD_CASES: tuple[C, ...] = (
    C("GFX-SLOT", F, "gen 3 x16", ONE),
    C("GFX-SLOT", F, "gen 2 x4", {"card-2": SMALL}),
    C("GFX-SLOT", L, "gen 2 x16: 8.0 of 15.8 GB/s", ONE, {"platform.cards.card-1.generation": 2}),
    C("GFX-SLOT", L, "gen 2 x4", {"card-2": CARD}, {"platform.cards.card-2.open_end": True}),
    C("GFX-SLOT", R, "does not go into a closed x4", {"card-2": CARD}),
    C("GFX-SLOT", R, "290 mm long", {"card-1": replace(CARD, length_mm=290.0)}),
    C("GFX-SLOT", R, "3 slots thick", {"card-1": replace(CARD, thickness=3)}),
    C("GFX-SLOT", R, "full height", ONE, {"platform.case.low_profile": True}),
    C("GFX-SLOT", U, "room for a card", ONE, {"platform.cards.card-1.length_mm": None}),
    C("GFX-POWER", F, "60 W: slot 75 W", ONE),
    C("GFX-POWER", F, "120 W: slot 75 W + 6-pin 75 W", {"card-1": STRONG}),
    C("GFX-POWER", R, "but the supply has none", {"card-1": STRONG}, NO_PLUG),
    C("GFX-POWER", R, "slot 25 W, no plugs", {"card-2": replace(CARD, lanes=4)}),
    C("GFX-POWER", U, "plugs for cards", {"card-1": STRONG}, {"leads": ()}),
    C("GFX-POWER", U, "plugs for cards", {"card-1": STRONG}, {"leads": NO_PLUG["leads"][:1]}),
    C("GFX-POWER", R, "but the supply has none", {"card-1": STRONG},
      {"leads": NO_PLUG["leads"][:1], "parts.supply.connectors": ()}),
    C("GFX-FW", F, "picture from the start", ONE),
    C("GFX-FW", F, "picture from the start", {"card-1": replace(CARD, needs_uefi=True)}),
    C("GFX-FW", L, "no picture before", {"card-1": replace(CARD, needs_uefi=True)}, LEGACY),
    C("GFX-FW", L, "no picture before", {"card-2": replace(SMALL, needs_uefi=True)}, LEGACY),
    C("GFX-FW", U, "start firmware", {"card-1": replace(CARD, needs_uefi=None)}, LEGACY),
    C("NET-RADIO", F, "key E", {"radio": RADIO}),
    C("NET-RADIO", F, "key A+E", {"radio": replace(RADIO, key=RadioKey.A_E)}, {"platform.radio.key": None}),
    C("NET-RADIO", R, "key A does not go", {"radio": replace(RADIO, key=RadioKey.A)}),
    C("NET-RADIO", R, "does not list it", {"radio": replace(RADIO, id="77c")}, on="laptop"),
    C("NET-RADIO", N, "antenna cables", {"radio": replace(RADIO, plug="tiny")}),
    C("NET-RADIO", L, "2 of 3 antennas", {"radio": replace(RADIO, antennas=3)}),
    C("NET-RADIO", U, "antennas there", {"radio": RADIO}, {"platform.radio.antennas": None}),
)  # fmt: skip

SUPPLY_CASES: tuple[C, ...] = (
    C("PSU-LOAD", F, "of 400 W, 25 % headroom kept", ONE),
    C("PSU-LOAD", F, "headroom kept", {"socket": CHIP}),
    C("PSU-LOAD", F, "headroom kept", {"supply": replace(SUPPLY, name="new", rated_w=300.0)}),
    C("PSU-LOAD", L, "not 25 %", {"card-1": STRONG}, {"parts.supply.rated_w": 250.0,
                                                      "parts.supply.rated_12v_w": 240.0}),
    C("PSU-LOAD", R, "on a supply for 150 W", {"card-1": STRONG}, {"parts.supply.rated_w": 150.0}),
    C("PSU-LOAD", R, "on its 12 V output", ONE, {"parts.supply.rated_12v_w": 100.0}),
    C("PSU-LOAD", R, "on a supply for 200 W", {"card-1": STRONG}, {}, {"age_derating": 0.5}),
    C("PSU-LOAD", U, "rating", {"card-1": STRONG}, {"fitted.supply": None}),
    C("PSU-LOAD", U, "card's power", {"card-1": replace(CARD, power_w=None)}),
    C("PSU-LOAD", None, "", {"radio": RADIO}),
    C("PSU-LOAD", None, "", {"bay-2": SSD}),
    C("PSU-FORM", F, "plugs alike", {"supply": replace(SUPPLY, name="new")}),
    C("PSU-FORM", F, "flat, plugs alike", {"supply": replace(SUPPLY, form="flat")},
      {"platform.case.supply_form": "flat"}),
    C("PSU-FORM", R, "flat, the case takes long", {"supply": replace(SUPPLY, form="flat")}),
    C("PSU-FORM", R, "plugs of a maker's own", {"supply": replace(SUPPLY, own_plugs=True)}),
    C("PSU-FORM", N, "adapter for the maker's own plugs", {"supply": replace(SUPPLY, name="new")},
      {"platform.board.own_plugs": True}),
    C("PSU-FORM", U, "plugs of the board", {"supply": replace(SUPPLY, name="new")}, {"platform.board.own_plugs": None}),
    C("PSU-ADAPTER", F, "65 W, 65 W asked for", {"adapter": ADAPTER}, on="laptop"),
    C("PSU-ADAPTER", F, "100 W", {"adapter": replace(ADAPTER, usb_c_v=20.0, usb_c_a=5.0, cable_a=5.0)}, on="laptop"),
    C("PSU-ADAPTER", L, "gives 45 W", {"adapter": replace(ADAPTER, rated_w=45.0)}, on="laptop"),
    C("PSU-ADAPTER", L, "gives 60 W", {"adapter": replace(ADAPTER, usb_c_v=20.0, usb_c_a=5.0)}, on="laptop"),
    C("PSU-ADAPTER", L, "not recognised", {"adapter": replace(ADAPTER, recognised=False)}, on="laptop"),
    C("PSU-ADAPTER", U, "power that the machine asks for", {"adapter": ADAPTER}, {"platform.power.adapter_w": None},
      on="laptop"),
    C("BAT-STATE", F, "80 % of its design", {"battery": BATTERY}, on="laptop"),
    C("BAT-STATE", F, "60 % of its design", {"battery": replace(BATTERY, full_wh=30.0)}, on="laptop"),
    C("BAT-STATE", L, "50 % of its design", {"battery": replace(BATTERY, full_wh=25.0)}, on="laptop"),
    C("BAT-STATE", L, "no battery", {"battery": None}, {"fitted.battery": BATTERY}, on="laptop"),
    C("BAT-STATE", U, "full charge", {"battery": replace(BATTERY, full_wh=None)}, on="laptop"),
    C("BAT-STATE", None, "", {"battery": BATTERY}),
)  # fmt: skip

BOARD_CASES: tuple[C, ...] = (
    C("BRD-FORM", F, "outline wide", NEW_BOARD),
    C("BRD-FORM", F, "outline small", {"board": replace(BOARD, form="small")},
      {"platform.case.boards": ("wide", "small")}),
    C("BRD-FORM", R, "outline small, the case takes wide", {"board": replace(BOARD, form="small")}),
    C("BRD-FORM", R, "supply plugs of a maker's own", {"board": replace(BOARD, own_plugs=True)}),
    C("BRD-FORM", N, "front-panel plugs", {"board": replace(BOARD, front_header=False)}),
    C("BRD-FORM", N, "9 standoffs", NEW_BOARD, {"platform.case.standoffs": 6}),
    C("BRD-FORM", L, "no cut-out", NEW_BOARD, {"platform.case.cutout": False}),
    C("BRD-FORM", U, "outlines that the case takes", NEW_BOARD, {"platform.case.boards": None}),
    C("BRD-KEEP", F, "carry over", NEW_BOARD),
    C("BRD-KEEP", F, "carry over", {**NEW_BOARD, "socket": replace(CHIP, socket="KM-2")}),
    C("BRD-KEEP", R, "no slot left for m", {"board": replace(BOARD, slots=2)}),
    C("BRD-KEEP", R, "SATA drives, 1 ports", {"board": replace(BOARD, sata_ports=1), "bay-2": SSD}),
    C("BRD-KEEP", U, "M.2 slots of the board", {"board": replace(BOARD, m2_places=None), "m2": NVME}),
    C("BRD-KEEP", R, "no slot left for nvme", {"board": replace(BOARD, m2_places=0), "m2": NVME}),
    C("BRD-KEEP", F, "carry over", {"board": replace(BOARD, m2_places=None)}),
    C("BRD-KEEP", N, "a processor for KX-3", {"board": replace(BOARD, socket="KX-3")}),
    C("BRD-KEEP", L, "licence stays", NEW_BOARD, around=locks(licence=SHUT)),
    C("MEM-GEN", R, "takes DDR4, not DDR3", {"board": replace(BOARD, memory_generation=MemoryGeneration.DDR4)}),
)  # fmt: skip

PLATFORM_CASES: tuple[C, ...] = (
    C("OS-SUPPORT", F, "supported until 2029-06-30", {}, around=system()),
    C("OS-SUPPORT", F, "supported until", {"slot-1": None}, around=system(memory_bytes=4 * GIB)),
    C("OS-SUPPORT", R, "asks for 16 GiB of memory", {}, around=system(memory_bytes=16 * GIB)),
    C("OS-SUPPORT", R, "asks for a drive", {}, around=system(drive_bytes=2000 * GB)),
    C("OS-SUPPORT", R, "asks for 8 cores", {}, around=system(cores=8)),
    C("OS-SUPPORT", R, "UEFI mode only", {}, {"platform.board.boot_modes": (BootMode.LEGACY,)},
      system(boot_mode=BootMode.UEFI)),
    C("OS-SUPPORT", R, "ended 2025-10-14", {}, around=system(support_ends="2025-10-14")),
    C("OS-SUPPORT", L, "ends 2027-03-01", {}, around=system(support_ends="2027-03-01")),
    C("OS-SUPPORT", U, "not in the table", {}, around=system(support_ends="")),
    C("OS-BITS", F, "64-bit processor and system", {}, around=system()),
    C("OS-BITS", F, "32-bit suffices", {"slot-1": replace(D3, size_bytes=2 * GIB), "slot-3": None},
      around={"system": LIGHT}),
    C("OS-BITS", R, "on a 32-bit processor", {"socket": replace(OLD_CHIP, features=())}, around=system()),
    C("OS-BITS", R, "on a 32-bit processor", {"socket": replace(CHIP, features=("NX",))}, around=system()),
    C("OS-BITS", L, "one process stays under 4 GiB", {}, around={"system": LIGHT}),
    C("NET-LINK", F, "125 MB/s", {}, around={"network_heavy": True}),
    C("NET-LINK", F, "312.5 MB/s", {}, {"platform.board.network_mbit_s": 2500.0}, {"network_heavy": True}),
    C("NET-LINK", L, "12.5 MB/s", {}, around={"network_heavy": True}, on="laptop"),
    C("NET-LINK", L, "bottleneck", {}, {"platform.board.network_mbit_s": 100.0}, {"network_heavy": True}),
    C("NET-LINK", U, "speed of the network port", {}, {"platform.board.network_mbit_s": None}, {"network_heavy": True}),
    C("NET-LINK", None, "", {}),
    C("LEG-CELL", F, "replace the date battery", {"bay-2": SSD}),
    C("LEG-CELL", F, "replace the date battery", {"slot-2": D3}),
    C("LEG-CELL", N, "date battery is flat", {"bay-2": SSD}, {"platform.board.date_cell_weak": True}),
    C("LEG-CELL", N, "date battery is flat", {"slot-2": D3}, {"platform.board.date_cell_weak": True}),
    C("LEG-CAP", F, "no bulging", {"bay-2": SSD}),
    C("LEG-CAP", F, "no bulging", {"slot-2": D3}),
    C("LEG-CAP", R, "before they are repaired", {"bay-2": SSD}, {"platform.board.bulging_caps": True}),
    C("LEG-CAP", R, "before they are repaired", {"slot-2": D3}, {"platform.board.bulging_caps": True}),
    C("SEC-KEY", F, "no encryption", {"socket": CHIP}),
    C("SEC-KEY", F, "key is in hand", NEW_BOARD, around=locks(encryption=HANDLED)),
    C("SEC-KEY", N, "recovery key", {"socket": CHIP}, around=locks(encryption=SHUT)),
    C("SEC-KEY", U, "disk encryption", {"socket": CHIP}, around=locks(encryption=ASK)),
    C("SEC-LOCK", F, "no lock in the way", {"bay-2": SSD}, around=locks(enrolment=SHUT)),
    C("SEC-LOCK", F, "no lock in the way", {"socket": CHIP}, around=locks(enrolment=HANDLED)),
    C("SEC-LOCK", R, "enrolled by a former owner", {"socket": CHIP}, around=locks(enrolment=SHUT)),
    C("SEC-LOCK", N, "licence tied to the board settled", NEW_BOARD, around=locks(licence=SHUT)),
    C("SEC-LOCK", N, "firmware password settled", {"bay-2": SSD}, around=locks(firmware_password=SHUT)),
    C("SEC-LOCK", F, "asked before the work", {"bay-2": SSD}, around=locks(firmware_password=ASK)),
    C("SEC-LOCK", U, "firmware password", {"socket": CHIP}, around=locks(firmware_password=ASK)),
)  # fmt: skip
