"""Card rules: GFX-SLOT, GFX-POWER, GFX-FW, NET-RADIO."""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable

from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject, nameless
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.card_parts import Card, RadioCard, RadioKey
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.links import PCIE_LANE_MB_S
from brachium.core.machine.machine import LeadKind
from brachium.core.machine.parts import Part
from brachium.core.machine.platform import BootMode, CardSlot
from brachium.core.machine.power_parts import Supply

PLUG_W = {"6-pin": 75.0, "8-pin": 150.0, "16-pin": 600.0}
PLUG_LEADS = {"6-pin": (LeadKind.CARD_6, LeadKind.CARD_8), "8-pin": (LeadKind.CARD_8,)}
PLUG_CHOICES = ((), ("6-pin",), ("8-pin",), ("6-pin", "8-pin"), ("8-pin", "8-pin"))
FULL_W, SMALL_W = 75.0, 25.0


def _cards(ground: FitGround) -> tuple[Subject, ...]:
    places = {c.id for c in ground.machine.platform.cards}
    return tuple(s for s in ground.fresh(Card) if s.places[0] in places)


def _placed(ground: FitGround, subject: Subject) -> tuple[CardSlot, Card]:
    slot = next(c for c in ground.machine.platform.cards if c.id == subject.places[0])
    assert isinstance(subject.part, Card)
    return slot, subject.part


def slot(ground: FitGround, subject: Subject) -> Verdict:
    place, card = _placed(ground, subject)
    name, stem = place.label.lower(), f"platform.cards.{place.id}"
    edge, edge_generation = _edge(ground, place, card)
    text = "Width, length, thickness and bracket must suit; PCIe generations mix, the link runs at the slower of both."
    generation_gap = Gap(f"{stem}.generation", f"PCIe generation of {name}", (1, 2, 3, 4, 5), "scan the link", 1)
    facts = (
        on_part("card", f"gen {edge_generation} x{edge}, {card.length_mm or '?'} mm, {card.thickness or '?'} thick"),
        on_machine(ground, place.label, f"x{place.lanes}, wired x{place.wired or '?'}", "platform.cards"),
        on_machine(ground, "room", place.length_mm, "platform.cards", "mm"),
    )
    says = Answers("GFX-SLOT", subject, text, facts)
    open_gap = Gap(f"{stem}.open_end", f"end of {name}", (True, False), "look whether its far end is open", 1)
    if edge > place.lanes and not ground.need(place.open_end, open_gap):
        return says.refused(f"an x{edge} edge does not go into a closed x{place.lanes} place", "An open end.")
    if card.length_mm is not None:
        room_gap = Gap(f"{stem}.length_mm", f"room for a card in {name}", either_side(card.length_mm),
                       "measure from the "
                       "bracket to what stands in its way", 3, "mm")  # fmt: skip
        room = ground.need(place.length_mm, room_gap)
        if card.length_mm > room:
            return says.refused(f"{card.length_mm:g} mm long, room for {room:g} mm", f"A card of at most {room:g} mm.")
    thick_gap = Gap(f"{stem}.thickness", f"thickness free at {name}", (1, 2, 3), "look at the neighbours", 1)
    thick = ground.need(card.thickness, Gap(f"parts.{place.id}.thickness", f"thickness of {card.name}", (1, 2, 3),
                                            "count the brackets it covers", 1))  # fmt: skip
    if thick > 1 and thick > ground.need(place.thickness, thick_gap):
        return says.refused(f"{thick} places thick, the neighbour is in the way", "A thinner card.")
    low_gap = Gap("platform.case.low_profile", "height of card places", (True, False),
                  "look at the brackets: 80 mm = low "
                  "profile", 1)  # fmt: skip
    if not _low_profile(ground, place, card) and ground.need(ground.machine.platform.case.low_profile, low_gap):
        return says.refused("full height in a low-profile case", "A low-profile card with its bracket.")
    generation = min(edge_generation, ground.need(place.generation, generation_gap))
    wired_gap = Gap(f"{stem}.wired", f"lanes wired to {name}", (1, 4, 8, 16), "scan the link, or count the contacts", 1)
    lanes = min(edge, ground.need(place.wired, wired_gap))
    link, own = lanes * PCIE_LANE_MB_S[generation], edge * PCIE_LANE_MB_S[edge_generation]
    if link < own:
        words = f"gen {generation} x{lanes}: {link / 1000:.1f} of {own / 1000:.1f} GB/s"
        return says.limited(words, words, "A newer board.")
    return says.fits(f"gen {generation} x{lanes}, {link / 1000:.1f} GB/s")


