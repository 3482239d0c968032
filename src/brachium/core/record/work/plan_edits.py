"""How a work plan was edited by hand: own steps, steps left out with a reason, other minutes, another order."""

from __future__ import annotations

from dataclasses import dataclass

OWN = "own-"


@dataclass(frozen=True)
class OwnStep:
    """A step of the shop's own, done right after another and in its state; empty `after` = before everything.
    `touches` are the names of what it touches that can hurt or be hurt (`Tag` of core/work/hazards.py)."""

    id: str
    after: str
    title: str
    detail: str = ""
    tools: str = ""
    attended_min: float = 2.0
    unattended_min: float = 0.0
    touches: tuple[str, ...] = ()


@dataclass(frozen=True)
class LeftOut:
    """A generated step that is not done, with the written reason."""

    step_id: str
    reason: str


@dataclass(frozen=True)
class OwnMinutes:
    """Attended and unattended minutes of a step in place of the usual ones."""

    step_id: str
    attended_min: float
    unattended_min: float | None = None  # as usual


@dataclass(frozen=True)
class Hint:
    """What went differently at a step on an earlier machine of the model."""

    step_id: str
    words: str


@dataclass(frozen=True)
class PlanEdits:
    """All edits of a plan. `first` are pairs (a, b): a right before b. `learned_from` names a template's job."""

    own: tuple[OwnStep, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    minutes: tuple[OwnMinutes, ...] = ()
    first: tuple[tuple[str, str], ...] = ()
    hints: tuple[Hint, ...] = ()
    learned_from: str = ""

    @property
    def count(self) -> int:
        """How many edits a person would count."""
        return len(self.own) + len(self.left_out) + len(self.minutes) + len(self.first)
