"""Shapes of the answers that commands give with `--json`; their schemas stand in docs/formats/answers.schema.json.

A value that is not known is null; nothing is 0 by default.
"""

from __future__ import annotations

from typing import Any

from typing_extensions import TypedDict  # pydantic asks for it below Python 3.12


class WordsRead(TypedDict):
    """Words as they were typed, and the fields that they said."""

    words: str
    fields: list[str]


class Piece(TypedDict):
    """A piece of a line: `kind` null = nothing was understood; `keys` are the places of the record that it filled."""

    text: str
    kind: str | None
    fields: dict[str, Any]
    words: list[WordsRead]
    not_understood: list[str]
    keys: list[str]


class PlaceFound(TypedDict):
    """A place, where it came from, and what sits in it; null = it is free."""

    place: str
    label: str
    origin: str
    part: dict[str, Any] | None


class MachineFound(TypedDict):
    """The machine as recorded: places, other parts by their place, the origin of each fact."""

    kind: str
    processor: dict[str, Any]
    places: list[PlaceFound]
    others: dict[str, dict[str, Any]]
    origins: dict[str, str]


class TakenInAnswer(TypedDict):
    """`take-in`: the job, how each word was understood, what could not be recorded, what is open."""

    version: int
    job: str
    name: str
    pieces: list[Piece]
    not_understood: list[str]
    not_recorded: list[str]
    machine: MachineFound
    open: list[str]


class FactFound(TypedDict):
    """A fact that went into a verdict."""

    label: str
    value: str
    origin: str


class Settled(TypedDict):
    """The missing fact that settles a verdict, how to find it out and in how many minutes."""

    key: str
    label: str
    how: str
    minutes: float
    unit: str | None
    values: list[str]


class VerdictFound(TypedDict):
    """One rule's answer; `level` is works, limited, needs_first, find_out or no."""

    rule: str
    level: str
    sentence: str
    places: list[str]
    facts: list[FactFound]
    why: str
    notes: list[str]
    result: str | None
    open: bool
    needs_first: str | None
    settled_by: Settled | None
    would_change: str | None


class Move(TypedDict):
    """What a candidate puts into a place; null empties it."""

    place: str
    part: dict[str, Any] | None


class Elsewhere(TypedDict):
    """The part at another of its places, with the verdict that decides there."""

    places: list[str]
    level: str
    sentence: str


class PartRead(TypedDict):
    """The part that was asked about: how it was read, what was taken as usual; null = too little was said."""

    read: Piece | None
    part: dict[str, Any] | None
    count: int
    taken_as_usual: list[str]


class FitAnswer(TypedDict):
    """`fit`: level of the whole and every verdict, worst first; of a part also how it was read and where it goes."""

    version: int
    job: str
    level: str
    part: PartRead | None
    places: list[str]
    moves: list[Move]
    elsewhere: list[Elsewhere]
    lacks: str | None
    verdicts: list[VerdictFound]


class Evidence(TypedDict):
    """What one sign says for a cause, natural log-odds."""

    title: str
    state: str
    figure: str
    origin: str
    log_odds: float


class CauseFound(TypedDict):
    """A cause with its chance (0 to 1) and the share of the owner's time that it costs (0 to 1)."""

    id: str
    title: str
    chance: float
    strength: str
    called: bool
    cost_frac: float
    evidence: list[Evidence]


class SignSeen(TypedDict):
    """A sign that could be read."""

    sign: str
    state: str
    figure: str
    origin: str


class CheckOffered(TypedDict):
    """A check that could be made, with what it would tell [bit]."""

    id: str
    title: str
    minutes: float
    unattended_min: float
    bits: float


class CausesAnswer(TypedDict):
    """`causes`: what holds the machine back."""

    version: int
    job: str
    headline: str
    causes: list[CauseFound]
    seen: list[SignSeen]
    checks: list[CheckOffered]


class OfferFound(TypedDict):
    """Something that can be had, with its level and the sentence that decides."""

    id: str
    title: str
    where: str | None
    price_eur: float
    level: str
    sentence: str
    planned: bool
    verdicts: list[VerdictFound]


class PlanFound(TypedDict):
    """A plan: what it holds, its cost, its gain (1 = as today)."""

    candidates: list[str]
    titles: list[str]
    cost_eur: float
    gain: float


class PlansAnswer(TypedDict):
    """`plans`: `recommended` is null without a before-run, because gains are not known then."""

    version: int
    job: str
    offers: list[OfferFound]
    plans: list[PlanFound]
    recommended: PlanFound | None


class StepsAnswer(TypedDict):
    """`steps`: of the plan in hand, in their order."""

    version: int
    job: str
    steps: list[dict[str, Any]]


class NextAnswer(TypedDict):
    """`next`: the furthest open stage and the one next action."""

    version: int
    job: str
    stage: str
    title: str
    detail: str
    at: str
    command: str


ANSWERS: dict[str, type] = {
    "take-in": TakenInAnswer, "fit": FitAnswer, "causes": CausesAnswer, "plans": PlansAnswer, "steps": StepsAnswer,
    "next": NextAnswer,
}  # fmt: skip


def answers_schema() -> dict[str, object]:
    """The schemas of all answers by command."""
    from pydantic import TypeAdapter

    return {"$schema": "https://json-schema.org/draft/2020-12/schema",
            "answers": {name: TypeAdapter(shape).json_schema() for name, shape in ANSWERS.items()}}  # fmt: skip
