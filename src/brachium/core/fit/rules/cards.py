"""Card rules of place and start: GFX-SLOT, GFX-FW, NET-RADIO."""

from __future__ import annotations

from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.card_parts import Card, RadioCard, RadioKey
from brachium.core.machine.links import PCIE_LANE_MB_S
from brachium.core.machine.platform import BootMode, CardSlot

GENERATIONS = (1, 2, 3, 4, 5)
WIDTHS = (1, 4, 8, 16)
SLOT_TEXT = "Width, length, thickness and bracket must suit; PCIe generations mix, the link runs at the slower of both."


def cards_of(ground: FitGround) -> tuple[Subject, ...]:
    """New cards at places for cards."""
    places = {c.id for c in ground.machine.platform.cards}
    return tuple(s for s in ground.fresh(Card) if s.places[0] in places)


def card_in(ground: FitGround, subject: Subject) -> tuple[CardSlot, Card]:
    slot = next(c for c in ground.machine.platform.cards if c.id == subject.places[0])
    assert isinstance(subject.part, Card)
    return slot, subject.part


def slot(ground: FitGround, subject: Subject) -> Verdict:
    """In a box outside the machine only the link counts: it has room and a supply of its own."""
    place, card = card_in(ground, subject)
    name, stem = place.label.lower(), f"platform.cards.{place.id}"
    edge, edge_generation = _edge(ground, card)
    lanes_gap = Gap(f"{stem}.lanes", f"lanes of {name}", WIDTHS, "look at the length of its connector", 1)
    width = ground.need(place.lanes, lanes_gap)
    facts = (
        on_part("card", f"gen {edge_generation} x{edge}, {card.length_mm or '?'} mm, {card.thickness or '?'} thick"),
        on_machine(ground, place.label, f"x{width}, wired x{place.wired or '?'}", "platform.cards"),
        on_machine(ground, "room", "in a box outside" if place.outside else place.length_mm, "platform.cards",
                   "" if place.outside else "mm"),
    )  # fmt: skip
    says = Answers("GFX-SLOT", subject, SLOT_TEXT, facts)
    problem = None if place.outside else _no_room(ground, place, card, says, edge > width)
    if problem is not None:
        return problem
    generation_gap = Gap(f"{stem}.generation", f"PCIe generation of {name}", GENERATIONS, "scan the link", 1)
    generation = min(edge_generation, ground.need(place.generation, generation_gap))
    wired_gap = Gap(f"{stem}.wired", f"lanes wired to {name}", WIDTHS, "scan the link, or count the contacts", 1)
    lanes = min(edge, ground.need(place.wired, wired_gap))
    link, own = lanes * PCIE_LANE_MB_S[generation], edge * PCIE_LANE_MB_S[edge_generation]
    if link < own:
        words = f"gen {generation} x{lanes}: {link / 1000:.1f} of {own / 1000:.1f} GB/s"
        return says.limited(words, words, "A newer board.")
    return says.fits(f"gen {generation} x{lanes}, {link / 1000:.1f} GB/s")


def _no_room(ground: FitGround, place: CardSlot, card: Card, says: Answers, too_wide: bool) -> Verdict | None:
    """A connector that ends, a case that is too short, a neighbour, a low bracket."""
    name, stem = place.label.lower(), f"platform.cards.{place.id}"
    open_gap = Gap(f"{stem}.open_end", f"end of {name}", (True, False), "look whether its far end is open", 1)
    if too_wide and not ground.need(place.open_end, open_gap):
        return says.refused(f"an x{card.lanes} edge does not go into a closed x{place.lanes} slot", "An open end.")
    long = ground.need(card.length_mm, Gap(f"length of {card.name}", f"length of {card.name}",
                                           (100.0, 170.0, 240.0, 330.0), "look into its data sheet", 1,
                                           "mm"))  # fmt: skip
    room_gap = Gap(f"{stem}.length_mm", f"room for a card in {name}", either_side(long),
                   "measure from the bracket to what stands in its way", 3, "mm")  # fmt: skip
    room = ground.need(place.length_mm, room_gap)
    if long > room:
        return says.refused(f"{long:g} mm long, room for {room:g} mm", f"A card of at most {room:g} mm.")
    thick_gap = Gap(f"{stem}.thickness", f"thickness free at {name}", (1, 2, 3), "look at the neighbours", 1)
    thick = ground.need(card.thickness, Gap(f"thickness of {card.name}", f"thickness of {card.name}", (1, 2, 3),
                                            "count the brackets it covers", 1))  # fmt: skip
    if thick > 1 and thick > ground.need(place.thickness, thick_gap):
        return says.refused(f"{thick} slots thick, the neighbour is in the way", "A thinner card.")
    low_gap = Gap("platform.case.low_profile", "height of card slots", (True, False),
                  "look at the brackets: 80 mm = low profile", 1)  # fmt: skip
    if not _low_profile(ground, card) and ground.need(ground.machine.platform.case.low_profile, low_gap):
        return says.refused("full height in a low-profile case", "A low-profile card with its bracket.")
    return None


def _edge(ground: FitGround, card: Card) -> tuple[int, int]:
    """Lanes and generation of a card's edge."""
    lanes = Gap(f"lanes of {card.name}", f"lanes of {card.name}", WIDTHS, "count the contacts of its edge", 1)
    generation = Gap(f"generation of {card.name}", f"PCIe generation of {card.name}", GENERATIONS,
                     "look into its data sheet", 2)  # fmt: skip
    return ground.need(card.lanes, lanes), ground.need(card.generation, generation)


