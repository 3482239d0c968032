"""Checks that tell causes apart: what is done, how long it takes, which answers it can give and what each says."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.cause.check import (
    ACCEPTED,
    DUST,
    FAN,
    HOT,
    LIMITS,
    LIVE,
    OPEN,
    OUTSIDE,
    PASTE,
    STAND,
    SURFACE,
    Check,
)  # fmt: skip
from brachium.core.cause.first_checks import FIRST_CHECKS, FULL_CLOCK, HOT_PROCESSOR
from brachium.core.cause.kinds import HEAT
from brachium.core.cause.second_looks import SECOND_LOOKS
from brachium.core.cause.signs import sign
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE, MachineKind
from brachium.core.machine.machine import Machine

NET_SPEED, TRY_VOLTAGE, HELPS = "net_speed", "try_voltage", "cooler, or a higher clock"
# Minutes of a check that opens a machine, against those of a laptop: towers open by two screws, glued ones by heat
OPENING = {MachineKind.TOWER: 0.6, MachineKind.SMALL_DESKTOP: 0.8, MachineKind.ALL_IN_ONE: 1.6,
           MachineKind.HANDHELD: 1.6, MachineKind.TABLET: 2.5}  # fmt: skip

CHECKS: tuple[Check, ...] = (
    *FIRST_CHECKS,
    *SECOND_LOOKS,
    Check(
        sign(
            "look_place",
            "Look where it stands and what covers its vents",
            "free|covered or against a wall",
            (0.95, 0.05),
            place=(0.06, 0.94),
        ),
        "Lift it, look under and behind it; a blanket, a wall, papers, a closed cupboard.",
        1,
        rung=SURFACE,
    ),
    Check(
        sign(
            "stand_free",
            "Stand it free and load it again",
            "as hot as before|clearly cooler=>place",
            (0.97, 0.03),
            place=(0.04, 0.96),
        ),
        "Free on all sides for five minutes of load; clearly = 4 K at equal power.",
        2,
        6,
        rung=STAND,
    ),
    Check(
        sign(
            "look_fins",
            "Look through the grille with a lamp",
            "fins bright|felt or lint",
            (0.88, 0.12),
            fins=(0.10, 0.90),
        ),
        "Lamp from the outlet side: light must show between the fins.",
        2,
        rung=SURFACE,
    ),
    Check(
        sign(
            "blow_out",
            "Clean the vents from outside, load it again",
            "no cooler|clearly cooler",
            (0.98, 0.02),
            fins=(0.70, 0.30),
            place=(0.85, 0.15),
        ),
        "Short bursts of air from the outlet side, fan held still; 3 K at equal power is clear.",
        5,
        6,
        "Blow outdoors or at an extraction, with a mask; hold the fan's blades still.",
        rung=OUTSIDE,
    ),
    Check(
        sign(
            "fan_full",
            "Hold the fan at full speed under load",
            "reaches its speed, little gained|reaches its speed, much cooler|does not reach its speed=>fan",
            (0.90, 0.08, 0.02),
            fan=(0.03, 0.03, 0.94),
            paste=(0.93, 0.05, 0.02),
            fins=(0.62, 0.36, 0.02),
            place=(0.80, 0.18, 0.02),
            cooler=(0.88, 0.10, 0.02),
            pipe=(0.93, 0.05, 0.02),
        ),
        "Fan control to full for four minutes of load; compare with the speed on its label.",
        2,
        5,
        rung=FAN,
    ),
    Check(
        sign(
            "feel_pipe",
            "Feel both ends of the heat pipe under load",
            "both warm|warm at the chip, cool at the fins=>pipe",
            (0.97, 0.03),
            pipe=(0.05, 0.95),
            paste=(0.95, 0.05),
        ),
        "Panel off, three minutes of load, a probe or a fingertip at a distance: a pipe that works is equally warm.",
        4,
        3,
        HOT,
        OPEN,
        True,
    ),
    Check(
        sign(
            "clean",
            "Open, clean fan and fins, load it again",
            "no cooler|clearly cooler=>fins",
            (0.98, 0.02),
            fins=(0.03, 0.97),
        ),
        "Airflow step before and after at equal power and fan speed; 3 K is clear.",
        30,
        12,
        phrase("{live} {dust}", live=LIVE, dust=DUST),
        OPEN,
        True,
    ),
    Check(
        sign(
            "repaste", "New paste, load it again", "no cooler|clearly cooler=>paste", (0.98, 0.02), paste=(0.03, 0.97)
        ),
        "Paste step before and after at equal power; 3 K is clear. Two passes, crosswise.",
        35,
        12,
        phrase("{live} {hot}", live=LIVE, hot=HOT),
        PASTE,
        True,
    ),
    Check(
        sign(
            "rating",
            "Compare the processor with what the maker fitted",
            "as fitted|above its design power=>cooler",
            (0.97, 0.03),
            cooler=(0.04, 0.96),
        ),
        "Design power of the chip against the largest that the maker sold in this model.",
        3,
        rung=LIMITS,
    ),
    Check(
        sign(
            "lower_limit",
            "Lower the processor's power limit, load it again",
            "as hot, or much slower|cooler, and hardly slower",
            (0.70, 0.30),
            cooler=(0.15, 0.85),
        ),
        "In steps of a tenth, boost off last; note clock and temperature of each.",
        6,
        12,
        rung=LIMITS,
    ),
    Check(
        sign(
            TRY_VOLTAGE,
            "Lower the processor's voltage a little, load it again",
            phrase("it cannot be set|no cooler, or it errs|{helps}", helps=HELPS),
            (0.35, 0.25, 0.40),
            cooler=(0.35, 0.15, 0.50),
        ),
        "In the firmware or by the system's own tool, 25 mV at a time down to 75 mV; note the old value, go back at "
        "the first error.",
        8,
        15,
        "A voltage that is too low corrupts data without a word: test memory and an hour of load before it stays.",
        rung=LIMITS,
    ),
    Check(
        sign("accept_heat", "Agree with the owner on what stays hot", "not agreed|agreed", (0.90, 0.10)),
        "What it costs in clock, what it would cost to mend, what a hot chip means for its life.",
        5,
        rung=ACCEPTED,
    ),
    Check(
        sign(
            "other_battery",
            "Fit a good battery and load it again",
            "clock as before|clock rises=>battery",
            (0.98, 0.02),
            battery=(0.03, 0.97),
            adapter=(0.95, 0.05),
        ),
        "A battery of the same model from the shelf, charged above half.",
        4,
        4,
        "No swollen or dented cell.",
    ),
    Check(
        sign(
            "other_adapter",
            "Try an adapter of the right rating",
            "clock as before|clock rises=>adapter",
            (0.98, 0.02),
            adapter=(0.03, 0.97),
        ),
        "Same voltage and plug, at least the rating on the label.",
        3,
        4,
        "Voltage and polarity as on the label.",
    ),
    Check(
        sign(
            "set_profile",
            "Set the power profile to its fastest",
            "clock as before|clock rises=>governor",
            (0.98, 0.02),
            governor=(0.03, 0.97),
        ),
        "In the system and, where there is one, in the firmware; then one minute of load.",
        2,
        2,
    ),
    Check(
        sign(
            "boost_on",
            "Switch boost on and load it again",
            "clock as before|clock rises=>boost_off",
            (0.98, 0.02),
            boost_off=(0.03, 0.97),
        ),
        "In the firmware and in the system's profile; then one minute of load.",
        4,
        2,
    ),
    Check(
        sign(
            "limit_flags",
            "Read which limit the chip itself names",
            "none|temperature|power or current|heat of the voltage stage|a signal from outside",
            (0.925, 0.02, 0.04, 0.005, 0.01),
            external=(0.08, 0.02, 0.05, 0.02, 0.83),
            battery=(0.25, 0.01, 0.40, 0.01, 0.33),
            adapter=(0.20, 0.01, 0.45, 0.01, 0.33),
            regulators=(0.10, 0.03, 0.22, 0.50, 0.15),
            **dict.fromkeys(HEAT, (0.08, 0.89, 0.01, 0.01, 0.01)),
        ),
        "Limit-reason flags under load; a signal from outside comes from regulators, adapter or battery circuit.",
        3,
        2,
        moot=(("held", "by heat"), ("watch_monitor", HOT_PROCESSOR), ("watch_load", FULL_CLOCK)),
    ),
    Check(
        sign(
            "hand_sensor",
            "Compare the sensor with the hand",
            "they agree|it says hot, the hand does not=>external",
            (0.98, 0.02),
            external=(0.55, 0.45),
        ),
        "Cold start after an hour off: every sensor within 10 K of the room. Under load, air at the outlet.",
        3,
        caution=HOT,
    ),
    Check(
        sign(
            "cool_regulators",
            "Blow on the voltage stage, load it again",
            "clock as before|clock holds=>regulators",
            (0.98, 0.02),
            regulators=(0.04, 0.96),
        ),
        "A desk fan on the open board, ten minutes of load; an infrared probe beside it.",
        6,
        10,
        HOT,
        opens=True,
    ),
    Check(
        sign(
            "watch_processor",
            "Watch the processor in the owner's task",
            "with room left|fully busy, one thread or all",
            (0.60, 0.40),
            slow_chip=(0.03, 0.97),
            graphics=(0.90, 0.10),
            disk=(0.85, 0.15),
            memory=(0.85, 0.15),
        ),
        "Each core's figure for two minutes of the task, at its rated clock.",
        3,
    ),
    Check(
        sign(
            "faster_machine",
            "Time the task on a faster machine",
            "as slow as here|faster, as its clock is=>slow_chip",
            (0.90, 0.10),
            slow_chip=(0.03, 0.97),
        ),
        "One of the shop's with the same memory and kind of drive; the same file, the same settings.",
        10,
        5,
    ),
    Check(
        sign(
            "borrow_module",
            "Put an equal module into the empty slot",
            "bandwidth as before|bandwidth rises=>channels",
            (0.97, 0.03),
            channels=(0.03, 0.97),
            bad_memory=(0.90, 0.10),
        ),
        "Same kind and size from the shelf; bandwidth test before and after.",
        8,
        3,
        LIVE,
        opens=True,
    ),
    Check(
        sign(
            "task_alone",
            "Close everything else and time the task again",
            "as slow as before|faster",
            (0.94, 0.06),
            memory=(0.45, 0.55),
            bits=(0.60, 0.40),
            background=(0.04, 0.96),
            updates=(0.30, 0.70),
        ),
        "Start the system fresh, nothing but the task.",
        3,
        5,
    ),
    Check(
        sign(
            "usable",
            "Read how much memory the system can use",
            "all of it|about 3 GiB or a part=>bits",
            (0.985, 0.015),
            bits=(0.02, 0.98),
        ),
        "System information, or the firmware's count against the system's.",
        1,
        moot=(("read_system", ""),),
    ),
    Check(
        sign(
            "speeds",
            "Read each module's configured speed and width",
            "as rated|below its rating=>slow_memory",
            (0.97, 0.03),
            slow_memory=(0.05, 0.95),
        ),
        "A scan, or the firmware's memory page.",
        2,
        moot=(("read_system", ""),),
    ),
    Check(
        sign(
            "long_memory_test",
            "Test memory for an hour",
            "nothing found|memory errors=>bad_memory",
            (0.997, 0.003),
            bad_memory=(0.08, 0.92),
        ),
        "All of it, by patterns; then the swap grid finds which module or slot.",
        2,
        60,
    ),
    Check(
        sign(
            "read_health",
            "Read the drive's counters",
            "clean|media faults=>dying|interface errors",
            (0.94, 0.02, 0.04),
            dying=(0.04, 0.93, 0.03),
            cable=(0.03, 0.02, 0.95),
        ),
        "Reallocated, pending and uncorrectable sectors; interface errors.",
        2,
    ),
    Check(
        sign(
            "self_test",
            "Have the drive test itself, the short way",
            "passes|fails while reading=>dying",
            (0.985, 0.015),
            dying=(0.25, 0.75),
        ),
        "The drive's own short test; it reads little and stops at the first fault.",
        1,
        3,
    ),
    Check(
        sign(
            "counters_rise",
            "Load the drive, read its counters again",
            "nothing rises|media rise=>dying|interface rises=>cable",
            (0.985, 0.008, 0.007),
            dying=(0.20, 0.78, 0.02),
            cable=(0.06, 0.01, 0.93),
        ),
        "Interface errors never go back: only their increase under load speaks.",
        2,
        8,
        "Image the data first where media faults show.",
        loads_drive=True,
    ),
    Check(
        sign(
            "swap_cable",
            "Fit another cable and read all of it again",
            "as before|errors stop, full speed=>cable",
            (0.98, 0.02),
            cable=(0.03, 0.97),
            link=(0.85, 0.15),
        ),
        "Data cable and, where it can be, another power connector of the supply.",
        8,
        4,
        LIVE,
        opens=True,
        loads_drive=True,
    ),
    Check(
        sign(
            "read_link",
            "Read the links of drives",
            "at their highest|below their highest",
            (0.97, 0.03),
            link=(0.03, 0.97),
            cable=(0.50, 0.50),
        ),
        "Under load: an idle link may rest at a lower rate.",
        1,
    ),
    Check(
        sign(
            "other_port",
            "Move it to another port or slot",
            "as before|full speed=>link",
            (0.98, 0.02),
            link=(0.05, 0.95),
            cable=(0.85, 0.15),
        ),
        "A port of the board's highest rate; look at the controller's setting.",
        8,
        3,
        LIVE,
        opens=True,
        loads_drive=True,
    ),
    Check(
        sign(
            "read_mode",
            "Read the controller's mode in the firmware",
            "its own|compatible=>drive_mode",
            (0.985, 0.015),
            drive_mode=(0.03, 0.97),
        ),
        "Compatible mode knows no queue; the system needs its driver before the setting is changed.",
        3,
    ),
    Check(
        sign(
            "trim",
            "Trim the drive, let it rest an hour, measure again",
            "as slow as before|faster=>worn",
            (0.98, 0.02),
            worn=(0.25, 0.75),
        ),
        "Where the system never trims, or the drive was full for long; life used stands in its counters.",
        2,
        60,
    ),
    Check(
        sign(
            "cool_drive",
            "Read for three minutes with air on the drive",
            "rate as before|rate holds=>hot_drive",
            (0.98, 0.02),
            hot_drive=(0.04, 0.96),
        ),
        "Its own temperature beside the rate; a controller slows down near 70 °C.",
        4,
        4,
        LIVE,
        opens=True,
        loads_drive=True,
    ),
    Check(
        sign(
            "long_write",
            "Write 30 GB and watch the rate",
            "holds|falls to a few MB/s after a while",
            (0.97, 0.03),
            shingled=(0.05, 0.95),
            worn=(0.50, 0.50),
            dying=(0.60, 0.40),
        ),
        "On free space, in a folder of one's own; shingles rewrite whole bands once their buffer is full.",
        2,
        10,
        loads_drive=True,
    ),
    Check(
        sign(
            "long_read",
            "Read the whole drive for three minutes, watch the rate",
            "at its rate throughout|falls after a minute or two|slow in places, or from the start",
            (0.95, 0.02, 0.03),
            hot_drive=(0.06, 0.89, 0.05),
            worn=(0.14, 0.08, 0.78),
            link=(0.10, 0.02, 0.88),
            cable=(0.30, 0.10, 0.60),
            dying=(0.20, 0.08, 0.72),
            drive_mode=(0.70, 0.02, 0.28),
        ),
        "Reads only. Old cells answer slowly where they lie, a hot controller slows down all of it together.",
        2,
        3,
        loads_drive=True,
    ),
    Check(
        sign(
            "recording",
            "Look its recording up on the label or the maker's sheet",
            "plain|shingled=>shingled",
            (0.97, 0.03),
            shingled=(0.04, 0.96),
        ),
        "The maker's table of recording methods, by the model on its label.",
        3,
    ),
    Check(
        sign("read_space", "Read the free space", "enough|under 15 %", (0.97, 0.03), full=(0.02, 0.98)),
        "On the drive that the system starts from.",
        1,
    ),
    Check(
        sign(
            "other_drive",
            "Start a copy of the system from a solid-state drive",
            "as slow|much faster",
            (0.95, 0.05),
            disk=(0.03, 0.97),
            dying=(0.05, 0.95),
            full=(0.10, 0.90),
            link=(0.60, 0.40),
            cable=(0.40, 0.60),
            worn=(0.10, 0.90),
            shingled=(0.05, 0.95),
            hot_drive=(0.50, 0.50),
        ),
        "From the shelf; clone first. It proves the drive, not why it is slow.",
        15,
        60,
        LIVE,
        opens=True,
        loads_drive=True,
    ),
    Check(
        sign(
            "from_stick",
            "Start a live system from a stick and do the same",
            "as slow|clearly quicker",
            (0.90, 0.10),
            background=(0.10, 0.90),
            updates=(0.10, 0.90),
            gpu_driver=(0.35, 0.65),
            dying=(0.30, 0.70),
            full=(0.30, 0.70),
            disk=(0.40, 0.60),
            worn=(0.40, 0.60),
        ),
        "Nothing of the installed system runs then: what stays slow is the machine's.",
        5,
        6,
    ),
    Check(
        sign(
            "system_log",
            "Read the system's log of the last week",
            "nothing|power lost without a word|faults of the drive=>dying|memory errors|shut down by heat",
            (0.93, 0.02, 0.015, 0.015, 0.02),
            supply=(0.12, 0.82, 0.02, 0.02, 0.02),
            dying=(0.25, 0.02, 0.69, 0.02, 0.02),
            bad_memory=(0.50, 0.03, 0.02, 0.43, 0.02),
            cable=(0.40, 0.02, 0.50, 0.04, 0.04),
            **dict.fromkeys(HEAT, (0.55, 0.02, 0.02, 0.02, 0.39)),
        ),
        "Errors and unclean starts, by their time against what was done then.",
        4,
    ),
    Check(
        sign(
            "watch_graphics",
            "Watch the graphics in the owner's task",
            "with room left|fully busy",
            (0.95, 0.05),
            graphics=(0.03, 0.97),
            gpu_memory=(0.35, 0.65),
            gpu_width=(0.40, 0.60),
        ),
        "Its busy figure for two minutes of the task, beside the processor's.",
        4,
    ),
    Check(
        sign(
            "watch_gpu_memory",
            "Watch the graphics memory in the owner's task",
            "room left|full=>gpu_memory",
            (0.96, 0.04),
            gpu_memory=(0.03, 0.97),
            graphics=(0.90, 0.10),
        ),
        "Its own memory and what it borrows; stutters come where it runs over.",
        3,
    ),
    Check(
        sign(
            "own_driver",
            "Fit the graphics chip's own driver and measure again",
            "rate as before|rate rises=>gpu_driver",
            (0.97, 0.03),
            gpu_driver=(0.04, 0.96),
        ),
        "Note the version before; keep the old one to go back to.",
        8,
        5,
    ),
    Check(
        sign(
            "reseat_card",
            "Seat the card anew and read its lanes",
            "as before|all lanes=>gpu_width",
            (0.98, 0.02),
            gpu_width=(0.10, 0.90),
        ),
        "Contacts wiped, no drive in a shared slot; lanes read under load.",
        8,
        2,
        LIVE,
        opens=True,
    ),
    Check(
        sign(
            "watch_decoder",
            "Watch which part decodes or encrypts",
            "the graphics or a unit of its own|the processor=>no_decode",
            (0.96, 0.04),
            no_decode=(0.03, 0.97),
        ),
        "The decoder's own figure while the video plays; processor features against the encryption in use.",
        3,
    ),
    Check(
        sign(
            NET_SPEED,
            "Read the port's rate and time a long copy",
            "as the use needs|slower than the use=>network",
            (0.97, 0.03),
            network=(0.03, 0.97),
        ),
        "Rate of the link, cable and switch; a copy from another machine with a fast drive.",
        4,
        2,
    ),
    Check(
        sign(
            "cap_off",
            "Take the frame cap off and measure again",
            "rate as before|rate rises=>cap",
            (0.97, 0.03),
            cap=(0.03, 0.97),
        ),
        "Display sync and the program's own limit; leave everything else alone.",
        4,
    ),
    Check(
        sign(
            "who_works",
            "List what works while nothing should",
            "nothing|a program that stays busy|an update or index that never ends=>updates",
            (0.95, 0.04, 0.01),
            background=(0.04, 0.93, 0.03),
            updates=(0.03, 0.07, 0.90),
        ),
        "Ten minutes after the start, sorted by processor and by drive; the same again after an hour.",
        3,
        60,
    ),
    Check(
        sign(
            "reset_settings",
            "Set the firmware back to its defaults",
            "as before|better",
            (0.97, 0.03),
            start_setting=(0.20, 0.80),
            boost_off=(0.20, 0.80),
            drive_mode=(0.50, 0.50),
        ),
        "Photograph every page first; drive mode and start mode as they were, or the system does not start.",
        6,
        2,
    ),
    Check(
        sign(
            "start_order",
            "Read boot order, boot mode and secure boot",
            "as the system needs|another order or mode=>start_setting",
            (0.98, 0.02),
            start_setting=(0.04, 0.96),
        ),
        "The system's own drive first, in the mode that it was installed under.",
        3,
    ),
    Check(
        sign("cell_volts", "Measure the date battery", "2.8 V or more|less", (0.94, 0.06), start_setting=(0.45, 0.55)),
        "Coin cell in place, machine unplugged; under 2.8 V it forgets its settings.",
        4,
        caution=LIVE,
        opens=True,
    ),
    Check(
        sign(
            "other_supply",
            "Run it from a known-good supply",
            "as before|stays on=>supply",
            (0.98, 0.02),
            supply=(0.03, 0.97),
        ),
        "Rating and plugs at least as the fitted one's, beside the case; half an hour of load.",
        12,
        30,
        phrase("{live} A power supply is never opened.", live=LIVE),
        opens=True,
    ),
    Check(
        sign(
            "graphics_out",
            "Take the graphics card out, start on the processor's own",
            "as before|better",
            (0.96, 0.04),
            supply=(0.45, 0.55),
            gpu_width=(0.85, 0.15),
        ),
        "Where the processor has graphics; half an hour of what it did before.",
        8,
        15,
        LIVE,
        opens=True,
    ),
    Check(
        sign(
            "minimum",
            "Start it with the least fitted and load it",
            "as before|stays on",
            (0.96, 0.04),
            supply=(0.35, 0.65),
            bad_memory=(0.50, 0.50),
        ),
        "Processor, one module, the system's drive; then one part more at a time.",
        12,
        10,
        LIVE,
        opens=True,
    ),
)
BY_ID = {c.id: c for c in CHECKS}
LADDER: tuple[Check, ...] = tuple(sorted((c for c in CHECKS if c.rung), key=lambda c: (c.rung, c.cost_min)))
_ONLY_PORTABLE = ("other_battery", "other_adapter")
_CABLED = ("swap_cable", "other_port")
_BY_NEED = {"other_supply": "supply", "trim": "flash", "cool_drive": "flash", "recording": "disk",
            "long_write": "disk", "long_read": "flash", "reseat_card": "card", "graphics_out": "card"}  # fmt: skip


def possible(machine: Machine, drive_fails: bool = False) -> tuple[Check, ...]:
    """The checks that make sense on a machine: no battery on a tower, no cable where a drive plugs straight in, nothing
    that loads a drive where one is dying."""
    portable = machine.kind in PORTABLE
    configuration = machine.configuration()
    has = needs_met(machine)
    left_out = set(_ONLY_PORTABLE if not portable else ())
    left_out |= set(_CABLED if portable or not configuration.drives() else ())
    left_out |= {check for check, need in _BY_NEED.items() if need not in has}
    if all(s.id in configuration.parts for s in machine.slots):
        left_out.add("borrow_module")
    fit = (c for c in CHECKS if c.id not in left_out and not (c.loads_drive and drive_fails))
    return tuple(on_kind(c, machine.kind) for c in fit)


def on_kind(check: Check, kind: MachineKind) -> Check:
    """The check with its minutes on a kind of machine: what is opened takes as long as that kind takes to open."""
    if not check.opens:
        return check
    return replace(check, attended_min=float(round(check.attended_min * OPENING.get(kind.build, 1.0))))


def needs_met(machine: Machine) -> frozenset[str]:
    """What a machine has of the things that causes and checks need (kinds.py)."""
    drives = machine.configuration().drives().values()
    portable = machine.kind in PORTABLE
    has = {"battery"} if portable else set()
    has |= {"adapter"} if machine.kind in ON_ADAPTER else {"supply"}
    has |= {"screen"} if portable or machine.kind is MachineKind.ALL_IN_ONE else {"monitor"}
    has |= {"flash"} if any(not d.rotational for d in drives) else set()
    has |= {"disk"} if any(d.rotational for d in drives) else set()
    has |= {"card"} if not portable else set()
    return frozenset(has)
