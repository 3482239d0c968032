"""Processor rules of the board: CPU-MOUNT, CPU-SOCKET, CPU-CHIPSET, CPU-FIRMWARE, CPU-GFX, CPU-MEM, CPU-ISA."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import joined, phrase
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
VERSION = Gap("identity.firmware", "firmware version", ("0", "another"), "scan it, or read the start screen", 2)
FIRMWARE_TEXT = (
    "Firmware must know the processor. The update is done with the old processor still fitted, in the maker's "
    "order of versions, on mains, never on a weak date battery and never backwards."
)
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
    """What the board does not say of its socket, the processor proves that runs in it today."""
    chip, board, fitted = chip_of(subject), ground.machine.platform.board, _fitted(ground)
    gap = Gap(
        "platform.board.socket", "board's socket", (chip.socket, "another"), "read the print beside the socket", 3
    )
    there = ground.need(board.socket or (fitted.socket if fitted is not None else None) or None, gap)
    revision = board.revision or (fitted.revision if fitted is not None else None) or None
    text = (
        "The socket must be the same in its holes and in its wiring; the same holes with other wiring are a trap. "
        "Conversions that cut or re-wire are refused."
    )
    proof = () if board.socket or fitted is None else (Fact("told by", "the fitted processor", Origin.COMPUTED),)
    facts = (
        on_part("processor", phrase("{socket} {revision}", socket=chip.socket, revision=chip.revision).strip()),
        on_machine(
            ground,
            "board",
            phrase("{there} {revision}", there=there, revision=revision or "").strip(),
            "platform.board.socket",
        ),
        *proof,
    )
    says = Answers("CPU-SOCKET", subject, text, facts)
    if there != chip.socket:
        return says.refused(
            phrase("for socket {socket}, the board has {there}", socket=chip.socket, there=there),
            phrase("A processor for {there}.", there=there),
        )
    if chip.revision:
        revision_gap = Gap("platform.board.revision", "wiring generation of the socket", (chip.revision, "another"),
                           "look up the board's chipset", 4)  # fmt: skip
        if ground.need(revision, revision_gap) != chip.revision:
            return says.refused(
                phrase("same holes, other wiring: generation {revision}", revision=chip.revision),
                "A processor of its generation.",
            )
    return says.fits(phrase("socket {there}", there=there))


def _fitted(ground: FitGround) -> ProcessorPart | None:
    """The processor that runs on this board today; none where the plan brings another board."""
    return None if ground.before_board() else ground.today.processor()


def chipset(ground: FitGround, subject: Subject) -> Verdict:
    chip = chip_of(subject)
    gap = Gap("platform.board.families", "families that the chipset lists", ((chip.family,), ()),
              "look into the board's list of processors", 5)  # fmt: skip
    fitted, known = _fitted(ground), ground.machine.platform.board.families
    if known is None and fitted is not None and chip.family and fitted.family == chip.family:
        proof = (on_part("family", chip.family), Fact("fitted processor", fitted.family, Origin.COMPUTED))
        says = Answers("CPU-CHIPSET", subject, "The chipset's generation must list the family.", proof)
        return says.fits(phrase("family {family}, as the fitted one", family=chip.family))
    listed = ground.need(known, gap)
    facts = (on_part("family", chip.family or "not stated"),
             on_machine(ground, "chipset lists", listed, "platform.board.families"))  # fmt: skip
    says = Answers("CPU-CHIPSET", subject, "The chipset's generation must list the family.", facts)
    if not chip.family:
        gap = Gap(
            phrase("family of {chip}", chip=chip.name),
            "family of the processor",
            (*listed, "another"),
            "look into its data sheet",
            2,
        )
        if ground.need(None, gap) in listed:
            return says.fits("a family that the chipset lists")
        return says.refused(
            "its family is none that the chipset lists",
            phrase("One of {listed}.", listed=joined(", ", listed) or "none"),
        )
    if chip.family not in listed:
        return says.refused(
            phrase("the chipset does not list {family}", family=chip.family),
            phrase("One of {listed}.", listed=joined(", ", listed) or "none"),
        )
    return says.fits(phrase("the chipset lists {family}", family=chip.family))


def firmware(ground: FitGround, subject: Subject) -> Verdict:
    """The update comes before the exchange, so it needs a machine that starts with its old processor."""
    chip, board = chip_of(subject), ground.machine.platform.board
    now = ground.machine.identity.firmware or None
    first_gap = Gap(
        phrase("first firmware of {chip}", chip=chip.name),
        "first firmware version that knows it",
        (now or "1.0", "another"),
        "look into the maker's list for the board",
        5,
    )
    first = ground.need(chip.first_firmware or None, first_gap)
    if now is None and first_gap.key in ground.tried:  # a version that is only tried on names no step
        says = Answers("CPU-FIRMWARE", subject, FIRMWARE_TEXT)
        return says.unknown("the first firmware version that knows it is not known", "The maker's list for the board.")
    if now is None and ground.around.starts and VERSION.key not in ground.tried:
        return _read_first(ground, subject, first)
    now = ground.need(now, VERSION)
    facts = [on_part("first version that knows it", first),
             on_machine(ground, "firmware now", now, "identity.firmware")]  # fmt: skip
    knows = at_least(now, first, board.steps)
    if knows is None:
        says = Answers("CPU-FIRMWARE", subject, FIRMWARE_TEXT, tuple(facts))
        return says.unknown(
            phrase("cannot order these two: {now} and {first}", now=now, first=first),
            "The maker's own order of versions.",
        )
    if knows:
        return Answers("CPU-FIRMWARE", subject, FIRMWARE_TEXT, tuple(facts)).fits(
            phrase("firmware {now} knows it", now=now)
        )
    between = _between(now, first, board.steps)
    facts.append(Fact("versions on the way", joined(", ", between) or "none known", Origin.CATALOGUE))
    says = Answers("CPU-FIRMWARE", subject, FIRMWARE_TEXT, tuple(facts))
    target = phrase("firmware {first}", first=first) + (
        phrase(", by way of {between}", between=joined(", ", between)) if between else ""
    )
    if not ground.around.starts:
        return says.refused(
            phrase("circular: {target} needs a machine that starts, and it does not start as it is", target=target),
            "A machine that starts with its old processor.",
        )
    words = phrase("{target} first, with the old processor fitted", target=target)
    after = ("new CMOS battery",) if board.date_cell_weak else ()
    return says.needs(target, "Firmware that knows it already.", words, after)


def _read_first(ground: FitGround, subject: Subject, first: str) -> Verdict:
    """Nobody read the version: it is read, and updated where it is older; the answer can be typed in place."""
    facts = (on_part("first version that knows it", first),
             on_machine(ground, "firmware now", None, "identity.firmware"))  # fmt: skip
    says = Answers("CPU-FIRMWARE", subject, FIRMWARE_TEXT, facts)
    words = phrase(
        "firmware at least {first}: read it on the first firmware page, update an older one first", first=first
    )
    after = ("new CMOS battery",) if ground.machine.platform.board.date_cell_weak else ()
    return replace(
        says.needs(
            phrase("firmware at least {first}: read it, update an older one", first=first),
            "A version that knows it.",
            words,
            after,
        ),
        gap=VERSION,
    )


def _between(now: str, target: str, steps: tuple[str, ...]) -> tuple[str, ...]:
    if target not in steps:
        return ()
    end = steps.index(target)
    older = (k for k in range(end) if at_least(now, steps[k], steps) is not True)
    begin = steps.index(now) + 1 if now in steps else next(older, end)
    return steps[begin:end]


def graphics(ground: FitGround, subject: Subject) -> Verdict:
    chip = chip_of(subject)
    cards = [c for c in ground.config.cards().values() if shows_picture(ground, c)]
    gap = Gap(
        phrase("graphics of {chip}", chip=chip.name),
        "processor's own graphics",
        (True, False),
        "look into its data sheet",
        1,
    )
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
    gap = Gap(
        phrase("memory of {chip}", chip=chip.name),
        "processor's memory generations",
        (there, ()),
        "look into its data sheet",
        1,
    )
    drives = ground.need(chip.memory, gap)
    facts = (on_part("processor drives", drives), on_machine(ground, "board's memory", there, "slots"),
             on_part("channels", chip.memory_channels), on_part("memory speed", chip.memory_mts, "MT/s"))  # fmt: skip
    text = "Type, speed and channels of the memory are the processor's; the board only leads to them."
    says = Answers("CPU-MEM", subject, text, facts)
    if any(g not in drives for g in there):
        return says.refused(
            phrase("it does not drive {there}", there=joined(" or ", there)), "One that drives the board's memory."
        )
    channels_gap = Gap("memory.channels", "board's memory channels", tuple(range(1, len(machine.slots) + 1)) or (1,),
                       "look into the board's handbook", 3)  # fmt: skip
    board = ground.need(machine.memory.channels, channels_gap) if chip.memory_channels is not None else None
    if chip.memory_channels is not None and board is not None and chip.memory_channels < board:
        return says.limited(
            phrase("{memory_channels} memory channel of {board}", memory_channels=chip.memory_channels, board=board),
            phrase("{memory_channels} channels", memory_channels=chip.memory_channels),
            "One with all channels.",
        )
    return says.fits(phrase("drives {there}", there=joined(" and ", there) or "no memory recorded"))


def _asked(ground: FitGround) -> tuple[Subject, ...]:
    """The machine as it will be, whether or not its processor changes: its floor is the system's."""
    return () if ground.around.system is None else new_processor(ground) or (Subject(()),)


