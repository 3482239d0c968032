"""Memory rules of one module in its place: MEM-BAD, MEM-FORM, MEM-GEN, MEM-VOLT."""

from __future__ import annotations

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.answers import key_of
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.machine import ModuleSlot
from brachium.core.machine.memory_rates import working_modules
from brachium.core.machine.parts import MemoryGeneration, MemoryModule

VOLTAGE = Gap("memory.low_voltage_only", "board's memory voltage", (True, False),
              "read the label of a fitted module or scan its configured voltage", 2)  # fmt: skip


def module_in(ground: FitGround, subject: Subject) -> tuple[ModuleSlot, MemoryModule]:
    slot = next(s for s in ground.machine.slots if s.id == subject.places[0])
    assert isinstance(subject.part, MemoryModule)
    return slot, subject.part


def modules_of(ground: FitGround) -> tuple[Subject, ...]:
    parts = ground.config.parts
    return tuple(Subject((s.id,), parts[s.id]) for s in ground.machine.slots if s.id in parts)


def all_modules(ground: FitGround) -> tuple[Subject, ...]:
    filled = tuple(s.id for s in ground.machine.slots if s.id in ground.config.parts)
    return (Subject(filled),) if filled else ()


def _verdict(
    rule: str, level: Level, subject: Subject, sentence: str, text: str, facts: tuple[Fact, ...],
    result: str = "", change: str = "",
) -> Verdict:  # fmt: skip
    return Verdict(rule, level, subject.places, sentence, Because(sentence, rule, text, facts, result, change))


def stays(ground: FitGround, subject: Subject) -> bool:
    """Whether a module sits where it runs today, on the same board: it proves what it needs."""
    return not ground.before_board() and subject.part == ground.today.parts.get(subject.places[0])


def runs_here(ground: FitGround, module: MemoryModule) -> bool:
    """Whether a module works on this board today, in whichever place: it proves what it needs of the board."""
    return not ground.before_board() and module in working_modules(ground.machine, ground.today).values()


def _runs(rule: str, subject: Subject, text: str, module: MemoryModule) -> Verdict:
    return _verdict(rule, Level.FITS, subject, "runs here today", text, (Fact("module", module.name, Origin.LABEL),))