def _low_profile(ground: FitGround, card: Card) -> bool:
    gap = Gap(f"height of {card.name}", f"height of {card.name}", (False, True), "look at its bracket", 1)
    return ground.need(card.low_profile, gap)


def firmware(ground: FitGround, subject: Subject) -> Verdict:
    card = subject.part
    assert isinstance(card, Card)
    system = ground.machine.platform.system
    text = "A card whose firmware speaks UEFI only shows nothing under the old start mode before the system loads."
    gap = Gap(f"firmware of {card.name}", "card's start firmware", (True, False), "look into its data sheet", 2)
    mode_gap = Gap(
        "platform.system.boot_mode", "start mode of the installed system", tuple(BootMode), "ask the system", 1
    )
    facts = (on_part("needs UEFI", card.needs_uefi), on_part("old start firmware", card.legacy_only),
             on_machine(ground, "start mode", system.boot_mode, "platform.system.boot_mode"))  # fmt: skip
    says = Answers("GFX-FW", subject, text, facts)
    if not shows_picture(ground, card):
        return says.fits("shows no picture anyway")
    mode = ground.need(system.boot_mode, mode_gap)
    if mode is BootMode.LEGACY and ground.need(card.needs_uefi, gap):
        return says.limited("no picture before the system loads", "set-up only with another card", "UEFI start.")
    if mode is BootMode.UEFI and card.legacy_only:
        return says.limited("no picture under UEFI start before the system loads", "old start firmware",
                            "A card with newer start firmware, or legacy start.")  # fmt: skip
    return says.fits("picture from the start")


def shows_picture(ground: FitGround, card: Card) -> bool:
    """Whether it is a graphics card: as stated, else what has graphics memory, outputs or a rate is one."""
    told = any(v is not None for v in (card.graphics_rate, card.memory_bytes, card.outputs))
    gap = Gap(f"display of {card.name}", f"picture from {card.name}", (True, False), "look for screen plugs on it", 1)
    return ground.need(card.display if card.display is not None else True if told else None, gap)


def radio(ground: FitGround, subject: Subject) -> Verdict:
    card, place = subject.part, ground.machine.platform.radio
    assert isinstance(card, RadioCard)
    text = "Edge key, antennas and their plug must suit; some firmware starts only with cards on its own list."
    key_gap = Gap("platform.radio.key", "edge key of the radio slot", tuple(RadioKey), "look at the slot", 2)
    count_gap = Gap("platform.radio.antennas", "antennas there", (1, 2, 3, 4), "count them", 1)
    plug_gap = Gap("platform.radio.plug", "antenna plug", (card.plug, "another"), "look at it with a lens", 1)
    list_gap = Gap("platform.radio.allowed", "cards that the firmware allows", ((), ("another",)), "look it up for the "
                   "model", 4)  # fmt: skip
    key = ground.need(place.key, key_gap) if card.key is not RadioKey.A_E else place.key
    facts = (
        on_part("card", f"key {card.key}, {card.antennas or '?'} antennas"),
        on_machine(ground, "place", f"key {key or '?'}, {place.antennas or '?'} antennas", "platform.radio"),
    )
    says = Answers("NET-RADIO", subject, text, facts)
    if card.key is not RadioKey.A_E and key not in (card.key, RadioKey.A_E):
        return says.refused(f"key {card.key} does not go into a key {key} slot", f"A card with key {key} or A+E.")
    allowed = ground.need(place.allowed, list_gap)
    if allowed and card.id not in allowed:
        return says.refused("the firmware does not list it", "A card from the firmware's own list.")
    wired = _wired_to_processor(ground, card, says)
    if wired is not None:
        return wired
    if card.plug and ground.need(place.plug, plug_gap) != card.plug:
        return says.needs(f"antenna cables with {card.plug} plugs", "A card with the plugs that are there.")
    antennas = ground.need(place.antennas, count_gap)
    wants = ground.need(card.antennas, Gap(f"antennas of {card.name}", "card's antennas", (1, 2, 3, 4),
                                           "count the plugs on the card", 1))  # fmt: skip
    if antennas < wants:
        return says.limited(f"{antennas} of {wants} antennas", "slower and shorter reach", "A further antenna.")
    return says.fits(f"key {card.key}, {wants} antennas there")


def _wired_to_processor(ground: FitGround, card: RadioCard, says: Answers) -> Verdict | None:
    """Cards of key E of which half sits in the processor work in places wired to one, and no others do there."""
    place = ground.machine.platform.radio
    if card.processor_bus is None and not place.processor_bus:
        return None
    wired_gap = Gap("platform.radio.processor_bus", "wiring of the radio slot", (True, False),
                    "look up the card that is in it", 3)  # fmt: skip
    half_gap = Gap(f"bus of {card.name}", "whether half of the card sits in a processor", (True, False),
                   "look into its data sheet", 2)  # fmt: skip
    wired, half = ground.need(place.processor_bus, wired_gap), ground.need(card.processor_bus, half_gap)
    if half and not wired:
        return says.refused("half of it sits in a processor, the slot is not wired to one", "A whole card.")
    if wired and not half:
        return says.refused("a whole card, and the slot is wired to the processor alone",
                            "A card of which half sits in the processor.")  # fmt: skip
    return None


CARD_RULES: tuple[Rule, ...] = (
    Rule("GFX-SLOT", "Place of the card", cards_of, slot),
    Rule("GFX-FW", "Picture at start", cards_of, firmware),
    Rule("NET-RADIO", "Radio card", lambda ground: ground.fresh(RadioCard), radio),
)
