"""A machine taken in by a line, as JSON values: docs/formats/answers.md."""

from __future__ import annotations

from brachium.core.label.quick_line import QuickPiece
from brachium.core.label.record_line import Recorded
from brachium.core.machine.facts.open_facts import open_facts
from brachium.core.machine.machine import Machine
from brachium.formats.answers.plain import plain
from brachium.formats.answers.shapes import MachineFound, Piece, TakenInAnswer

FORMAT_VERSION = 1
NOT_FIELDS = ("not_understood", "understood")


def take_in_values(job_id: str, name: str, pieces: tuple[QuickPiece, ...], recorded: Recorded) -> TakenInAnswer:
    """`job`, how each word was understood, what could not be recorded, what is still open."""
    return {
        "version": FORMAT_VERSION, "job": job_id, "name": name,
        "pieces": [piece_values(p, k) for p, k in zip(pieces, recorded.keys, strict=True)],
        "not_understood": [w for p in pieces for w in p.not_understood],
        "not_recorded": list(recorded.unrecorded),
        "machine": machine_values(recorded.machine),
        "open": list(open_facts(recorded.machine)),
    }  # fmt: skip


def piece_values(piece: QuickPiece, keys: tuple[str, ...] = ()) -> Piece:
    """One piece of a line: its kind, fields, the words that said them, the record's keys that it filled."""
    said = {} if piece.reading is None else {
        k: plain(v) for k, v in vars(piece.reading).items() if k not in NOT_FIELDS and v not in (None, ())
    }  # fmt: skip
    return {
        "text": piece.text, "kind": piece.kind or None, "fields": said,
        "words": [{"words": words, "fields": list(names)} for words, names in piece.understood],
        "not_understood": list(piece.not_understood), "keys": list(keys),
    }  # fmt: skip


def machine_values(machine: Machine) -> MachineFound:
    """The places with what sits in them, and where each came from."""
    parts = machine.configuration().parts
    places = [("slots", s.id, s.label) for s in machine.slots] + [("bays", b.id, b.label) for b in machine.bays]
    places += [("platform.cards", c.id, c.label) for c in machine.platform.cards]
    known = {place for _, place, _ in places}
    return {
        "kind": machine.kind.value,
        "processor": {k: v for k, v in plain(machine.processor).items() if v not in (None, "")},
        "places": [
            {"place": place, "label": label, "origin": machine.origin(f"{stem}.{place}").value,
             "part": plain(parts.get(place))} for stem, place, label in places
        ],
        "others": {place: plain(part) for place, part in parts.items() if place not in known},
        "origins": {key: origin.value for key, origin in sorted(machine.origins.items())},
    }  # fmt: skip
