"""What the picture of a step shows: the machine as it stands then, what is off, what goes where, what is on screen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from brachium.core.machine.machine import Configuration, Machine
from brachium.core.plan.candidates import Candidate, planned
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.first_start import expected_of
from brachium.core.work.step import Step
from brachium.core.work.step_kinds.system import recorded_settings
from brachium.core.work.transfer import TransferPlan


@dataclass(frozen=True)
class Scene:
    """`machine` with every earlier change made, `later` with this step's too; `off` are layers that are off when the
    step begins, outermost first; `screws` those of its layer; `looks` are (what, how it reads) to be seen on screen."""

    machine: Machine
    later: Configuration
    step: Step
    off: tuple[str, ...] = ()
    screws: tuple[ScrewGroup, ...] = ()
    looks: tuple[tuple[str, str], ...] = ()
    move: TransferPlan | None = None

    @property
    def layer(self) -> str:
        """The layer that the step takes off or puts back; empty where it does neither."""
        return self.step.layer[1:]

    @property
    def comes_off(self) -> bool:
        return self.step.layer.startswith("-")


def scene_of(
    machine: Machine, chosen: Sequence[Candidate], steps: Sequence[Step], step: Step,
    screws: Sequence[ScrewGroup] = (), move: TransferPlan | None = None,
) -> Scene:  # fmt: skip
    """The scene of one step of a plan."""
    goal = planned(machine, tuple(chosen))
    at = next((k for k, s in enumerate(steps) if s.id == step.id), len(steps))
    before = {p for s in steps[:at] for p in s.places if not s.layer}
    now = _changed(machine, goal, before)
    later = _changed(now, goal, set(step.places) if not step.layer else set())
    layer = step.layer[1:]
    mine = tuple(g for g in screws if layer and g.layer == layer)
    return Scene(now, later.configuration(), step, _off(steps[:at]), mine, _looks(machine, goal, step), move)


def _changed(machine: Machine, goal: Configuration, places: set[str]) -> Machine:
    for place in places:
        if place in goal.parts or place in machine.configuration().parts:
            machine = machine.with_part(place, goal.parts.get(place))
    return machine


def _off(before: Sequence[Step]) -> tuple[str, ...]:
    off: list[str] = []
    for step in before:
        if step.layer.startswith("-"):
            off.append(step.layer[1:])
        elif step.layer.startswith("+") and step.layer[1:] in off:
            off.remove(step.layer[1:])
    return tuple(off)


def _looks(machine: Machine, goal: Configuration, step: Step) -> tuple[tuple[str, str], ...]:
    """What is looked for on screen."""
    if step.id == "settings":
        return tuple((s, "") for s in recorded_settings(machine)) or (("as photographed", ""),)
    if step.id == "settings-noted":
        names = ("start mode and order", "secure boot", "drive mode", "memory profile", "fan curve", "virtualisation")
        return tuple((n, "") for n in names)
    if step.id.startswith("start-"):
        return (("firmware reached", ""), ("date and time set", ""), ("nothing new reported", ""))
    if step.id in ("first-start", "board-firmware"):
        full = replace(machine, fitted=())
        for place, part in goal.parts.items():
            full = full.with_part(place, part)
        return tuple((e.label, e.words) for e in expected_of(full))
    return ()
