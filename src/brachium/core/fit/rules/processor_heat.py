"""Processor rules of power, cooler and trust: CPU-POWER, CPU-COOL, CPU-USED, CPU-EVID."""

from __future__ import annotations

from brachium.core.base.text import counted, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.assumptions import EXPONENT, USUAL_LIMIT_C
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.evidence import claim_for, probability
from brachium.core.fit.rules.cooling import mounted
from brachium.core.fit.rules.processor import chip_of, new_processor
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.platform import COOLER
from brachium.core.machine.processor_part import ProcessorPart


def power_gap(chip: ProcessorPart) -> Gap:
    return Gap(phrase("power of {chip}", chip=chip.name), "processor's design power", (35.0, 65.0, 95.0, 140.0),
               "look into its data sheet",
               1, "W")  # fmt: skip


def sustained_share(power_w: float, limit_c: float | None, heat: HeatFacts) -> float:
    """Share of its clock that a processor keeps at the limit with this machine's resistance.

    The clock at which room + P R = limit with P ~ f^2.4 (die to plate is assumed alike).
    """
    allowed = ((limit_c or USUAL_LIMIT_C) - heat.room_c) / heat.resistance_k_w
    return float(min((max(allowed, 1.0) / power_w) ** (1.0 / EXPONENT), 1.0))


def at_least(known: float | None, design_w: float | None, watts: float) -> float | None:
    """A rating [W]: as known; else the fitted processor's design power where that suffices, for it runs there today."""
    return known if known is not None else design_w if design_w is not None and design_w >= watts else None


def power(ground: FitGround, subject: Subject) -> Verdict:
    chip, board = chip_of(subject), ground.machine.platform.board
    watts = ground.need(chip.power_w, power_gap(chip))
    limit_gap = Gap("platform.board.power_w", "power that the board's supply stage is specified for",
                    either_side(watts),
                    "look into the board's list of processors", 5, "W")  # fmt: skip
    most = ground.need(at_least(board.power_w, ground.machine.processor.design_power_w, watts), limit_gap)
    text = (
        "Above what board and cooler were specified for it runs slower: the clock it holds follows from this machine's "
        "measured resistance. The board's supply stage gets hotter than it was made for: measure it under load."
    )
    facts = (
        on_part("design power", watts, "W"),
        on_machine(ground, "board is specified for", most, "platform.board.power_w", "W"),
    )
    heat = ground.around.heat
    kept = sustained_share(watts, chip.limit_c, heat) if heat is not None else None
    held = phrase("{kept:.0f} % of its clock", kept=100 * kept) if kept is not None else "not measured"
    says = Answers("CPU-POWER", subject, text, (*facts, Fact("clock it would hold", held, Origin.COMPUTED)))
    if watts > 1.02 * most:
        result = (
            phrase("holds about {held}", held=held)
            if kept is not None
            else "measure first: how far it is held back is not known"
        )
        return says.limited(
            phrase("{watts:g} W on a board for {most:g} W", watts=watts, most=most),
            result,
            phrase("One of at most {most:g} W.", most=most),
        )
    if kept is not None and kept < 0.98:
        return says.limited(
            phrase("this cooling lets it hold {kept:.0f} % of its clock", kept=100 * kept),
            held,
            "Better cooling first.",
        )
    if board.power_w is None:
        return says.fits(phrase("{watts:g} W, no more than the fitted one draws", watts=watts))
    if kept is None and watts > (ground.machine.processor.design_power_w or 0.0):
        return says.fits(
            phrase("{watts:g} W of at most {most:g} W; the clock it holds is not measured", watts=watts, most=most),
            open_=True,
        )
    return says.fits(phrase("{watts:g} W of at most {most:g} W", watts=watts, most=most))


def cooler(ground: FitGround, subject: Subject) -> Verdict:
    """The cooler that will be there: its mounting is COOL-MOUNT's when it is new; here it is the one that stays."""
    chip, there = chip_of(subject), ground.config.cooler()
    watts = ground.need(chip.power_w, power_gap(chip))
    known = there.rated_w if there is not None else None
    design = None if COOLER in ground.changed else ground.machine.processor.design_power_w
    rated = ground.need(at_least(known, design, watts), Gap("parts.cooler.rated_w", "cooler's rated power",
                        either_side(watts), "look up its model", 5, "W"))  # fmt: skip
    facts = (on_part("design power", watts, "W"), on_machine(ground, "cooler is rated for", rated, "cooler", "W"))
    says = Answers("CPU-COOL", subject, "The cooler must suit the socket and be rated for the processor.", facts)
    if there is not None and not mounted(ground, there.patterns):
        return says.refused(
            phrase("the cooler has no mounting for {socket}", socket=chip.socket), "A cooler for this socket."
        )
    if watts > rated:
        return says.limited(
            phrase("the cooler is rated for {rated:g} W", rated=rated),
            phrase("{rated:g} of {watts:g} W", rated=rated, watts=watts),
            "A larger cooler.",
        )
    return says.fits(phrase("cooler rated for {rated:g} W", rated=rated))


def _used(ground: FitGround) -> tuple[Subject, ...]:
    return tuple(s for s in new_processor(ground) if chip_of(s).used)


def used(ground: FitGround, subject: Subject) -> Verdict:
    chip = chip_of(subject)
    facts = (on_part("used", True), on_part("contacts checked", chip.contacts_ok), on_part("sample", chip.sample))
    text = "Of pin grids every pin is straight and there, of land grids the socket's; no firmware list names samples."
    says = Answers("CPU-USED", subject, text, facts)
    if chip.sample:
        return says.refused("an engineering sample", "A part from the market, by its stepping.")
    gap = Gap(phrase("contacts of {chip}", chip=chip.name), "used processor's contacts", (True, False),
              "look at every pin or land with a "
              "lens", 3)  # fmt: skip
    if not ground.need(chip.contacts_ok, gap):
        return says.refused("bent or missing pins", "Another one: straightening is not relied on.")
    return says.fits("every contact checked")


def evidence(ground: FitGround, subject: Subject) -> Verdict:
    chip, model = chip_of(subject), ground.machine.identity.model
    claim = claim_for(ground.around.claims, chip.name, model)
    chance = probability(claim.sources)
    facts = tuple(
        Fact(phrase("{kind}{who}", kind=s.kind, who=', ' + s.who if s.who else ''),
             ("works" if s.works else "fails") + (phrase(", {date}", date=s.date) if s.date else
             ""), Origin.TYPED) for s in claim.sources
    ) or (Fact("sources", "none recorded", Origin.ASSUMED),)  # fmt: skip
    text = "Sources add up in log-odds from -1; copies count once. Below the shop's threshold the fit is not known."
    says = Answers("CPU-EVID", subject, text, facts)
    if chance < ground.around.threshold:
        count = len(claim.sources)
        thin = (
            counted(count, "evidence too thin: {count} source", "evidence too thin: {count} sources")
            if count
            else "no evidence that it works here"
        )
        return says.unknown(thin, "The maker's list, an own job, or tested reports of the same model and firmware.")
    count = len(claim.sources)
    return says.fits(counted(count, "{count} source says that it works here", "{count} sources say that it works here"))


PROCESSOR_HEAT_RULES: tuple[Rule, ...] = (
    Rule("CPU-POWER", "Design power", new_processor, power),
    Rule("CPU-COOL", "Cooler of the processor", new_processor, cooler, ("processor", "cooler")),
    Rule("CPU-USED", "Used processors", _used, used),
    Rule("CPU-EVID", "Evidence", new_processor, evidence),
)
