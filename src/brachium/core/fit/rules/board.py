"""Board rules: BRD-FORM, BRD-KEEP."""

from __future__ import annotations

from collections.abc import Hashable

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.locks import ANSWERS, NAMES
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.cooling_parts import Cooler
from brachium.core.machine.locks import LockState
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, Part
from brachium.core.machine.platform import COOLER, SOCKET, SUPPLY
from brachium.core.machine.power_parts import Supply
from brachium.core.machine.processor_part import ProcessorPart


def _boards(ground: FitGround) -> tuple[Subject, ...]:
    return ground.fresh(BoardPart)


def form(ground: FitGround, subject: Subject) -> Verdict:
    board, case = subject.part, ground.machine.platform.case
    assert isinstance(board, BoardPart)
    text = (
        "Outline, standoff positions, the cut-out behind the socket, supply and front-panel plugs must suit the case."
    )
    forms_gap = Gap(
        "platform.case.boards", "outlines that the case takes", ((board.form,), ()), "measure the screw holes", 5
    )
    forms = ground.need(case.boards, forms_gap)
    facts = (
        on_part("board", phrase("{form}, {standoffs} screw holes", form=board.form, standoffs=board.standoffs or "?")),
        on_machine(ground, "case takes", forms, "platform.case.boards"),
        on_machine(ground, "standoffs", case.standoffs, "platform.case.standoffs"),
    )
    says = Answers("BRD-FORM", subject, text, facts)
    if board.form not in forms:
        return says.refused(
            phrase(
                "outline {form}, the case takes {forms}", form=board.form, forms=joined(", ", forms) or "its own only"
            ),
            "Another outline.",
        )
    supply = ground.config.parts.get(SUPPLY)
    plugs_gap = Gap("parts.supply.own_plugs", "plugs of the supply", (True, False), "compare its main plug", 1)
    own = ground.need(
        board.own_plugs,
        Gap(
            phrase("plugs of {board}", board=board.name),
            "plugs of the board",
            (True, False),
            "look at its main power plug",
            1,
        ),
    )
    if own and not ground.need(supply.own_plugs if isinstance(supply, Supply) else None, plugs_gap):
        return says.refused("supply plugs of a maker's own", "A board with standard plugs.")
    header = Gap(
        phrase("front-panel plugs of {board}", board=board.name),
        "front-panel plugs of the board",
        (True, False),
        "look at its front edge",
        1,
    )
    if not ground.need(board.front_header, header):
        return says.needs("adapter for the front-panel plugs", "A board with standard front-panel plugs.")
    if board.standoffs is not None:
        count_gap = Gap(
            "platform.case.standoffs", "standoff positions of the case", either_side(board.standoffs), "count them", 2
        )
        there = ground.need(case.standoffs, count_gap)
        if there < board.standoffs:
            return says.needs(
                phrase("{standoffs:g} standoffs, one under every screw hole", standoffs=board.standoffs),
                "More standoffs at hand.",
            )
    if board.cutout and not ground.need(case.cutout, Gap("platform.case.cutout", "cut-out behind the socket",
                                                         (True, False), "look behind the tray", 1)):  # fmt: skip
        return says.limited(
            "no cut-out: the board comes out for its back plate", "more work later", "A case with cut-out."
        )
    return says.fits(phrase("outline {form}", form=board.form))


def keep(ground: FitGround, subject: Subject) -> Verdict:
    """What carries over; the memory, drive and processor rules judge each of the parts that stay."""
    board = subject.part
    assert isinstance(board, BoardPart)
    facts = (
        on_part(
            "memory",
            phrase(
                "{slots} × {memory_generation} {memory_form}",
                slots=board.slots,
                memory_generation=board.memory_generation,
                memory_form=board.memory_form,
            ),
        ),
        on_part("socket", board.socket),
        on_part("SATA ports", board.sata_ports),
        Fact("parts that stay", joined(", ", sorted({p.kind for p in ground.config.parts.values()})), Origin.PLANNED),
    )
    text = (
        "Another board keeps of the old parts only what suits it: memory, drives, cooler, cards, licence, start mode."
    )
    says = Answers("BRD-KEEP", subject, text, facts)
    return _no_room(ground, board, says) or _chip_and_cooler(ground, board, says) or _licence(ground, says)


