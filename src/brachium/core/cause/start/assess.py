"""What keeps a machine from starting: its symptom, what was looked at, the checks made; ranked, with the next check.

The symptom is asked first. Where trying it out says already how far it comes, that stands in for it.
"""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.why import Origin
from brachium.core.cause.assess import Assessment
from brachium.core.cause.checks import needs_met
from brachium.core.cause.known import Known, observed
from brachium.core.cause.ranking import Field, NextCheck, Observation, Ranked, next_checks, rank
from brachium.core.cause.signs import Sign, sign
from brachium.core.cause.start.checks import BY_ID, possible
from brachium.core.cause.start.kinds import ALL, KINDS
from brachium.core.cause.start.symptoms import BEEPS, FIRMWARE, NO_PICTURE, SYMPTOM, UNDER_LOAD
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.record.checks import CheckDone

LOOKED: tuple[Sign, ...] = (
    sign("start_loose", "Plugs as taken in", "nothing found|one loose or missing", (0.94, 0.06), plug=(0.45, 0.55),
         drive_lead=(0.60, 0.40)),
    sign("start_grid", "Swap grid of the modules", "all of them, or none|starts with some of them", (0.98, 0.02),
         module=(0.04, 0.96), seat=(0.55, 0.45)),
    sign("start_marks", "Marks as taken in", "none|a bent pin|liquid|burnt or bulging", (0.90, 0.02, 0.05, 0.03),
         short=(0.62, 0.20, 0.15, 0.03), processor=(0.70, 0.22, 0.05, 0.03), board=(0.68, 0.02, 0.15, 0.15),
         weak_supply=(0.85, 0.01, 0.02, 0.12), dead_supply=(0.80, 0.01, 0.02, 0.17)),
)  # fmt: skip
START = Field(KINDS, (ALL,), {s.id: s for s in LOOKED} | {i: c.sign for i, c in BY_ID.items()})
MARKS = (("pin", "a bent pin"), ("liquid", "liquid"), ("burnt", "burnt or bulging"), ("capacitors", "burnt or bulging"))
LEAST = 0.04  # chance from which a cause is listed: one of two dozen is at work
HEARD = ("beep", "tone", "light", "code")  # of a note on what failed
SO_FAR = (("firmware", "system", FIRMWARE), ("starts", "firmware", NO_PICTURE), ("system", "stays", UNDER_LOAD))
NO_START = ("starts", "firmware", "system", "stays")


def does_not_start(tried: Sequence[TestResult], done: Sequence[CheckDone] = (), no_before: str = "") -> bool:
    """Whether a machine is on this path: trying it out said so, its symptom was answered, or there is no before-run
    because of it."""
    fails = any(t.id in NO_START and t.outcome is TrialOutcome.FAILS for t in tried)
    runs = {t.id for t in tried if t.outcome is TrialOutcome.WORKS} >= {"system", "stays"}  # mended meanwhile
    answered = any(d.check == SYMPTOM.id for d in done) and not runs
    return fails or answered or "not start" in no_before.lower()


def cannot_run(tried: Sequence[TestResult]) -> bool:
    """Whether it does not come as far as its system, so that nothing can be measured on it."""
    return any(t.id in NO_START[:3] and t.outcome is TrialOutcome.FAILS for t in tried)


def assess_start(known: Known, done: Sequence[CheckDone] = ()) -> Assessment:
    """The path of a machine that does not start, or stops early."""
    answered = {d.check: Observation(d.check, d.answer, d.note or d.when, Origin.MEASURED, True)
                for d in done if d.check in BY_ID}  # fmt: skip
    seen = (*_looked(known), *(() if SYMPTOM.id in answered else _symptom(known.tried)), *answered.values())
    ranked = rank(seen, {}, needs_met(known.machine), START)
    checks = next_checks(ranked, possible(known.machine), frozenset(answered), START)
    asked = tuple(c for c in checks if c.check.id == SYMPTOM.id)
    rest = tuple(c for c in checks if c.check.id != SYMPTOM.id)
    told = any(o.sign == SYMPTOM.id for o in seen)  # as answered, or as it was tried out
    checks = rest if told else (*asked, *rest)  # it costs a minute and parts the field
    called = [r for r in ranked if r.called]
    headline = _found_words(called[0]) if called else _open_words(answered, checks)
    return Assessment(ranked, checks, seen, (), headline, LEAST if told else 1.0)  # before any answer all are open


def _found_words(cause: Ranked) -> str:
    title = cause.kind.title
    return title if cause.settled else phrase("Likely: {title}", title=lower_first(title))


def _open_words(answered: object, checks: Sequence[NextCheck]) -> str:
    if not answered:
        return "Say first what it does when it is switched on"
    return "Not found yet" if checks else "Not found: what is left is another board, or another machine"


def _symptom(tried: Sequence[TestResult]) -> list[Observation]:
    """How far it came when it was tried out."""
    outcome = {t.id: t for t in tried}

    def is_(key: str, what: TrialOutcome) -> bool:
        return key in outcome and outcome[key].outcome is what

    words = joined(" ", (t.note.lower() for t in tried if t.outcome is TrialOutcome.FAILS))
    if any(word in words for word in HEARD):
        return [observed(SYMPTOM.id, BEEPS, words, Origin.TYPED)]
    for works, fails, state in SO_FAR:
        if is_(works, TrialOutcome.WORKS) and is_(fails, TrialOutcome.FAILS):
            return [observed(SYMPTOM.id, state, outcome[fails].note or "as tried", Origin.TYPED)]
    return []


def _looked(known: Known) -> list[Observation]:
    """Loose plugs and marks of the condition map, and what the swap grid tried; what was not looked at says nothing."""
    if not known.findings:
        return _grid(known)
    zones = {f.kind: f.zone for f in known.findings}
    mark = next((state for kind, state in MARKS if kind in zones), "none")
    loose = zones.get("cable")
    return [
        *_grid(known),
        observed("start_loose", "nothing found" if loose is None else "one loose or missing", loose or "as checked",
                 Origin.TYPED),
        observed("start_marks", mark, "as checked", Origin.TYPED),
    ]  # fmt: skip


def _grid(known: Known) -> list[Observation]:
    """What the tries with modules said: that it starts with some and not with others."""
    of_memory = [t for t in known.swap_tries if any(e.startswith("module:") for e in t.elements)]
    if len(of_memory) < 2:
        return []
    some = {t.worked for t in of_memory} == {True, False}
    state = "starts with some of them" if some else "all of them, or none"
    return [observed("start_grid", state, phrase("{count} tries", count=len(of_memory)))]
