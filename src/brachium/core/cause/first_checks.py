"""What parts the field first: what the owner complains of, and one look at the system's monitor and at a load.

Three minutes with the system's own monitor tell more than any reading of a single part, and need neither scan nor log.
"""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.cause.check import Check
from brachium.core.cause.kinds import BESIDE, HEAT, POWER
from brachium.core.cause.signs import Chances, sign

HOT_PROCESSOR, COOL_PROCESSOR = "the processor, hot, its clock falls", "the processor, cool, at a low clock"
COMPLAINTS = (
    "nothing, a look-over", "hot, loud, slow once it is warm", "slow to start and to open things",
    "slow with many things open", "slow in heavy or long work", "pictures, games or videos stutter",
    "the network or copies are slow", "freezes, errors, lost files", "goes off, or does not start by itself",
)  # fmt: skip
FULL_CLOCK, LOW_COOL = "full clock, below its limit", "a low clock, and cool"
AT_LIMIT = ("at its limit within a minute", "at its limit in one to three minutes", "at its limit later, slowly")
UNTIMED = "at its limit, the clock falls"  # where nobody looked at a watch
HEAT_OR_POWER_SEEN = tuple(("watch_load", state) for state in (*AT_LIMIT, LOW_COOL, UNTIMED))
SLOW_DRIVES = ("worn", "shingled", "full", "drive_mode", "link", "hot_drive")
PICTURES = ("graphics", "gpu_driver", "gpu_memory", "gpu_width")


def _each(causes: tuple[str, ...], chances: Chances) -> dict[str, Chances]:
    return dict.fromkeys(causes, chances)


def _names_one(check: Check) -> Check:
    return replace(check, sign=replace(check.sign, names_one=True))


