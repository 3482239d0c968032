"""Verdicts as JSON values: docs/formats/answers.md."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.fit.gap_words import gap_words, unit_of_gap
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.plan.asked_part import AskedPart
from brachium.core.plan.candidates import Candidate
from brachium.formats.answers.plain import plain
from brachium.formats.answers.shapes import Elsewhere, FitAnswer, PartRead, VerdictFound
from brachium.formats.answers.take_in_json import piece_values

FORMAT_VERSION = 1
LEVELS = {Level.FITS: "works", Level.LIMITED: "limited", Level.NEEDS_FIRST: "needs_first", Level.NOT_KNOWN: "find_out",
          Level.REFUSED: "no"}  # fmt: skip


def fit_values(
    job_id: str,
    level: Level,
    verdicts: Sequence[Verdict],
    asked: AskedPart | None,
    candidate: Candidate | None,
    lacks: str = "",
    elsewhere: Sequence[tuple[Candidate, Sequence[Verdict]]] = (),
) -> FitAnswer:
    """The level of the whole and each verdict; of a part asked about also how it was read, where it goes and what moves
    for it, and what would be said of it `elsewhere`."""
    moves = candidate.assignments if candidate is not None else ()
    return {
        "version": FORMAT_VERSION, "job": job_id, "level": LEVELS[level],
        "part": _part(asked) if asked is not None else None,
        "places": list(candidate.places) if candidate is not None else [], "lacks": lacks or None,
        "moves": [{"place": m.place_id, "part": None if m.part is None else plain(m.part)} for m in moves],
        "elsewhere": [_elsewhere(c, v) for c, v in elsewhere],
        "verdicts": [verdict_values(v) for v in verdicts],
    }  # fmt: skip


def _elsewhere(candidate: Candidate, verdicts: Sequence[Verdict]) -> Elsewhere:
    """Its verdicts come worst first."""
    level, sentence = (verdicts[0].level, verdicts[0].sentence) if verdicts else (Level.FITS, "")
    return {"places": list(candidate.places), "level": LEVELS[level], "sentence": sentence}


def _part(asked: AskedPart) -> PartRead:
    piece = piece_values(asked.piece) if asked.piece is not None else None
    return {"read": piece, "part": plain(asked.part), "count": asked.count, "taken_as_usual": list(asked.as_place)}


def verdict_values(verdict: Verdict) -> VerdictFound:
    """One verdict: its rule, level, sentence, facts with their origin, and what settles or changes it."""
    because, gap = verdict.because, verdict.gap
    return {
        "rule": verdict.rule, "level": LEVELS[verdict.level], "sentence": verdict.sentence,
        "places": list(verdict.places),
        "facts": [{"label": f.label, "value": f.value, "origin": f.origin.value} for f in because.facts],
        "result": because.result or None, "open": verdict.open,
        "why": because.text, "notes": list(because.notes), "needs_first": verdict.precondition or None,
        "settled_by": None if gap is None else {
            "key": gap.key, "label": gap.label, "how": gap.how, "minutes": gap.minutes,
            "unit": unit_of_gap(gap).value.sign or gap.unit or None,
            "values": [gap_words(gap, v) for v in gap.values]},
        "would_change": because.would_change or None,
    }  # fmt: skip
