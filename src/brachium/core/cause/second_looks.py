"""One look for each kind of trouble that tells its causes apart: air at the outlet, what feeds the chip, the drive's
sheet, the graphics' sheet.

Each reads in one go what a single screen or a hand shows, so that the third check already names the cause.
"""

from __future__ import annotations

from brachium.core.cause.check import HOT, Check
from brachium.core.cause.signs import sign

AIR = Check(
    sign(
        "outlet_air", "Feel the air at the outlet under load", "much, and hot|much, but hardly warm|little of it",
        (0.55, 0.38, 0.07), cooler=(0.90, 0.06, 0.04), place=(0.66, 0.06, 0.28), paste=(0.06, 0.90, 0.04),
        pipe=(0.07, 0.89, 0.04), fins=(0.12, 0.04, 0.84), fan=(0.10, 0.06, 0.84), regulators=(0.60, 0.30, 0.10),
    ),
    "After five minutes: a hand behind the grille, a strip of tissue before it. Hot chip and cool air: the heat does "
    "not come as far as the fins.", 2, 5, HOT, moot=(("split", ""),),
)  # fmt: skip
OVER = Check(
    sign(
        "look_over", "Look it over from outside: stand, grille, fan",
        "free, bright, the fan turns|covered or against a wall|felt or lint in the grille|"
        "the fan stands, rubs or rattles",
        (0.88, 0.05, 0.05, 0.02), place=(0.10, 0.86, 0.03, 0.01), fins=(0.12, 0.05, 0.81, 0.02),
        fan=(0.20, 0.04, 0.06, 0.70),
    ),
    "Where it stands, a lamp through the grille from the outlet side, an ear at the fan.", 3,
)  # fmt: skip
POWER_SHEET = Check(
    sign(
        "read_power", "Read profile, boost, battery and adapter",
        "all in order|a saving profile=>governor|boost is off=>boost_off|no battery, or worn out=>battery|"
        "the adapter is weak or not recognised=>adapter",
        (0.90, 0.02, 0.02, 0.04, 0.02), governor=(0.05, 0.92, 0.01, 0.01, 0.01),
        boost_off=(0.05, 0.02, 0.91, 0.01, 0.01), battery=(0.05, 0.01, 0.01, 0.92, 0.01),
        adapter=(0.12, 0.01, 0.01, 0.01, 0.85), external=(0.93, 0.02, 0.02, 0.02, 0.01),
        regulators=(0.94, 0.02, 0.02, 0.01, 0.01),
    ),
    "System's power page and the firmware's: each of the four, one after the other.", 3,
)  # fmt: skip
DRIVE_SHEET = Check(
    sign(
        "read_drive", "Read the system drive's sheet",
        "in order|a hard disk|media faults=>dying|interface errors=>cable|nearly full=>full|"
        "below its link=>link|compatible mode=>drive_mode|65 °C or more=>hot_drive|its life used up=>worn|"
        "shingled=>shingled",
        (0.64, 0.27, 0.01, 0.02, 0.02, 0.01, 0.01, 0.01, 0.005, 0.005),
        disk=(0.02, 0.90, 0.02, 0.01, 0.01, 0.01, 0.01, 0.01, 0.005, 0.005),
        dying=(0.04, 0.02, 0.88, 0.02, 0.01, 0.01, 0.005, 0.005, 0.005, 0.005),
        cable=(0.05, 0.02, 0.02, 0.87, 0.01, 0.01, 0.005, 0.005, 0.005, 0.005),
        full=(0.03, 0.02, 0.01, 0.01, 0.90, 0.01, 0.005, 0.005, 0.005, 0.005),
        link=(0.06, 0.02, 0.01, 0.02, 0.01, 0.86, 0.005, 0.005, 0.005, 0.005),
        drive_mode=(0.05, 0.02, 0.01, 0.01, 0.01, 0.01, 0.875, 0.005, 0.005, 0.005),
        hot_drive=(0.30, 0.02, 0.01, 0.01, 0.01, 0.01, 0.005, 0.625, 0.005, 0.005),
        worn=(0.38, 0.02, 0.02, 0.01, 0.01, 0.01, 0.005, 0.005, 0.535, 0.005),
        shingled=(0.05, 0.12, 0.02, 0.01, 0.01, 0.01, 0.005, 0.005, 0.005, 0.765),
    ),
    "Kind, counters, free space, link, mode, temperature, life, recording: what a scan or its own tool shows at once; "
    "the worst one counts.", 3,
)  # fmt: skip
GRAPHICS_SHEET = Check(
    sign(
        "read_graphics", "Read driver, memory and lanes of the graphics",
        "in order|a basic or old driver=>gpu_driver|its memory is full=>gpu_memory|fewer lanes=>gpu_width",
        (0.95, 0.02, 0.02, 0.01), gpu_driver=(0.06, 0.91, 0.02, 0.01), gpu_memory=(0.06, 0.02, 0.91, 0.01),
        gpu_width=(0.10, 0.02, 0.02, 0.86), graphics=(0.94, 0.02, 0.03, 0.01),
    ),
    "While the owner's task runs: an idle card rests on fewer lanes.", 3,
)  # fmt: skip
SYSTEM_SHEET = Check(
    sign(
        "read_system", "Read programs and memory in the system's own pages",
        "the owner's programs, all memory|a program nobody asked for=>background|an update or index=>updates|"
        "decoding or encrypting by the processor=>no_decode|a part of the memory is not usable=>bits|"
        "memory below its rating=>slow_memory|one channel is empty|less memory than is fitted",
        (0.84, 0.05, 0.02, 0.02, 0.01, 0.02, 0.035, 0.005),
        background=(0.05, 0.86, 0.04, 0.01, 0.01, 0.01, 0.01, 0.01),
        updates=(0.05, 0.07, 0.83, 0.01, 0.01, 0.01, 0.01, 0.01),
        no_decode=(0.12, 0.02, 0.02, 0.80, 0.01, 0.01, 0.01, 0.01),
        bits=(0.03, 0.01, 0.01, 0.01, 0.91, 0.01, 0.01, 0.01),
        slow_memory=(0.07, 0.02, 0.01, 0.01, 0.01, 0.85, 0.02, 0.01),
        channels=(0.07, 0.02, 0.01, 0.01, 0.01, 0.03, 0.84, 0.01),
        bad_memory=(0.57, 0.04, 0.02, 0.01, 0.01, 0.01, 0.02, 0.32),
        slow_chip=(0.86, 0.04, 0.02, 0.01, 0.01, 0.02, 0.035, 0.005),
    ),
    "While it is slow: programs by processor and drive, what decodes or encrypts; memory usable, its speed, slots "
    "filled. The worst of it counts.", 3, moot=(("who_works", ""),),
)  # fmt: skip
SECOND_LOOKS = (AIR, OVER, POWER_SHEET, DRIVE_SHEET, GRAPHICS_SHEET, SYSTEM_SHEET)
