"""Plans with another main board: every option judged again beside it, and what of the old parts may stay."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from brachium.core.choose.compatibility import WEIGHED, Option, option_alone, verdicts_about
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level, Verdict, ranked, worst
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import BOARD
from brachium.core.plan.candidates import PART_GROUPS, Candidate, Group, planned, services_of


@dataclass(frozen=True)
class Beside:
    """The options as they are with another board; `stays` are the groups whose old parts may be kept there."""

    board: Option
    options: tuple[Option, ...]
    stays: frozenset[Group]


def beside_boards(
    machine: Machine, found: Sequence[Candidate], around: Circumstances, accepted: frozenset[str] = frozenset()
) -> tuple[Beside, ...]:
    """One for each board that fits the case and is known to, or is accepted."""
    boards = [option_alone(machine, c, around) for c in found if c.group is Group.BOARD]
    rest = [c for c in found if c.group is not Group.BOARD]
    return tuple(_beside(machine, b, rest, around, accepted) for b in boards if _usable(b.level, b, accepted))


def _usable(level: Level, option: Option, accepted: frozenset[str]) -> bool:
    return level is not Level.REFUSED and (level is not Level.NOT_KNOWN or option.candidate.id in accepted)


def _beside(
    machine: Machine, board: Option, rest: Sequence[Candidate], around: Circumstances, accepted: frozenset[str]
) -> Beside:
    options = []
    for candidate in rest:
        both = (board.candidate, candidate)
        own = _own(machine, both, candidate.group, around) if candidate.places else verdicts_about(
            machine, both, candidate, around)  # fmt: skip
        options.append(Option(candidate, worst(tuple(v for v in own if v.rule not in WEIGHED)), own))
    stays = {
        g
        for g in Group
        if _usable(
            worst(tuple(v for v in _own(machine, (board.candidate,), g, around) if v.rule not in WEIGHED)),
            board, accepted,
        )
    }  # fmt: skip
    return Beside(board, tuple(options), frozenset(stays))


def _own(machine: Machine, chosen: tuple[Candidate, ...], group: Group, around: Circumstances) -> tuple[Verdict, ...]:
    """Verdicts on the places that hold parts of a group, new or kept, and on the places that a candidate of it fills.

    The board's own verdicts are the board's.
    """
    config = planned(machine, chosen)
    verdicts = evaluate(ALL_RULES, machine, config, replace(around, services=services_of(chosen)))
    places = {p for p, part in config.parts.items() if PART_GROUPS[part.kind] is group}
    places |= {p for c in chosen if c.group is group for p in c.places}
    return ranked(tuple(v for v in verdicts if places & set(v.places) and BOARD not in v.places))
