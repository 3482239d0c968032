"""Card rules of place and start: GFX-SLOT, GFX-FW, NET-RADIO."""

from __future__ import annotations

from brachium.core.base.text import lower_first, phrase
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
    name, stem = lower_first(place.label), f"platform.cards.{place.id}"
    edge, edge_generation = _edge(ground, card)
    lanes_gap = Gap(
        f"{stem}.lanes", phrase("lanes of {name}", name=name), WIDTHS, "look at the length of its connector", 1
    )
    width = ground.need(place.lanes, lanes_gap)
    facts = (
        on_part(
            "card",
            phrase(
                "gen {edge_generation} x{edge}, {length_mm} mm, {thickness} thick",
                edge_generation=edge_generation,
                edge=edge,
                length_mm=card.length_mm or "?",
                thickness=card.thickness or "?",
            ),
        ),
        on_machine(
            ground,
            place.label,
            phrase("x{width}, wired x{wired}", width=width, wired=place.wired or "?"),
            "platform.cards",
        ),
        on_machine(
            ground,
            "room",
            "in a box outside" if place.outside else place.length_mm,
            "platform.cards",
            "" if place.outside else "mm",
        ),
    )
    says = Answers("GFX-SLOT", subject, SLOT_TEXT, facts)
    problem = None if place.outside else _no_room(ground, place, card, says, edge > width)
    if problem is not None:
        return problem
    generation_gap = Gap(
        f"{stem}.generation", phrase("PCIe generation of {name}", name=name), GENERATIONS, "scan the link", 1
    )
    generation = min(edge_generation, ground.need(place.generation, generation_gap))
    wired_gap = Gap(
        f"{stem}.wired", phrase("lanes wired to {name}", name=name), WIDTHS, "scan the link, or count the contacts", 1
    )
    lanes = min(edge, ground.need(place.wired, wired_gap))
    link, own = lanes * PCIE_LANE_MB_S[generation], edge * PCIE_LANE_MB_S[edge_generation]
    if link < own:
        words = phrase(
            "gen {generation} x{lanes}: {link:.1f} of {own:.1f} GB/s",
            generation=generation,
            lanes=lanes,
            link=link / 1000,
            own=own / 1000,
        )
        return says.limited(words, words, "A newer board.")
    return says.fits(
        phrase("gen {generation} x{lanes}, {link:.1f} GB/s", generation=generation, lanes=lanes, link=link / 1000)
    )


def _no_room(ground: FitGround, place: CardSlot, card: Card, says: Answers, too_wide: bool) -> Verdict | None:
    """A connector that ends, a case that is too short, a neighbour, a low bracket."""
    name, stem = lower_first(place.label), f"platform.cards.{place.id}"
    open_gap = Gap(
        f"{stem}.open_end", phrase("end of {name}", name=name), (True, False), "look whether its far end is open", 1
    )
    if too_wide and not ground.need(place.open_end, open_gap):
        return says.refused(
            phrase("an x{lanes} edge does not go into a closed x{lanes2} slot", lanes=card.lanes, lanes2=place.lanes),
            "An open end.",
        )
    long = ground.need(
        card.length_mm,
        Gap(
            phrase("length of {card}", card=card.name),
            phrase("length of {card}", card=card.name),
            (100.0, 170.0, 240.0, 330.0),
            "look into its data sheet",
            1,
            "mm",
        ),
    )
    room_gap = Gap(f"{stem}.length_mm", phrase("room for a card in {name}", name=name), either_side(long),
                   "measure from the bracket to what stands in its way", 3, "mm")  # fmt: skip
    room = ground.need(place.length_mm, room_gap)
    if long > room:
        return says.refused(
            phrase("{long:g} mm long, room for {room:g} mm", long=long, room=room),
            phrase("A card of at most {room:g} mm.", room=room),
        )
    thick_gap = Gap(
        f"{stem}.thickness", phrase("thickness free at {name}", name=name), (1, 2, 3), "look at the neighbours", 1
    )
    thick = ground.need(
        card.thickness,
        Gap(
            phrase("thickness of {card}", card=card.name),
            phrase("thickness of {card}", card=card.name),
            (1, 2, 3),
            "count the brackets it covers",
            1,
        ),
    )
    if thick > 1 and thick > ground.need(place.thickness, thick_gap):
        return says.refused(phrase("{thick} slots thick, the neighbour is in the way", thick=thick), "A thinner card.")
    low_gap = Gap("platform.case.low_profile", "height of card slots", (True, False),
                  "look at the brackets: 80 mm = low profile", 1)  # fmt: skip
    if not _low_profile(ground, card) and ground.need(ground.machine.platform.case.low_profile, low_gap):
        return says.refused("full height in a low-profile case", "A low-profile card with its bracket.")
    return None


