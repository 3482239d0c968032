"""Supply rules: PSU-LOAD, PSU-SPIN, PSU-FORM."""

from __future__ import annotations

from collections.abc import Hashable

from brachium.core.base.text import phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.assumptions import BOARD_12V_W, HEADROOM, SPIN_UP_W
from brachium.core.fit.engine import FitGround, Rule, Subject, nameless
from brachium.core.fit.load import LoadPart, load_parts
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.card_parts import Card
from brachium.core.machine.kinds import ON_ADAPTER
from brachium.core.machine.parts import Drive, DriveInterface, Part
from brachium.core.machine.platform import SUPPLY
from brachium.core.machine.power_parts import Supply
from brachium.core.machine.processor_part import ProcessorPart

POWER_CHANGES = (ProcessorPart, Card, Drive, Supply)


def _loaded(ground: FitGround) -> tuple[Subject, ...]:
    """The whole load on the supply, whenever something that draws or gives power changes."""
    if ground.machine.kind in ON_ADAPTER:
        return ()
    changed = tuple(s.places[0] for s in ground.fresh(POWER_CHANGES))
    heavy = any(s.part is not None and not isinstance(s.part, Drive) for s in ground.fresh(POWER_CHANGES))
    if not heavy and not any(isinstance(s.part, Drive) and s.part.rotational for s in ground.fresh(Drive)):
        return ()  # some watts for a drive without a motor decide nothing
    known = isinstance(ground.config.parts.get(SUPPLY), Supply)
    return (Subject(changed, ground.config.parts.get(SUPPLY)),) if changed and (heavy or known) else ()


def load(ground: FitGround, subject: Subject) -> Verdict:
    text = (
        "The sum of the sustained loads with 25 % headroom must stay within the supply's rating, and that of its "
        "12 V output. A supply is never opened."
    )
    supply = subject.part if isinstance(subject.part, Supply) else None
    parts = _loads(ground)
    watts, on_12v = sum(p.watts for p in parts), sum(p.from_12v for p in parts)
    factor = 1.0 - ground.around.age_derating
    asked = HEADROOM * watts / factor
    rated_gap = Gap("parts.supply.rated_w", "supply's rating", (0.5 * watts, watts / factor, asked, 2 * asked),
                    "read its label", 1, "W")  # fmt: skip
    rated = ground.need(supply.rated_w if supply else None, rated_gap)
    most = rated * factor
    facts = (
        *(
            Fact(p.label, phrase("{watts:.0f} W", watts=p.watts), Origin.ASSUMED if p.assumed else Origin.CATALOGUE)
            for p in parts
        ),
        Fact("with 25 % headroom", phrase("{headroom:.0f} W", headroom=HEADROOM * watts), Origin.COMPUTED),
        on_machine(ground, "supply is rated for", rated, "supply", "W"),
        *(
            (
                Fact(
                    "shop's age derating",
                    phrase("{age_derating:.0f} %", age_derating=100 * ground.around.age_derating),
                    Origin.TYPED,
                ),
            )
            if ground.around.age_derating
            else ()
        ),
    )
    says = Answers("PSU-LOAD", subject, text, facts)
    if watts > most:
        words = phrase(
            "{watts:.0f} W on a supply for {most:.0f} W{card_left}",
            watts=watts,
            most=most,
            card_left=_card_left(parts, most),
        )
        return says.refused(words, "A larger supply.")
    rail_gap = Gap("parts.supply.rated_12v_w", "rating of its 12 V output", either_side(on_12v / factor),
                   "read its label",
                   1, "W")  # fmt: skip
    rail = ground.need(supply.rated_12v_w if supply else None, rail_gap)
    if on_12v > rail * factor:
        return says.refused(
            phrase("{on_12v:.0f} W on its 12 V output for {rail:.0f} W", on_12v=on_12v, rail=rail * factor),
            "A larger supply.",
        )
    if HEADROOM * watts > most:
        left = 100 * (most / watts - 1.0)
        return says.limited(
            phrase("{watts:.0f} of {most:.0f} W: {left:.0f} % headroom, not 25 %", watts=watts, most=most, left=left),
            phrase("{left:.0f} % headroom", left=left),
            "A larger supply.",
        )
    return says.fits(phrase("{watts:.0f} of {most:.0f} W, 25 % headroom kept", watts=watts, most=most))


def _card_left(parts: tuple[LoadPart, ...], most: float) -> str:
    """The largest card that the supply carries with its headroom, where cards are part of the load."""
    cards = sum(p.watts for p in parts if p.label == "cards")
    if not cards:
        return ""
    left = most / HEADROOM - sum(p.watts for p in parts) + cards
    return phrase("; the largest card that fits draws {left:.0f} W", left=left) if left >= 1.0 else "; no card fits it"


def _spinning(ground: FitGround) -> tuple[Subject, ...]:
    """All disks on the supply, whenever the plan brings one in and there are two or more."""
    if ground.machine.kind in ON_ADAPTER:
        return ()
    new = [s for s in ground.fresh(Drive) if isinstance(s.part, Drive) and s.part.rotational]
    disks = sum(d.rotational for d in ground.config.drives().values())
    return (Subject(tuple(s.places[0] for s in new)),) if new and disks > 1 else ()


