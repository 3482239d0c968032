"""Memory rules: MEM-BAD, MEM-FORM, MEM-GEN, MEM-VOLT, MEM-SLOT, MEM-TOTAL, MEM-CHAN, MEM-SPEED."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GIB, gib
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.evidence import claim_for, probability
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.machine import (
    Machine,
    ModuleSlot,
    bandwidth_mb_s,
    channel_sizes,
    derated_mts,
    memory_speed_mts,
    possible_channels,
    processor_mts,
)
from brachium.core.machine.parts import MemoryGeneration, MemoryModule

_SIZES = tuple(n * GIB for n in (2, 4, 8, 16, 32, 64))
VOLTAGE = Gap("memory.low_voltage_only", "board's memory voltage", (True, False),
              "read the label of a fitted module or scan its configured voltage", 2)  # fmt: skip
BOARD_SPEED = Gap("memory.board_max_mts", "board's memory speed", (1066, 1333, 1600, 1866, 2133, 2400, 3200),
                  "scan the board, or look into its handbook", 5)  # fmt: skip
PUBLISHED = Gap("memory.published_max_bytes", "published memory maximum", (*_SIZES, 128 * GIB),
                "look into the machine's handbook", 5)  # fmt: skip
CONTROLLER = Gap("memory.controller_max_bytes", "controller's memory limit", (*_SIZES, 128 * GIB),
                 "look up the processor's data sheet", 5)  # fmt: skip


def module_in(ground: FitGround, subject: Subject) -> tuple[ModuleSlot, MemoryModule]:
    slot = next(s for s in ground.machine.slots if s.id == subject.places[0])
    assert isinstance(subject.part, MemoryModule)
    return slot, subject.part


def with_channels(ground: FitGround) -> Machine:
    """The machine with the channel of every place, for rules that cannot do without. Raises MissingFact."""

    def known(slot: ModuleSlot) -> ModuleSlot:
        gap = Gap(f"slots.{slot.id}.channel", f"channel of {slot.label.lower()}", (0, 1),
                  "read it off the board (A1, B2) or look into the handbook", 3)  # fmt: skip
        return replace(slot, channel=ground.need(slot.channel, gap))

    return replace(ground.machine, slots=tuple(known(s) for s in ground.machine.slots))


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


def _runs(rule: str, subject: Subject, text: str, module: MemoryModule) -> Verdict:
    return _verdict(rule, Level.FITS, subject, "runs here today", text, (Fact("module", module.name, Origin.LABEL),))


def form(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    facts = (
        Fact("module", module.form, Origin.LABEL),
        Fact(slot.label, slot.form, ground.machine.origin(f"slots.{slot.id}")),
    )
    text = "Desktop and laptop modules differ in length and contacts; the module's form must be the place's."
    if stays(ground, subject):
        return _runs("MEM-FORM", subject, text, module)
    solder_gap = Gap(f"slots.{slot.id}.soldered", f"whether {slot.label.lower()} is soldered", (True, False),
                     "look at the board: a module has a clip at each end", 5)  # fmt: skip
    if not slot.takes_module or ground.need(slot.soldered, solder_gap):
        return _verdict("MEM-FORM", Level.REFUSED, subject, f"{slot.label.lower()} is soldered", text, facts, "refused",
                        "Nothing: soldered memory stays.")  # fmt: skip
    if module.form == slot.form:
        return _verdict("MEM-FORM", Level.FITS, subject, f"{module.form} in a {slot.form} place", text, facts)
    return _verdict("MEM-FORM", Level.REFUSED, subject, f"a {module.form} does not go into a {slot.form} place", text,
                    facts, "refused", f"A {slot.form} of the same size.")  # fmt: skip


def generation(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    facts = (
        Fact("module", module.generation, Origin.LABEL),
        Fact(slot.label, slot.generation, ground.machine.origin(f"slots.{slot.id}")),
    )
    text = "Each generation has its own notch, voltage and signals; there are no adapters."
    if module.generation == slot.generation:
        return _verdict("MEM-GEN", Level.FITS, subject, f"{module.generation}, as the place", text, facts)
    return _verdict("MEM-GEN", Level.REFUSED, subject, f"the board takes {slot.generation}, not {module.generation}",
                    text, facts, "refused", f"A {slot.generation} module.")  # fmt: skip


def voltage(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    unsaid = not module.volts or ground.machine.memory.low_voltage_only is None
    if unsaid and stays(ground, subject):
        return _runs("MEM-VOLT", subject, "A module that runs here has the voltage that it needs.", module)
    if slot.generation is not MemoryGeneration.DDR3:
        return _verdict("MEM-VOLT", Level.FITS, subject, "one voltage in this generation",
                        "Only DDR3 came in two voltages.", ())  # fmt: skip
    volts_gap = Gap(f"parts.{slot.id}.volts", f"voltage of {module.name}", ((1.5,), (1.35, 1.5)),
                    "read its label: PC3L needs 1.35 V, PC3 1.5 V", 1)  # fmt: skip
    volts = ground.need(module.volts or None, volts_gap)
    rated = " and ".join(f"{v:g} V" for v in volts)
    low_only = (
        None if 1.35 in volts and 1.5 in volts
        else ground.need(ground.machine.memory.low_voltage_only, VOLTAGE)
    )  # fmt: skip
    facts = (
        Fact("module rated for", rated, Origin.LABEL),
        Fact("board gives", "not needed" if low_only is None else "1.35 V" if low_only else "1.5 V",
             ground.machine.origin("memory.low_voltage_only")),
    )  # fmt: skip
    text = "A board that only gives 1.35 V refuses modules that need 1.5 V; a dual-rated module runs on either."
    if low_only and 1.35 not in volts:
        return _verdict("MEM-VOLT", Level.REFUSED, subject, "needs 1.5 V, the board gives only 1.35 V", text, facts,
                        "refused", "A module rated for 1.35 V.")  # fmt: skip
    return _verdict("MEM-VOLT", Level.FITS, subject, f"rated for {rated}", text, facts)


def slot_size(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    gap = Gap(f"slots.{slot.id}.max_bytes", f"largest module for {slot.label.lower()}", _SIZES,
              "look into the board's handbook", 5)  # fmt: skip
    if slot.max_bytes is None and stays(ground, subject):
        return _runs("MEM-SLOT", subject, "The largest module that the controller addresses in one place.", module)
    limit = ground.need(slot.max_bytes, gap)
    facts = (
        Fact("module", gib(module.size_bytes), Origin.LABEL),
        Fact(f"{slot.label} takes up to", gib(limit), ground.machine.origin(f"slots.{slot.id}")),
    )
    text = "The largest module that the controller addresses in one place."
    if module.size_bytes > limit:
        return _verdict("MEM-SLOT", Level.REFUSED, subject, f"{gib(module.size_bytes)} is over its {gib(limit)}",
                        text, facts, "refused", f"A module of at most {gib(limit)}.")  # fmt: skip
    return _verdict("MEM-SLOT", Level.FITS, subject, f"{gib(module.size_bytes)} of at most {gib(limit)}", text, facts)


def total(ground: FitGround, subject: Subject) -> Verdict:
    memory = ground.machine.memory
    size = ground.config.memory_bytes()
    controller = ground.need(memory.controller_max_bytes, CONTROLLER)
    published = ground.need(memory.published_max_bytes, PUBLISHED)
    facts = (
        Fact("planned total", gib(size), Origin.PLANNED),
        Fact("published maximum", gib(published), ground.machine.origin("memory.published_max_bytes")),
        Fact("controller's limit", gib(controller), ground.machine.origin("memory.controller_max_bytes")),
    )
    text = "A published maximum is often only what was tested; the controller's limit is what can be addressed."
    if size > controller:
        return _verdict("MEM-TOTAL", Level.REFUSED, subject, f"{gib(size)} is over the controller's {gib(controller)}",
                        text, facts, "refused", f"At most {gib(controller)} in all.")  # fmt: skip
    claim = claim_for(ground.around.claims, total_claim(size), ground.machine.identity.model)
    if size > published and probability(claim.sources) >= ground.around.threshold:
        sentence = f"{gib(size)} is over the published {gib(published)}, but proven in this model"
        return _verdict("MEM-TOTAL", Level.FITS, subject, sentence, text, facts, f"{len(claim.sources)} sources")
    if size > published:
        return _verdict("MEM-TOTAL", Level.NOT_KNOWN, subject, f"{gib(size)} is over the published {gib(published)}",
                        text, facts, "not known", "A report of the same model running this much.")  # fmt: skip
    return _verdict("MEM-TOTAL", Level.FITS, subject, f"{gib(size)} of at most {gib(published)}", text, facts)


def total_claim(size_bytes: int) -> str:
    """What evidence for a memory total is kept under."""
    return f"{gib(size_bytes)} in all"


def channels(ground: FitGround, subject: Subject) -> Verdict:
    sizes, possible = channel_sizes(ground.machine, ground.config), possible_channels(ground.machine)
    if sizes is None or possible is None:
        return _channels_not_known(ground, subject, sizes)
    active, matched = len(sizes), len(set(sizes)) <= 1
    rate = bandwidth_mb_s(ground.machine, ground.config)
    speed = memory_speed_mts(ground.machine, ground.config)
    if rate is None or speed is None:
        return _channels_not_known(ground, subject, sizes)
    facts = (
        Fact("channels filled", f"{active} of {possible}", Origin.PLANNED),
        Fact("channel sizes", "equal" if matched else "unequal", Origin.PLANNED),
        Fact("runs at", f"{speed} MT/s", Origin.COMPUTED),
    )
    text = "Each filled channel moves 8 bytes per transfer; only the equal part of unequal channels is shared out."
    result = f"{rate / 1000:.1f} GB/s peak"
    if active < possible:
        return _verdict("MEM-CHAN", Level.LIMITED, subject, f"{active} channel of {possible}, {rate / 1000:.1f} GB/s",
                        text, facts, result, "A second, equal module in the free channel.")  # fmt: skip
    if not matched:
        return _verdict("MEM-CHAN", Level.LIMITED, subject, f"unequal channels, {rate / 1000:.1f} GB/s on average",
                        text, facts, result, "Two modules of equal size.")  # fmt: skip
    return _verdict("MEM-CHAN", Level.FITS, subject, f"{active} channels, {rate / 1000:.1f} GB/s", text, facts,
                    f"{active} channels × 8 B × {speed} MT/s = {rate / 1000:.1f} GB/s")  # fmt: skip


def _channels_not_known(ground: FitGround, subject: Subject, sizes: tuple[int, ...] | None) -> Verdict:
    """Channels and rates make memory faster or slower, never unfit: what is known is said as a range."""
    modules = len(subject.places)
    most = min(modules, ground.machine.memory.channels or modules)
    speed = memory_speed_mts(ground.machine, ground.config)
    channels = str(len(sizes)) if sizes is not None else "1" if most == 1 else f"1 to {most}"
    low, high = (8.0 * (speed or 0) * n / 1000 for n in ((len(sizes), len(sizes)) if sizes is not None else (1, most)))
    rate = "" if not speed else f", {low:.1f} GB/s" if low == high else f", {low:.1f} to {high:.1f} GB/s"
    facts = (
        Fact("channels of the places", "not recorded" if sizes is None else channels, ground.machine.origin("slots")),
        Fact("runs at", f"{speed} MT/s" if speed else "not known", Origin.COMPUTED),
    )
    text = "Each filled channel moves 8 bytes per transfer; how many there are is not recorded."
    sentence = f"{channels} channel{'' if channels == '1' else 's'}{rate}"
    return _verdict("MEM-CHAN", Level.FITS, subject, sentence, text, facts,
                    change="The channel of each place: read it off the board (A1, B2) or the handbook.")  # fmt: skip


def speed(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    rate_gap = Gap(f"parts.{slot.id}.speed_mts", f"rate of {module.name}", (1066, 1333, 1600, 2400, 3200, 4800),
                   "read its label (PC3-12800 is 1600, PC4-2400 is 2400)", 1)  # fmt: skip
    own = ground.need(module.speed_mts, rate_gap)
    board = ground.need(ground.machine.memory.board_max_mts, BOARD_SPEED)
    others = [m.speed_mts for k, m in ground.config.modules().items() if k != subject.places[0] and m.speed_mts]
    machine = with_channels(ground) if ground.machine.memory.derates else ground.machine
    chip, table = processor_mts(machine, ground.config), derated_mts(machine, ground.config)
    runs_at = min([own, board, *others, *(v for v in (chip, table) if v)])
    facts = [
        Fact("module", f"{own} MT/s", Origin.LABEL),
        Fact("board", f"{board} MT/s", ground.machine.origin("memory.board_max_mts")),
    ]
    if chip:
        facts.append(Fact("processor", f"{chip} MT/s", ground.machine.origin("memory.processor_max_mts")))
    if table:
        facts.append(Fact("board's table for this population", f"{table} MT/s", Origin.CATALOGUE))
    facts += [Fact("neighbour", f"{o} MT/s", Origin.LABEL) for o in others]
    text = "All modules run at the lowest of their own grades, the board's and the processor's."
    if runs_at < own:
        return _verdict("MEM-SPEED", Level.LIMITED, subject, f"runs at {runs_at}, not {own}", text,
                        tuple(facts), f"{runs_at} MT/s",
                        "Nothing cheaper: a faster grade brings nothing here.")  # fmt: skip
    return _verdict("MEM-SPEED", Level.FITS, subject, f"runs at its own {runs_at} MT/s", text, tuple(facts))


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
    sentence = f"{slot.label} is dead" if dead else f"{module.name} is faulty"
    facts = (Fact(slot.label, "proven dead" if dead else "its module proven faulty", Origin.LOGGED),)
    text = "Nothing is put into a place that was proven dead, and a faulty module stays out."
    change = "Another place." if dead else "Another module."
    return _verdict("MEM-BAD", Level.REFUSED, subject, sentence, text, facts, "", change)


MEMORY_RULES: tuple[Rule, ...] = (
    Rule("MEM-BAD", "Proven faulty", _faulty, bad),
    Rule("MEM-FORM", "Form of module and place", modules_of, form),
    Rule("MEM-GEN", "Generation", modules_of, generation),
    Rule("MEM-VOLT", "Voltage", modules_of, voltage),
    Rule("MEM-SLOT", "Largest module for a place", modules_of, slot_size),
    Rule("MEM-TOTAL", "Memory in all", all_modules, total),
    Rule("MEM-CHAN", "Channels", all_modules, channels),
    Rule("MEM-SPEED", "Speed", modules_of, speed, ("memory", "processor")),
)