def _edge(ground: FitGround, card: Card) -> tuple[int, int]:
    """Lanes and generation of a card's edge."""
    lanes = Gap(
        phrase("lanes of {card}", card=card.name),
        phrase("lanes of {card}", card=card.name),
        WIDTHS,
        "count the contacts of its edge",
        1,
    )
    generation = Gap(
        phrase("generation of {card}", card=card.name),
        phrase("PCIe generation of {card}", card=card.name),
        GENERATIONS,
        "look into its data sheet",
        2,
    )
    return ground.need(card.lanes, lanes), ground.need(card.generation, generation)


def _low_profile(ground: FitGround, card: Card) -> bool:
    gap = Gap(
        phrase("height of {card}", card=card.name),
        phrase("height of {card}", card=card.name),
        (False, True),
        "look at its bracket",
        1,
    )
    return ground.need(card.low_profile, gap)


def firmware(ground: FitGround, subject: Subject) -> Verdict:
    card = subject.part
    assert isinstance(card, Card)
    system = ground.machine.platform.system
    text = "A card whose firmware speaks UEFI only shows nothing under the old start mode before the system loads."
    gap = Gap(
        phrase("firmware of {card}", card=card.name),
        "card's start firmware",
        (True, False),
        "look into its data sheet",
        2,
    )
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
    gap = Gap(
        phrase("display of {card}", card=card.name),
        phrase("picture from {card}", card=card.name),
        (True, False),
        "look for screen plugs on it",
        1,
    )
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
        on_part("card", phrase("key {key}, {antennas} antennas", key=card.key, antennas=card.antennas or "?")),
        on_machine(
            ground,
            "place",
            phrase("key {key}, {antennas} antennas", key=key or "?", antennas=place.antennas or "?"),
            "platform.radio",
        ),
    )
    says = Answers("NET-RADIO", subject, text, facts)
    if card.key is not RadioKey.A_E and key not in (card.key, RadioKey.A_E):
        return says.refused(
            phrase("key {key} does not go into a key {key2} slot", key=card.key, key2=key),
            phrase("A card with key {key} or A+E.", key=key),
        )
    allowed = ground.need(place.allowed, list_gap)
    if allowed and card.id not in allowed:
        return says.refused("the firmware does not list it", "A card from the firmware's own list.")
    wired = _wired_to_processor(ground, card, says)
    if wired is not None:
        return wired
    if card.plug and ground.need(place.plug, plug_gap) != card.plug:
        return says.needs(
            phrase("antenna cables with {plug} plugs", plug=card.plug), "A card with the plugs that are there."
        )
    antennas = ground.need(place.antennas, count_gap)
    wants = ground.need(
        card.antennas,
        Gap(
            phrase("antennas of {card}", card=card.name),
            "card's antennas",
            (1, 2, 3, 4),
            "count the plugs on the card",
            1,
        ),
    )
    if antennas < wants:
        return says.limited(
            phrase("{antennas} of {wants} antennas", antennas=antennas, wants=wants),
            "slower and shorter reach",
            "A further antenna.",
        )
    return says.fits(phrase("key {key}, {wants} antennas there", key=card.key, wants=wants))


def _wired_to_processor(ground: FitGround, card: RadioCard, says: Answers) -> Verdict | None:
    """Cards of key E of which half sits in the processor work in places wired to one, and no others do there."""
    place = ground.machine.platform.radio
    if card.processor_bus is None and not place.processor_bus:
        return None
    wired_gap = Gap("platform.radio.processor_bus", "wiring of the radio slot", (True, False),
                    "look up the card that is in it", 3)  # fmt: skip
    half_gap = Gap(
        phrase("bus of {card}", card=card.name),
        "whether half of the card sits in a processor",
        (True, False),
        "look into its data sheet",
        2,
    )
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
