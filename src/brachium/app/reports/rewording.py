"""The sentences of a report that can be worded by hand, as the program words them in the report's language."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from brachium.app.reports.buyer_report import buyer_content
from brachium.app.reports.full_report import report_content
from brachium.app.reports.owner_report import owner_content
from brachium.app.view.job_view import JobView
from brachium.core.base.own_words import OwnWords
from brachium.core.record.own_wording import wording_problem
from brachium.report.speech import Speech

SLOWER = "slower than before"  # what got worse is said


@dataclass(frozen=True)
class Sentence:
    """Where it stands, the program's words, whether it has to be said, whether its language has it."""

    section: str
    text: str
    must_stay: bool
    spoken: bool


def sentences(view: JobView, reader: str, speech: Speech) -> tuple[Sentence, ...]:
    """Those of the owner's page ("owner"), the buyer's sheet ("buyer") or the technician's report, in their order."""
    plain = replace(speech, wording={})
    out = []
    for section, texts, must_stay in _parts(view, reader):
        for text in texts:
            said, spoken = plain.told(text)
            out.append(Sentence(section, said, must_stay, spoken))
    return tuple({s.text: s for s in out if s.text}.values())


def _parts(view: JobView, reader: str) -> Iterable[tuple[str, Iterable[str], bool]]:
    if reader == "owner":
        owner = owner_content(view)
        return (
            ("Headline", (owner.headline,), True),
            ("What it brought", [t for t in owner.brought if SLOWER not in t], False),
            ("What it brought", [t for t in owner.brought if SLOWER in t], True),
            ("What was done", owner.done, True), ("What to watch", owner.watch, False),
            ("What it cannot do, or nobody knows", owner.cannot, True),
        )  # fmt: skip
    if reader == "buyer":
        buyer = buyer_content(view)
        return (("Tests passed", buyer.passed, False), ("Known faults", buyer.faults, True),
                ("What you get", buyer.included, True))  # fmt: skip
    report = report_content(view)
    return (
        ("Headline", (report.headline, report.subline), True), ("What to watch", report.watch, False),
        ("Condition when it came in", [t for t in report.condition if isinstance(t, OwnWords)], False),
        ("Condition when it came in", [t for t in report.condition if not isinstance(t, OwnWords)], True),
        ("What these figures do not say", report.limits, True),
    )  # fmt: skip


def problem_of(sentence: Sentence, new: str) -> str:
    """Why a sentence cannot be worded like this; empty where it can."""
    return wording_problem(sentence.text, new, sentence.must_stay)
