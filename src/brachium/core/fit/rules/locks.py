"""Lock rules: SEC-KEY, SEC-LOCK. Named before money is spent."""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.locks import LockState
from brachium.core.machine.parts import Drive
from brachium.core.machine.processor_part import ProcessorPart

ANSWERS = (LockState.NONE, LockState.HANDLED, LockState.SHUT)
NAMES = {
    "firmware_password": "firmware password", "enrolment": "enrolment lock", "licence": "licence tied to the board",
}  # fmt: skip
TOUCHED_BY: dict[str, tuple[type, ...]] = {
    "firmware_password": (Drive, ProcessorPart, BoardPart), "enrolment": (ProcessorPart, BoardPart),
    "licence": (BoardPart,),
}  # fmt: skip


def _sealed(ground: FitGround) -> tuple[Subject, ...]:
    """Changes that a security chip measures: processor, board (and with them firmware and start mode)."""
    return ground.fresh((ProcessorPart, BoardPart))[:1]


def key(ground: FitGround, subject: Subject) -> Verdict:
    state = ground.around.locks.encryption
    gap = Gap("locks.encryption", "disk encryption", ANSWERS, "ask the owner", 1)
    known = ground.need(None if state is LockState.NOT_ASKED else state, gap)
    facts = (Fact("disk encryption", known, Origin.LOGGED),)
    text = (
        "Encryption bound to the security chip asks for its recovery key after a change of firmware, start mode, "
        "processor or board: the key is in hand before."
    )
    says = Answers("SEC-KEY", subject, text, facts)
    if known is LockState.SHUT:
        return says.needs("recovery key of the encrypted disk", "The key, from the owner.")
    return says.fits("the recovery key is in hand" if known is LockState.HANDLED else "no encryption")


def _locked(ground: FitGround) -> tuple[Subject, ...]:
    """One subject for all locks, at the places of the parts that touch one."""
    places = tuple(s.places[0] for s in ground.fresh((Drive, ProcessorPart, BoardPart)))
    return (Subject(places),) if places else ()


def lock(ground: FitGround, subject: Subject) -> Verdict:
    parts = [ground.config.parts[p] for p in subject.places]
    text = "Firmware password, enrolment and licences tied to the board are named before money is spent."
    facts: list[Fact] = []
    shut: list[str] = []
    asked = False
    for name, kinds in TOUCHED_BY.items():
        if not any(isinstance(p, kinds) for p in parts):
            continue
        state = getattr(ground.around.locks, name)
        if state is LockState.NOT_ASKED and all(isinstance(p, Drive) for p in parts):
            continue  # decides whether the set-up can be opened, not whether the drive fits: asked before the work
        gap = Gap(f"locks.{name}", NAMES[name], ANSWERS, "ask the owner", 1)
        known = ground.need(None if state is LockState.NOT_ASKED else state, gap)
        asked = True
        facts.append(Fact(NAMES[name], known, Origin.LOGGED))
        if known is LockState.SHUT:
            shut.append(name)
    says = Answers("SEC-LOCK", subject, text, tuple(facts))
    if "enrolment" in shut:
        return says.refused("enrolled by a former owner, and no key", "Release by the former owner.")
    if shut:
        names = joined(" and ", (NAMES[n] for n in shut))
        return says.needs(phrase("{names} settled", names=names), "The code or licence in hand.")
    return says.fits("no lock in the way" if asked else "locks are asked before the work")


LOCK_RULES: tuple[Rule, ...] = (
    Rule("SEC-KEY", "Recovery key", _sealed, key),
    Rule("SEC-LOCK", "Locks", _locked, lock),
)
