"""Supply rules: PSU-LOAD, PSU-FORM, PSU-ADAPTER, BAT-STATE."""

from __future__ import annotations

from collections.abc import Hashable

from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.assumptions import HEADROOM, WORN
from brachium.core.fit.engine import FitGround, Rule, Subject, nameless
from brachium.core.fit.load import LoadPart, load_parts
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.card_parts import Card
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE
from brachium.core.machine.parts import Drive, DriveInterface, Part
from brachium.core.machine.platform import BATTERY, SUPPLY
from brachium.core.machine.power_parts import Adapter, Battery, Supply
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
        *(Fact(p.label, f"{p.watts:.0f} W", Origin.ASSUMED if p.assumed else Origin.CATALOGUE) for p in parts),
        Fact("with 25 % headroom", f"{HEADROOM * watts:.0f} W", Origin.COMPUTED),
        on_machine(ground, "supply is rated for", rated, "supply", "W"),
        *((Fact("shop's age derating", f"{100 * ground.around.age_derating:.0f} %", Origin.TYPED),)
          if ground.around.age_derating else ()),
    )  # fmt: skip
    says = Answers("PSU-LOAD", subject, text, facts)
    if watts > most:
        return says.refused(f"{watts:.0f} W on a supply for {most:.0f} W", "A larger supply.")
    rail_gap = Gap("parts.supply.rated_12v_w", "rating of its 12 V output", either_side(on_12v / factor),
                   "read its label",
                   1, "W")  # fmt: skip
    rail = ground.need(supply.rated_12v_w if supply else None, rail_gap)
    if on_12v > rail * factor:
        return says.refused(f"{on_12v:.0f} W on its 12 V output for {rail * factor:.0f} W", "A larger supply.")
    if HEADROOM * watts > most:
        left = 100 * (most / watts - 1.0)
        return says.limited(f"{watts:.0f} of {most:.0f} W: {left:.0f} % headroom, not 25 %", f"{left:.0f} % headroom",
                            "A larger supply.")  # fmt: skip
    return says.fits(f"{watts:.0f} of {most:.0f} W, 25 % headroom kept")


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
        return says.refused(f"{supply.form}, the case takes {there}", f"A supply of form {there}.")
    own = ground.need(board.own_plugs, plugs_gap)
    if own and not supply.own_plugs:
        return says.needs("adapter for the maker's own plugs", "The maker's own supply.")
    if supply.own_plugs and not own:
        return says.refused("plugs of a maker's own, the board has standard ones", "A standard supply.")
    return says.fits(f"{supply.form}, plugs alike")


def adapter(ground: FitGround, subject: Subject) -> Verdict:
    part = subject.part
    assert isinstance(part, Adapter)
    usb = (
        None if part.usb_c_v is None or part.usb_c_a is None else part.usb_c_v * min(part.usb_c_a, part.cable_a or 3.0)
    )
    given = ground.need(usb if usb is not None else part.rated_w, Gap(f"rating of {part.name}", "adapter's rating",
                        (45.0, 65.0, 90.0, 130.0), "read its label", 1, "W"))  # fmt: skip
    gap = Gap("platform.power.adapter_w", "power that the machine asks for", either_side(given),
              "read the label of its own "
              "adapter", 1, "W")  # fmt: skip
    asked = ground.need(ground.machine.platform.power.adapter_w, gap)
    facts = (on_part("adapter gives", given, "W"), on_part("recognised", part.recognised),
             on_machine(ground, "machine asks for", asked, "platform.power.adapter_w", "W"))  # fmt: skip
    text = "A weak or unrecognised adapter limits clock and charging; over USB-C the weakest link counts."
    says = Answers("PSU-ADAPTER", subject, text, facts)
    if given < asked:
        return says.limited(
            f"gives {given:g} W, the machine asks for {asked:g} W",
            "clock and charging limited",
            f"An adapter of {asked:g} W" + (" and a cable for 5 A." if usb is not None else "."),
        )
    known_gap = Gap(f"recognition of {part.name}", "whether the machine recognises it", (True, False),
                    "plug it in and look "
                    "into the firmware", 2)  # fmt: skip
    if usb is None and not ground.need(part.recognised, known_gap):
        return says.limited("not recognised: clock and charging limited", "clock limited", "The maker's own adapter.")
    return says.fits(f"{given:g} W, {asked:g} W asked for")


def _batteries(ground: FitGround) -> tuple[Subject, ...]:
    """A new battery, and the one of a laptop whenever the plan is about speed or power."""
    if ground.machine.kind not in PORTABLE:
        return ()
    return (Subject((BATTERY,), ground.config.parts.get(BATTERY)),) if BATTERY in ground.changed else ()


def battery(ground: FitGround, subject: Subject) -> Verdict:
    part = subject.part
    text = "Under 60 % of its design capacity a new one is advised; without one many laptops limit their power."
    if not isinstance(part, Battery):
        return Answers("BAT-STATE", subject, text).limited(
            "no battery: power may be limited", "power limited", "A battery."
        )
    full = ground.need(part.full_wh, Gap(f"capacity of {part.name}", "battery's full charge", (10.0, 30.0, 60.0),
                                         "let the system read it", 2, "Wh"))  # fmt: skip
    design = ground.need(part.design_wh, Gap(f"design of {part.name}", "battery's design capacity", (30.0, 60.0, 90.0),
                                             "read its label", 1, "Wh"))  # fmt: skip
    facts = (on_part("when full", full, "Wh"), on_part("by design", design, "Wh"))
    says = Answers("BAT-STATE", subject, text, facts)
    share = full / design
    if share < WORN:
        return says.limited(f"{100 * share:.0f} % of its design capacity", f"{full:g} Wh", "A battery above 60 %.")
    return says.fits(f"{100 * share:.0f} % of its design capacity")


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
    Rule("PSU-FORM", "Form and plugs", lambda ground: ground.fresh(Supply), form),
    Rule("PSU-ADAPTER", "Adapter", lambda ground: ground.fresh(Adapter), adapter),
    Rule("BAT-STATE", "Battery", _batteries, battery),
)
