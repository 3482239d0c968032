"""How a machine that does not start, or stops early, behaves: the first question of its own path."""

from __future__ import annotations

from brachium.core.cause.check import Check
from brachium.core.cause.signs import sign

NOTHING, A_MOMENT, NO_PICTURE, BEEPS, FIRMWARE, LOADER, UNDER_LOAD = SYMPTOMS = (
    "nothing at all", "on for a moment, then off", "fans turn, no picture", "beeps or lights",
    "stops in the firmware", "the loader starts and stops", "restarts or goes off at work",
)  # fmt: skip
# chances of the symptoms, in their order, with each cause; without one they are alike
SYMPTOM = Check(
    sign(
        "start_symptom", "What does it do when it is switched on?", "|".join(SYMPTOMS),
        (1 / 7, 1 / 7, 1 / 7, 1 / 7, 1 / 7, 1 / 7, 1 / 7),
        mains=(0.94, 0.01, 0.01, 0.01, 0.01, 0.01, 0.01), dead_adapter=(0.88, 0.04, 0.01, 0.03, 0.01, 0.01, 0.02),
        charge=(0.70, 0.06, 0.18, 0.02, 0.02, 0.01, 0.01), flat_battery=(0.60, 0.20, 0.04, 0.06, 0.03, 0.01, 0.06),
        dead_supply=(0.80, 0.16, 0.01, 0.01, 0.005, 0.005, 0.01),
        weak_supply=(0.02, 0.14, 0.04, 0.01, 0.02, 0.05, 0.72), button=(0.94, 0.03, 0.01, 0.005, 0.005, 0.005, 0.005),
        plug=(0.28, 0.10, 0.30, 0.10, 0.17, 0.02, 0.03), device=(0.04, 0.04, 0.10, 0.06, 0.66, 0.08, 0.02),
        monitor=(0.005, 0.005, 0.96, 0.01, 0.01, 0.005, 0.005), screen=(0.005, 0.005, 0.95, 0.02, 0.01, 0.005, 0.005),
        card=(0.01, 0.05, 0.48, 0.42, 0.01, 0.01, 0.02), seat=(0.02, 0.06, 0.40, 0.46, 0.02, 0.02, 0.02),
        module=(0.01, 0.04, 0.25, 0.42, 0.03, 0.10, 0.15), processor=(0.03, 0.20, 0.62, 0.12, 0.01, 0.01, 0.01),
        short=(0.35, 0.55, 0.05, 0.02, 0.01, 0.01, 0.01), board=(0.50, 0.14, 0.30, 0.03, 0.01, 0.01, 0.01),
        settings=(0.01, 0.02, 0.17, 0.10, 0.66, 0.02, 0.02), order=(0.005, 0.005, 0.005, 0.01, 0.88, 0.09, 0.005),
        drive_lead=(0.005, 0.005, 0.005, 0.01, 0.86, 0.10, 0.015),
        dead_drive=(0.01, 0.02, 0.01, 0.01, 0.62, 0.30, 0.03),
        loader=(0.005, 0.005, 0.005, 0.005, 0.18, 0.79, 0.01), driver=(0.005, 0.005, 0.02, 0.005, 0.005, 0.76, 0.20),
        cooling=(0.01, 0.12, 0.02, 0.02, 0.03, 0.06, 0.74),
    ),
    "Switch it on once, watch and listen for a minute: lights, fans, drive, picture.", 1,
)  # fmt: skip
