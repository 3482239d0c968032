"""What a plan wants done, as tasks: preconditions, moves of the system, each change with the layers it lies under."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.fit.rules.storage_start import IMAGE
from brachium.core.machine.cooling_parts import Pad, PadOn
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Service
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.record.drive_records import Transfer, Way
from brachium.core.work.hazards import Tag
from brachium.core.work.layers import BOARD_LAYER, Layer, closure, first_inside, layers_of, reach
from brachium.core.work.order import Task
from brachium.core.work.seen import NOTHING_SEEN, Seen
from brachium.core.work.step import Gate, Mode, Step
from brachium.core.work.step_kinds.fitting import (
    CLEAN,
    clean_step,
    cleaned_in_place,
    drive_step,
    memory_step,
    wash_step,
)
from brachium.core.work.step_kinds.parts import SIMPLE, simple_step
from brachium.core.work.step_kinds.preconditions import array_copied, imaged, on_new_board, precondition_step
from brachium.core.work.step_kinds.system import SETTINGS_NOTED, note_settings, settings_matter, stick_step
from brachium.core.work.transfer import TransferPlan, transfer_plan

CLONE, INSTALL, READY = "clone", "install", "ready"
AS_USUAL = Transfer()
# a precondition whose words begin so comes before the tasks of these ids
COMES_BEFORE: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("firmware ", ("processor",)), ("AHCI", ("drive", CLONE)), ("system made ready", (CLONE, "drive")),
    ("cache pair", (CLONE, "drive")), ("array", (CLONE, "drive")), ("data thinned", (CLONE,)),
)  # fmt: skip
# and one whose words begin so after the tasks of these ids
COMES_AFTER: tuple[tuple[str, tuple[str, ...]], ...] = (("memory profile", ("memory",)),)
LIFTS_COOLER = frozenset({Group.BOARD, Group.PROCESSOR, Group.COOLER, Group.PADS, Group.PASTE})
FITTED = tuple(g.value for g in (Group.MEMORY, Group.DRIVE, Group.CARD, Group.SUPPLY, Group.FAN, Group.RADIO))
INNER_ORDER = ("board", "processor", "pads", "cooler", CLEAN)


def tasks_for(
    machine: Machine, chosen: tuple[Candidate, ...], preconditions: tuple[str, ...], transfer: Transfer = AS_USUAL,
    used_bytes: int | None = None, failing: Collection[str] = (), seen: Seen = NOTHING_SEEN,
) -> list[Task]:  # fmt: skip
    """Every task of a plan; what several changes share appears once. A dying drive is imaged before all others."""
    groups = [c.group for c in chosen]
    layers = layers_of(machine, Group.BOARD in groups)
    by_need = _preconditions(machine, preconditions, failing, seen, Group.BOARD in groups)
    opened = frozenset(closure(layers, (first_inside(machine),)))
    tasks = [Task(s, opened if s.mode is Mode.OPEN else frozenset()) for s in by_need.values()]
    failing = {*failing, *_dissolved(machine, preconditions)}
    move = transfer_plan(machine, chosen, transfer, used_bytes, failing, seen.bad_sectors)
    if settings_matter(machine, groups, preconditions):
        tasks.append(Task(note_settings()))
    tasks += _system(machine, move, move is not None and move.old_place in failing)
    for candidate in chosen:
        tasks += _numbered(tasks, _change(machine, candidate, layers, groups))
    tasks += _washed(tasks, seen)
    tasks = [*_bought([t for t in tasks if t.open], layers), *tasks]
    after = _needs_first(by_need)
    _noted_first([*by_need.values()], tasks, after)
    _order_inside([t.id for t in tasks], after)
    _clean_first(tasks, after)
    _image_first([t.id for t in tasks], by_need, after)
    return [Task(t.step, t.layers, t.after | frozenset(after.get(t.id, ()))) for t in tasks]


def _preconditions(
    machine: Machine, needs: Sequence[str], failing: Collection[str], seen: Seen, board: bool
) -> dict[str, Step]:  # fmt: skip
    """What comes before the changes, by its words. Where the `board` is changed its firmware is seen to beside the
    machine: the one that is in the machine leaves."""
    out = {need: precondition_step(k, need) for k, need in enumerate(needs)}
    out |= {n: imaged(s, machine, failing, seen.bad_sectors) for n, s in out.items() if n.startswith(IMAGE)}
    out |= {n: array_copied(s, machine) for n, s in out.items() if n.startswith("array")}
    return out | {n: on_new_board(s, n) for n, s in out.items() if board and _is_update(n)}


def _dissolved(machine: Machine, needs: Sequence[str]) -> set[str]:
    """Places of arrays that are taken apart: what was on them comes back from the backup."""
    taken_apart = any(n.startswith("array") for n in needs)
    return {p for pair in machine.platform.cache_pairs for p in pair} if taken_apart else set()


def _is_update(need: str) -> bool:
    """Whether a precondition brings the firmware to another version."""
    return need.startswith("firmware ") and not need.startswith("firmware password")


def _washed(tasks: Sequence[Task], seen: Seen) -> list[Task]:
    """What does not blow out is washed, and dries before it goes back."""
    cleaned = next((t for t in tasks if t.id == CLEAN), None)
    return [Task(wash_step(), cleaned.layers, frozenset({CLEAN}))] if cleaned is not None and seen.washes else []


def _bought(opened: Sequence[Task], layers: Mapping[str, Layer]) -> list[Task]:
    """What taking layers off uses up is there before the first of them comes off."""
    off = closure(dict(layers), tuple({x for t in opened for x in t.layers}))
    buys = [layers[x].buys for x in off if layers[x].buys]
    if not buys:
        return []
    listed = joined("; ", buys)
    words = phrase("{listed}. Bought before it is opened.", listed=upper_first(listed))
    title = "Get: what opening uses up"
    return [Task(Step(READY, title, words, attended_min=3, undo="none", mode=Mode.BENCH))]


def _needs_first(by_need: Mapping[str, Step]) -> dict[str, set[str]]:
    """What preconditions come before: by task, the ids of the steps that it waits for."""
    after: dict[str, set[str]] = {}
    order = list(by_need.values())
    for k, (need, step) in enumerate(by_need.items()):
        leaders = [i for begins, ids in COMES_AFTER if need.startswith(begins) for i in ids]
        after.setdefault(step.id, set()).update([*leaders, *(f"{i}-2" for i in leaders)])
        for follower in _followers(need):
            after.setdefault(follower, set()).add(step.id)
        if _is_update(need) and step.mode is not Mode.BENCH:
            cells = {s.id for n, s in by_need.items() if n == "new CMOS battery"}
            after.setdefault(step.id, set()).update(cells)
        elif k and step.mode is Mode.BENCH:
            after.setdefault(step.id, set()).update(s.id for s in order[:k] if s.mode is Mode.BENCH)
    return after


def _noted_first(needs: Sequence[Step], tasks: Sequence[Task], after: dict[str, set[str]]) -> None:
    """Settings are noted before an update or a new CMOS battery makes the firmware forget them."""
    if any(t.id == SETTINGS_NOTED for t in tasks):
        for step in (s for s in needs if s.mode is not Mode.BENCH):
            after.setdefault(step.id, set()).add(SETTINGS_NOTED)


def _followers(need: str) -> list[str]:
    """Tasks that come after a precondition, the second of their kind too."""
    named = [f for begins, followers in COMES_BEFORE if need.startswith(begins) for f in followers]
    return [*named, *(f"{f}-2" for f in named)]


def _order_inside(ids: Sequence[str], after: dict[str, set[str]]) -> None:
    """Work inside the machine in its order; the copy before the drive goes in; a new board before what goes onto it and
    before a system is installed on it."""
    for earlier, later in pairwise([i for i in INNER_ORDER if i in ids]):
        after.setdefault(later, set()).add(earlier)
    if "board" in ids:
        for later in ("memory", INSTALL):
            after.setdefault(later, set()).add("board")
    if "supply" in ids:  # which brings the plugs
        for card in (i for i in ids if i.partition("-")[0] == "card"):
            after.setdefault(card, set()).add("supply")
    if CLONE in ids and "drive" in ids:
        after.setdefault("drive", set()).add(CLONE)


def _clean_first(tasks: Sequence[Task], after: dict[str, set[str]]) -> None:
    """Dust goes out before what is new goes in; what is done under the cooler comes before the fins, by its layers."""
    if any(t.id == CLEAN for t in tasks):
        for task in (t for t in tasks if t.open and t.id.partition("-")[0] in FITTED):
            after.setdefault(task.id, set()).add(CLEAN)


def _image_first(ids: Sequence[str], by_need: Mapping[str, Step], after: dict[str, set[str]]) -> None:
    """The image of a dying drive before everything: it may not outlive whatever it would wait for."""
    image = next((step.id for need, step in by_need.items() if need.startswith(IMAGE)), "")
    for task_id in (i for i in ids if image and i != image):
        after.setdefault(task_id, set()).add(image)
    after.pop(image, None)


def _numbered(there: list[Task], new: list[Task]) -> list[Task]:
    """Tasks of a second drive, card or fan get an id of their own."""
    out = []
    for task in new:
        number = 1 + sum(t.id == task.id or t.id.startswith(f"{task.id}-") for t in there)
        step = task.step if number == 1 else replace(task.step, id=f"{task.id}-{number}")
        out.append(replace(task, step=step))
    return out


def _system(machine: Machine, move: TransferPlan | None, dying: bool = False) -> list[Task]:
    """`dying`: the old drive is not read a second time, its image is."""
    if move is None:
        return []
    away = round(move.unattended_min)
    if move.way is Way.IMAGE:
        step = Step(CLONE, "Bring the system to the new drive from the image",
                    "New drive on a USB bridge; restore the image onto it, let the verifying pass finish. The old "
                    "drive is not read again. Same start mode as before.", "USB to SATA bridge", (), move.attended_min,
                    away, Gate.DATA_SAFE, "none: the image stays", mode=Mode.BENCH,
                    tags=frozenset({Tag.COPY}))  # fmt: skip
        return [Task(step)]
    if move.way is Way.COPY:
        step = Step(CLONE, "Copy the system to the new drive",
                    "New drive on a USB bridge; copy, let the verifying pass finish. Same start mode as before.",
                    "USB to SATA bridge", (), move.attended_min, away, Gate.DATA_SAFE, "none: the old drive stays",
                    mode=Mode.RUNNING, tags=frozenset({Tag.COPY}))  # fmt: skip
        return [Task(step)]
    source = " from the image, never from the old drive" if dying else ""
    step = Step(
        INSTALL,
        "Install the system anew on the new drive",
        phrase(
            "From the stick, in the firmware's mode; updates, programs, then the owner's files back{source}.",
            source=source,
        ),
        "stick",
        (),
        move.attended_min,
        away,
        Gate.DATA_SAFE,
        "none: the old drive stays",
        mode=Mode.RUNNING,
        tags=frozenset({Tag.COPY}),
    )
    stick = stick_step(machine)
    return [Task(stick), Task(step, after=frozenset({"drive", stick.id}))]


def _under_cooler(candidate: Candidate) -> bool:
    """Whether a change is made under the cooler: a pad on memory or on a drive is not."""
    pads = [a.part for a in candidate.assignments if isinstance(a.part, Pad)]
    return not any(p.pad_on in (PadOn.MEMORY, PadOn.DRIVE) for p in pads)


def _change(machine: Machine, candidate: Candidate, layers: dict[str, Layer], groups: Collection[Group]) -> list[Task]:
    """The tasks of one candidate; paste has none of its own: it is renewed whenever the cooler goes back. `groups`
    are the kinds of change of the whole plan."""
    off = frozenset(closure(layers, reach(machine, candidate.group, _under_cooler(candidate))))
    if candidate.group is Group.DRIVE:
        return [Task(drive_step(machine, candidate), off)]
    if candidate.group is Group.MEMORY:
        if Group.BOARD in groups:  # onto the new one while it lies outside
            off |= frozenset(closure(layers, (BOARD_LAYER,)))
        return [Task(memory_step(machine, candidate), off)]
    if candidate.group in SIMPLE:
        return [Task(simple_step(machine, candidate, groups, bool(off)), off)]
    if candidate.group is Group.VOLTAGE:
        return []  # a setting: done after the first start
    if Service.CLEAN_FINS in candidate.services:
        lifted = bool(LIFTS_COOLER & set(groups))  # by another change
        if cleaned_in_place(machine) and not lifted:
            off = frozenset(closure(layers, (first_inside(machine),)))
        return [Task(clean_step(machine, lifted, Group.COOLER in groups), off)]
    return [Task(Step("wipe", "Wipe both contacts clean", "", attended_min=0), off)] if candidate.services else []