def features(ground: FitGround, subject: Subject) -> Verdict:
    system, board = ground.around.system, ground.machine.platform.board
    assert system is not None
    has = _instructions(ground, subject) if system.features else ()
    lacks = tuple(f for f in system.features if f not in has)
    facts = (
        Fact("system asks for", joined(", ", (*system.features, *system.functions)) or "nothing", Origin.CATALOGUE),
        on_part("processor has", has),
    )
    text = "A system may ask for instructions of the processor and for functions of firmware and board."
    says = Answers("CPU-ISA", subject, text, facts)
    if lacks:
        return says.refused(
            phrase("the planned system needs {lacks}", lacks=joined(", ", lacks)),
            "A newer processor, or another system.",
        )
    wants = (*system.functions, *((BootMode.UEFI,) if system.boot_mode is BootMode.UEFI else ()))
    offered_gap = Gap("platform.board.functions", "functions of firmware and board", (wants, ()),
                      "look into the firmware set-up", 3)  # fmt: skip
    offered = ground.need(board.functions, offered_gap) if wants else ()
    if any(w not in offered for w in wants):
        return says.refused(
            phrase("the board lacks {wants}", wants=joined(", ", (w for w in wants if w not in offered))),
            "Another system.",
        )
    return says.fits("has what the planned system asks for")


