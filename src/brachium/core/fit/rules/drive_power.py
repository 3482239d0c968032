"""Power rule: STO-POWER, a drive in a new place needs a free lead of its kind."""

from __future__ import annotations

from collections.abc import Hashable

from brachium.core.base.text import phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.answers import Answers, on_machine
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.kinds import ON_ADAPTER, MachineKind
from brachium.core.machine.leads import takes_lead
from brachium.core.machine.machine import Configuration, LeadKind, Machine
from brachium.core.machine.parts import Drive, Part
from brachium.core.machine.platform import SUPPLY
from brachium.core.machine.power_parts import Supply

ADAPTER = "adapter from a 4-pin drive connector to SATA power"
TEXT = (
    "A drive needs a data port and a power connector of the right kind. A drive that replaces another keeps its "
    "connector. Cables are never re-wired; a ready-made adapter from a free 4-pin connector is the only other way."
)


def _sata(machine: Machine, config: Configuration) -> list[str]:
    """Places that hold a SATA drive that takes a lead."""
    parts = config.parts
    return [
        b.id for b in machine.bays
        if isinstance(part := parts.get(b.id), Drive) and takes_lead(part)
    ]  # fmt: skip


def _left(ground: FitGround) -> set[str]:
    """Places whose drive the plan takes out: their lead is free then."""
    return {p for p in ground.changed if not isinstance(ground.config.parts.get(p), Drive)}


def _more(ground: FitGround) -> tuple[Subject, ...]:
    """SATA drives in places that are empty today; laptops power theirs through the data plug."""
    machine = ground.machine
    if machine.kind in ON_ADAPTER or machine.kind is MachineKind.NOT_KNOWN:
        return ()
    today = set(_sata(machine, machine.configuration()))
    new = [p for p in _sata(machine, ground.config) if p not in today]
    return tuple(Subject((p,), ground.config.parts[p]) for p in new)


def pin3(ground: FitGround, subject: Subject) -> Verdict:
    """Drives with power-disable on pin 3 stay off where the supply's SATA power connectors carry 3.3 V there."""
    assert isinstance(subject.part, Drive)
    gap = Gap("parts.supply.pin3_power", "3.3 V on pin 3 of the SATA power connectors", (True, False),
              "count the wires of a SATA power cable: five = yes", 1)  # fmt: skip
    supply = ground.config.parts.get(SUPPLY)
    live = ground.need(supply.pin3_power if isinstance(supply, Supply) else None, gap)
    facts = (
        Fact("drive", "power-disable on pin 3", Origin.LABEL),
        on_machine(ground, "3.3 V on pin 3", live, "supply"),
    )
    says = Answers("STO-POWER", subject, "Drives with power-disable stay off while pin 3 carries 3.3 V.", facts)
    if live:
        return says.needs("adapter without pin 3", "A drive without power-disable.", "pin 3 would keep it switched off")
    return says.fits("pin 3 carries no power")


def _power_disable(ground: FitGround) -> tuple[Subject, ...]:
    return tuple(s for s in ground.fresh(Drive) if isinstance(s.part, Drive) and s.part.power_disable)


def power_lead(ground: FitGround, subject: Subject) -> Verdict:
    machine = ground.machine
    gap = Gap("leads.sata", "number of SATA power connectors", (1, 2, 3, 4, 6), "open the case and count the plugs", 3)
    fed = _sata(machine, ground.config)
    plugs = [lead for lead in machine.leads if lead.kind is LeadKind.SATA and lead.feeds in ("", *fed, *_left(ground))]
    leads = ground.need(len(plugs) if machine.leads else None, gap)  # a plug that feeds something else is not free
    drives = len(fed)
    spare = sum(lead.kind is LeadKind.DRIVE_4 and not lead.feeds for lead in machine.leads)
    facts = (
        Fact("SATA drives in the plan", str(drives), Origin.COMPUTED),
        Fact("SATA power connectors", str(leads), machine.origin("leads")),
        Fact("free 4-pin drive connectors", str(spare), machine.origin("leads")),
    )
    if drives <= leads:
        sentence = phrase("{leads} SATA power connectors for {drives} drives", leads=leads, drives=drives)
        return Verdict("STO-POWER", Level.FITS, subject.places, sentence, Because(sentence, "STO-POWER", TEXT, facts))
    if drives - leads <= spare:
        sentence = phrase("needs an {adapter} first", adapter=ADAPTER)
        because = Because(sentence, "STO-POWER", TEXT, facts, "needs first", "A free SATA power connector.")
        return Verdict("STO-POWER", Level.NEEDS_FIRST, subject.places, sentence, because, precondition=ADAPTER)
    sentence = phrase(
        "no power connector is free: {drives} drives, {leads} SATA power connectors", drives=drives, leads=leads
    )
    because = Because(sentence, "STO-POWER", TEXT, facts, "refused", "A drive instead of another one.")
    return Verdict("STO-POWER", Level.REFUSED, subject.places, sentence, because)


def _seen_by_leads(part: Part) -> Hashable:
    """Of a drive whether it takes a lead and minds pin 3; of a supply its connectors and pin 3."""
    if isinstance(part, Drive):
        return takes_lead(part), part.power_disable
    return (part.connectors, part.pin3_power) if isinstance(part, Supply) else part.kind


POWER_RULES: tuple[Rule, ...] = (
    Rule("STO-POWER", "Free power connector", _more, power_lead, kinds=("drive", "supply"), trait=_seen_by_leads),
    Rule("STO-POWER", "Power-disable", _power_disable, pin3, kinds=("drive", "supply"), trait=_seen_by_leads),
)
