"""Cases of the processor and cooling rules."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.fit.circumstances import HeatFacts
from brachium.core.fit.verdict import Level
from brachium.core.machine.cooling_parts import AirPath, FanPlug, Pad, PasteKind
from brachium.core.machine.memory_part import MemoryGeneration
from brachium.core.machine.parts import Service
from brachium.core.machine.platform import BootMode
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
from brachium.core.record.systems import SystemSpec
from tests.core.fit.bench_machines import CARD, CHIP, COOLER, D3, FAN, GALLIUM, OLD_CHIP, PASTE, STOCK
from tests.core.fit.bench_machines import FitCase as C

F, L, N, U, R = Level.FITS, Level.LIMITED, Level.NEEDS_FIRST, Level.NOT_KNOWN, Level.REFUSED
NEW = {"socket": CHIP}
SIX = {"socket": replace(OLD_CHIP, name="other 65")}
HOT = replace(CHIP, power_w=125.0)
BLIND = replace(CHIP, graphics=False)
USED = replace(CHIP, used=True, contacts_ok=True)
UEFI_ONLY = SystemSpec("u", "asks for UEFI", features=("SSE4.2",), boot_mode=BootMode.UEFI)
TPM = SystemSpec("t", "asks for TPM", functions=("TPM 2.0",))
AVX = SystemSpec("a", "asks for AVX2", features=("AVX2",))
PLAIN = SystemSpec("p", "asks for nothing")
REPORTS = tuple(Source(SourceKind.SAME_FIRMWARE, note=str(k)) for k in range(2))


def claims(*sources: Source) -> dict[str, object]:
    return {"claims": (CompatibilityClaim("D4-84", "Bench 1", sources),)}


PROCESSOR_CASES: tuple[C, ...] = (
    C("CPU-MOUNT", F, "sits in a socket", NEW),
    C("CPU-MOUNT", F, "sits in a socket", NEW, {"platform.board.soldered": False}, on="laptop"),
    C("CPU-MOUNT", R, "soldered", NEW, on="laptop"),
    C("CPU-MOUNT", R, "soldered", NEW, {"platform.board.soldered": True}),
    C("CPU-MOUNT", U, "mounting of the processor", NEW, {"platform.board.soldered": None}),
    C("CPU-SOCKET", F, "socket KM-2", NEW),
    C("CPU-SOCKET", F, "socket KM-2", {"socket": replace(CHIP, revision="")}, {"platform.board.revision": None}),
    C("CPU-SOCKET", R, "the board has KM-2", {"socket": replace(CHIP, socket="KM-1")}),
    C("CPU-SOCKET", R, "same holes, other wiring", {"socket": replace(CHIP, revision="r1")}),
    C("CPU-SOCKET", U, "wiring generation", NEW, {"platform.board.revision": None, "fitted.socket": None}),
    C("CPU-SOCKET", U, "board's socket", NEW, {"platform.board.socket": None, "fitted.socket": None}),
    C("CPU-CHIPSET", F, "lists D4", NEW),
    C("CPU-CHIPSET", F, "lists D5", {"socket": replace(CHIP, family="D5")}, {"platform.board.families": ("D4", "D5")}),
    C("CPU-CHIPSET", R, "does not list D5", {"socket": replace(CHIP, family="D5")}),
    C("CPU-CHIPSET", R, "does not list D4", NEW, {"platform.board.families": (), "fitted.socket": None}),
    C("CPU-CHIPSET", U, "family of the processor not known", {"socket": replace(CHIP, family="")}),
    C("CPU-CHIPSET", U, "families that the chipset lists", NEW,
      {"platform.board.families": None, "fitted.socket": None}),
    C("CPU-FIRMWARE", F, "1.5 knows it", {"socket": replace(CHIP, first_firmware="1.5")}),
    C("CPU-FIRMWARE", F, "2.10 knows it", NEW, {"identity.firmware": "2.10", "platform.board.steps": ()}),
    C("CPU-FIRMWARE", N, "2.0, by way of 1.8 first", NEW),
    C("CPU-FIRMWARE", N, "firmware 2.0 first", NEW, {"identity.firmware": "1.8"}),
    C("CPU-FIRMWARE", R, "circular", NEW, around={"starts": False}),
    C("CPU-FIRMWARE", U, "first firmware version that knows it", {"socket": replace(CHIP, first_firmware="")}),
    C("CPU-FIRMWARE", U, "first firmware version that knows it", {"socket": replace(CHIP, first_firmware="")},
      {"identity.firmware": ""}),
    C("CPU-POWER", F, "84 W of at most 95 W", NEW),
    C("CPU-POWER", F, "65 W, no more than the fitted one draws", SIX, {"platform.board.power_w": None}),
    C("CPU-POWER", L, "125 W on a board for 95 W", {"socket": HOT}),
    C("CPU-POWER", L, "of its clock", NEW, around={"heat": HeatFacts(1.2, 22.0)}),
    C("CPU-POWER", U, "supply stage is specified for not known", NEW, {"platform.board.power_w": None}),
    C("CPU-GFX", F, "graphics of its own", NEW),
    C("CPU-GFX", F, "a graphics card is there", {"socket": BLIND, "card-1": CARD}),
    C("CPU-GFX", R, "no graphics left", {"socket": BLIND}),
    C("CPU-GFX", R, "no graphics left", {"socket": BLIND, "card-1": replace(CARD, display=False)}),
    C("CPU-GFX", U, "own graphics not known", {"socket": replace(CHIP, graphics=None)}),
    C("CPU-MEM", F, "drives DDR3", NEW),
    C("CPU-MEM", F, "drives DDR3", {"socket": replace(CHIP, memory=(MemoryGeneration.DDR3, MemoryGeneration.DDR4))}),
    C("CPU-MEM", R, "does not drive DDR3", {"socket": replace(CHIP, memory=(MemoryGeneration.DDR4,))}),
    C("CPU-MEM", L, "1 memory channel of 2", {"socket": replace(CHIP, memory_channels=1)}),
    C("CPU-MEM", U, "memory generations not known", {"socket": replace(CHIP, memory=None)}),
    C("CPU-ISA", F, "what the planned system asks for", NEW, around={"system": UEFI_ONLY}),
    C("CPU-ISA", F, "what the planned system asks for", NEW, around={"system": PLAIN}),
    C("CPU-ISA", R, "needs AVX2", NEW, around={"system": AVX}),
    C("CPU-ISA", R, "lacks TPM 2.0", NEW, around={"system": TPM}),
    C("CPU-ISA", U, "instructions not known", {"socket": replace(CHIP, features=None)}, around={"system": AVX}),
    C("CPU-ISA", U, "functions of firmware", NEW, {"platform.board.functions": None}, {"system": TPM}),
    C("CPU-ISA", None, "", NEW),
    C("CPU-COOL", F, "rated for 84 W", NEW),
    C("CPU-COOL", F, "rated for 95 W", {**NEW, "cooler": COOLER}),
    C("CPU-COOL", L, "rated for 84 W", {"socket": replace(CHIP, power_w=95.0)}),
    C("CPU-COOL", L, "rated for 65 W", {**NEW, "cooler": replace(STOCK, rated_w=65.0)}),
    C("CPU-COOL", R, "no mounting for KM-2", {**NEW, "cooler": replace(STOCK, patterns=("KM-1",))}),
    C("CPU-COOL", U, "rated power not known", NEW, {"parts.cooler.rated_w": None}),
    C("CPU-USED", F, "every contact checked", {"socket": USED}),
    C("CPU-USED", F, "every contact", {"socket": replace(USED, name="D4-65")}),
    C("CPU-USED", R, "bent or missing", {"socket": replace(USED, contacts_ok=False)}),
    C("CPU-USED", R, "engineering sample", {"socket": replace(USED, sample=True)}),
    C("CPU-USED", U, "contacts not known", {"socket": replace(USED, contacts_ok=None)}),
    C("CPU-EVID", F, "1 source says that it works", NEW),
    C("CPU-EVID", F, "say that it works", NEW, around=claims(*REPORTS, Source(SourceKind.SAME_MODEL))),
    C("CPU-EVID", U, "too thin: 2 sources", NEW, around=claims(*REPORTS)),
    C("CPU-EVID", U, "no evidence", NEW, around={"claims": ()}),
    C("CPU-EVID", U, "too thin: 2 sources", NEW,
      around=claims(Source(SourceKind.MAKER), Source(SourceKind.OWN_JOB, works=False))),
)  # fmt: skip
DUCT = {"platform.case.air": AirPath.OUT}
CASE_FAN = {"fan-1": FAN}

COOLING_CASES: tuple[C, ...] = (
    C("COOL-MOUNT", F, "120 of 130 mm", {"cooler": COOLER}),
    C("COOL-MOUNT", F, "120 of 130 mm", {"cooler": COOLER}, {"platform.board.cooler_pattern": None}),
    C("COOL-MOUNT", F, "mounting there", {"cooler": replace(COOLER, air=AirPath.OUT)}, DUCT),
    C("COOL-MOUNT", R, "165 mm high, 130 mm", {"cooler": replace(COOLER, height_mm=165.0)}),
    C("COOL-MOUNT", R, "no mounting for KM-2", {"cooler": replace(COOLER, patterns=("KX-3",))}),
    C("COOL-MOUNT", R, "duct takes the air", {"cooler": COOLER}, DUCT),
    C("COOL-MOUNT", R, "memory is 44 mm high", {"cooler": COOLER, "slot-1": replace(D3, height_mm=44.0)}),
    C("COOL-MOUNT", U, "room for a cooler", {"cooler": COOLER}, {"platform.case.cooler_mm": None}),
    C("COOL-RATE", F, "rated for 95 W, 65 W needed", {"cooler": COOLER}),
    C("COOL-RATE", F, "rated for 95 W, 84 W needed", {"cooler": COOLER, **NEW}),
    C("COOL-RATE", L, "rated for 45 W", {"cooler": replace(COOLER, rated_w=45.0)}),
    C("COOL-RATE", L, "draws 125 W", {"cooler": COOLER, "socket": HOT}),
    C("COOL-RATE", U, "rated power not known", {"cooler": replace(COOLER, rated_w=None)}),
    C("COOL-FAN", F, "4-pin on a 4-pin", CASE_FAN),
    C("COOL-FAN", F, "3-pin on a 3-pin", {"fan-1": replace(FAN, plug=FanPlug.PIN_3)},
      {"platform.headers.fan-1.plug": FanPlug.PIN_3}),
    C("COOL-FAN", L, "three pins", {"fan-1": replace(FAN, plug=FanPlug.PIN_3)}),
    C("COOL-FAN", R, "maker's own plug", CASE_FAN, {"platform.headers.fan-1.plug": FanPlug.OWN}),
    C("COOL-FAN", R, "frame 140 mm", {"fan-1": replace(FAN, size_mm=140.0)}),
    C("COOL-FAN", R, "thickness 38 mm", {"fan-1": replace(FAN, thickness_mm=38.0)}),
    C("COOL-FAN", R, "draws 1.6 A", {"fan-1": replace(FAN, current_a=1.6)}),
    C("COOL-FAN", R, "speed signal", {"fan-1": replace(FAN, tells_speed=False)},
      {"platform.headers.fan-1.needs_speed": True}),
    C("COOL-FAN", U, "plug at case fan", CASE_FAN, {"platform.headers.fan-1.plug": None}),
    C("COOL-PAD", F, "1 mm, as before", {"pads": Pad("pad", 1.0)}),
    C("COOL-PAD", F, "1.5 mm, as before", {"pads": Pad("pad", 1.5)}, {"platform.contacts.pad_mm": 1.5}),
    C("COOL-PAD", R, "lift the plate", {"pads": Pad("pad", 1.5)}),
    C("COOL-PAD", R, "do not reach", {"pads": Pad("pad", 0.5)}),
    C("COOL-PAD", U, "thickness of the pads", {"pads": Pad("pad", 1.0)}, {"platform.contacts.pad_mm": None}),
    C("COOL-PASTE", F, "not conductive", {"paste": PASTE}),
    C("COOL-PASTE", F, "plate of copper", {"paste": GALLIUM}),
    C("COOL-PASTE", R, "gallium eats", {"paste": GALLIUM}, {"platform.contacts.aluminium": True}),
    C("COOL-PASTE", R, "bare contacts", {"paste": replace(PASTE, paste=PasteKind.CONDUCTIVE)}, on="laptop"),
    C("COOL-PASTE", U, "metal of the plate", {"paste": GALLIUM}, {"platform.contacts.aluminium": None}),
    C("COOL-SHARED", F, "one contact", {"paste": PASTE}, {"platform.contacts.chips": 1}, on="laptop"),
    C("COOL-SHARED", F, "one contact", {}, {"platform.contacts.chips": 1}, {"services": (Service.NEW_PASTE,)},
      on="laptop"),
    C("COOL-SHARED", N, "one heatsink on 2 chips", {"paste": PASTE}, on="laptop"),
    C("COOL-SHARED", N, "one heatsink on 2 chips", {}, {}, {"services": (Service.NEW_PASTE,)}, on="laptop"),
    C("COOL-SHARED", U, "chips under the heatsink", {"paste": PASTE}, {"platform.contacts.chips": None}, on="laptop"),
    C("COOL-SHARED", None, "", {"paste": PASTE}),
)  # fmt: skip
