"""Why a step stands where it stands: what lies under it, what waits for it, what it waits for."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.work.step import Mode, Step
from brachium.core.work.step_kinds.proof import AFTER_RUN, LOAD_TEST

_OWN = {
    "memory-test": "Errors of the memory look like faults of everything else, and spoil every run.",
    LOAD_TEST: "A plug or a cooler that is not home shows now, not at the owner's.",
    AFTER_RUN: "Only the same measurement as before says what the work brought.",
    "settings-noted": "An update, a new board or a flat cell forgets them.",
    "settings": "The firmware started from its defaults, or may have.",
    "first-start": "What is not seen now is found with the least to undo.",
    "clone": "The old system is the only one that is known to start.",
    "stick": "Without a system the machine cannot make one.",
    "ready": "What opening uses up is missed when the machine lies open.",
}  # fmt: skip


def why_now(step: Step, steps: Sequence[Step]) -> str:
    """A sentence or two; empty where nothing is to be said."""
    if step.layer.startswith("-"):
        under = _between(step, steps)
        return phrase("Under it: {listed}.", listed=_listed(under)) if under else "It lies over what comes next."
    if step.layer.startswith("+"):
        return "Nothing is left to do under it."
    if step.id.startswith("look"):
        return "What was forgotten is the usual reason for opening a machine again."
    if step.id.startswith("power-off"):
        return "Nothing inside is touched while it is fed; charge that is left goes through the power button."
    own = _OWN.get(step.id, "")
    waiting = [s.title for s in steps if step.id in s.needs and s.mode is not Mode.OPEN][:3]
    return own or (phrase("Before: {listed}.", listed=_listed(waiting)) if waiting else "")


def _between(step: Step, steps: Sequence[Step]) -> list[str]:
    """What is done while a layer is off, without the layers under it."""
    ids = [s.id for s in steps]
    start = ids.index(step.id) if step.id in ids else 0
    out: list[str] = []
    for later in steps[start + 1 :]:
        if later.layer == f"+{step.layer[1:]}":
            return [*out, later.title] if later.id.startswith("paste") else out
        fitted = later.id.startswith("paste")  # the cooler that goes back, or the new one
        if (not later.layer or fitted) and not later.id.startswith("look"):
            out.append(later.title)
    return out


def _listed(titles: Sequence[str]) -> str:
    return joined("; ", (lower_first(t) for t in titles))