def form(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    facts = (
        Fact("module", module.form, Origin.LABEL),
        Fact(slot.label, slot.form, ground.machine.origin(f"slots.{slot.id}")),
    )
    text = "Desktop and laptop modules differ in length and contacts; the module's form must be the slot's."
    if stays(ground, subject):
        return _runs("MEM-FORM", subject, text, module)
    solder_gap = Gap(
        f"slots.{slot.id}.soldered",
        phrase("whether {slot} is soldered", slot=lower_first(slot.label)),
        (True, False),
        "look at the board: a module has a clip at each end",
        5,
    )
    if not slot.takes_module or ground.need(slot.soldered, solder_gap):
        return _verdict(
            "MEM-FORM",
            Level.REFUSED,
            subject,
            phrase("{slot} is soldered", slot=lower_first(slot.label)),
            text,
            facts,
            "refused",
            "Nothing: soldered memory stays.",
        )
    if module.form == slot.form:
        return _verdict(
            "MEM-FORM",
            Level.FITS,
            subject,
            phrase("{form} in a {form2} slot", form=module.form, form2=slot.form),
            text,
            facts,
        )
    return _verdict(
        "MEM-FORM",
        Level.REFUSED,
        subject,
        phrase("a {form} does not go into a {form2} slot", form=module.form, form2=slot.form),
        text,
        facts,
        "refused",
        phrase("A {form} of the same size.", form=slot.form),
    )


def generation(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    facts = (
        Fact("module", module.generation, Origin.LABEL),
        Fact(slot.label, slot.generation, ground.machine.origin(f"slots.{slot.id}")),
    )
    text = "Each generation has its own notch, voltage and signals; there are no adapters."
    if module.generation == slot.generation:
        return _verdict(
            "MEM-GEN",
            Level.FITS,
            subject,
            phrase("{generation}, as the slot", generation=module.generation),
            text,
            facts,
        )
    return _verdict(
        "MEM-GEN",
        Level.REFUSED,
        subject,
        phrase(
            "the board takes {generation}, not {generation2}", generation=slot.generation, generation2=module.generation
        ),
        text,
        facts,
        "refused",
        phrase("A {generation} module.", generation=slot.generation),
    )


def voltage(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    unsaid = not module.volts or ground.machine.memory.low_voltage_only is None
    if unsaid and runs_here(ground, module):
        return _runs("MEM-VOLT", subject, "A module that runs here has the voltage that it needs.", module)
    if slot.generation is not MemoryGeneration.DDR3:
        return _verdict("MEM-VOLT", Level.FITS, subject, "one voltage in this generation",
                        "Only DDR3 came in two voltages.", ())  # fmt: skip
    volts_gap = Gap(
        key_of(ground, slot.id, module, "volts"),
        phrase("voltage of {module}", module=module.name),
        ((1.5,), (1.35, 1.5)),
        "read its label: PC3L needs 1.35 V, PC3 1.5 V",
        1,
    )
    volts = ground.need(module.volts or None, volts_gap)
    rated = joined(" and ", (phrase("{v:g} V", v=v) for v in volts))
    low_only = None if 1.35 in volts and 1.5 in volts else ground.need(_low_only(ground), VOLTAGE)
    facts = (
        Fact("module rated for", rated, Origin.LABEL),
        Fact("board gives", "not needed" if low_only is None else "1.35 V" if low_only else "1.5 V",
             ground.machine.origin("memory.low_voltage_only")),
    )  # fmt: skip
    text = "A board that only gives 1.35 V refuses modules that need 1.5 V; a dual-rated module runs on either."
    if low_only and 1.35 not in volts:
        return _verdict("MEM-VOLT", Level.REFUSED, subject, "needs 1.5 V, the board gives only 1.35 V", text, facts,
                        "refused", "A module rated for 1.35 V.")  # fmt: skip
    return _verdict("MEM-VOLT", Level.FITS, subject, phrase("rated for {rated}", rated=rated), text, facts)


def _low_only(ground: FitGround) -> bool | None:
    """As recorded; a module that needs 1.5 V and runs on this board today proves that it gives it."""
    known = ground.machine.memory.low_voltage_only
    today = () if ground.before_board() else tuple(ground.today.modules().values())
    proven = any(m.volts and 1.35 not in m.volts for m in today if m.generation is MemoryGeneration.DDR3)
    return False if known is None and proven else known


def _faulty(ground: FitGround) -> tuple[Subject, ...]:
    """Modules in places proven dead, and modules proven faulty that would stay where they are."""
    machine = ground.machine
    now = machine.configuration().parts
    return tuple(
        s for s in modules_of(ground)
        if s.places[0] in machine.bad_places
        or (s.places[0] in machine.bad_parts and s.part is now.get(s.places[0]))
    )  # fmt: skip


def bad(ground: FitGround, subject: Subject) -> Verdict:
    """A place or module that was proven faulty, in the swap grid or otherwise."""
    slot, module = module_in(ground, subject)
    dead = slot.id in ground.machine.bad_places
    sentence = phrase("{slot} is dead", slot=slot.label) if dead else phrase("{module} is faulty", module=module.name)
    facts = (Fact(slot.label, "proven dead" if dead else "its module proven faulty", Origin.LOGGED),)
    text = "Nothing is put into a slot that was proven dead, and a faulty module stays out."
    change = "Another slot." if dead else "Another module."
    return _verdict("MEM-BAD", Level.REFUSED, subject, sentence, text, facts, "", change)


MEMORY_RULES: tuple[Rule, ...] = (
    Rule("MEM-BAD", "Proven faulty", _faulty, bad),
    Rule("MEM-FORM", "Form of module and slot", modules_of, form),
    Rule("MEM-GEN", "Generation", modules_of, generation),
    Rule("MEM-VOLT", "Voltage", modules_of, voltage),
)
