"""Card rule of power: GFX-POWER, what place and plugs give against what a card draws."""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable
from dataclasses import dataclass
from math import ceil

from brachium.core.base.text import counted, joined, lower_first, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject, nameless
from brachium.core.fit.rules.cards import card_in, cards_of
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.card_parts import Card
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import LeadKind
from brachium.core.machine.parts import Part
from brachium.core.machine.platform import SUPPLY, CardSlot
from brachium.core.machine.power_parts import Supply

SIX_W, EIGHT_W = 75.0, 150.0  # of a 6-pin and an 8-pin plug (PCI-SIG, Card Electromechanical Specification)
WIDE_W = (150.0, 300.0, 450.0, 600.0)  # of a 16-pin plug, by its sense pins (PCI-SIG, same)
PLUG_CHOICES = ((), ("6-pin",), ("8-pin",), ("6-pin", "8-pin"), ("8-pin", "8-pin"), ("16-pin",))
OF_CARDS = {"6-pin": LeadKind.CARD_6, "8-pin": LeadKind.CARD_8, "16-pin": LeadKind.CARD_16}
OF_DRIVES = (LeadKind.SATA, LeadKind.DRIVE_4)
FULL_W, SMALL_W = 75.0, 25.0
FULL_LANES = 16
TEXT = (
    "An x16 slot gives 75 W, x4 and x1 slots and those of some small cases 25 W; a 6-pin plug adds 75 W, an 8-pin "
    "150 W, a 16-pin what its sense pins allow. The processor's 8-pin is not the card's. No plug, no card; leads are "
    "never re-wired."
)


@dataclass(frozen=True)
class _Asked:
    """A card's power question: what the place gives [W], the plugs it has and what each of them gives [W]."""

    draws: float
    place_w: float
    plugs: tuple[str, ...]
    each_w: tuple[float, ...]

    @property
    def whole_w(self) -> float:
        return self.place_w + sum(self.each_w)

    @property
    def words(self) -> str:
        """`slot 75 W + 8-pin 150 W`."""
        plugs = [phrase("{p} {w:g} W", p=p, w=w) for p, w in zip(self.plugs, self.each_w, strict=True)]
        return joined(" + ", [phrase("slot {place_w:g} W", place_w=self.place_w), *plugs])


def power(ground: FitGround, subject: Subject) -> Verdict:
    place, card = card_in(ground, subject)
    if place.outside:
        return Answers("GFX-POWER", subject, TEXT).fits("in a box outside, which has a supply of its own")
    draws = ground.need(
        card.power_w,
        Gap(
            phrase("power of {card}", card=card.name),
            "card's power",
            (20.0, 75.0, 150.0, 250.0),
            "look into its data sheet",
            1,
            "W",
        ),
    )
    gives = _given_w(ground, place, draws)
    plugs = ground.need(
        card.plugs,
        Gap(
            phrase("plugs of {card}", card=card.name),
            phrase("power plugs of {card}", card=card.name),
            PLUG_CHOICES,
            "look at its upper and far edge",
            1,
        ),
    )
    spare = _spare(ground, place.id) if plugs else Counter()
    asked = _Asked(draws, gives, plugs, tuple(_plug_w(ground, p, spare) for p in plugs))
    says = Answers("GFX-POWER", subject, TEXT, _facts(ground, asked, spare))
    if draws > asked.whole_w:
        words = asked.words if plugs else phrase("{asked}, no plugs", asked=asked.words)
        return says.refused(
            phrase(
                "draws {draws:g} W: {words}; the largest card that fits draws {whole_w:g} W",
                draws=draws,
                words=words,
                whole_w=asked.whole_w,
            ),
            "A card that draws less.",
        )
    if plugs and not _plugs_there(plugs, spare):
        return _without_plugs(asked, spare, says)
    return says.fits(phrase("{draws:g} W: {asked}", draws=draws, asked=asked.words))


def _without_plugs(asked: _Asked, spare: Counter[LeadKind], says: Answers) -> Verdict:
    """An adapter from 8-pin plugs stands for a 16-pin one; else there is no card."""
    need = max(ceil((asked.draws - asked.place_w) / EIGHT_W), 1)
    if asked.plugs == ("16-pin",) and spare[LeadKind.CARD_8] >= need:
        words = counted(need, "adapter from {count} 8-pin plug to 16-pin", "adapter from {count} 8-pin plugs to 16-pin")
        return says.needs(
            words, "A supply with a 16-pin plug.", phrase("{words} first, one that was made for it", words=words)
        )
    has = [n for n, kind in OF_CARDS.items() for _ in range(spare[kind])]
    most = asked.place_w + SIX_W * spare[LeadKind.CARD_6] + EIGHT_W * spare[LeadKind.CARD_8]
    there = phrase("the supply has {has} alone", has=joined(" and ", has)) if has else "the supply has none"
    return says.refused(
        phrase(
            "{asked}, but {there}; the largest card that fits draws {most:g} W",
            asked=asked.words,
            there=there,
            most=most,
        ),
        "A supply that has the plugs.",
    )


