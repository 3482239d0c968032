"""Platform rules: OS-SUPPORT, OS-BITS, NET-LINK, LEG-CELL, LEG-CAP."""

from __future__ import annotations

from collections.abc import Hashable

from brachium.core.base.text import phrase
from brachium.core.base.units import GIB, drive_size, gib
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine
from brachium.core.fit.assumptions import SLOW_NETWORK
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.parts import Drive, Part
from brachium.core.machine.platform import BootMode
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.record.systems import SystemSpec


def _planned_system(ground: FitGround) -> tuple[Subject, ...]:
    return (Subject(()),) if ground.around.system is not None else ()


def support(ground: FitGround, subject: Subject) -> Verdict:
    system = ground.around.system
    assert system is not None
    memory = ground.config.memory_bytes()
    largest = max((d.size_bytes for d in ground.config.drives().values()), default=0)
    facts = (
        Fact(
            "memory asked for, planned",
            phrase("{memory_bytes}, {memory}", memory_bytes=gib(system.memory_bytes), memory=gib(memory)),
            Origin.CATALOGUE,
        ),
        Fact(
            "drive asked for, planned",
            phrase("{drive_bytes}, {largest}", drive_bytes=drive_size(system.drive_bytes), largest=drive_size(largest)),
            Origin.CATALOGUE,
        ),
        Fact("security support ends", system.support_ends or "not known", Origin.CATALOGUE),
    )
    text = "A system has a floor for processor, memory, firmware and drive, and a last day of security support."
    says = Answers("OS-SUPPORT", subject, text, facts)
    if memory < system.memory_bytes:
        return says.refused(
            phrase(
                "{system} asks for {memory_bytes} of memory", system=system.title, memory_bytes=gib(system.memory_bytes)
            ),
            "More memory.",
        )
    if largest < system.drive_bytes:
        return says.refused(
            phrase(
                "{system} asks for a drive of {drive_bytes}",
                system=system.title,
                drive_bytes=drive_size(system.drive_bytes),
            ),
            "A larger drive.",
        )
    return _cores_and_mode(ground, system, says) or _supported(system, ground.around.today, says)


def _cores_and_mode(ground: FitGround, system: SystemSpec, says: Answers) -> Verdict | None:
    """The processor's and the firmware's part of the floor."""
    machine, chip = ground.machine, ground.config.processor()
    if system.cores > 1:
        gap = Gap("processor.cores", "processor's cores", (1, 2, 4), "scan it", 1)
        cores = ground.need(chip.cores if chip is not None and chip.cores else machine.processor.cores, gap)
        if cores < system.cores:
            return says.refused(
                phrase("{system} asks for {cores} cores", system=system.title, cores=system.cores),
                "A processor with more cores.",
            )
    if system.boot_mode is not None:
        gap = Gap("platform.board.boot_modes", "start modes of the firmware", ((BootMode.LEGACY,), tuple(BootMode)),
                  "look into the firmware set-up", 3)  # fmt: skip
        if system.boot_mode not in ground.need(machine.platform.board.boot_modes, gap):
            return says.refused(
                phrase("{system} starts in {boot_mode} mode only", system=system.title, boot_mode=system.boot_mode),
                "Another system.",
            )
    return None


def _supported(system: SystemSpec, today: str, says: Answers) -> Verdict:
    """Whether it still gets security updates; `today` is empty where the day is not known."""
    ends = system.support_ends
    if not ends:
        return says.unknown("the end of its security support is not in the table", "The day, in the table of systems.")
    if today and ends < today:
        return says.refused(phrase("security support ended {ends}", ends=ends), "A system that is still supported.")
    if today and ends < f"{int(today[:4]) + 1}{today[4:]}":
        return says.limited(phrase("security support ends {ends}", ends=ends), "under a year", "A newer system.")
    return says.fits(phrase("floor kept, supported until {ends}", ends=ends))


