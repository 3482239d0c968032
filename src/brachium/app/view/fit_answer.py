"""Whether a machine fits as it is, or with its plan, or with a part that somebody asks about."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.app.view.job_view import JobView
from brachium.app.view.plan_in_hand import Offer, offer_beside, verdicts_of
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level, Verdict, ranked, worst
from brachium.core.plan.asked_part import AskedPart, no_place, places_for, read_part
from brachium.core.plan.candidates import Candidate


@dataclass(frozen=True)
class FitAnswer:
    """The worst level and the verdicts behind it, worst first; of a part also how it was read and where it goes.

    `lacks` says in a sentence what has to be said or recorded before anything can be judged.
    """

    level: Level
    verdicts: tuple[Verdict, ...]
    asked: AskedPart | None = None
    candidate: Candidate | None = None
    lacks: str = ""
    elsewhere: tuple[tuple[Candidate, tuple[Verdict, ...]], ...] = ()  # at its other places, worst verdict first


def fit_of_machine(view: JobView) -> FitAnswer:
    """The plan in hand where there is one, else what the rules say of the machine as it is."""
    choice = view.choice
    if choice.chosen():
        return FitAnswer(worst(choice.verdicts), ranked(choice.verdicts))
    machine = view.job.machine
    own = ranked(evaluate(ALL_RULES, machine, machine.configuration(), choice.around))
    return FitAnswer(worst(own), own)


@dataclass(frozen=True)
class AskedOffers:
    """A part that is asked about, judged beside the plan in hand at every place where it could go, the best first.

    `lacks` says what has to be said or recorded before anything can be judged.
    """

    asked: AskedPart
    offers: tuple[Offer, ...] = ()
    lacks: str = ""


def offers_of_part(view: JobView, text: str) -> AskedOffers:
    """The part of a line at its places. Never raises."""
    machine = view.job.machine
    asked = read_part(machine, text)
    if asked.part is None:
        return AskedOffers(asked, lacks=asked.lacks)
    found = places_for(machine, asked)
    if not found:
        return AskedOffers(asked, lacks=no_place(machine, asked))
    chosen = view.choice.chosen()
    offers = [offer_beside(view.job, c, chosen, view.choice.around) for c in found]
    return AskedOffers(asked, tuple(sorted(offers, key=lambda o: o.level)))


def fit_of_part(view: JobView, text: str, place: str = "") -> FitAnswer:
    """A part beside nothing else: at the named place, or at the one where it does best.

    Raises KeyError where the machine has no place of that name.
    """
    machine = view.job.machine
    asked = read_part(machine, text)
    if asked.part is None:
        return FitAnswer(Level.NOT_KNOWN, (), asked, None, asked.lacks)
    found = places_for(machine, asked, place)
    if not found:
        level = Level.REFUSED if place else _level_without_place(view, asked)
        return FitAnswer(level, (), asked, None, no_place(machine, asked, place))
    around = replace(view.choice.around, services=())
    judged = [(c, ranked(verdicts_of(machine, (c,), around)[0])) for c in found]
    candidate, verdicts = min(judged, key=lambda pair: worst(pair[1]))
    others = tuple((c, v) for c, v in judged if c is not candidate)
    return FitAnswer(worst(verdicts), verdicts, asked, candidate, "", others)


def _level_without_place(view: JobView, asked: AskedPart) -> Level:
    """No place at all is a no; places that nobody recorded are to be found out."""
    machine = view.job.machine
    kind = asked.part.kind if asked.part is not None else ""
    unrecorded = {"memory": not machine.slots, "drive": not machine.bays, "card": not machine.platform.cards}
    return Level.NOT_KNOWN if unrecorded.get(kind, False) else Level.REFUSED
