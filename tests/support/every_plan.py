"""Machines of every kind in several builds, tasks, and what must hold for every plan that is made of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any

from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive, Part
from brachium.core.machine.platform import BATTERY, RADIO, CoolerHold, HeldBy
from brachium.core.machine.system_drive import system_today
from brachium.core.plan.bench_services import BENCH_SERVICES
from brachium.core.plan.candidates import Candidate, candidates, planned
from brachium.core.work.hazards import HAZARDS
from brachium.core.work.layers import FLAT_BOARDS
from brachium.core.work.step import Mode, Step
from tests.core.choose.test_new_processor import candidate
from tests.core.fit import bench_machines as b

CLEAN, PASTE, VOLTAGE = candidates(b.TOWER, BENCH_SERVICES)
PARTS: dict[str, tuple[Part, str]] = {
    "memory": (b.D3, "slots"), "drive": (b.SSD, "bays"), "processor": (b.CHIP, "socket"),
    "cooler": (b.COOLER, "cooler"), "card": (b.CARD, "card-1"), "supply": (b.SUPPLY, "supply"),
    "board": (b.BOARD, "board"),
    "adapter": (b.ADAPTER, "adapter"), "battery": (b.BATTERY, BATTERY), "radio": (b.RADIO, RADIO),
    "fan": (b.FAN, "fan-1"),
}  # fmt: skip
SERVICES = {"clean": CLEAN, "paste": PASTE, "voltage": VOLTAGE}
STANDING_ONLY, ADAPTED = ("supply", "board", "cooler", "card", "fan"), ("adapter",)
KINDS = tuple(k for k in MachineKind if k is not MachineKind.NOT_KNOWN)


def built(machine: Machine, **build: Any) -> Machine:
    """The machine with facts of its build recorded."""
    return replace(machine, platform=replace(machine.platform, build=replace(machine.platform.build, **build)))


def base(kind: MachineKind) -> Machine:
    """A machine of a kind with its places filled; nothing of its build is recorded."""
    return replace(b.LAPTOP if kind in PORTABLE else b.TOWER, kind=kind)


def builds(kind: MachineKind) -> dict[str, Machine]:
    """A machine of a kind in several builds, by a name."""
    plain = base(kind)
    out = {"unsaid": plain}
    out["worst"] = built(plain, trim_breaks=True, glass_glued=True, optical_over=True, shroud=True, lid_ribbon=True,
                         held_by=HeldBy.GLUE, cooler_hold=CoolerHold.PUSH_PINS)  # fmt: skip
    out["screws"] = built(plain, held_by=HeldBy.SCREWS, screws=9, screw_head="T6", cooler_hold=CoolerHold.BACK_PLATE)
    contacts = replace(plain.platform.contacts, board_out=True)
    out["board out"] = replace(plain, platform=replace(plain.platform, contacts=contacts))
    if kind in PORTABLE:
        power = replace(plain.platform.power, battery_inside=False)
        out["battery outside"] = replace(plain, platform=replace(plain.platform, power=power))
    return out


def tasks_of(kind: MachineKind) -> tuple[str, ...]:
    """What can be done to a kind."""
    names = [*PARTS, *SERVICES]
    unfit = STANDING_ONLY if kind in PORTABLE else ("battery", "adapter")
    return tuple(n for n in names if n not in unfit)


def task(machine: Machine, name: str) -> Candidate:
    """A task on a machine as the plan holds it."""
    if name in SERVICES:
        return SERVICES[name]
    part, where = PARTS[name]
    if name == "memory" and machine.kind in FLAT_BOARDS:
        part = b.SO3
    place = getattr(machine, where)[0].id if where in ("slots", "bays") else where
    return candidate(part, place)


def plans_of(kind: MachineKind) -> Iterator[tuple[str, ...]]:
    """One, two and a seventh of all sets of four tasks."""
    names = tasks_of(kind)
    yield from combinations(names, 1)
    yield from combinations(names, 2)
    yield from list(combinations(names, 4))[::7]


@dataclass(frozen=True)
class Broken:
    """What does not hold at a step."""

    rule: str
    step: str


def broken_rules(machine: Machine, chosen: tuple[Candidate, ...], steps: tuple[Step, ...]) -> list[Broken]:
    """Every property of a plan that does not hold."""
    return [*_layers(machine, steps), *_order(steps), *_battery(machine, steps), *_hazards(machine, steps),
            *_board_block(steps), *_system(machine, chosen, steps)]  # fmt: skip


def _layers(machine: Machine, steps: tuple[Step, ...]) -> Iterator[Broken]:
    """From outside in, back in reverse, none twice; nothing open is done while it is shut, nothing else while open."""
    off: list[str] = []
    once: set[str] = set()
    for s in steps:
        if s.layer.startswith("-"):
            if s.layer in once and s.layer not in ("-cover", "-battery", "-stand", "-ribbon", "-trim", "-glass"):
                yield Broken("comes off twice", s.id)
            once.add(s.layer)
            off.append(s.layer[1:])
        elif s.layer.startswith("+"):
            if not off or off.pop() != s.layer[1:]:
                yield Broken("goes back out of turn", s.id)
        elif s.mode is Mode.OPEN and not s.id.startswith("power-off") and not off:
            yield Broken("open while it is shut", s.id)
        elif s.mode is not Mode.OPEN and off:
            yield Broken("closed while it is open", s.id)
    if off:
        yield Broken("does not go back", off[-1])


def _order(steps: tuple[Step, ...]) -> Iterator[Broken]:
    ids = [s.id for s in steps]
    if len(set(ids)) != len(ids):
        yield Broken("an id twice", "")
    for k, s in enumerate(steps):
        if any(n not in ids[:k] for n in s.needs):
            yield Broken("needs what comes later", s.id)
    if "memory-test" in ids and "load-test" in ids and ids.index("memory-test") > ids.index("load-test"):
        yield Broken("load before the memory is tested", "load-test")


def _battery(machine: Machine, steps: tuple[Step, ...]) -> Iterator[Broken]:
    """A battery inside, or perhaps inside, is unplugged before any part is touched."""
    if machine.kind not in PORTABLE or machine.platform.power.battery_inside is False:
        return
    unplugged = False
    for s in steps:
        unplugged = (unplugged or s.layer == "-battery") and s.layer != "+battery"
        case = s.layer[1:] in ("cover", "ribbon", "trim", "glass") or s.id.startswith(("power-off", "look"))
        if s.mode is Mode.OPEN and not case and s.layer != "+battery" and not unplugged:
            yield Broken("the battery inside is still in", s.id)


# words of a step, and a hazard that must then stand beside it where the machine can have it
SAID = (
    ("warm the edge", "adhesive"), ("edge to some 60", "heat-cell"), ("warmed to some 60", "heat-cell"),
    ("alcohol", "alcohol"), ("blow", "dust"), ("glass", "glass-lifted"), ("supply in", "supply-repair"),
    ("mains plug out", "mains-standing"), ("battery inside", "lithium"), ("image of the failing", "data"),
    ("copy the system", "data"),
)  # fmt: skip


def _hazards(machine: Machine, steps: tuple[Step, ...]) -> Iterator[Broken]:
    by_id = {h.id: h for h in HAZARDS}
    for s in steps:
        words = f"{s.title} {s.detail} {s.tools}".lower()
        for said, hazard_id in SAID:
            hazard = by_id[hazard_id]
            can = not hazard.kinds or machine.kind in hazard.kinds
            skipped = hazard_id == "dust" and "does not blow" in words
            if (
                said in words
                and can
                and hazard.words not in s.cautions
                and not s.id.startswith("ready")
                and not skipped
            ):
                yield Broken(f"no caution {hazard_id} for “{said}”", s.id)
        if s.mode is Mode.OPEN and not s.id.startswith("power-off") and by_id["static"].words not in s.cautions:
            yield Broken("no strap", s.id)
        if len(s.signs) != len(s.cautions):
            yield Broken("a caution without its sign", s.id)


def _board_block(steps: tuple[Step, ...]) -> Iterator[Broken]:
    """Between board out and board in only what needs it out, what lies deeper, and nothing of the case."""
    ids = [s.id.rstrip("-0123456789") for s in steps]
    if "board-out-off" not in ids:
        return
    start, end = ids.index("board-out-off"), ids.index("board-out-on")
    new_board = any(s.id == "board" for s in steps)  # memory, processor and cooler go onto it while it lies outside
    for s in steps[start + 1 : end]:
        if (s.id.startswith("memory") and not new_board) or s.id.startswith(
            ("drive", "card", "fan", "radio", "supply", "look", "close", "power-off")
        ):
            yield Broken("done while the board is out", s.id)
    before = [s for s in steps[:start] if s.id == "board"]
    after = [s for s in steps[end:] if s.id == "board"]
    for s in (*before, *after):
        yield Broken("the board is changed while it is in", s.id)


def _system(machine: Machine, chosen: tuple[Candidate, ...], steps: tuple[Step, ...]) -> Iterator[Broken]:
    """Where the system's drive goes, it is copied, restored or installed."""
    today = system_today(machine)
    later = planned(machine, chosen)
    gone = today is not None and later.drives().get(today[0]) is not today[1]
    new = any(isinstance(a.part, Drive) for c in chosen for a in c.assignments)
    if gone and new and not {"clone", "install"} & {s.id for s in steps}:
        yield Broken("the system is lost", "")


# attended minutes of a plan of one task, from unplugging to the first load, by kind: least and most
RANGES: dict[MachineKind, tuple[float, float]] = {
    **dict.fromkeys(KINDS, (20, 150)), MachineKind.LAPTOP: (20, 90), MachineKind.TABLET: (25, 110),
    MachineKind.HANDHELD: (20, 90), MachineKind.ALL_IN_ONE: (25, 155),
}  # fmt: skip
