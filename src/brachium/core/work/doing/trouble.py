"""Trouble at a step: what to do now, what it usually costs, what it does to the promises, where it is recorded."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.base.text import phrase
from brachium.core.base.units import minutes
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.zones import ZONES
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.job import Job
from brachium.core.record.work.trouble import Trouble
from brachium.core.work.step import Step

CENT = Decimal("0.01")


@dataclass(frozen=True)
class TroubleKind:
    """A kind of trouble: what to do now, its usual minutes (typical, of a bench that has met it), what it makes the
    shop buy (empty = nothing), the kind of finding that stays on the record (empty = none)."""

    id: str
    title: str
    now: str
    minutes: float
    buys: str = ""
    finding: str = ""


KINDS: tuple[TroubleKind, ...] = (
    TroubleKind(
        "stripped", "Stripped screw",
        "Stop turning. The next larger head or a sharp-edged one, pressed down hard; a rubber band between; a slot cut "
        "into a proud head. Last a drill of the head's size, by hand, chips caught, never over a battery.", 12,
        "a screw of its thread and length", "screw"),
    TroubleKind(
        "clip", "Broken clip",
        "Find the piece: it must not stay inside. Look whether the cover still closes and lies flat. No glue near a "
        "battery, a vent or a board.", 5, "", "clip"),
    TroubleKind(
        "ribbon", "Torn ribbon or cable",
        "Stop. Nothing is started with it half in. Note its width, number of contacts, length and which way it faces; "
        "a photo. It is replaced, never soldered here.", 10, "a ribbon or cable of its kind", "ribbon"),
    TroubleKind(
        "missing", "Missing part",
        "Name it and where it belongs. Look on the bench, in the tray, in the machine; then on the shelf. Without it "
        "the machine is closed only if nothing can short or rattle.", 8, "the part that is missing", "missing"),
    TroubleKind(
        "misfit", "A part does not fit",
        "No force. Back to what was there, so that the machine is whole. Type what is in the way into All facts: the "
        "verdict then says why, and Choose offers what does fit.", 15, "another part"),
    TroubleKind(
        "other", "Something else",
        "Stop, put down what you hold, look. Write what it is; go on only when you know that nothing is live, loose or "
        "short.", 5),
)  # fmt: skip
BY_ID = {k.id: k for k in KINDS}
_ZONES: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("cooler", ("cooler", "vents")), ("paste", ("cooler", "vents")), ("clean", ("cooler", "vents")),
    ("battery", ("battery", "supply")), ("memory", ("memory", "bottom")), ("drive", ("drives", "bottom")),
    ("supply", ("supply",)), ("card", ("cards",)), ("board", ("board", "bottom")), ("glass", ("screen",)),
    ("stand", ("stand",)), ("open", ("bottom", "back")), ("close", ("bottom", "back")),
)  # fmt: skip


def kind_of(trouble: Trouble) -> TroubleKind:
    """The kind of a trouble; one that this program does not know keeps its name."""
    return BY_ID.get(trouble.kind) or TroubleKind(trouble.kind, trouble.kind.capitalize(), "", 0.0)


def finding_of(trouble: Trouble, step: Step, machine: MachineKind) -> Finding | None:
    """What stays on the record of the machine; None where the trouble is the plan's and not the machine's."""
    kind = kind_of(trouble)
    if not kind.finding:
        return None
    return Finding(kind.finding, zone_of(step, machine), Severity.CLEAR, trouble.words)


def zone_of(step: Step, machine: MachineKind) -> str:
    """The zone of the machine's drawing where a step is done."""
    zones = [z.id for z in ZONES[machine.build]]
    wanted = next((ids for begins, ids in _ZONES if step.id.startswith(begins)), ())
    return next((z for z in (*wanted, "board", "bottom", "back") if z in zones), zones[-1])


@dataclass(frozen=True)
class Promises:
    """What was promised: by when (ISO or empty), the ceiling, what the plan costs, minutes of work left."""

    needed_by: str
    budget: Decimal | None
    cost: Decimal
    left_min: float


def consequences(job: Job, trouble: Trouble, promises: Promises, today: str) -> tuple[str, ...]:
    """What a trouble does to price and date, in sentences; a price that nobody knows is said to be unknown."""
    kind = kind_of(trouble)
    work = (job.rate_per_hour * Decimal(str(trouble.minutes)) / 60).quantize(CENT, ROUND_HALF_UP)
    out = [phrase("{minutes} more, {work} EUR of work.", minutes=minutes(trouble.minutes), work=work)]
    if kind.buys and trouble.price is None:
        out.append(phrase("To buy: {buys}. Its price is not known yet: type it when it is.", buys=kind.buys))
    elif trouble.price is not None:
        out.append(phrase("{price} EUR for {buys}.", price=trouble.price, buys=kind.buys or "what it takes"))
    out += _ceiling(promises, work + (trouble.price or Decimal(0)), trouble.price is None and bool(kind.buys))
    return (*out, *_date(promises, kind, today))


def _ceiling(promises: Promises, added: Decimal, open_: bool) -> list[str]:
    if promises.budget is None:
        return ["No ceiling was agreed: tell the owner before it is spent."]
    total = promises.cost + added
    if total > promises.budget:
        return [
            phrase(
                "The promised {budget} EUR move: {total} EUR so far. Ask the owner first.",
                budget=promises.budget,
                total=total,
            )
        ]
    words = ", before the part" if open_ else ""
    return [
        phrase(
            "The ceiling of {budget} EUR holds: {total} EUR{words}.", budget=promises.budget, total=total, words=words
        )
    ]


def _date(promises: Promises, kind: TroubleKind, today: str) -> list[str]:
    if not promises.needed_by:
        return []
    try:
        days = (date.fromisoformat(promises.needed_by[:10]) - date.fromisoformat(today[:10])).days
    except ValueError:
        return []
    left = phrase("{left_min} of work are left", left_min=minutes(promises.left_min))
    if kind.buys:
        return [
            phrase(
                "Promised for {needed_by}, in {days} days: it moves unless the part is here before; {left}.",
                needed_by=promises.needed_by,
                days=days,
                left=left,
            )
        ]
    if days < 0:
        return [phrase("Promised for {needed_by}, which is over; {left}.", needed_by=promises.needed_by, left=left)]
    return [
        phrase("Promised for {needed_by}, in {days} days: {left}.", needed_by=promises.needed_by, days=days, left=left)
    ]
