"""Cases of the memory rules."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GIB
from brachium.core.fit.verdict import Level
from brachium.core.machine.machine import Derate
from brachium.core.machine.memory_part import Buffering, MemoryForm, MemoryGeneration
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
from brachium.core.record.systems import SystemSpec
from tests.core.fit.bench_machines import D3, OLD_CHIP, SO3
from tests.core.fit.bench_machines import FitCase as C

F, L, N, U, R = Level.FITS, Level.LIMITED, Level.NEEDS_FIRST, Level.NOT_KNOWN, Level.REFUSED
BIG = replace(D3, name="big", size_bytes=8 * GIB)
D4 = replace(D3, generation=MemoryGeneration.DDR4)
D2 = replace(D3, name="two", generation=MemoryGeneration.DDR2, size_bytes=2 * GIB)
REG, LOAD = replace(D3, buffering=Buffering.REGISTERED, ecc=True), replace(D3, buffering=Buffering.LOAD_REDUCED)
FAST = replace(D3, speed_mts=1866)
FOUR = dict.fromkeys(("slot-1", "slot-2", "slot-3", "slot-4"), BIG)
TWO = {"slot-1": BIG, "slot-3": BIG}
ODD = {f"slots.slot-{k}.generation": MemoryGeneration.DDR2 for k in (1, 2, 3, 4)}
PAIRED = {**ODD, "memory.pairs_required": True}
OLD = {"slot-1": D2, "slot-3": D2}
PROVEN = (CompatibilityClaim("32 GiB in all", "Bench 1", (Source(SourceKind.OWN_JOB),)),)
THIN = (CompatibilityClaim("32 GiB in all", "Bench 1", (Source(SourceKind.SAME_MODEL),)),)
NARROW = SystemSpec("n", "narrow", 32, ceiling_bytes=4 * GIB)
HOME = SystemSpec("h", "home", 64, ceiling_bytes=8 * GIB)
BITS_32 = {"identity.system": "Linux, 32-bit", "platform.system.bits": 32, "platform.system.extension": False}

MEMORY_CASES: tuple[C, ...] = (
    C("MEM-FORM", F, "DIMM in a DIMM slot", {"slot-2": D3}),
    C("MEM-FORM", F, "SO-DIMM in a SO-DIMM slot", {"slot-2": SO3}, on="laptop"),
    C("MEM-FORM", R, "SO-DIMM does not go into a DIMM", {"slot-2": SO3}),
    C("MEM-FORM", R, "DIMM does not go into a SO-DIMM", {"slot-2": D3}, on="laptop"),
    C("MEM-FORM", R, "soldered does not go", {"slot-2": replace(D3, form=MemoryForm.SOLDERED)}),
    C("MEM-GEN", F, "DDR3, as the slot", {"slot-2": D3}),
    C("MEM-GEN", F, "DDR2, as the slot", OLD, ODD),
    C("MEM-GEN", R, "takes DDR3, not DDR4", {"slot-2": D4}),
    C("MEM-GEN", R, "takes DDR2, not DDR3", {"slot-2": D3}, ODD),
    C("MEM-VOLT", F, "rated for 1.5 V", {"slot-2": D3}),
    C("MEM-VOLT", F, "1.35 V and 1.5 V", {"slot-2": replace(SO3, name="new")}, {"memory.low_voltage_only": None},
      on="laptop"),
    C("MEM-VOLT", F, "one voltage", {"slot-1": replace(D2, volts=(1.8,)), "slot-3": None}, ODD),
    C("MEM-VOLT", R, "gives only 1.35 V", {"slot-2": replace(SO3, volts=(1.5,))}, on="laptop"),
    C("MEM-VOLT", U, "memory voltage not known", {"slot-2": replace(SO3, volts=(1.5,))},
      {"memory.low_voltage_only": None}, on="laptop"),
    C("MEM-REG", F, "unbuffered, as the board runs", {"slot-2": D3}),
    C("MEM-REG", F, "registered, as the board runs", {"slot-1": REG, "slot-3": REG},
      {"memory.buffering": (Buffering.REGISTERED,), "memory.takes_ecc": True, "fitted.slot-1": REG,
       "fitted.slot-3": REG}),
    C("MEM-REG", F, "unbuffered", {"slot-2": D3}, {"memory.buffering": None}),
    C("MEM-REG", L, "without its ECC", {"slot-2": replace(D3, ecc=True)}),
    C("MEM-REG", R, "registered, the board runs unbuffered", {"slot-1": REG, "slot-3": None}),
    C("MEM-REG", R, "beside", {"slot-2": REG},
      {"memory.buffering": (Buffering.UNBUFFERED, Buffering.REGISTERED), "memory.takes_ecc": True}),
    C("MEM-REG", R, "load-reduced", {"slot-2": LOAD}),
    C("MEM-REG", L, "a module beside it has none", {"slot-2": replace(D3, ecc=True)}, {"memory.takes_ecc": True}),
    C("MEM-REG", F, "with its ECC where the board uses it", {"slot-1": replace(D3, ecc=True), "slot-3": None},
      {"memory.takes_ecc": None}),
    C("MEM-SLOT", F, "8 GiB of at most 8 GiB", {"slot-2": BIG}),
    C("MEM-SLOT", F, "4 GiB of at most 8 GiB", {"slot-2": D3}),
    C("MEM-SLOT", R, "16 GiB is over its 8 GiB", {"slot-2": replace(D3, size_bytes=16 * GIB)}),
    C("MEM-SLOT", R, "8 GiB is over its 4 GiB", {"slot-2": BIG}, {"slots.slot-2.max_bytes": 4 * GIB}),
    C("MEM-SLOT", U, "largest module", {"slot-2": BIG}, {"slots.slot-2.max_bytes": None}),
    C("MEM-TOTAL", F, "12 GiB of at most 16 GiB", {"slot-2": D3}),
    C("MEM-TOTAL", F, "proven in this model", FOUR, around={"claims": PROVEN}),
    C("MEM-TOTAL", U, "over the published 16 GiB", FOUR),
    C("MEM-TOTAL", U, "over the published 16 GiB", FOUR, around={"claims": THIN}),
    C("MEM-TOTAL", R, "over the controller's 16 GiB", FOUR, {"memory.controller_max_bytes": 16 * GIB}),
    C("MEM-TOTAL", R, "over the controller's 8 GiB", TWO,
      {"memory.controller_max_bytes": 8 * GIB, "memory.published_max_bytes": 8 * GIB}),
    C("MEM-DENS", F, "4 Gbit chips", TWO),
    C("MEM-DENS", F, "4 Gbit chips of at most 4", TWO, {"memory.chip_max_gbit": None}),
    C("MEM-DENS", L, "half the capacity usable: 8 Gbit", {"slot-1": replace(BIG, ranks=1), "slot-3": None}),
    C("MEM-DENS", R, "16 Gbit chips", {"slot-1": replace(BIG, size_bytes=16 * GIB, ranks=1), "slot-3": None}),
    C("MEM-DENS", R, "6 ranks on the channel", {"slot-2": replace(BIG, ranks=4)}),
    C("MEM-DENS", U, "ranks of big not known", {"slot-1": replace(BIG, ranks=None), "slot-3": None}),
    C("MEM-DENS", None, "", {"slot-1": D4, "slot-3": None}),
    C("MEM-PAIR", F, "equal pairs", {"slot-2": D3, "slot-4": D3}),
    C("MEM-PAIR", F, "no pairs needed", {"slot-2": D3}),
    C("MEM-PAIR", F, "equal pairs", OLD, PAIRED),
    C("MEM-PAIR", R, "only with equal pairs", {"slot-1": D2, "slot-3": None}, PAIRED),
    C("MEM-PAIR", R, "only with equal pairs", {**OLD, "slot-2": replace(D2, size_bytes=GIB)}, PAIRED),
    C("MEM-PAIR", U, "pairs of modules not known", {"slot-1": D2, "slot-3": None},
      {**PAIRED, "memory.pairs_required": None}),
    C("MEM-CHAN", F, "2 channels, 25.6 GB/s", {}),
    C("MEM-CHAN", F, "2 channels", TWO),
    C("MEM-CHAN", L, "1 channel of 2", {"slot-3": None, "slot-2": D3}),
    C("MEM-CHAN", L, "unequal channels", {"slot-3": BIG}),
    C("MEM-SPEED", F, "its own 1600 MT/s", {}),
    C("MEM-SPEED", L, "slows all to 1333 MT/s, the fitted ones run at 1600",
      {k: replace(D3, speed_mts=1333) for k in ("slot-1", "slot-3")}),
    C("MEM-SPEED", L, "runs at 1600, not 1866", {k: replace(D3, speed_mts=1866) for k in ("slot-1", "slot-3")}),
    C("MEM-SPEED", L, "slows all to 1333", {"slot-3": replace(D3, speed_mts=1333)}),
    C("MEM-SPEED", L, "runs at 1333, not 1600", FOUR),
    C("MEM-SPEED", L, "runs at 1066", {"socket": replace(OLD_CHIP, memory_mts=1066)}),
    C("MEM-SPEED", F, "its own 1600", {}, {"memory.board_max_mts": None}),
    C("MEM-SPEED", F, "runs at 1600 to 1866 MT/s, by the board's limit, not recorded",
      {"slot-1": FAST, "slot-3": FAST, "socket": replace(OLD_CHIP, memory_mts=None)},
      {"memory.board_max_mts": None, "memory.processor_max_mts": None, "memory.derates": ()}),
    C("MEM-SPEED", L, "runs at 1333, not 1866", {"slot-2": FAST}, {"memory.board_max_mts": None}),
    C("MEM-SPEED", F, "its own is not recorded", {"slot-1": replace(D3, speed_mts=None), "slot-3": None}),
    C("MEM-SPEED", L, "not 1600", {}, {"memory.derates": (Derate(1, 2, 1066),)}),
    C("MEM-ORDER", F, "own order", {}),
    C("MEM-ORDER", F, "own order", {"slot-1": BIG, "slot-3": BIG, "slot-2": D3}),
    C("MEM-ORDER", L, "fills memory slot 1 and memory slot 3 first", {"slot-3": None, "slot-2": D3}),
    C("MEM-ORDER", L, "larger pair belongs", {"slot-2": BIG}),
    C("MEM-ORDER", F, "order that the board's print names", {}, {"memory.fill_first": ()}),
    C("MEM-OS", F, "the 64-bit system uses all of it", TWO),
    C("MEM-OS", F, "any system uses it", {"slot-1": replace(D3, size_bytes=2 * GIB), "slot-3": None}, BITS_32),
    C("MEM-OS", L, "uses 3.3 GiB of 16 GiB", TWO, BITS_32),
    C("MEM-OS", L, "uses 4 GiB of 8 GiB", {}, around={"system": NARROW}),
    C("MEM-OS", L, "uses 8 GiB of 16 GiB", TWO, around={"system": HOME}),
    C("MEM-OS", U, "word size not known", TWO, {**BITS_32, "identity.system": "", "platform.system.bits": None}),
    C("MEM-OS", U, "address extension", TWO, {**BITS_32, "platform.system.extension": None}),
    C("MEM-REMAP", F, "remapped", OLD, ODD),
    C("MEM-REMAP", F, "below the device window", {"slot-1": D2, "slot-3": None}, {**ODD, "memory.remaps": False}),
    C("MEM-REMAP", L, "3.3 GiB usable of 4 GiB", OLD, {**ODD, "memory.remaps": False}),
    C("MEM-REMAP", L, "3.3 GiB usable of 6 GiB", {**OLD, "slot-2": D2}, {**ODD, "memory.remaps": False}),
    C("MEM-REMAP", U, "remapping not known", OLD, {**ODD, "memory.remaps": None}),
    C("MEM-REMAP", None, "", TWO),
    C("MEM-BAD", None, "", {}, {"bad_places": ("slot-2",)}),
    C("MEM-BAD", None, "", {"slot-1": BIG}, {"bad_parts": ("slot-1",)}),
    C("MEM-BAD", R, "Memory slot 2 is dead", {"slot-2": D3}, {"bad_places": ("slot-2",)}),
    C("MEM-BAD", R, "is faulty", {}, {"bad_parts": ("slot-1",)}),
)  # fmt: skip