def _no_room(ground: FitGround, board: BoardPart, says: Answers) -> Verdict | None:
    """A module or drive that has no place left, or a drive no port."""
    slots, bays = {s.id for s in ground.machine.slots}, {b.id for b in ground.machine.bays}
    lost = [p.name for k, p in ground.config.modules().items() if k not in slots]
    lost += [p.name for k, p in ground.config.drives().items() if k not in bays]
    if lost:
        return says.refused(
            phrase("no slot left for {fromkeys}", fromkeys=joined(", ", dict.fromkeys(lost))),
            "A board with more slots.",
        )
    drives = ground.config.drives().values()
    sata = sum(d.interface is DriveInterface.SATA and d.form is not BayForm.M2 for d in drives)
    flat = sum(d.form is BayForm.M2 for d in drives)
    places = (
        ground.need(
            board.m2_places,
            Gap(phrase("M.2 slots of {board}", board=board.name), "M.2 slots of the board", (0, flat), "count them", 1),
        )
        if flat
        else 0
    )
    if flat > places:
        return says.refused(
            phrase("{flat} M.2 drives, {places} slots for them", flat=flat, places=places),
            "A board with more M.2 slots.",
        )
    ports = (
        ground.need(
            board.sata_ports,
            Gap(
                phrase("SATA ports of {board}", board=board.name),
                "SATA ports of the board",
                either_side(sata),
                "count them",
                1,
            ),
        )
        if sata
        else 0
    )
    if sata > ports:
        return says.refused(
            phrase("{sata} SATA drives, {ports} ports", sata=sata, ports=ports), "A board with more ports."
        )
    return None


def _chip_and_cooler(ground: FitGround, board: BoardPart, says: Answers) -> Verdict | None:
    """A processor or cooler that stays and does not suit the board."""
    chip, cooler = ground.config.processor(), ground.config.cooler()
    stays = SOCKET not in ground.changed
    if chip is None or (stays and chip.socket != board.socket):
        return says.needs(phrase("a processor for {socket}", socket=board.socket), "A board for the old processor.")
    if stays and chip.family and board.families and chip.family not in board.families:
        return says.refused(
            phrase("its chipset does not list the {family} that stays", family=chip.family), "A board that lists it."
        )
    if cooler is not None and COOLER not in ground.changed and board.cooler_pattern not in ("", *cooler.patterns):
        return says.needs(
            phrase("a mount for {cooler_pattern} or another cooler", cooler_pattern=board.cooler_pattern),
            "A board with the old hole pattern.",
        )
    return None


def _licence(ground: FitGround, says: Answers) -> Verdict:
    licence = ground.around.locks.licence
    asked = None if licence is LockState.NOT_ASKED else licence
    if ground.need(asked, Gap("locks.licence", NAMES["licence"], ANSWERS, "ask the owner", 1)) is LockState.SHUT:
        return says.limited("the system's licence stays with the old board", "a new licence", "A licence of its own.")
    return says.fits("the parts that stay carry over")


def _seen_by_board(part: Part) -> Hashable:
    match part:
        case Drive():
            return part.kind, part.interface, part.form
        case ProcessorPart():
            return part.kind, part.socket, part.family
        case Cooler():
            return part.kind, part.patterns
        case _:
            return part.kind


BOARD_RULES: tuple[Rule, ...] = (
    Rule("BRD-FORM", "Outline and plugs", _boards, form),
    Rule(
        "BRD-KEEP",
        "What carries over",
        _boards,
        keep,
        ("board", "memory", "drive", "processor", "cooler"),
        _seen_by_board,
        needs_parts=True,
    ),
)
