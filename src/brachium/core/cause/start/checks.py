"""Checks of a machine that does not start, cheapest first: nothing is bought before they were made."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.cause.check import LIVE, Check
from brachium.core.cause.checks import needs_met, on_kind
from brachium.core.cause.signs import Chances, sign
from brachium.core.cause.start.symptoms import SYMPTOM
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive

STAYS: Chances = (0.98, 0.02)
CURES: Chances = (0.04, 0.96)
BEFORE_IT_LOADS = (
    "mains", "dead_adapter", "charge", "dead_supply", "button", "monitor", "screen", "card", "seat", "processor",
    "short", "board", "flat_battery",
)  # fmt: skip
PINS = "Under power: these two pins alone, one hand, nothing of metal near the board; never inside the supply."
NEVER_OPENED = "A power supply is never opened: what is inside it stays charged."


def _cures(title: str, id_: str, after: str, *causes: str, **others: Chances) -> Check:
    """A check that takes a cause away and looks whether it starts then: one that cures decides for
    its own cause, `others` may be cured by it as well."""
    decided = phrase("=>{causes}", causes=causes[0]) if len(causes) == 1 else ""
    return Check(
        sign(
            id_,
            title,
            phrase("as before|{after}{decided}", after=after, decided=decided),
            STAYS,
            **dict.fromkeys(causes, CURES),
            **others,
        ),
        "",
        0,
    )


def _timed(check: Check, how: str, attended_min: float, caution: str = "", opens: bool = False) -> Check:
    return Check(check.sign, how, attended_min, 0.0, caution, 0, opens)


CHECKS: tuple[Check, ...] = (
    SYMPTOM,
    Check(
        sign("start_mains", "Check socket, cable and switch", "power is there|no power=>mains", STAYS, mains=CURES),
        "A lamp in the same socket, the switch at the back, a strip's own switch, another cable.",
        2,
    ),
    Check(
        sign(
            "start_adapter",
            "Measure the adapter",
            "its voltage is there|nothing, or too low=>dead_adapter",
            STAYS,
            dead_adapter=(0.08, 0.92),
        ),
        "Meter on its plug, or a second machine; volts within 5 % of the label; look at the socket.",
        2,
    ),
    _timed(
        _cures(
            "Unplug it, hold the button half a minute, start",
            "start_hold",
            "starts",
            "charge",
            flat_battery=(0.75, 0.25),
        ),
        "Mains and adapter off, battery out where it comes out from outside.",
        2,
    ),
    _timed(
        _cures("Unplug everything outside, start", "start_outside", "starts", "device"),
        "Sticks, card readers, docks, printers, drives: all of it but the monitor.",
        2,
    ),
    _timed(
        _cures(
            "Another monitor, cable and output",
            "start_monitor",
            "there is a picture",
            "monitor",
            card=(0.80, 0.20),
            screen=(0.05, 0.95),
        ),
        "The input chosen by hand; on a laptop an outside monitor, a torch on the screen for its back-light.",
        3,
    ),
    Check(
        sign(
            "start_code",
            "Count the beeps or read the lights",
            "no code|memory|graphics|processor or board|power",
            (0.80, 0.05, 0.05, 0.05, 0.05),
            seat=(0.30, 0.66, 0.02, 0.01, 0.01),
            module=(0.30, 0.66, 0.02, 0.01, 0.01),
            card=(0.36, 0.02, 0.60, 0.01, 0.01),
            processor=(0.45, 0.03, 0.02, 0.48, 0.02),
            board=(0.60, 0.03, 0.03, 0.30, 0.04),
            dead_supply=(0.75, 0.01, 0.01, 0.02, 0.21),
            plug=(0.60, 0.04, 0.14, 0.06, 0.16),
            flat_battery=(0.60, 0.01, 0.01, 0.02, 0.36),
        ),
        "Against the table of its own maker; a speaker on the board where it has a header for one.",
        3,
    ),
    _timed(
        _cures(
            "Press every plug down",
            "start_plugs",
            "one was loose, it starts",
            "plug",
            drive_lead=(0.60, 0.40),
            card=(0.75, 0.25),
        ),
        "Large plug, processor plug, card, front panel, drives, screen cable: each pressed until it clicks.",
        4,
        LIVE,
        True,
    ),
    _timed(
        _cures("Bridge the power pins", "start_button", "starts", "button"),
        "Front-panel plug off, both power pins touched for a moment with a screwdriver.",
        4,
        PINS,
        True,
    ),
    _timed(
        _cures("Seat the modules anew, contacts wiped", "start_reseat", "starts", "seat", module=(0.90, 0.10)),
        "Out, contacts wiped with alcohol, the slots blown out; in until both latches close.",
        6,
        LIVE,
        True,
    ),
    _timed(
        _cures(
            "One module alone, each in turn, then another slot",
            "start_one_module",
            "starts with some of them",
            "module",
            seat=(0.55, 0.45),
        ),
        "First slot of the board's order; the swap grid keeps what was tried.",
        10,
        LIVE,
        True,
    ),
    _timed(
        _cures(
            "Card out, start on the processor's own graphics", "start_card", "starts", "card", weak_supply=(0.70, 0.30)
        ),
        "Where the processor has graphics; else another card, and another of its power connectors.",
        5,
        LIVE,
        True,
    ),
    _timed(
        _cures("Start without its battery, on the adapter", "start_no_battery", "starts", "flat_battery"),
        "Plug of the battery off the board; a swollen one goes no further.",
        6,
        LIVE,
        True,
    ),
    Check(
        sign(
            "start_minimum",
            "The least fitted: board, processor, one module",
            "as before|starts",
            STAYS,
            card=(0.10, 0.90),
            device=(0.20, 0.80),
            plug=(0.55, 0.45),
            drive_lead=(0.30, 0.70),
            dead_drive=(0.35, 0.65),
            module=(0.50, 0.50),
            weak_supply=(0.45, 0.55),
            short=(0.80, 0.20),
        ),
        "Cards, drives, front panel off; then one thing more at a time until it stops again.",
        12,
        0.0,
        LIVE,
        0,
        True,
    ),
    Check(
        sign(
            "start_other_supply",
            "Another supply beside the case",
            "as before|starts, and stays on",
            STAYS,
            dead_supply=(0.03, 0.97),
            weak_supply=(0.04, 0.96),
        ),
        "One known to be good, of the same plugs, at least of the same rating.",
        20,
        0.0,
        phrase("{live} {never_opened}", live=LIVE, never_opened=NEVER_OPENED),
        0,
        True,
    ),
    Check(
        sign(
            "start_socket",
            "Look into the socket and behind the board",
            "clean|a bent pin, a drop, a wrong standoff=>short",
            STAYS,
            short=(0.22, 0.78),
            processor=(0.85, 0.15),
        ),
        "Board out on card; lens and lamp on the pins, standoffs counted against the holes.",
        18,
        0.0,
        LIVE,
        0,
        True,
    ),
    Check(
        sign(
            "start_known",
            "Is the processor on the board's list?",
            "listed, and this firmware knows it|not listed, or only for a later firmware=>processor",
            STAYS,
            processor=(0.35, 0.65),
        ),
        "Only after a processor or board was changed: the maker's list against the firmware's version.",
        4,
    ),
    _timed(
        _cures("Set the firmware to its defaults", "start_defaults", "starts", "settings", order=(0.55, 0.45)),
        "Jumper or cell out for a minute; note start mode and drive mode first, set them again after it.",
        5,
        LIVE,
        True,
    ),
    Check(
        sign("start_cell", "Measure the date battery", "2.8 V or more|less", (0.90, 0.10), settings=(0.40, 0.60)),
        "Coin cell in place, machine unplugged.",
        4,
        0.0,
        LIVE,
        0,
        True,
    ),
    Check(
        sign(
            "start_listed",
            "Does the firmware list the drive?",
            "listed, its size right|not listed, or size nought",
            (0.96, 0.04),
            drive_lead=(0.08, 0.92),
            dead_drive=(0.40, 0.60),
            plug=(0.60, 0.40),
            loader=(0.98, 0.02),
            order=(0.98, 0.02),
        ),
        "Its list of drives, and the count of its size.",
        2,
    ),
    Check(
        sign(
            "start_from",
            "Read boot order, boot mode and secure boot",
            "as the system needs|another order or mode=>order",
            STAYS,
            order=CURES,
            settings=(0.60, 0.40),
        ),
        "The system's own drive first, in the mode that it was installed under.",
        3,
    ),
    Check(
        sign(
            "start_elsewhere",
            "Another cable and port for the drive, else another machine",
            "not there either|there with another cable or port=>drive_lead",
            STAYS,
            drive_lead=CURES,
        ),
        "Read only; a drive that clicks or is not listed at once is not tried again and again.",
        8,
        0.0,
        LIVE,
        0,
        True,
    ),
    Check(
        sign(
            "start_read",
            "Read the drive's counters on another machine",
            "sound|media faults, or it does not answer=>dead_drive",
            STAYS,
            dead_drive=(0.05, 0.95),
        ),
        "Counters first; then the image, before anything else is tried on it.",
        10,
        0.0,
        LIVE,
        0,
        True,
    ),
    Check(
        sign(
            "start_stick",
            "Start a live system from a stick",
            "it stops as well|it starts and stays on",
            (0.50, 0.50),
            loader=(0.02, 0.98),
            driver=(0.03, 0.97),
            order=(0.30, 0.70),
            dead_drive=(0.25, 0.75),
            drive_lead=(0.20, 0.80),
            settings=(0.60, 0.40),
            module=(0.80, 0.20),
            weak_supply=(0.85, 0.15),
            cooling=(0.80, 0.20),
            device=(0.75, 0.25),
            **dict.fromkeys(BEFORE_IT_LOADS, (0.98, 0.02)),
        ),
        "With the drive's cable off: what still stops is not the installed system.",
        5,
    ),
    Check(
        sign(
            "start_repair",
            "Repair the loader from the system's own stick",
            "as before|starts=>loader",
            STAYS,
            loader=(0.22, 0.78),
        ),
        "Image the drive first. The loader alone, no new system.",
        12,
    ),
    Check(
        sign(
            "start_least",
            "Start the system with the least",
            "as before|starts=>driver",
            STAYS,
            driver=(0.15, 0.85),
            loader=(0.90, 0.10),
        ),
        "Without graphics driver and start programs; then take back what came last.",
        5,
    ),
    Check(
        sign(
            "start_warm",
            "Watch the temperature on the firmware's page",
            "steady|climbs to its limit=>cooling",
            STAYS,
            cooling=(0.06, 0.94),
        ),
        "Ten minutes on the page; a fan that does not turn, a cooler that rocks.",
        3,
        7,
    ),
    Check(
        sign(
            "start_memory",
            "Test memory from a stick",
            "nothing found|memory errors=>module",
            STAYS,
            module=(0.25, 0.75),
            seat=(0.80, 0.20),
        ),
        "Half an hour; then the swap grid finds module or slot.",
        3,
        30,
    ),
    Check(
        sign(
            "start_other_board",
            "Try its processor and a module on another board",
            "they work there=>board|they do not",
            (0.97, 0.03),
            board=(0.97, 0.03),
            processor=(0.15, 0.85),
            module=(0.30, 0.70),
        ),
        "Last of all, where everything else was tried: the board is what is left.",
        30,
        0.0,
        LIVE,
        0,
        True,
    ),
)
TOOLS = {
    "start_mains": "a lamp, another cable", "start_adapter": "multimeter", "start_monitor": "monitor and cable, torch",
    "start_code": "the maker's table, a speaker for the board", "start_plugs": "screwdriver, lamp",
    "start_button": "flat screwdriver", "start_reseat": "alcohol, wipes, blower", 
    "start_one_module": "a module known good",
    "start_card": "another card where the processor has no graphics", "start_no_battery": "screwdriver, plastic lever",
    "start_other_supply": "a supply known good", "start_socket": "lens, lamp, screwdriver", "start_cell": "multimeter",
    "start_stick": "stick with a live system", "start_repair": "the system's own stick", "start_memory": "stick with a "
    "memory test", "start_elsewhere": "another cable", "start_read": "another machine, adapter for the drive",
    "start_other_board": "a board of the same socket", "start_defaults": "jumper or coin cell",
}  # fmt: skip
CHECKS = tuple(replace(c, tools=TOOLS.get(c.id, "")) for c in CHECKS)
BY_ID = {c.id: c for c in CHECKS}
_BY_NEED = {
    "start_adapter": "adapter", "start_no_battery": "battery", "start_button": "supply", "start_other_supply": "supply",
    "start_card": "card", "start_other_board": "supply",
}  # fmt: skip


def possible(machine: Machine) -> tuple[Check, ...]:
    """The checks that make sense on a machine, with its minutes."""
    has = needs_met(machine)
    left_out = {check for check, need in _BY_NEED.items() if need not in has}
    if not any(isinstance(f.part, Drive) for f in machine.fitted) and machine.fitted:
        left_out |= {"start_elsewhere", "start_read", "start_listed"}
    return tuple(on_kind(c, machine.kind) for c in CHECKS if c.id not in left_out)
