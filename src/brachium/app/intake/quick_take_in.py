"""A machine taken in by one line, or a line more put into the record of one that is there."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.app.shop.free_job_id import free_job_id
from brachium.app.shop.workspace import Workspace
from brachium.core.base.text import joined, lower_first, phrase, upper_first
from brachium.core.base.why import Origin
from brachium.core.label.quick_line import QuickLine, read_quick_line
from brachium.core.label.record_line import Recorded, record_line
from brachium.core.machine.facts.record_facts import record_facts
from brachium.core.machine.facts.typed_facts import shown_value
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.part_words import short_words
from brachium.core.machine.typical_places import with_typical_places
from brachium.core.record.job import Job


@dataclass(frozen=True)
class TakenIn:
    """The job, how the line was read, and what of it went where."""

    job: Job
    line: QuickLine
    recorded: Recorded


def take_in_line(workspace: Workspace, text: str, kind: MachineKind | None = None, name: str = "") -> TakenIn:
    """A new job of the shop from one line; `kind` is its kind where the line does not say another."""
    machine = with_kind(Machine(kind=MachineKind.NOT_KNOWN), kind)
    taken = read_into(Job("new", "", machine), text)
    title = name or _title(taken.job)
    job = replace(taken.job, id=free_job_id(workspace, title), name=title)
    workspace.add_job(job)
    return replace(taken, job=job)


def read_into(job: Job, text: str) -> TakenIn:
    """A record with a line in it, not stored yet: what a person sees while typing."""
    line = read_quick_line(text)
    recorded = record_line(job.machine, line)
    return TakenIn(replace(job, machine=recorded.machine), line, recorded)


def with_kind(machine: Machine, kind: MachineKind | None) -> Machine:
    """The machine with its kind, typed; its typical places follow with what a line says."""
    if kind is None:
        return machine
    return replace(machine, kind=kind, origins={**machine.origins, "kind": Origin.TYPED})


def with_kind_and_places(machine: Machine, kind: MachineKind) -> Machine:
    """The machine with its kind and the places that are typical of it where none are recorded."""
    made = with_kind(machine, kind)
    return with_typical_places(made, next((s.generation for s in made.slots), None))


def _title(job: Job) -> str:
    identity = job.machine.identity
    if identity.model:
        return phrase("{maker} {model}", maker=identity.maker, model=identity.model).strip()
    kind = job.machine.kind
    words = "Machine" if kind is MachineKind.NOT_KNOWN else upper_first(kind.value)
    return phrase("{words}, {year}", words=words, year=identity.year) if identity.year else words


@dataclass(frozen=True)
class Chip:
    """What a piece of the line became, in a few words; `understood` False = kept as a note."""

    text: str
    understood: bool


def chips_of(taken: TakenIn) -> tuple[Chip, ...]:
    """The line piece by piece as it is understood, each with what it became; unread words last in their piece."""
    out: list[Chip] = []
    for piece, keys in zip(taken.line.pieces, taken.recorded.keys, strict=True):
        if keys:
            out.append(Chip(_became(taken, keys), True))
        out += [Chip(phrase("“{word}”: not understood", word=word), False) for word in piece.not_understood]
    return (*out, *(Chip(words, False) for words in taken.recorded.unrecorded))


def _became(taken: TakenIn, keys: tuple[str, ...]) -> str:
    machine = taken.recorded.machine
    parts = machine.configuration().parts
    places = [k.split(".", 1)[1] for k in keys if k.startswith("parts.") and k.split(".", 1)[1] in parts]
    if places:
        return phrase(
            "{places}: {short_words}",
            places=joined(" and ", (machine.place_label(p) for p in places)),
            short_words=short_words(parts[places[0]]),
        )
    return joined("; ", dict.fromkeys(_fact_words(taken, key) for key in keys))


def _fact_words(taken: TakenIn, key: str) -> str:
    fact = next((f for f in record_facts(taken.recorded.machine) if f.key == key), None)
    if fact is None:
        return phrase("{place_label}: there", place_label=taken.recorded.machine.place_label(key.rpartition(".")[2]))
    return phrase(
        "{fact}: {shown_value} {value}",
        fact=lower_first(fact.title),
        shown_value=shown_value(fact),
        value=fact.unit.value.sign,
    ).rstrip()


def kept_line(job: Job, text: str) -> Job:
    """The record with a line in it; words that nobody understood are kept as a note."""
    taken = read_into(job, text)
    unread = [w for p in taken.line.pieces for w in p.not_understood]
    notes = (
        *taken.recorded.unrecorded,
        *([phrase("Not understood: {unread}", unread=joined(" ", unread))] if unread else []),
    )
    return replace(taken.job, condition=(*job.condition, *(n for n in notes if n not in job.condition)))