def _edge(ground: FitGround, place: CardSlot, card: Card) -> tuple[int, int]:
    """Lanes and generation of a card's edge."""
    lanes = Gap(f"parts.{place.id}.lanes", f"lanes of {card.name}", (1, 4, 8, 16), "count the contacts of its edge", 1)
    generation = Gap(f"parts.{place.id}.generation", f"PCIe generation of {card.name}", (1, 2, 3, 4, 5),
                     "look into its data sheet", 2)  # fmt: skip
    return ground.need(card.lanes, lanes), ground.need(card.generation, generation)


def _low_profile(ground: FitGround, place: CardSlot, card: Card) -> bool:
    gap = Gap(f"parts.{place.id}.low_profile", f"height of {card.name}", (False, True), "look at its bracket", 1)
    return ground.need(card.low_profile, gap)


def power(ground: FitGround, subject: Subject) -> Verdict:
    place, card = _placed(ground, subject)
    draws = ground.need(card.power_w, Gap(f"power of {card.name}", "card's power", (20.0, 75.0, 150.0, 250.0),
                                          "look into its data sheet", 1, "W"))  # fmt: skip
    gives = _given_w(ground, place, card, draws)
    asked = ground.need(card.plugs, Gap(f"parts.{place.id}.plugs", f"power plugs of {card.name}", PLUG_CHOICES,
                                        "look at its upper and far edge", 1))  # fmt: skip
    plugs = sum(PLUG_W.get(p, 0.0) for p in asked)
    spare = Counter(lead.kind for lead in ground.machine.leads if lead.feeds in ("", place.id))
    facts = (
        on_part("card draws", draws, "W"), Fact("place gives", f"{gives:g} W", Origin.COMPUTED),
        on_part("its plugs", ", ".join(asked) or "none"),
        Fact("plugs of the supply", ", ".join(f"{n} × {k}" for k, n in spare.items()) or "none recorded",
             ground.machine.origin("leads")),
    )  # fmt: skip
    text = (
        "A place gives 75 W to a full-size x16 card, 25 W to low-profile, x4, x1 ones; 6-pin adds 75 W, 8-pin 150 W. "
        "The processor's 8-pin is not the card's. No plug, no card; leads are never re-wired."
    )
    says = Answers("GFX-POWER", subject, text, facts)
    if draws > gives + plugs:
        return says.refused(f"draws {draws:g} W, place and plugs give {gives + plugs:g} W", "A card that draws less.")
    if asked:
        gap = Gap("leads.cards", "supply's plugs for cards", (True, False), "look at the plugs of the supply", 2)
        has = _plugs_there(asked, spare) if ground.machine.leads else None
        if not ground.need(has, gap):
            return says.refused(f"the supply has no {' and '.join(asked)} for it", "A supply that has the plugs.")
    return says.fits(f"{draws:g} W of {gives + plugs:g} W")


def _given_w(ground: FitGround, place: CardSlot, card: Card, draws: float) -> float:
    """What the place itself gives [W]: as recorded, else as is usual in a tower, or enough for any small card."""
    wide = card.lanes == place.lanes == 16
    usual = FULL_W if wide and not _low_profile(ground, place, card) else SMALL_W
    gap = Gap(f"platform.cards.{place.id}.power_w", f"power of {place.label.lower()}", (SMALL_W, FULL_W),
              "look into the handbook: small cases give 25 W", 3, "W")  # fmt: skip
    roomy = ground.machine.kind in (MachineKind.TOWER, MachineKind.WORKSTATION)
    standard = usual if roomy or draws <= SMALL_W else None
    return ground.need(place.power_w if place.power_w is not None else standard, gap)


