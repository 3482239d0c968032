"""Cooling rules of what lies between chip and plate: COOL-PAD, COOL-PASTE, COOL-SHARED."""

from __future__ import annotations

from brachium.core.base.text import lower_first, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.assumptions import BOND_MM, PAD_GIVES
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.cooling_parts import Cooler, Pad, Paste, PasteKind
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.parts import Service
from brachium.core.machine.platform import ChipContact

BARE = Gap("platform.contacts.bare_contacts", "bare contacts near the plate", (True, False), "look around the chip", 2)
SHARED = Gap("platform.contacts.chips", "chips under the heatsink", (1, 2, 3), "follow the plate and the pipes", 3)


def pad(ground: FitGround, subject: Subject) -> Verdict:
    """A soft pad gives 10 to 30 % of its thickness: it must reach over the widest gap and not lift the plate off the
    narrowest."""
    part = subject.part
    assert isinstance(part, Pad)
    low, high = _pads_there(ground, part.thickness_mm)
    there = phrase("{low:g} mm", low=low) if low == high else phrase("{low:g} to {high:g} mm", low=low, high=high)
    least, most = PAD_GIVES
    facts = (
        on_part("pad", part.thickness_mm, "mm"),
        on_machine(ground, "pads there", there, "platform.contacts"),
        Fact(
            "a soft pad gives",
            phrase("{least:.0f} to {most:.0f} %", least=100 * least, most=100 * most),
            Origin.ASSUMED,
        ),
    )
    text = (
        "Thickness is kept: a thicker pad lifts the plate off the die, a thinner one leaves a gap; paste bridges none."
    )
    says = Answers("COOL-PAD", subject, text, facts)
    own = part.thickness_mm
    if own * (1.0 - most) > low * (1.0 - least):
        return says.refused(
            phrase("{own:g} mm lift the plate off the die, {there} are there", own=own, there=there),
            phrase("{there}.", there=there),
        )
    if own * (1.0 - least) < high * (1.0 - most):
        return says.refused(
            phrase("{own:g} mm do not reach, {there} are there", own=own, there=there),
            phrase("A pad of {there}.", there=there),
        )
    if low <= own <= high:
        return says.fits(
            phrase("{own:g} mm, as before", own=own)
            if low == high
            else phrase("{own:g} mm for {there}", own=own, there=there)
        )
    words = phrase(
        "{own:g} mm where {there} {which}: look at its print before it is closed",
        own=own,
        there=there,
        which="was" if low == high else "were",
    )
    return says.needs("print of the new pad checked", phrase("A pad of {there}.", there=there), words)


def _pads_there(ground: FitGround, own: float) -> tuple[float, float]:
    """Least and most thickness of the pads that are there [mm]: of each chip as recorded, else of all together."""
    chips = [c for c in ground.machine.platform.chips if c.pad_min_mm is not None or c.pad_max_mm is not None]
    if chips and ground.machine.platform.contacts.pad_mm is None:
        return (min(_end(ground, c, "pad_min_mm", own) for c in chips),
                max(_end(ground, c, "pad_max_mm", own) for c in chips))  # fmt: skip
    gap = Gap("platform.contacts.pad_mm", "thickness of the pads there", either_side(own),
              "measure a fresh offcut, or the print it left", 4, "mm")  # fmt: skip
    there = ground.need(ground.machine.platform.contacts.pad_mm, gap)
    return there, there


def _end(ground: FitGround, chip: ChipContact, end: str, own: float) -> float:
    """One end of the thickness of the pad on a chip [mm]."""
    known: float | None = getattr(chip, end)
    word = "thinnest" if end == "pad_min_mm" else "thickest"
    gap = Gap(
        f"platform.chips.{chip.id}.{end}",
        phrase("{word} pad on {chip}", word=word, chip=lower_first(chip.label)),
        either_side(own),
        "measure the print it left",
        4,
        "mm",
    )
    return ground.need(known, gap)


def paste(ground: FitGround, subject: Subject) -> Verdict:
    part, contacts = subject.part, ground.machine.platform.contacts
    assert isinstance(part, Paste)
    facts = [on_part("kind", part.paste)]
    if part.ageing:
        facts.append(on_part("ageing", part.ageing))
    if part.paste is PasteKind.PHASE_CHANGE:
        facts.append(Fact("seats itself", "at the first warm load, with the plate screwed down", Origin.CATALOGUE))
    elif contacts.area_mm2 is not None:
        low, high = (contacts.area_mm2 * b for b in BOND_MM)
        facts.append(
            Fact(
                "amount",
                phrase("{low:.0f} to {high:.0f} mm³", low=low, high=high)
                + (" and the grooves of the pipes" if contacts.pipe_grooves else ""),
                Origin.COMPUTED,
            )
        )
    text = (
        "Amount = contact area x 0.05 to 0.1 mm. Gallium eats aluminium and shorts contacts; conductive pastes stay "
        "away from bare contacts. A phase-change sheet is cut to the die; it bridges no gap of a pad."
    )
    says = Answers("COOL-PASTE", subject, text, tuple(facts))
    if part.paste is PasteKind.PHASE_CHANGE:
        return says.fits("phase-change sheet, cut to the die; one warm load seats it")
    if part.paste is PasteKind.PLAIN:
        return says.fits("not conductive")
    if part.paste is PasteKind.GALLIUM:
        metal_gap = Gap("platform.contacts.aluminium", "metal of the plate", (True, False),
                        "scratch its edge: copper is red", 2)  # fmt: skip
        if ground.need(contacts.aluminium, metal_gap):
            return says.refused("gallium eats the aluminium plate", "A paste without gallium.")
    if ground.need(contacts.bare_contacts, BARE):
        return says.refused("conductive, and bare contacts lie near", "A paste that is not conductive.")
    return says.fits("no bare contacts near" + (", plate of copper" if part.paste is PasteKind.GALLIUM else ""))


def _pasted(ground: FitGround) -> tuple[Subject, ...]:
    """Whenever the heatsink comes off: new paste or another cooler. A tower has one for the processor alone."""
    if ground.machine.kind.build is MachineKind.TOWER:
        return ()
    lifted = ground.fresh((Paste, Cooler))
    if lifted:
        return lifted[:1]
    return (Subject(()),) if Service.NEW_PASTE in ground.around.services else ()


def shared(ground: FitGround, subject: Subject) -> Verdict:
    chips = ground.need(ground.machine.platform.contacts.chips, SHARED)
    facts = (on_machine(ground, "chips under the heatsink", chips, "platform.contacts.chips"),)
    text = "Lifting a heatsink breaks every contact under it: processor, graphics and chipset are renewed together."
    says = Answers("COOL-SHARED", subject, text, facts)
    if chips > 1:
        return says.needs(phrase("paste and pads for all {chips} contacts", chips=chips), "Leaving the heatsink on.",
                          phrase("one heatsink on {chips} chips: all contacts are renewed", chips=chips))  # fmt: skip
    return says.fits("one contact to renew")


CONTACT_RULES: tuple[Rule, ...] = (
    Rule("COOL-PAD", "Pad thickness", lambda ground: ground.fresh(Pad), pad),
    Rule("COOL-PASTE", "Kind of paste", lambda ground: ground.fresh(Paste), paste),
    Rule("COOL-SHARED", "Shared heatsink", _pasted, shared),
)