COMPLAINT = _names_one(Check(
    sign(
        "complaint", "What does the owner complain of most?", "|".join(COMPLAINTS),
        (0.30, 0.10, 0.16, 0.10, 0.12, 0.08, 0.05, 0.06, 0.03),
        **_each(HEAT, (0.03, 0.66, 0.05, 0.03, 0.17, 0.03, 0.01, 0.01, 0.01)),
        **_each(POWER, (0.06, 0.05, 0.21, 0.12, 0.48, 0.05, 0.01, 0.01, 0.01)),
        slow_chip=(0.03, 0.05, 0.24, 0.20, 0.34, 0.10, 0.02, 0.01, 0.01),
        **_each(("channels", "slow_memory"), (0.12, 0.03, 0.12, 0.16, 0.44, 0.09, 0.02, 0.01, 0.01)),
        **_each(("memory", "bits"), (0.02, 0.03, 0.14, 0.62, 0.10, 0.04, 0.01, 0.03, 0.01)),
        bad_memory=(0.03, 0.02, 0.03, 0.04, 0.04, 0.02, 0.01, 0.64, 0.17),
        disk=(0.03, 0.03, 0.66, 0.14, 0.06, 0.03, 0.02, 0.02, 0.01),
        dying=(0.02, 0.03, 0.34, 0.06, 0.05, 0.02, 0.03, 0.41, 0.04),
        cable=(0.03, 0.02, 0.30, 0.05, 0.06, 0.02, 0.06, 0.44, 0.02),
        **_each(SLOW_DRIVES, (0.05, 0.03, 0.56, 0.14, 0.09, 0.03, 0.06, 0.03, 0.01)),
        **_each(PICTURES, (0.03, 0.04, 0.02, 0.02, 0.13, 0.72, 0.01, 0.02, 0.01)),
        cap=(0.22, 0.01, 0.01, 0.02, 0.04, 0.67, 0.01, 0.01, 0.01),
        no_decode=(0.04, 0.12, 0.02, 0.03, 0.24, 0.52, 0.01, 0.01, 0.01),
        network=(0.05, 0.01, 0.14, 0.03, 0.03, 0.03, 0.69, 0.01, 0.01),
        **_each(BESIDE, (0.04, 0.12, 0.44, 0.20, 0.10, 0.05, 0.02, 0.02, 0.01)),
        start_setting=(0.03, 0.01, 0.10, 0.01, 0.01, 0.01, 0.01, 0.02, 0.80),
        supply=(0.01, 0.02, 0.02, 0.01, 0.02, 0.03, 0.01, 0.14, 0.74),
    ),
    "In the owner's own words; the one thing that would make it worth its price.", 1,
))  # fmt: skip
MONITOR = _names_one(Check(
    sign(
        "watch_monitor", "Watch the system's own monitor while it is slow",
        phrase("nothing is busy|the processor, at its full clock|{hot_processor}|{cool_processor}|memory is "
"full|the drive|the graphics|the network", hot_processor=HOT_PROCESSOR, cool_processor=COOL_PROCESSOR),
        (0.43, 0.42, 0.015, 0.015, 0.04, 0.03, 0.03, 0.02),
        **_each(HEAT, (0.07, 0.12, 0.74, 0.03, 0.01, 0.01, 0.01, 0.01)),
        **_each(POWER, (0.07, 0.12, 0.03, 0.74, 0.01, 0.01, 0.01, 0.01)),
        **_each(("slow_chip", "no_decode"), (0.03, 0.92, 0.01, 0.01, 0.01, 0.005, 0.01, 0.005)),
        **_each(("channels", "slow_memory"), (0.25, 0.62, 0.02, 0.02, 0.04, 0.02, 0.02, 0.01)),
        **_each(("memory", "bits"), (0.02, 0.02, 0.005, 0.005, 0.86, 0.07, 0.01, 0.01)),
        **_each(("disk", "dying", "cable", *SLOW_DRIVES), (0.10, 0.05, 0.005, 0.005, 0.06, 0.76, 0.01, 0.01)),
        **_each(PICTURES, (0.10, 0.10, 0.005, 0.005, 0.01, 0.01, 0.76, 0.01)),
        network=(0.10, 0.02, 0.005, 0.005, 0.01, 0.01, 0.01, 0.84),
        cap=(0.84, 0.05, 0.01, 0.01, 0.02, 0.02, 0.03, 0.02),
        **_each(BESIDE, (0.06, 0.73, 0.02, 0.02, 0.05, 0.10, 0.01, 0.01)),
        start_setting=(0.80, 0.11, 0.01, 0.01, 0.02, 0.02, 0.02, 0.01),
    ),
    "A quarter of an hour of what the owner complains of: processor with its clock and temperature, memory, drive, "
    "graphics, network; which of them stands at its end.", 4, 11, moot=(("task_free", ""), *HEAT_OR_POWER_SEEN),
))  # fmt: skip
LOADED_ALREADY = (("held", ""), ("watch_monitor", COOL_PROCESSOR))
# How soon it gets there parts the way of the heat by its time constants: die to plate some 10 s, plate to fins about a
# minute, fins and case minutes (07, power limits; the same four nodes as in heat/model.py)
LOAD = Check(
    sign(
        "watch_load", "Load it for a quarter of an hour, read clock and temperature",
        "|".join((FULL_CLOCK, *AT_LIMIT, LOW_COOL, UNTIMED)),
        (0.949, 0.008, 0.008, 0.009, 0.025, 0.001),
        paste=(0.05, 0.69, 0.17, 0.04, 0.02, 0.03), pipe=(0.05, 0.16, 0.59, 0.15, 0.02, 0.03),
        cooler=(0.06, 0.34, 0.45, 0.10, 0.02, 0.03),
        **_each(("fins", "fan", "place"), (0.05, 0.06, 0.24, 0.60, 0.02, 0.03)),
        **_each(POWER, (0.10, 0.01, 0.01, 0.009, 0.87, 0.001)),
    ),
    "All threads busy, the clock against its rating, the chip against its limit, and by a watch when it gets there: "
    "with bad paste it leaps up, behind a felted fin stack it creeps.", 2, 15,
    "Hot heatsinks: let it cool before you touch it.", moot=LOADED_ALREADY,
)  # fmt: skip
FIRST_CHECKS = (COMPLAINT, MONITOR, LOAD)
