"""Checks that tell causes apart: what is done, how long it takes, which answers it can give and what each says."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.cause.kinds import HEAT
from brachium.core.cause.signs import Sign, sign
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import Machine

BESIDE = 0.25
HOT = "Hot heatsinks: let it cool before you touch it."
LIVE = "Shut down, unplug, take the battery out or unplug it first, hold the power button 10 s; wrist strap."
DUST = "Blow outdoors or at an extraction, with a mask; hold the fan's blades still."


@dataclass(frozen=True)
class Check:
    """A sign that costs time: minutes of a person, minutes that run by themselves, how it is done, cautions.

    `rung` is its place on the overheating ladder (0 = not on it), `opens` whether the machine is opened for it,
    `loads_drive` whether a drive is read or copied at length, which a dying one may not survive.
    """

    sign: Sign
    how: str
    attended_min: float
    unattended_min: float = 0.0
    caution: str = ""
    rung: int = 0
    opens: bool = False
    loads_drive: bool = False

    @property
    def id(self) -> str:
        return self.sign.id

    @property
    def title(self) -> str:
        return self.sign.title

    @property
    def cost_min(self) -> float:
        """What it costs: minutes that run by themselves count a quarter."""
        return self.attended_min + BESIDE * self.unattended_min


CHECKS: tuple[Check, ...] = (
    Check(sign("look_place", "Look where it stands and what covers its vents", "free|covered or against a wall",
                (0.95, 0.05), place=(0.06, 0.94)),
          "Lift it, look under and behind it; a blanket, a wall, papers, a closed cupboard.", 1, rung=1),
    Check(sign("stand_free", "Stand it free and load it again", "as hot as before|clearly cooler",
                (0.97, 0.03), place=(0.04, 0.96)),
          "Free on all sides for five minutes of load; clearly = 4 K at equal power.", 2, 6, rung=1),
    Check(sign("look_fins", "Look through the grille with a lamp", "fins bright|felt or lint",
                (0.88, 0.12), fins=(0.10, 0.90)),
          "Lamp from the outlet side: light must show between the fins.", 2, rung=2),
    Check(sign("fan_full", "Hold the fan at full speed under load",
                "reaches its speed, little gained|reaches its speed, much cooler|does not reach its speed",
                (0.90, 0.08, 0.02), fan=(0.03, 0.03, 0.94), paste=(0.93, 0.05, 0.02), fins=(0.62, 0.36, 0.02),
                place=(0.80, 0.18, 0.02), cooler=(0.88, 0.10, 0.02)),
          "Fan control to full for four minutes of load; compare with the speed on its label.", 2, 5, rung=2),
    Check(sign("clean", "Open, clean fan and fins, load it again", "no cooler|clearly cooler",
                (0.98, 0.02), fins=(0.03, 0.97)),
          "Airflow step before and after at equal power and fan speed; 3 K is clear.", 30, 12, f"{LIVE} {DUST}", 3,
          True),
    Check(sign("repaste", "New paste, load it again", "no cooler|clearly cooler",
                (0.98, 0.02), paste=(0.03, 0.97)),
          "Paste step before and after at equal power; 3 K is clear. Two passes, crosswise.", 35, 12,
          f"{LIVE} {HOT}", 4, True),
    Check(sign("rating", "Compare the processor with what the maker fitted", "as fitted|above its design power",
                (0.97, 0.03), cooler=(0.04, 0.96)),
          "Design power of the chip against the largest that the maker sold in this model.", 3, rung=5),
    Check(sign("other_battery", "Fit a good battery and load it again", "clock as before|clock rises",
                (0.98, 0.02), battery=(0.03, 0.97), adapter=(0.95, 0.05)),
          "A battery of the same model from the shelf, charged above half.", 4, 4, "No swollen or dented cell."),
    Check(sign("other_adapter", "Try an adapter of the right rating", "clock as before|clock rises",
                (0.98, 0.02), adapter=(0.03, 0.97)),
          "Same voltage and plug, at least the rating on the label.", 3, 4, "Voltage and polarity as on the label."),
    Check(sign("set_profile", "Set the power profile to its fastest", "clock as before|clock rises",
                (0.98, 0.02), governor=(0.03, 0.97)),
          "In the system and, where there is one, in the firmware; then one minute of load.", 2, 2),
    Check(sign("borrow_module", "Put an equal module into the empty place", "bandwidth as before|bandwidth rises",
                (0.97, 0.03), channels=(0.03, 0.97), bad_memory=(0.90, 0.10)),
          "Same kind and size from the shelf; bandwidth test before and after.", 8, 3, LIVE, opens=True),
    Check(sign("task_alone", "Close everything else and time the task again", "as slow as before|faster",
                (0.94, 0.06), memory=(0.45, 0.55), bits=(0.60, 0.40), background=(0.04, 0.96)),
          "Start the system fresh, nothing but the task.", 3, 5),
    Check(sign("usable", "Read how much memory the system can use", "all of it|about 3 GiB or a part",
                (0.985, 0.015), bits=(0.02, 0.98)),
          "System information, or the firmware's count against the system's.", 1),
    Check(sign("speeds", "Read each module's configured speed and width", "as rated|below its rating",
                (0.97, 0.03), slow_memory=(0.05, 0.95)),
          "A scan, or the firmware's memory page.", 2),
    Check(sign("long_memory_test", "Test memory for an hour", "nothing found|wrong words",
                (0.997, 0.003), bad_memory=(0.08, 0.92)),
          "All of it, by patterns; then the swap grid finds which module or place.", 2, 60),
    Check(sign("read_health", "Read the drive's counters", "clean|media faults|interface errors",
                (0.94, 0.02, 0.04), dying=(0.04, 0.93, 0.03), cable=(0.03, 0.02, 0.95)),
          "Reallocated, pending and uncorrectable sectors; interface errors.", 2),
    Check(sign("counters_rise", "Load the drive, read its counters again", "nothing rises|media rise|interface rises",
                (0.985, 0.008, 0.007), dying=(0.20, 0.78, 0.02), cable=(0.06, 0.01, 0.93)),
          "Interface errors never go back: only their increase under load speaks.", 2, 8,
          "Image the data first where media faults show.", loads_drive=True),
    Check(sign("swap_cable", "Fit another cable and read all of it again", "as before|errors stop, full speed",
                (0.98, 0.02), cable=(0.03, 0.97), link=(0.85, 0.15)),
          "Data cable and, where it can be, another lead of the supply.", 8, 4, LIVE, opens=True, loads_drive=True),
    Check(sign("read_link", "Read the links of drives and cards", "at its highest|below its highest",
                (0.97, 0.03), link=(0.03, 0.97), cable=(0.50, 0.50)),
          "Under load: an idle link may rest at a lower rate.", 1),
    Check(sign("other_port", "Move it to another port or place", "as before|full speed",
                (0.98, 0.02), link=(0.05, 0.95), cable=(0.85, 0.15)),
          "A port of the board's highest rate; look at the controller's setting.", 8, 3, LIVE,
          opens=True, loads_drive=True),
    Check(sign("read_space", "Read the free space", "enough|under 15 %", (0.97, 0.03), full=(0.02, 0.98)),
          "On the drive that the system starts from.", 1),
    Check(sign("other_drive", "Start a copy of the system from a solid-state drive", "as slow|much faster",
                (0.95, 0.05), disk=(0.03, 0.97), dying=(0.05, 0.95), full=(0.10, 0.90), link=(0.60, 0.40),
                cable=(0.40, 0.60)),
          "From the shelf; clone first. It proves the drive, not why it is slow.", 15, 60, LIVE,
          opens=True, loads_drive=True),
    Check(sign("watch_graphics", "Watch the graphics in the owner's task", "with room left|fully busy",
                (0.95, 0.05), graphics=(0.03, 0.97)),
          "Its busy figure for two minutes of the task, beside the processor's.", 4),
    Check(sign("cap_off", "Take the frame cap off and measure again", "rate as before|rate rises",
                (0.97, 0.03), cap=(0.03, 0.97)),
          "Display sync and the program's own limit; leave everything else alone.", 4),
    Check(sign("who_works", "List what works while nothing should", "nothing|a program that stays busy",
                (0.95, 0.05), background=(0.04, 0.96)),
          "Ten minutes after the start, sorted by processor and by drive.", 3),
)  # fmt: skip
BY_ID = {c.id: c for c in CHECKS}
LADDER: tuple[Check, ...] = tuple(sorted((c for c in CHECKS if c.rung), key=lambda c: (c.rung, c.cost_min)))
_ONLY_PORTABLE = ("other_battery", "other_adapter")


def possible(machine: Machine, drive_fails: bool = False) -> tuple[Check, ...]:
    """The checks that make sense on a machine: no battery on a tower, no cable where a drive plugs straight in, nothing
    that loads a drive where one is dying."""
    out = []
    portable = machine.kind in PORTABLE
    drives = machine.configuration().drives()
    empty = any(s.id not in machine.configuration().parts for s in machine.slots)
    for check in CHECKS:
        if check.id in _ONLY_PORTABLE and not portable:
            continue
        if check.id in ("swap_cable", "other_port") and (portable or not drives):
            continue
        if check.id == "borrow_module" and not empty:
            continue
        if check.loads_drive and drive_fails:
            continue
        out.append(check)
    return tuple(out)


def heat_only(check: Check) -> bool:
    """Whether it says something of heat alone."""
    return set(check.sign.given) <= set(HEAT)
