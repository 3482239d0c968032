"""Rules of what feeds a machine from outside and from its battery: PSU-ADAPTER, BAT-FIT, BAT-STATE."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, either_side, on_machine, on_part
from brachium.core.fit.assumptions import CELL_V, SAME_V, WORN
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.platform import ADAPTER, BATTERY
from brachium.core.machine.power_parts import Adapter, Battery

ADAPTER_TEXT = (
    "Voltage, plug and polarity must be the machine's own: a wrong one destroys it. A weak or unrecognised adapter "
    "limits clock and charging; over USB-C the weakest of adapter, cable and machine counts."
)
POLARITIES = ("centre +", "centre -")
TYPICAL_V = (12.0, 15.0, 19.0, 19.5, 20.0)


def adapter(ground: FitGround, subject: Subject) -> Verdict:
    part = subject.part
    assert isinstance(part, Adapter)
    by_usb = part.usb_c_v is not None and part.usb_c_a is not None
    wrong = _no_usb_c(ground, subject) if by_usb else _wrong_plug(ground, part, subject)
    return wrong if wrong is not None else _enough(ground, part, subject, by_usb)


def _today(ground: FitGround) -> Adapter:
    """The adapter that feeds the machine today proves what it takes."""
    own = ground.today.parts.get(ADAPTER)
    return own if isinstance(own, Adapter) else Adapter("none recorded")


def _no_usb_c(ground: FitGround, subject: Subject) -> Verdict | None:
    takes = ground.machine.platform.power.usb_c
    if takes is None and _today(ground).usb_c_v is not None:
        takes = True
    gap = Gap("platform.power.usb_c", "power over USB-C", (True, False), "look for the mark beside the socket", 1)
    if ground.need(takes, gap):
        return None
    facts = (on_machine(ground, "power over USB-C", takes, "platform.power.usb_c"),)
    says = Answers("PSU-ADAPTER", subject, ADAPTER_TEXT, facts)
    return says.refused("the machine takes no USB-C power", "An adapter with the machine's own plug.")


def _wrong_plug(ground: FitGround, part: Adapter, subject: Subject) -> Verdict | None:
    """Another voltage, plug or polarity, where the machine does not take USB-C alone."""
    power, own = ground.machine.platform.power, _today(ground)
    volts = ground.need(
        part.volts,
        Gap(phrase("voltage of {part}", part=part.name), "adapter's voltage", TYPICAL_V, "read its label", 1, "V"),
    )
    asked_gap = Gap("platform.power.adapter_v", "voltage that the machine takes", (volts, 2 * volts),
                    "read the label at its socket", 1, "V")  # fmt: skip
    asked = ground.need(power.adapter_v or own.volts, asked_gap)
    plug_gap = Gap(
        phrase("plug of {part}", part=part.name), "adapter's plug", (power.plug or "own", "another"), "look at it", 1
    )
    plug = ground.need(part.plug or None, plug_gap)
    there_gap = Gap("platform.power.plug", "plug that the machine takes", (plug, "another"), "look at its socket", 1)
    there = ground.need(power.plug or own.plug or None, there_gap)
    facts = (
        on_part(
            "adapter",
            phrase(
                "{volts:g} V, plug {plug}, {polarity}",
                volts=volts,
                plug=plug,
                polarity=part.polarity or "polarity not stated",
            ),
        ),
        on_machine(
            ground, "machine takes", phrase("{asked:g} V, plug {there}", asked=asked, there=there), "platform.power"
        ),
    )
    says = Answers("PSU-ADAPTER", subject, ADAPTER_TEXT, facts)
    if abs(volts - asked) > SAME_V * asked:
        return says.refused(
            phrase("{volts:g} V, the machine takes {asked:g} V", volts=volts, asked=asked),
            phrase("An adapter of {asked:g} V.", asked=asked),
        )
    if plug != there:
        return says.refused(
            phrase("plug {plug}, the machine takes {there}", plug=plug, there=there),
            phrase("An adapter with plug {there}.", there=there),
        )
    polarity = ground.need(
        part.polarity or None,
        Gap(
            phrase("polarity of {part}", part=part.name),
            "adapter's polarity",
            POLARITIES,
            "read the sign on its label",
            1,
        ),
    )
    wanted = ground.need(power.polarity or own.polarity or None,
                         Gap("platform.power.polarity", "polarity that the machine takes", POLARITIES,
                             "read the sign at its socket, or on its own adapter", 1))  # fmt: skip
    if polarity != wanted:
        return says.refused(
            phrase("{polarity}, the machine takes {wanted}", polarity=polarity, wanted=wanted),
            phrase("An adapter with {wanted}.", wanted=wanted),
        )
    return None


def _enough(ground: FitGround, part: Adapter, subject: Subject, by_usb: bool) -> Verdict:
    """Watts against what the machine identifies."""
    usb = (part.usb_c_v or 0.0) * min(part.usb_c_a or 0.0, part.cable_a or 3.0) if by_usb else None
    amps = round(part.volts * part.amps) if part.volts is not None and part.amps is not None else None
    rating = usb if usb is not None else part.rated_w if part.rated_w is not None else amps
    given = ground.need(
        rating,
        Gap(
            phrase("rating of {part}", part=part.name),
            "adapter's rating",
            (45.0, 65.0, 90.0, 130.0),
            "read its label",
            1,
            "W",
        ),
    )
    gap = Gap("platform.power.adapter_w", "power that the machine asks for", either_side(given),
              "read the label of its own adapter", 1, "W")  # fmt: skip
    own = ground.machine.platform.power.adapter_w
    asked = ground.need(own if own is not None else _today(ground).rated_w, gap)
    facts = (on_part("adapter gives", given, "W"), on_part("recognised", part.recognised),
             on_machine(ground, "machine asks for", asked, "platform.power.adapter_w", "W"))  # fmt: skip
    says = Answers("PSU-ADAPTER", subject, ADAPTER_TEXT, facts)
    if given < asked:
        return says.limited(
            phrase("gives {given:g} W, the machine asks for {asked:g} W", given=given, asked=asked),
            "clock and charging limited",
            phrase("An adapter of {asked:g} W", asked=asked) + (" and a cable for 5 A." if by_usb else "."),
        )
    known_gap = Gap(phrase("recognition of {part}", part=part.name), "whether the machine recognises it", (True, False),
                    "plug it in and look into the firmware", 2)  # fmt: skip
    if not by_usb and not ground.need(part.recognised, known_gap):
        return says.limited("not recognised: clock and charging limited", "clock limited", "The maker's own adapter.")
    return says.fits(phrase("{given:g} W, {asked:g} W asked for", given=given, asked=asked))


def _batteries(ground: FitGround) -> tuple[Subject, ...]:
    """Another battery, or none where there was one."""
    if ground.machine.kind not in PORTABLE:
        return ()
    return (Subject((BATTERY,), ground.config.parts.get(BATTERY)),) if BATTERY in ground.changed else ()


def _new_battery(ground: FitGround) -> tuple[Subject, ...]:
    return tuple(s for s in _batteries(ground) if isinstance(s.part, Battery))


def cells(volts: float) -> int:
    """Cells in series: 10.8, 11.1 and 11.4 V are three of one kind or another."""
    return max(round(volts / CELL_V), 1)


def fit(ground: FitGround, subject: Subject) -> Verdict:
    """As many cells in series, and the same plug; the battery that sits there today proves both."""
    part, power = subject.part, ground.machine.platform.power
    assert isinstance(part, Battery)
    today = ground.today.parts.get(BATTERY)
    old = today if isinstance(today, Battery) else Battery("none recorded")
    volts = ground.need(
        part.volts,
        Gap(
            phrase("voltage of {part}", part=part.name),
            "battery's voltage",
            (7.4, 11.1, 14.8),
            "read its label",
            1,
            "V",
        ),
    )
    asked_gap = Gap("platform.power.battery_v", "voltage of the machine's battery", (volts, 2 * volts),
                    "read the old one's label", 2, "V")  # fmt: skip
    asked = ground.need(power.battery_v or old.volts, asked_gap)
    plug = ground.need(part.plug or None, Gap(phrase("plug of {part}", part=part.name), "battery's plug",
                                              (power.battery_plug or old.plug or "own", "another"),
                                              "look at its contacts", 1))  # fmt: skip
    there = ground.need(power.battery_plug or old.plug or None,
                        Gap("platform.power.battery_plug", "plug of the machine's battery", (plug, "another"),
                            "look at the old one's contacts", 2))  # fmt: skip
    facts = (
        on_part("battery", phrase("{volts:g} V, {plug}", volts=volts, plug=plug)),
        on_machine(ground, "machine takes", phrase("{asked:g} V, {there}", asked=asked, there=there), "platform.power"),
        Fact(
            "cells in series", phrase("{cells} of {cells2}", cells=cells(volts), cells2=cells(asked)), Origin.COMPUTED
        ),
    )
    text = "A battery of another number of cells in series or another plug does not charge, or is dangerous."
    says = Answers("BAT-FIT", subject, text, facts)
    if cells(volts) != cells(asked):
        return says.refused(
            phrase("{volts:g} V, the machine takes {asked:g} V", volts=volts, asked=asked),
            phrase("A battery of {asked:g} V.", asked=asked),
        )
    if plug != there:
        return says.refused(
            phrase("plug {plug}, the machine takes {there}", plug=plug, there=there),
            phrase("A battery with {there}.", there=there),
        )
    return says.fits(phrase("{cells} cells in series, {plug}", cells=cells(volts), plug=plug))


def state(ground: FitGround, subject: Subject) -> Verdict:
    part = subject.part
    text = "Under 60 % of its design capacity a new one is advised; without one many laptops limit their power."
    if not isinstance(part, Battery):
        return Answers("BAT-STATE", subject, text).limited(
            "no battery: power may be limited", "power limited", "A battery."
        )
    full = ground.need(
        part.full_wh,
        Gap(
            phrase("capacity of {part}", part=part.name),
            "battery's full charge",
            (10.0, 30.0, 60.0),
            "let the system read it",
            2,
            "Wh",
        ),
    )
    design = ground.need(
        part.design_wh,
        Gap(
            phrase("design of {part}", part=part.name),
            "battery's design capacity",
            (30.0, 60.0, 90.0),
            "read its label",
            1,
            "Wh",
        ),
    )
    facts = (on_part("when full", full, "Wh"), on_part("by design", design, "Wh"))
    says = Answers("BAT-STATE", subject, text, facts)
    share = full / design
    if share < WORN:
        return says.limited(
            phrase("{share:.0f} % of its design capacity", share=100 * share),
            phrase("{full:g} Wh", full=full),
            "A battery above 60 %.",
        )
    return says.fits(phrase("{share:.0f} % of its design capacity", share=100 * share))


ADAPTER_AND_BATTERY_RULES: tuple[Rule, ...] = (
    Rule("PSU-ADAPTER", "Adapter", lambda ground: ground.fresh(Adapter), adapter),
    Rule("BAT-FIT", "Battery's voltage and plug", _new_battery, fit),
    Rule("BAT-STATE", "Battery", _batteries, state),
)
