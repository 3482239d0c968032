"""Processor rules of the board: CPU-MOUNT, CPU-SOCKET, CPU-CHIPSET, CPU-FIRMWARE, CPU-GFX, CPU-MEM, CPU-ISA."""

from __future__ import annotations

from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.cards import shows_picture
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.firmware_version import at_least
from brachium.core.machine.platform import BootMode
from brachium.core.machine.processor_part import ProcessorPart

SOLDERED = Gap("platform.board.soldered", "mounting of the processor", (True, False),
               "look it up for the model, or look at it once it is open", 5)  # fmt: skip
FEATURES = ("64-bit", "NX", "SSE4.2", "POPCNT", "AVX2")


def new_processor(ground: FitGround) -> tuple[Subject, ...]:
    return ground.fresh(ProcessorPart)


def chip_of(subject: Subject) -> ProcessorPart:
    assert isinstance(subject.part, ProcessorPart)
    return subject.part


def mount(ground: FitGround, subject: Subject) -> Verdict:
    soldered = ground.need(ground.machine.platform.board.soldered, SOLDERED)
    facts = (on_machine(ground, "soldered", soldered, "platform.board.soldered"),)
    says = Answers("CPU-MOUNT", subject, "A soldered processor cannot be changed at a bench.", facts)
    if soldered:
        return says.refused("the processor is soldered to the board", "Another board.")
    return says.fits("sits in a socket")


def socket(ground: FitGround, subject: Subject) -> Verdict:
    chip, board = chip_of(subject), ground.machine.platform.board
    gap = Gap(
        "platform.board.socket", "board's socket", (chip.socket, "another"), "read the print beside the socket", 3
    )
    there = ground.need(board.socket, gap)
    text = (
        "The socket must be the same in its holes and in its wiring; the same holes with other wiring are a trap. "
        "Conversions that cut or re-wire are refused."
    )
    facts = (on_part("processor", f"{chip.socket} {chip.revision}".strip()),
             on_machine(ground, "board", f"{there} {board.revision or ''}".strip(),
                        "platform.board.socket"))  # fmt: skip
    says = Answers("CPU-SOCKET", subject, text, facts)
    if there != chip.socket:
        return says.refused(f"for socket {chip.socket}, the board has {there}", f"A processor for {there}.")
    if chip.revision:
        revision_gap = Gap("platform.board.revision", "wiring generation of the socket", (chip.revision, "another"),
                           "look up the board's chipset", 4)  # fmt: skip
        if ground.need(board.revision, revision_gap) != chip.revision:
            return says.refused(
                f"same holes, other wiring: generation {chip.revision}", "A processor of its generation."
            )
    return says.fits(f"socket {there}")


def chipset(ground: FitGround, subject: Subject) -> Verdict:
    chip = chip_of(subject)
    gap = Gap("platform.board.families", "families that the chipset lists", ((chip.family,), ()),
              "look into the board's list of processors", 5)  # fmt: skip
    listed = ground.need(ground.machine.platform.board.families, gap)
    facts = (on_part("family", chip.family or "not stated"),
             on_machine(ground, "chipset lists", listed, "platform.board.families"))  # fmt: skip
    says = Answers("CPU-CHIPSET", subject, "The chipset's generation must list the family.", facts)
    if not chip.family:
        return says.unknown("its family is not stated", "The family, from the processor's data sheet.")
    if chip.family not in listed:
        return says.refused(f"the chipset does not list {chip.family}", f"One of {', '.join(listed) or 'none'}.")
    return says.fits(f"the chipset lists {chip.family}")


def firmware(ground: FitGround, subject: Subject) -> Verdict:
    """The update comes before the exchange, so it needs a machine that starts with its old processor."""
    chip, board = chip_of(subject), ground.machine.platform.board
    text = (
        "Firmware must know the processor. The update is done with the old processor still fitted, in the maker's "
        "order of versions, on mains, never on a weak date battery and never backwards."
    )
    if not chip.first_firmware:
        says = Answers("CPU-FIRMWARE", subject, text, (on_part("first version that knows it", "not stated"),))
        return says.unknown("the first version that knows it is not stated", "The maker's list for the board.")
    gap = Gap(
        "identity.firmware", "firmware version", (chip.first_firmware, "0"), "scan it, or read the start screen", 2
    )
    now = ground.need(ground.machine.identity.firmware or None, gap)
    facts = [on_part("first version that knows it", chip.first_firmware),
             on_machine(ground, "firmware now", now, "identity.firmware")]  # fmt: skip
    knows = at_least(now, chip.first_firmware, board.steps)
    if knows is None:
        says = Answers("CPU-FIRMWARE", subject, text, tuple(facts))
        return says.unknown(f"cannot order these two: {now} and {chip.first_firmware}",
                            "The maker's own order of versions.")  # fmt: skip
    if knows:
        return Answers("CPU-FIRMWARE", subject, text, tuple(facts)).fits(f"firmware {now} knows it")
    between = _between(now, chip.first_firmware, board.steps)
    facts.append(Fact("versions on the way", ", ".join(between) or "none known", Origin.CATALOGUE))
    weak_gap = Gap("platform.board.date_cell_weak", "state of the date battery", (True, False),
                   "measure it: under 2.8 V "
                   "is weak", 2)  # fmt: skip
    weak = ground.need(board.date_cell_weak, weak_gap)
    says = Answers("CPU-FIRMWARE", subject, text, tuple(facts))
    target = f"firmware {chip.first_firmware}" + (f", by way of {', '.join(between)}" if between else "")
    if not ground.around.starts:
        return says.refused(f"circular: {target} needs a machine that starts, and it does not start as it is",
                            "A machine that starts with its old processor.")  # fmt: skip
    words = f"{target} first, with the old processor fitted"
    return says.needs(target, "Firmware that knows it already.", words, ("new date cell",) if weak else ())