def _instructions(ground: FitGround, subject: Subject) -> tuple[str, ...]:
    """Of the processor that will be there: planned, fitted as a part, or as the machine's record states it."""
    gap = Gap("processor.features", "processor's instructions", (FEATURES, ()), "scan its flags", 1)
    part = subject.part if isinstance(subject.part, ProcessorPart) else ground.config.processor()
    if part is None or (part.features is None and part == ground.today.processor()):
        return ground.need(ground.machine.processor.features, gap)
    own = Gap(
        phrase("features of {part}", part=part.name),
        "processor's instructions",
        (FEATURES, ()),
        "look into its data sheet",
        2,
    )
    return ground.need(part.features, own)


PROCESSOR_RULES: tuple[Rule, ...] = (
    Rule("CPU-MOUNT", "Mounting", new_processor, mount),
    Rule("CPU-SOCKET", "Socket", new_processor, socket),
    Rule("CPU-CHIPSET", "Chipset", new_processor, chipset),
    Rule("CPU-FIRMWARE", "Firmware", new_processor, firmware),
    Rule("CPU-GFX", "Graphics", new_processor, graphics, ("processor", "card")),
    Rule("CPU-MEM", "Memory of the processor", new_processor, memory),
    Rule("CPU-ISA", "Instructions and functions", _asked, features),
)
