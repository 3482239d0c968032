"""The work plan: steps in order, from tasks and layers, with gates, cautions and what each needs before it.

Closed and open stretches take turns (order.py). In an open stretch every layer that is needed comes off once, outermost
first; changes are made on the way back, the innermost first, unless a deeper one waits for them; every layer goes back
once, and closing checks come before the cover.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Service
from brachium.core.plan.candidates import Candidate
from brachium.core.record.drive_records import Transfer
from brachium.core.work.hazards import Tag, hazards_at
from brachium.core.work.layers import BATTERY_LAYER, COOLER_LAYER, COVER, Layer, Seals, closure, first_inside, layers_of
from brachium.core.work.order import Task, segments, sorted_tasks
from brachium.core.work.seen import NOTHING_SEEN, Seen
from brachium.core.work.step import Gate, Mode, Motion, Step
from brachium.core.work.step_kinds.fitting import paste_words
from brachium.core.work.step_kinds.proof import proof_steps, seal_step, start_step
from brachium.core.work.step_kinds.system import SETTINGS_NOTED
from brachium.core.work.tasks import AS_USUAL, tasks_for

OFF_IDS, ON_IDS = {COVER: "open"}, {COVER: "close", COOLER_LAYER: "paste"}
NEW_COOLER = (
    "Fit new cooler, fresh paste",
    4.0,
    "Mounting for this socket, back plate seated. Straight down; screws crosswise in two passes, by hand, pins until "
    "they click. Fan plug on.",
)  # title, minutes beyond those of refitting the old one, words
BROKEN = "Lifting the cooler broke the old bond: new paste in any case. "


def steps_for(
    machine: Machine, chosen: tuple[Candidate, ...], preconditions: tuple[str, ...], transfer: Transfer = AS_USUAL,
    used_bytes: int | None = None, failing: Collection[str] = (), seen: Seen = NOTHING_SEEN,
) -> tuple[Step, ...]:  # fmt: skip
    """The steps of a plan in working order. `transfer` is how the system moves, `used_bytes` what the old drive holds,
    `failing` the places of dying drives, `seen` what else of the machine the work hangs on.

    Raises CircularTasks where tasks wait for each other."""
    tasks = tasks_for(machine, chosen, preconditions, transfer, used_bytes, failing, seen)
    services = {s for c in chosen for s in c.services}
    parts = segments(tasks)
    opened = [k for k, part in enumerate(parts) if k % 2 == 1 and part]
    last = opened[-1] if opened else len(parts) - 1
    board = any(t.id == "board" for t in tasks)
    layers = layers_of(machine, board)
    steps = _by_turns(machine, layers, parts[: last + 1], services, not chosen)
    trailing = [t.step for part in parts[last + 1 :] for t in part]
    noted = any(t.id == SETTINGS_NOTED for t in tasks)
    steps += proof_steps(machine, chosen, trailing, noted) if chosen else trailing
    sealed = {layers[s.layer[1:]].seals for s in steps if s.layer.startswith("+")} - {None}
    steps += [seal_step(Seals.GLUED in sealed)] if sealed else []
    return _finished(machine, tasks, steps)


def _by_turns(
    machine: Machine, layers: Mapping[str, Layer], parts: list[list[Task]], services: set[Service], starts: bool
) -> list[Step]:  # fmt: skip
    """Closed and open parts by turns; after each opening but the last the machine is started once, after that one too
    where `starts`."""
    steps: list[Step] = []
    number = 0
    for k, part in enumerate(parts):
        if k % 2 == 0:
            steps += [t.step for t in part]
        elif part:
            steps += _opening(machine, layers, part, services, number)
            number += 1
            if k < len(parts) - 1 or starts:
                steps.append(start_step(f"start-{number}", "Start it once"))
    return steps


def _opening(
    machine: Machine, layers: Mapping[str, Layer], part: list[Task], services: set[Service], number: int
) -> list[Step]:  # fmt: skip
    """One open stretch, from unplugging to closing; `number` from 0 makes ids of later ones their own."""
    tail = f"-{number + 1}" if number else ""
    off = closure(layers, tuple({x for t in part for x in t.layers} or {first_inside(machine)}))
    depth = {layer: k for k, layer in enumerate(off)}
    down, up = _split(part, depth)
    steps = [_power_off(machine, tail)]
    for layer in off:
        steps += [*_at_depth(down, depth, depth[layer] - 1), _off(layers[layer], tail)]
    for layer in reversed(off):
        steps += [s for s in _at_depth(up, depth, depth[layer]) if s.id not in ("wipe", "cooler")]
        steps += [_look(tail)] if layer == COVER else []
        steps.append(_on(machine, layers[layer], tail, services, part))
    return steps


def _at_depth(tasks: list[Task], depth: Mapping[str, int], at: int) -> list[Step]:
    return [t.step for t in tasks if _deepest(t, depth) == at]


def _look(tail: str) -> Step:
    words = "Fan plug in, no plug forgotten, every ribbon on top and locked, drive connected, no screw left over."
    return Step(f"look{tail}", "Look before closing", words, attended_min=2, undo="none", tags=frozenset({Tag.INSIDE}))


def _split(part: list[Task], depth: dict[str, int]) -> tuple[list[Task], list[Task]]:
    """Tasks done on the way in, because something deeper waits for them, and those done on the way back."""
    by_id = {t.id: t for t in part}
    early: set[str] = set()
    for task in reversed(sorted_tasks(part)):
        for before in task.after & by_id.keys():
            if task.id in early or _deepest(by_id[before], depth) < _deepest(task, depth):
                early.add(before)
    return [t for t in part if t.id in early], [t for t in part if t.id not in early]


def _deepest(task: Task, depth: Mapping[str, int]) -> int:
    return max((depth[x] for x in task.layers if x in depth), default=depth.get(COVER, 0))


def _power_off(machine: Machine, tail: str) -> Step:
    if machine.kind is MachineKind.MINI_PC:
        return _unplug(tail, "Shut down, unplug, discharge",
                       "Full shut-down, adapter out, hold the power button for 10 s.")  # fmt: skip
    if machine.kind not in PORTABLE:
        return _unplug(tail, "Shut down, unplug, discharge",
                       "Full shut-down, mains plug out, hold the power button for 10 s.")  # fmt: skip
    inside = machine.platform.power.battery_inside
    if inside is False:
        return _unplug(tail, "Shut down, unplug, discharge",
                       "Full shut-down, adapter off, battery out, hold the power button for 10 s.")  # fmt: skip
    perhaps = "" if inside else " A battery that comes out from outside comes out now."
    return _unplug(
        tail,
        "Shut down and unplug",
        phrase(
            "Full shut-down, adapter off.{perhaps} One inside stays live until it is unplugged under the cover.",
            perhaps=perhaps,
        ),
    )


def _unplug(tail: str, title: str, detail: str) -> Step:
    return Step(f"power-off{tail}", title, detail, "", (), 3, 0, Gate.LAST_CHANCE, "none",
                tags=frozenset({Tag.UNPLUG}))  # fmt: skip


def _off(layer: Layer, tail: str) -> Step:
    step_id = OFF_IDS.get(layer.id, f"{layer.id}-off") + tail
    return Step(step_id, layer.off_title, layer.off, layer.tools, (), layer.off_min, 0, None, layer.undo,
                layer.no_return, layer=f"-{layer.id}", tags=layer.tags, places=_places_of(layer),
                motion=Motion.OUT)  # fmt: skip


def _places_of(layer: Layer) -> tuple[str, ...]:
    """Where the hands are while a layer comes off or goes back, by the machine's places."""
    return {COOLER_LAYER: ("cooling",), BATTERY_LAYER: ("battery",)}.get(layer.id, ())