def _between(now: str, target: str, steps: tuple[str, ...]) -> tuple[str, ...]:
    if target not in steps:
        return ()
    end = steps.index(target)
    older = (k for k in range(end) if at_least(now, steps[k], steps) is not True)
    begin = steps.index(now) + 1 if now in steps else next(older, end)
    return steps[begin:end]


def graphics(ground: FitGround, subject: Subject) -> Verdict:
    chip = chip_of(subject)
    cards = [c for place, c in ground.config.cards().items() if shows_picture(ground, place, c)]
    gap = Gap(f"graphics of {chip.name}", "processor's own graphics", (True, False), "look into its data sheet", 1)
    own = True if cards else ground.need(chip.graphics, gap)
    facts = (on_part("own graphics", chip.graphics), Fact("graphics cards", str(len(cards)), Origin.PLANNED))
    says = Answers("CPU-GFX", subject, "Without graphics of its own and without a card there is no picture.", facts)
    if cards:
        return says.fits("a graphics card is there")
    if own and ground.machine.platform.board.graphics_outputs is False:
        return says.refused("no picture: the board has no outputs and no card is fitted", "A graphics card.")
    if not own:
        return says.refused(
            "no graphics left: it has none and no card is fitted", "A graphics card, or one with graphics."
        )
    return says.fits("has graphics of its own")


def memory(ground: FitGround, subject: Subject) -> Verdict:
    chip, machine = chip_of(subject), ground.machine
    there = tuple(dict.fromkeys(s.generation for s in machine.slots))
    gap = Gap(f"memory of {chip.name}", "processor's memory generations", (there, ()), "look into its data sheet", 1)
    drives = ground.need(chip.memory, gap)
    facts = (on_part("processor drives", drives), on_machine(ground, "board's memory", there, "slots"),
             on_part("channels", chip.memory_channels), on_part("memory speed", chip.memory_mts, "MT/s"))  # fmt: skip
    text = "Type, speed and channels of the memory are the processor's; the board only leads to them."
    says = Answers("CPU-MEM", subject, text, facts)
    if any(g not in drives for g in there):
        return says.refused(f"it does not drive {' or '.join(there)}", "One that drives the board's memory.")
    channels_gap = Gap("memory.channels", "board's memory channels", tuple(range(1, len(machine.slots) + 1)) or (1,),
                       "look into the board's handbook", 3)  # fmt: skip
    board = ground.need(machine.memory.channels, channels_gap) if chip.memory_channels is not None else None
    if chip.memory_channels is not None and board is not None and chip.memory_channels < board:
        return says.limited(f"{chip.memory_channels} memory channel of {board}", f"{chip.memory_channels} channels",
                            "One with all channels.")  # fmt: skip
    return says.fits(f"drives {' and '.join(there) or 'no memory recorded'}")


def _asked(ground: FitGround) -> tuple[Subject, ...]:
    """The new processor; where none is planned, the machine as a whole if a system is planned."""
    if ground.around.system is None:
        return ()
    return new_processor(ground)


def features(ground: FitGround, subject: Subject) -> Verdict:
    chip, system, board = chip_of(subject), ground.around.system, ground.machine.platform.board
    assert system is not None
    gap = Gap(f"features of {chip.name}", "processor's instructions", (FEATURES, ()), "look into its data sheet", 2)
    has = ground.need(chip.features, gap) if system.features else ()
    lacks = tuple(f for f in system.features if f not in has)
    facts = (Fact("system asks for", ", ".join((*system.features, *system.functions)) or "nothing", Origin.CATALOGUE),
             on_part("processor has", has))  # fmt: skip
    text = "A system may ask for instructions of the processor and for functions of firmware and board."
    says = Answers("CPU-ISA", subject, text, facts)
    if lacks:
        return says.refused(f"the planned system needs {', '.join(lacks)}", "A newer processor, or another system.")
    wants = (*system.functions, *((BootMode.UEFI,) if system.boot_mode is BootMode.UEFI else ()))
    offered_gap = Gap("platform.board.functions", "functions of firmware and board", (wants, ()),
                      "look into the firmware set-up", 3)  # fmt: skip
    offered = ground.need(board.functions, offered_gap) if wants else ()
    if any(w not in offered for w in wants):
        return says.refused(f"the board lacks {', '.join(w for w in wants if w not in offered)}", "Another system.")
    return says.fits("has what the planned system asks for")


PROCESSOR_RULES: tuple[Rule, ...] = (
    Rule("CPU-MOUNT", "Mounting", new_processor, mount),
    Rule("CPU-SOCKET", "Socket", new_processor, socket),
    Rule("CPU-CHIPSET", "Chipset", new_processor, chipset),
    Rule("CPU-FIRMWARE", "Firmware", new_processor, firmware),
    Rule("CPU-GFX", "Graphics", new_processor, graphics, ("processor", "card")),
    Rule("CPU-MEM", "Memory of the processor", new_processor, memory),
    Rule("CPU-ISA", "Instructions and functions", _asked, features),
)
