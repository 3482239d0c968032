"""The work plan edited by hand: own steps, steps left out with a reason, other minutes, another order.

Edits are kept beside the plan and applied to whatever the plan generates, so that they outlive a change of parts.
What keeps the work safe cannot be edited away: unplugging, layers, closing checks, starts, and what meets a
precondition.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.work.plan_edits import OWN, OwnMinutes, OwnStep, PlanEdits
from brachium.core.work.hazards import Tag, hazards_at, touched_in
from brachium.core.work.step import Mode, Step


def free_own_id(edits: PlanEdits) -> str:
    """An id that no own step has."""
    number = 1
    while f"{OWN}{number}" in {o.id for o in edits.own}:
        number += 1
    return phrase("{own}{number}", own=OWN, number=number)


def why_kept(step: Step) -> str:
    """Why a step cannot be left out; empty where it can."""
    if step.layer:
        return "what comes off goes back"
    if step.id.startswith(("power-off", "look")) or Tag.START in step.tags:
        return "it keeps the work safe"
    if step.id.startswith("first-"):
        return "the plan needs it first; change the plan instead"
    if Tag.INSIDE in step.tags:
        return "it is what the plan is for; change the plan instead"
    return ""


def why_not_swapped(earlier: Step, later: Step) -> str:
    """Why two neighbours cannot change places; empty where they can."""
    if earlier.id in later.needs:
        return phrase("“{later}” needs “{earlier}” before it", later=later.title, earlier=earlier.title)
    if earlier.mode is not later.mode:
        return "the machine would be opened once more"
    fixed = next((s for s in (earlier, later) if s.layer or s.id.startswith(("power-off", "look", "wipe"))), None)
    if fixed is not None or Tag.START in earlier.tags or Tag.START in later.tags:
        return "opening, closing and starting keep their place"
    return ""


def apply_edits(steps: Sequence[Step], edits: PlanEdits, kind: MachineKind) -> tuple[Step, ...]:
    """The plan with its edits; what does not suit the present plan any more is passed over."""
    out = list(steps)
    for left in edits.left_out:
        out = _without(out, left.step_id)
    times = {m.step_id: m for m in edits.minutes}
    out = [_timed(s, times[s.id]) if s.id in times else s for s in out]
    for own in edits.own:
        out = _with_own(out, own, kind)
    for before, after in edits.first:
        out = _swapped(out, before, after)
    return tuple(out)


def _without(steps: list[Step], step_id: str) -> list[Step]:
    gone = next((s for s in steps if s.id == step_id), None)
    if gone is None or why_kept(gone):
        return steps
    return [
        replace(s, needs=tuple(dict.fromkeys((*(n for n in s.needs if n != step_id), *gone.needs))))
        if step_id in s.needs
        else s
        for s in steps
        if s.id != step_id
    ]


def _timed(step: Step, minutes: OwnMinutes) -> Step:
    away = step.unattended_min if minutes.unattended_min is None else minutes.unattended_min
    return replace(step, attended_min=minutes.attended_min, unattended_min=away)


def _with_own(steps: list[Step], own: OwnStep, kind: MachineKind) -> list[Step]:
    """Closing a stretch waits for what was done in it; hazards of the open machine stand at the own step too."""
    at = next((k for k, s in enumerate(steps) if s.id == own.after), -1)
    if own.after and at < 0:
        at = len(steps) - 1
    mode = steps[at].mode if at >= 0 else Mode.RUNNING
    tags = touched_in(phrase("{own} {detail}", own=own.title, detail=own.detail), own.touches)
    tags |= {Tag.INSIDE} if mode is Mode.OPEN else frozenset()
    found = hazards_at(tags, kind)
    step = Step(own.id, own.title, own.detail, own.tools, tuple(h.words for h in found), own.attended_min,
                own.unattended_min, mode=mode, needs=(steps[at].id,) if at >= 0 else (), tags=tags,
                signs=tuple(h.sign for h in found))  # fmt: skip
    rest = steps[at + 1 :]
    closing = next((k for k, s in enumerate(rest) if s.layer.startswith("+") or s.id.startswith("look")), None)
    if mode is Mode.OPEN and closing is not None:
        rest[closing] = replace(rest[closing], needs=(*rest[closing].needs, own.id))
    return [*steps[: at + 1], step, *rest]


def _swapped(steps: list[Step], before: str, after: str) -> list[Step]:
    ids = [s.id for s in steps]
    if before not in ids or after not in ids:
        return steps
    k = ids.index(after)
    if k + 1 >= len(steps) or ids[k + 1] != before or why_not_swapped(steps[k], steps[k + 1]):
        return steps
    return [*steps[:k], steps[k + 1], steps[k], *steps[k + 2 :]]