def _on(machine: Machine, layer: Layer, tail: str, services: set[Service], part: list[Task]) -> Step:
    step_id = ON_IDS.get(layer.id, f"{layer.id}-on") + tail
    detail, tools = layer.on, layer.tools
    title, minutes = layer.on_title, layer.on_min
    if layer.id == COOLER_LAYER:
        beneath = {t.id for t in part} & {"processor", "cooler", "pads"}
        asked = Service.NEW_PASTE in services or bool(beneath)
        detail = ("" if asked else BROKEN) + paste_words(machine) + detail
        if "cooler" in beneath:
            title, minutes, detail = (
                NEW_COOLER[0],
                minutes + NEW_COOLER[1],
                phrase("{paste_words}{new_cooler}", paste_words=paste_words(machine), new_cooler=NEW_COOLER[2]),
            )
            tools = "PH2"
        tools = phrase("lint-free wipes, alcohol, spatula, {tools}", tools=tools)
    undo = "6 min" if layer.id == COVER else layer.undo
    return Step(
        step_id,
        title,
        detail,
        tools,
        (),
        minutes,
        layer.on_wait_min,
        None,
        undo,
        layer=phrase("+{layer}", layer=layer.id),
        tags=layer.on_tags,
        places=_places_of(layer),
        motion=Motion.IN,
    )


def _finished(machine: Machine, tasks: list[Task], steps: list[Step]) -> tuple[Step, ...]:
    """The steps with what each needs before it, and with the cautions of the hazard table."""
    after = {t.id: t.after for t in tasks}
    known = {s.id for s in steps}
    image = {s.id for s in steps if Tag.IMAGE in s.tags}
    out: list[Step] = []
    stretch: list[str] = []
    for step in steps:
        if step.id.startswith("power-off"):
            stretch = []
        needs = (after.get(step.id, frozenset()) & known) | (image - {step.id}) | _by_state(step, stretch, out)
        if step.mode is Mode.OPEN:
            stretch.append(step.id)
        found = hazards_at(step.tags, machine.kind)
        ordered = tuple(s.id for s in out if s.id in needs)
        out.append(
            replace(step, needs=ordered, cautions=tuple(h.words for h in found), signs=tuple(h.sign for h in found))
        )
    return tuple(out)


_FOLLOWS = {
    "install": ("first-start",),
    "memory-test": ("first-start",),
    "load-test": ("memory-test",),
    "seal": ("first-start", "load-test"),
    "voltage": ("memory-test",),
}


def _by_state(step: Step, stretch: list[str], before: list[Step]) -> set[str]:
    """What a step needs because the machine is open, is started, or its memory is tested."""
    if step.mode is Mode.OPEN:
        return set(_needs(step, stretch, before))
    if stretch and Tag.START in step.tags:
        return {stretch[-1]}
    there = {s.id for s in before}
    return {n for n in _FOLLOWS.get(step.id, ()) if n in there}


def _needs(step: Step, stretch: list[str], earlier: list[Step]) -> set[str]:
    """In an open stretch: layers come off one after the other; a change needs what is off; what goes back needs all."""
    if not stretch:
        return set()
    if step.layer.startswith("+") or step.id.startswith("look"):
        return set(stretch)
    off = [s.id for s in earlier if s.id in stretch and (s.layer.startswith("-") or s.id.startswith("power-off"))]
    return set(off)