def _spare(ground: FitGround, place: str) -> Counter[LeadKind]:
    """Free card plugs of the supply that will be there; of one whose plugs nobody counted they are asked for.

    Drive leads alone are no count of the card plugs: nobody says that there are none by naming those.
    """
    supply, leads = ground.config.parts.get(SUPPLY), ground.machine.leads
    if any(lead.kind not in OF_DRIVES for lead in leads):
        return Counter(lead.kind for lead in leads if lead.feeds in ("", place))
    choices = ((), ("6-pin card power",), ("8-pin card power",), ("8-pin card power", "8-pin card power"))
    if isinstance(supply, Supply) and supply != ground.today.parts.get(SUPPLY):
        gap = Gap(
            phrase("connectors of {supply}", supply=supply.name),
            phrase("connectors of {supply}", supply=supply.name),
            choices,
            "look into its data sheet",
            2,
        )
        return Counter(LeadKind(c) for c in ground.need(_counted(supply), gap))
    gap = Gap("parts.supply.connectors", "supply's plugs for cards", choices, "look at the plugs of the supply", 2)
    return Counter(LeadKind(c) for c in ground.need(_counted(supply), gap))


def _counted(supply: Part | None) -> tuple[str, ...] | None:
    """The plugs that were stated of a supply; None where only those of drives were."""
    plugs = supply.connectors if isinstance(supply, Supply) else None
    return None if plugs and all(plug in OF_DRIVES for plug in plugs) else plugs


def _plug_w(ground: FitGround, plug: str, spare: Counter[LeadKind]) -> float:
    """What a plug gives [W]; a 16-pin one as its sense pins say, by an adapter what the 8-pin plugs behind it give."""
    if plug != "16-pin":
        return {"6-pin": SIX_W, "8-pin": EIGHT_W}.get(plug, 0.0)
    if not spare[LeadKind.CARD_16]:
        return min(EIGHT_W * spare[LeadKind.CARD_8], WIDE_W[-1]) or WIDE_W[-1]
    supply = ground.config.parts.get(SUPPLY)
    gap = Gap("parts.supply.card_16_w", "power of the 16-pin plug", WIDE_W, "read the mark on its cable", 1, "W")
    return ground.need(supply.card_16_w if isinstance(supply, Supply) else None, gap)


def _given_w(ground: FitGround, place: CardSlot, draws: float) -> float:
    """What the place gives [W]: as recorded, else by its connector in a tower, or enough for any small card."""
    gap = Gap(
        f"platform.cards.{place.id}.power_w",
        phrase("power of {place}", place=lower_first(place.label)),
        (SMALL_W, FULL_W),
        "look into the handbook: small cases give 25 W",
        3,
        "W",
    )
    roomy = ground.machine.kind in (MachineKind.TOWER, MachineKind.WORKSTATION)
    usual = None if place.lanes is None else FULL_W if place.lanes == FULL_LANES else SMALL_W
    standard = usual if roomy and usual is not None else SMALL_W if draws <= SMALL_W else None
    return ground.need(place.power_w if place.power_w is not None else standard, gap)


def _plugs_there(plugs: tuple[str, ...], spare: Counter[LeadKind]) -> bool:
    """Whether every plug finds a lead of its own; the widest first, because an 8-pin (6+2) also serves as 6-pin."""
    left = Counter(spare)
    for plug in sorted(plugs, reverse=True, key=lambda p: int(p.split("-")[0])):
        wanted = OF_CARDS.get(plug)
        kinds = (LeadKind.CARD_6, LeadKind.CARD_8) if plug == "6-pin" else (wanted,)
        kind = next((k for k in kinds if k is not None and left[k] > 0), None)
        if kind is None:
            return False
        left[kind] -= 1
    return True


def _facts(ground: FitGround, asked: _Asked, spare: Counter[LeadKind]) -> tuple[Fact, ...]:
    plugs = joined(", ", (phrase("{n} × {k}", n=n, k=k) for k, n in spare.items())) or "none"
    return (
        on_part("card draws", asked.draws, "W"),
        Fact("slot gives", phrase("{place_w:g} W", place_w=asked.place_w), Origin.COMPUTED),
        on_part("its plugs", joined(", ", asked.plugs) or "none"),
        on_machine(ground, "plugs of the supply", plugs if asked.plugs else "not needed", "leads"),
        Fact("together", phrase("{asked} = {whole_w:g} W", asked=asked.words, whole_w=asked.whole_w), Origin.COMPUTED),
    )


def _seen_by_plugs(part: Part) -> Hashable:
    """Of a supply its connectors and what its 16-pin plug gives; of a card everything but its name."""
    if isinstance(part, Supply):
        return part.connectors, part.card_16_w
    return nameless(part) if isinstance(part, Card) else part.kind


CARD_POWER_RULES: tuple[Rule, ...] = (
    Rule("GFX-POWER", "Power of the card", cards_of, power, kinds=("card", "supply"), trait=_seen_by_plugs),
)