def spin(ground: FitGround, subject: Subject) -> Verdict:
    """Disks draw most while they start: about 2 A each at 12 V, all at once unless they are started one by one."""
    disks = sum(d.rotational for d in ground.config.drives().values())
    asked = disks * SPIN_UP_W + BOARD_12V_W + _at_rest_w(ground)
    supply, board = ground.config.parts.get(SUPPLY), ground.machine.platform.board
    text = "Every disk draws about 2 A at 12 V while it starts; all start at once unless controller or board staggers."
    words = phrase("{asked:.0f} W on 12 V while the disks start", asked=asked)
    if board.staggered_start:
        says = Answers("PSU-SPIN", subject, text, (on_machine(ground, "staggered start", True, "platform.board"),))
        return says.fits(phrase("{disks} disks, started one after another", disks=disks))
    rail = supply.rated_12v_w if isinstance(supply, Supply) else None
    gap = Gap("parts.supply.rated_12v_w", "rating of its 12 V output", either_side(asked), "read its label", 1, "W")
    gives = ground.need(rail, gap) * (1.0 - ground.around.age_derating)
    facts = (
        Fact("starting", phrase("{disks} disks at {spin_up_w:g} W", disks=disks, spin_up_w=SPIN_UP_W), Origin.ASSUMED),
        Fact("processor and board at rest", phrase("{asked:.0f} W", asked=asked - disks * SPIN_UP_W), Origin.ASSUMED),
        on_machine(ground, "12 V output", gives, "supply", "W"),
    )
    says = Answers("PSU-SPIN", subject, text, facts)
    turn = Gap("platform.board.staggered_start", "disks started in turn", (True, False), "look into the set-up", 3)
    if asked > gives and ground.need(board.staggered_start, turn):
        return says.fits(phrase("{disks} disks, started one after another", disks=disks))
    if asked > gives:
        return says.refused(
            phrase("{words}, the supply gives {gives:.0f} W", words=words, gives=gives),
            "A larger supply, or disks started in turn.",
        )
    return says.fits(phrase("{asked:.0f} of {gives:.0f} W on 12 V while the disks start", asked=asked, gives=gives))


def _at_rest_w(ground: FitGround) -> float:
    """What the processor may draw beside the starting disks [W]: its design power, where that is known."""
    chip = ground.config.processor()
    own = chip.power_w if chip is not None else ground.machine.processor.design_power_w
    return own or 0.0


def _loads(ground: FitGround) -> tuple[LoadPart, ...]:
    """What draws from the supply, each with its sustained load."""
    chip = ground.config.processor()
    own = chip.power_w if chip is not None else ground.machine.processor.design_power_w
    chip_gap = Gap("processor.design_power_w", "processor's design power", (35.0, 65.0, 95.0, 140.0),
                   "look into its data sheet", 1, "W")  # fmt: skip
    card_gap = Gap("power of the card", "card's power", (20.0, 75.0, 150.0, 300.0), "look into its data sheet", 1, "W")
    unknown = any(c.power_w is None for c in ground.config.cards().values())
    card_w = ground.need(None, card_gap) if unknown else 0.0
    return load_parts(ground.machine, ground.config, ground.need(own, chip_gap), card_w)


def form(ground: FitGround, subject: Subject) -> Verdict:
    supply = subject.part
    assert isinstance(supply, Supply)
    case, board = ground.machine.platform.case, ground.machine.platform.board
    form_gap = Gap(
        "platform.case.supply_form", "form of the supply", (supply.form, "another"), "measure it and its holes", 3
    )
    plugs_gap = Gap("platform.board.own_plugs", "plugs of the board", (True, False),
                    "compare the main plug: 24 contacts = "
                    "standard", 2)  # fmt: skip
    there = ground.need(case.supply_form, form_gap)
    facts = (on_part("supply", supply.form), on_machine(ground, "case takes", there, "platform.case.supply_form"),
             on_machine(ground, "maker's own plugs", board.own_plugs, "platform.board.own_plugs"))  # fmt: skip
    text = "Makers use supplies, plugs and boards of their own: a standard one goes in only with a ready-made adapter."
    says = Answers("PSU-FORM", subject, text, facts)
    if there != supply.form:
        return says.refused(
            phrase("{form}, the case takes {there}", form=supply.form, there=there),
            phrase("A supply of form {there}.", there=there),
        )
    own = ground.need(board.own_plugs, plugs_gap)
    if own and not supply.own_plugs:
        return says.needs("adapter for the maker's own plugs", "The maker's own supply.")
    if supply.own_plugs and not own:
        return says.refused("plugs of a maker's own, the board has standard ones", "A standard supply.")
    return says.fits(phrase("{form}, plugs alike", form=supply.form))


def _seen_by_load(part: Part) -> Hashable:
    if isinstance(part, Drive):
        return part.rotational, part.interface is DriveInterface.NVME
    if isinstance(part, (ProcessorPart, Card)):
        return part.power_w
    return nameless(part) if isinstance(part, Supply) else part.kind


SUPPLY_RULES: tuple[Rule, ...] = (
    Rule(
        "PSU-LOAD",
        "Load on the supply",
        _loaded,
        load,
        ("processor", "card", "drive", "memory", "supply"),
        _seen_by_load,
    ),
    Rule("PSU-SPIN", "Starting disks", _spinning, spin, ("drive", "supply", "processor"), _seen_by_load),
    Rule("PSU-FORM", "Form and plugs", lambda ground: ground.fresh(Supply), form),
)
