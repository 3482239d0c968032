"""Cooling rules of coolers and fans: COOL-MOUNT, COOL-RATE, COOL-FAN."""

from __future__ import annotations

from collections.abc import Hashable

from brachium.core.base.text import lower_first, phrase
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.assumptions import HEADER_A
from brachium.core.fit.engine import FitGround, Rule, Subject, nameless
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.cooling_parts import AirPath, Cooler, Fan, FanPlug
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.parts import Part
from brachium.core.machine.platform import FanHeader


def _coolers(ground: FitGround) -> tuple[Subject, ...]:
    return ground.fresh(Cooler)


def mount(ground: FitGround, subject: Subject) -> Verdict:
    cooler, machine = subject.part, ground.machine
    assert isinstance(cooler, Cooler)
    board, case = machine.platform.board, machine.platform.case
    height = ground.need(
        cooler.height_mm,
        Gap(
            phrase("height of {cooler}", cooler=cooler.name),
            "cooler's height",
            (30.0, 60.0, 120.0, 165.0),
            "look into its data sheet",
            1,
            "mm",
        ),
    )
    room_gap = Gap("platform.case.cooler_mm", "room for a cooler", either_side(height),
                   "measure from the processor to the "
                   "panel", 3, "mm")  # fmt: skip
    text = (
        "The cooler's mounting, its height under the panel, the room over the memory and the way of the air must suit."
    )
    facts = (
        on_part("mountings", cooler.patterns), on_machine(ground, "socket", board.socket, "platform.board.socket"),
        on_part("height", height, "mm"), on_machine(ground, "room", case.cooler_mm, "platform.case.cooler_mm", "mm"),
    )  # fmt: skip
    says = Answers("COOL-MOUNT", subject, text, facts)
    if not mounted(ground, cooler.patterns):
        return says.refused(
            phrase("no mounting for {cooler_pattern}", cooler_pattern=board.cooler_pattern or board.socket),
            "A cooler for this board.",
        )
    room = ground.need(case.cooler_mm, room_gap)
    if height > room:
        return says.refused(
            phrase("{height:g} mm high, {room:g} mm under the panel", height=height, room=room),
            phrase("One of at most {room:g} mm.", room=room),
        )
    air = ground.need(
        cooler.air,
        Gap(phrase("air of {cooler}", cooler=cooler.name), "cooler's way of the air", tuple(AirPath), "look at it", 1),
    )
    air_gap = Gap("platform.case.air", "way of the air in the case", tuple(AirPath), "look for a duct", 1)
    if air is not AirPath.OUT and ground.need(case.air, air_gap) is AirPath.OUT:
        return says.refused("the case's duct takes the air, this one does not lead into it", "A cooler for the duct.")
    behind = _behind_the_board(ground, cooler, says)
    if behind is not None:
        return behind
    if cooler.over_memory_mm is not None and _tallest(ground) > cooler.over_memory_mm:
        tall, left = _tallest(ground), cooler.over_memory_mm
        return says.refused(
            phrase("memory is {tall:g} mm high, {left:g} mm are left over it", tall=tall, left=left), "Flat modules."
        )
    return says.fits(phrase("mounting there, {height:g} of {room:g} mm", height=height, room=room))


def _behind_the_board(ground: FitGround, cooler: Cooler, says: Answers) -> Verdict | None:
    """A back plate of its own wants a cut-out in the tray, or the board comes out."""
    if not cooler.back_plate:
        return None
    gap = Gap("platform.case.cutout", "cut-out behind the socket", (True, False), "look behind the tray", 1)
    if ground.need(ground.machine.platform.case.cutout, gap):
        return None
    return says.limited("fits; the board comes out for its back plate", "more work", "A cooler without a back plate.")


def mounted(ground: FitGround, patterns: tuple[str, ...]) -> bool:
    """Whether a cooler with these mountings goes onto the board, by its socket or by the board's own pattern."""
    board = ground.machine.platform.board
    if board.socket in patterns:
        return True
    gap = Gap("platform.board.cooler_pattern", "board's mounting pattern", (*patterns, "another"),
              "read the board's print, or measure the holes", 3)  # fmt: skip
    return ground.need(board.cooler_pattern, gap) in patterns


def _tallest(ground: FitGround) -> float:
    """Height of the tallest module; one without a recorded height is a bare one (JEDEC DIMM outline: 31.25 mm)."""
    return max((m.height_mm or 31.25 for m in ground.config.modules().values()), default=0.0)


def rate(ground: FitGround, subject: Subject) -> Verdict:
    cooler = subject.part
    assert isinstance(cooler, Cooler)
    chip = ground.config.processor()
    own = chip.power_w if chip is not None else ground.machine.processor.design_power_w
    watts = ground.need(own, Gap("processor.design_power_w", "processor's design power", (35.0, 65.0, 95.0, 140.0),
                                 "look into its data sheet", 2, "W"))  # fmt: skip
    rated = ground.need(
        cooler.rated_w,
        Gap(
            phrase("rating of {cooler}", cooler=cooler.name),
            "cooler's rated power",
            either_side(watts),
            "look into its data sheet",
            1,
            "W",
        ),
    )
    facts = (on_part("rated for", rated, "W"), on_machine(ground, "processor", watts, "processor.design_power_w", "W"))
    says = Answers("COOL-RATE", subject, "Its rated power must not be under what the processor draws for long.", facts)
    if rated < watts:
        return says.limited(
            phrase("rated for {rated:g} W, the processor draws {watts:g} W", rated=rated, watts=watts),
            phrase("{rated:g} W", rated=rated),
            "A larger cooler.",
        )
    return says.fits(phrase("rated for {rated:g} W, {watts:g} W needed", rated=rated, watts=watts))