def _plugs_there(plugs: tuple[str, ...], spare: Counter[LeadKind]) -> bool:
    """Whether every plug finds a lead of its own; the widest first, because an 8-pin (6+2) also serves as 6-pin."""
    left = Counter(spare)
    for plug in sorted(plugs, reverse=True, key=lambda p: PLUG_W.get(p, 0.0)):
        kind = next((k for k in PLUG_LEADS.get(plug, ()) if left[k] > 0), None)
        if kind is None:
            return False
        left[kind] -= 1
    return True


def firmware(ground: FitGround, subject: Subject) -> Verdict:
    card = subject.part
    assert isinstance(card, Card)
    system = ground.machine.platform.system
    text = "A card whose firmware speaks UEFI only shows nothing under the old start mode before the system loads."
    gap = Gap(f"firmware of {card.name}", "card's start firmware", (True, False), "look into its data sheet", 2)
    mode_gap = Gap(
        "platform.system.boot_mode", "start mode of the installed system", tuple(BootMode), "ask the system", 1
    )
    facts = (on_part("needs UEFI", card.needs_uefi),
             on_machine(ground, "start mode", system.boot_mode, "platform.system.boot_mode"))  # fmt: skip
    says = Answers("GFX-FW", subject, text, facts)
    if not shows_picture(ground, subject.places[0], card):
        return says.fits("shows no picture anyway")
    if ground.need(system.boot_mode, mode_gap) is BootMode.LEGACY and ground.need(card.needs_uefi, gap):
        return says.limited("no picture before the system loads", "set-up only with another card", "UEFI start.")
    return says.fits("picture from the start")


def shows_picture(ground: FitGround, place: str, card: Card) -> bool:
    """Whether it is a graphics card: as stated, else what has graphics memory, outputs or a rate is one."""
    told = any(v is not None for v in (card.graphics_rate, card.memory_bytes, card.outputs))
    gap = Gap(f"parts.{place}.display", f"picture from {card.name}", (True, False), "look for screen plugs on it", 1)
    return ground.need(card.display if card.display is not None else True if told else None, gap)


def radio(ground: FitGround, subject: Subject) -> Verdict:
    card, place = subject.part, ground.machine.platform.radio
    assert isinstance(card, RadioCard)
    text = "Edge key, antennas and their plug must suit; some firmware starts only with cards on its own list."
    key_gap = Gap("platform.radio.key", "edge key of the radio place", tuple(RadioKey), "look at the place", 2)
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
        return says.refused(f"key {card.key} does not go into a key {key} place", f"A card with key {key} or A+E.")
    allowed = ground.need(place.allowed, list_gap)
    if allowed and card.id not in allowed:
        return says.refused("the firmware does not list it", "A card from the firmware's own list.")
    if card.plug and ground.need(place.plug, plug_gap) != card.plug:
        return says.needs(f"antenna leads with {card.plug} plugs", "A card with the plugs that are there.")
    antennas = ground.need(place.antennas, count_gap)
    wants = ground.need(card.antennas, Gap(f"antennas of {card.name}", "card's antennas", (1, 2, 3, 4),
                                           "count the plugs on the card", 1))  # fmt: skip
    if antennas < wants:
        return says.limited(f"{antennas} of {wants} antennas", "slower and shorter reach", "A further antenna.")
    return says.fits(f"key {card.key}, {wants} antennas there")


def _seen_by_plugs(part: Part) -> Hashable:
    """Of a supply its connectors alone."""
    return part.connectors if isinstance(part, Supply) else nameless(part)


CARD_RULES: tuple[Rule, ...] = (
    Rule("GFX-SLOT", "Place of the card", _cards, slot),
    Rule("GFX-POWER", "Power of the card", _cards, power, kinds=("card", "supply"), trait=_seen_by_plugs),
    Rule("GFX-FW", "Picture at start", _cards, firmware),
    Rule("NET-RADIO", "Radio card", lambda ground: ground.fresh(RadioCard), radio),
)