def bits(ground: FitGround, subject: Subject) -> Verdict:
    system, chip = ground.around.system, ground.config.processor()
    assert system is not None
    facts = (Fact("planned system", f"{system.bits}-bit", Origin.CATALOGUE),
             Fact("memory in the plan", gib(ground.config.memory_bytes()), Origin.PLANNED))  # fmt: skip
    text = "A 64-bit system needs a 64-bit processor; a 32-bit one leaves memory above 3.5 GiB to its extension."
    says = Answers("OS-BITS", subject, text, facts)
    if system.bits == 64:
        gap = Gap("processor.bits", "processor's word size", (32, 64), "scan its flags", 1, "bit")
        told = 64 if "64-bit" in ground.machine.identity.system else ground.machine.processor.bits
        if chip is not None and chip.features is not None:
            told = 64 if "64-bit" in chip.features else 32
        if ground.need(told, gap) < 64:
            return says.refused("a 64-bit system on a 32-bit processor", "A 32-bit system.")
        return says.fits("64-bit processor and system")
    if ground.config.memory_bytes() > 3 * GIB:
        return says.limited("32-bit: one process stays under 4 GiB", "4 GiB a process", "A 64-bit system.")
    return says.fits("32-bit suffices for this memory")


def _network(ground: FitGround) -> tuple[Subject, ...]:
    return (Subject(()),) if ground.around.network_heavy else ()


def network(ground: FitGround, subject: Subject) -> Verdict:
    gap = Gap(
        "platform.board.network_mbit_s", "speed of the network port", (100.0, 1000.0, 2500.0), "scan it", 1, "Mbit/s"
    )
    rate = ground.need(ground.machine.platform.board.network_mbit_s, gap)
    facts = (on_machine(ground, "network port", rate, "platform.board.network_mbit_s", "Mbit/s"),)
    says = Answers(
        "NET-LINK", subject, "For work that leans on the network the port must carry what the drives can.", facts
    )
    if rate <= SLOW_NETWORK:
        return says.limited(
            phrase("the port carries {rate:g} MB/s: that is the bottleneck", rate=rate / 8),
            phrase("{rate:g} MB/s", rate=rate / 8),
            "A faster port or card.",
        )
    return says.fits(phrase("the port carries {rate:g} MB/s", rate=rate / 8))


def _whole(ground: FitGround) -> tuple[Subject, ...]:
    return (Subject(()),) if ground.changed or ground.around.services else ()


def cell(ground: FitGround, subject: Subject) -> Verdict:
    weak = ground.machine.platform.board.date_cell_weak
    facts = (on_machine(ground, "date battery weak", weak, "platform.board.date_cell_weak"),)
    text = "A flat date battery loses settings, start order and time; it is replaced at every opening."
    says = Answers("LEG-CELL", subject, text, facts)
    if weak:
        return says.needs(
            "new CMOS battery", "A new CMOS battery.", "the date battery is flat: a new cell at this opening"
        )
    return says.fits("replace the date battery while it is open")


def caps(ground: FitGround, subject: Subject) -> Verdict:
    bulging = ground.machine.platform.board.bulging_caps
    facts = (on_machine(ground, "bulging capacitors", bulging, "platform.board.bulging_caps"),)
    text = "With bulging capacitors on board or supply a machine is not worth parts before somebody qualified saw it."
    says = Answers("LEG-CAP", subject, text, facts)
    if bulging:
        return says.refused(
            "bulging capacitors: no parts before they are repaired by a qualified person",
            "Repair by somebody qualified.",
        )
    return says.fits("no bulging capacitors recorded")


def _seen_by_system(part: Part) -> Hashable:
    if isinstance(part, (MemoryModule, Drive)):
        return part.size_bytes
    return (part.cores, part.features) if isinstance(part, ProcessorPart) else part.kind


PLATFORM_RULES: tuple[Rule, ...] = (
    Rule(
        "OS-SUPPORT",
        "Floor and support of the system",
        _planned_system,
        support,
        ("memory", "drive", "processor"),
        _seen_by_system,
    ),
    Rule("OS-BITS", "Word size", _planned_system, bits, ("memory", "processor"), _seen_by_system),
    Rule("NET-LINK", "Network port", _network, network),
    Rule("LEG-CELL", "Date battery", _whole, cell),
    Rule("LEG-CAP", "Capacitors", _whole, caps),
)