def fan(ground: FitGround, subject: Subject) -> Verdict:
    fan, place = subject.part, subject.places[0]
    assert isinstance(fan, Fan)
    header = next((h for h in ground.machine.platform.headers if h.id == place), None)
    text = (
        "Plug, current, frame and thickness must suit; without a speed signal some firmware stops or runs it at full."
    )
    if header is None:
        return Answers("COOL-FAN", subject, text).refused("there is no plug for it", "A header with a plug.")
    plug_gap = Gap(
        f"platform.headers.{place}.plug",
        phrase("plug at {header}", header=lower_first(header.label)),
        tuple(FanPlug),
        "look at it",
        1,
    )
    plug = ground.need(header.plug, plug_gap)
    facts = (
        on_part("fan", _fan_words(fan)),
        on_machine(
            ground,
            header.label,
            phrase("{plug}, {current_a:g} A", plug=plug, current_a=header.current_a or HEADER_A),
            "platform.headers",
        ),
    )
    says = Answers("COOL-FAN", subject, text, facts)
    if FanPlug.OWN in (plug, fan.plug) and plug is not fan.plug:
        return says.refused("the maker's own plug: a standard fan does not go in", "The maker's own fan.")
    problem = (
        _too_large(ground, fan, header, says) or _too_strong(ground, fan, header, says)
        or _silent(ground, fan, header, says)
    )  # fmt: skip
    if problem is not None:
        return problem
    if plug is FanPlug.PIN_3 and fan.plug is FanPlug.PIN_4:
        return says.limited("a 4-pin fan on a 3-pin plug: runs at full speed only", "full speed", "A 3-pin fan.")
    if plug is FanPlug.PIN_4 and fan.plug is FanPlug.PIN_3:
        return says.limited("three pins: steered by voltage or not at all", "speed may not be steered", "A 4-pin fan.")
    return says.fits(phrase("{plug} on a {plug2} plug", plug=fan.plug, plug2=plug))


def _too_large(ground: FitGround, fan: Fan, header: FanHeader, says: Answers) -> Verdict | None:
    """Its frame must be just that of the place, its thickness at most."""
    sizes = (("size_mm", fan.size_mm, header.size_mm, "frame"),
             ("thickness_mm", fan.thickness_mm, header.thickness_mm, "thickness"))  # fmt: skip
    for attribute, own, there, word in sizes:
        if own is None:
            continue
        gap = Gap(
            f"platform.headers.{header.id}.{attribute}",
            phrase("{word} of the fan at {header}", word=word, header=lower_first(header.label)),
            either_side(own),
            "measure it",
            2,
            "mm",
        )
        room = ground.need(there, gap)
        if own > room or (attribute == "size_mm" and own != room):
            return says.refused(
                phrase("{word} {own:g} mm, the frame takes {room:g} mm", word=word, own=own, room=room),
                phrase("A fan of {room:g} mm.", room=room),
            )
    return None


def _fan_words(fan: Fan) -> str:
    return phrase(
        "{plug}, {size_mm} x {thickness_mm} mm, {current_a} A",
        plug=fan.plug,
        size_mm=fan.size_mm or "?",
        thickness_mm=fan.thickness_mm or "?",
        current_a=fan.current_a or "?",
    )


def _silent(ground: FitGround, fan: Fan, header: FanHeader, says: Answers) -> Verdict | None:
    """It tells no speed where the firmware wants one."""
    gap = Gap(f"platform.headers.{header.id}.needs_speed", "firmware's wish for a speed signal", (True, False),
              "unplug the fan for a start and see", 4)  # fmt: skip
    tells = fan.tells_speed if fan.tells_speed is not None or fan.plug is FanPlug.OWN else True  # their third wire
    own_gap = Gap(
        phrase("speed signal of {fan}", fan=fan.name),
        "fan's speed signal",
        (True, False),
        "count its wires: three or four",
        1,
    )
    if tells is not True and ground.need(header.needs_speed, gap) and not ground.need(tells, own_gap):
        return says.refused("the firmware wants a speed signal, it gives none", "A fan with a speed signal.")
    return None


def _too_strong(ground: FitGround, fan: Fan, header: FanHeader, says: Answers) -> Verdict | None:
    """It may draw no more than its plug gives; one that does not say its current is not judged."""
    if not fan.current_a:
        return None
    gap = Gap(
        f"platform.headers.{header.id}.current_a",
        phrase("current of {header}", header=lower_first(header.label)),
        either_side(fan.current_a),
        phrase("look into the board's handbook; {header_a:g} A is common", header_a=HEADER_A),
        4,
        "A",
    )
    gives = ground.need(header.current_a, gap)
    if fan.current_a > gives:
        return says.refused(
            phrase("draws {current_a:g} A, the plug gives {gives:g} A", current_a=fan.current_a, gives=gives),
            "A weaker fan.",
        )
    return None


def _seen_by_mount(part: Part) -> Hashable:
    return part.height_mm if isinstance(part, MemoryModule) else nameless(part)


COOLING_RULES: tuple[Rule, ...] = (
    Rule("COOL-MOUNT", "Mounting, height, air", _coolers, mount, ("cooler", "memory"), _seen_by_mount),
    Rule("COOL-RATE", "Rated power", _coolers, rate, ("cooler", "processor")),
    Rule("COOL-FAN", "Fan", lambda ground: ground.fresh(Fan), fan),
)
