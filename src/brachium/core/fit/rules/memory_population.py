"""Memory rules of the population: MEM-REG, MEM-DENS, MEM-PAIR, MEM-ORDER."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import GIB
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, key_of, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.memory import all_modules, module_in, modules_of, runs_here
from brachium.core.fit.rules.memory_size import PUBLISHED
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine, ModuleSlot
from brachium.core.machine.memory_part import Buffering, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.memory_rates import working_modules

BUFFERING = Gap("memory.buffering", "kind of modules that the board runs",
                ((Buffering.UNBUFFERED,), (Buffering.REGISTERED,), (Buffering.LOAD_REDUCED,)),
                "read the label of a fitted module (U, R or L after the speed grade)", 2)  # fmt: skip
PAIRS = Gap("memory.pairs_required", "need for pairs of modules", (True, False), "look into the board's handbook", 4)
NEVER_REGISTERED = (MachineKind.SMALL_DESKTOP, MachineKind.MINI_PC, MachineKind.ALL_IN_ONE, MachineKind.LAPTOP,
                    MachineKind.TABLET, MachineKind.HANDHELD)  # fmt: skip
OLD = (MemoryGeneration.DDR2, MemoryGeneration.DDR3)
KINDS_TEXT = "Unbuffered, registered and load-reduced modules drive the bus differently and never mix."
ALWAYS_RANKS = 2  # every controller drives two ranks of each module that its channel takes
BUS_BITS = 64  # of a rank, without those for ECC


def buffering(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    if _kind(module) is None and runs_here(ground, module):
        return Answers("MEM-REG", subject, KINDS_TEXT, (on_part("module", module.name),)).fits("runs here today")
    kind = ground.need(_kind(module), _kind_gap(ground, slot, module))
    runs = ground.need(_runs(ground, module), BUFFERING)
    beside = {_kind(m) for k, m in ground.config.modules().items() if k != subject.places[0]}
    others = {k for k in beside if k is not None} - {kind}
    facts = (
        on_part("module", phrase("{kind}{which}", kind=kind, which=", ECC" if module.ecc else "")),
        on_machine(ground, "board runs", runs, "memory.buffering"),
    )
    says = Answers("MEM-REG", subject, KINDS_TEXT, facts)
    if kind not in runs:
        return says.refused(
            phrase("{kind}, the board runs {runs}", kind=kind, runs=joined(" or ", runs)),
            phrase("An {runs} module.", runs=runs[0]),
        )
    if others:
        return says.refused(
            phrase("{kind} beside {others}", kind=kind, others=joined(" and ", sorted(others))),
            "Modules of one kind only.",
        )
    return _with_ecc(ground, subject, says) if module.ecc else says.fits(phrase("{kind}, as the board runs", kind=kind))


def _with_ecc(ground: FitGround, subject: Subject, says: Answers) -> Verdict:
    """A module with ECC of the right kind: it runs, with or without its ECC."""
    _, module = module_in(ground, subject)
    kind = _kind(module) or Buffering.UNBUFFERED
    if any(m.ecc is False for k, m in ground.config.modules().items() if k != subject.places[0]):
        return says.limited("runs without its ECC: a module beside it has none", "no error correction",
                            "Modules with ECC only.")  # fmt: skip
    takes = ground.machine.memory.takes_ecc
    if takes is None:
        return says.fits(phrase("{kind}, with its ECC where the board uses it", kind=kind))
    if not takes:
        return says.limited("runs without its ECC", "no error correction", "Nothing: the board has no ECC.")
    return says.fits(phrase("{kind}, as the board runs", kind=kind))


def _kind(module: MemoryModule) -> Buffering | None:
    """As recorded; laptop modules are unbuffered in all but a few machines of their own."""
    if module.buffering is not None:
        return module.buffering
    return Buffering.UNBUFFERED if module.form in (MemoryForm.SO_DIMM, MemoryForm.RIMM) else None


def _kind_gap(ground: FitGround, slot: ModuleSlot, module: MemoryModule) -> Gap:
    values = (Buffering.UNBUFFERED, Buffering.REGISTERED, Buffering.LOAD_REDUCED)
    return Gap(key_of(ground, slot.id, module, "buffering"), phrase("kind of {module}", module=module.name), values,
               "read the letter after the rate on its label: U, E, R or L", 1)  # fmt: skip


def _runs(ground: FitGround, module: MemoryModule) -> tuple[Buffering, ...] | None:
    """Recorded; else what runs there today; laptop modules are unbuffered in all but a few machines of their own."""
    known = ground.machine.memory.buffering
    if known is not None:
        return known
    today = {k for m in ground.today.modules().values() if (k := _kind(m)) is not None}
    if len(today) == 1:
        return tuple(today)
    never = module.form in (MemoryForm.SO_DIMM, MemoryForm.RIMM) or ground.machine.kind in NEVER_REGISTERED
    return (Buffering.UNBUFFERED,) if never else None


def _old_modules(ground: FitGround) -> tuple[Subject, ...]:
    return tuple(s for s in modules_of(ground) if isinstance(s.part, MemoryModule) and s.part.generation in OLD)


def density(ground: FitGround, subject: Subject) -> Verdict:
    """Chips of one module against what the controller addresses, ranks against what its channel drives."""
    slot, module = module_in(ground, subject)
    size_gib = module.size_bytes / GIB
    text = (
        "An old controller cannot address chips above a density, or more than so many ranks per channel: such a module "
        "is usable to half of its capacity or not at all."
    )
    if runs_here(ground, module):
        return Answers("MEM-DENS", subject, text, (on_part("module", module.name),)).fits("runs here today")
    ranks_gap = Gap(
        key_of(ground, slot.id, module, "ranks"),
        phrase("ranks of {module}", module=module.name),
        (1, 2, 4),
        "read them off its label (1Rx8, 2Rx8)",
        1,
    )
    ranks = ground.need(module.ranks, ranks_gap)
    width_gap = Gap(
        key_of(ground, slot.id, module, "chip_width"),
        phrase("chip width of {module}", module=module.name),
        (4, 8, 16),
        "read it off its label (1Rx8, 2Rx4)",
        1,
    )
    chip = chip_gbit(module.size_bytes, ranks, ground.need(module.chip_width, width_gap))
    limit, stated = _addressed(ground, slot, chip)
    most = ground.machine.memory.ranks_max
    together = _ranks(ground, slot, ranks)
    if together > (most or ALWAYS_RANKS * _modules_beside(ground)):  # by the worst case, so that the channels matter
        together = _ranks(replace(ground, machine=with_channels(ground)), slot, ranks)
    facts = (
        on_part("ranks", ranks), Fact("chips", phrase("{chip:g} Gbit", chip=chip), Origin.COMPUTED),
        on_machine(ground, "controller addresses", limit if stated else None, "memory.chip_max_gbit",
                   "Gbit" if stated else ""),
        on_machine(ground, "ranks per channel at most", most, "memory.ranks_max"),
    )  # fmt: skip
    says = Answers("MEM-DENS", subject, text, facts)
    if chip > 2 * limit:
        return says.refused(
            phrase("{chip:g} Gbit chips, the controller addresses {limit:g}", chip=chip, limit=limit),
            phrase("Chips of {limit:g} Gbit.", limit=limit),
        )
    if chip > limit:
        half = phrase("half the capacity usable: {chip:g} Gbit chips, {limit:g} addressed", chip=chip, limit=limit)
        return says.limited(half, phrase("{size_gib:g} GiB", size_gib=size_gib / 2),
                            phrase("A module with {limit:g} Gbit chips: twice the ranks.", limit=limit))  # fmt: skip
    most_gap = Gap("memory.ranks_max", "ranks per channel", (2, 4, 8), "look up the chipset's data sheet", 5)
    if together > (most or ALWAYS_RANKS * _modules_beside(ground)) and together > ground.need(most, most_gap):
        return says.refused(
            phrase("{together} ranks on the channel, too many", together=together), "A module with fewer ranks."
        )
    if not stated:
        return says.fits(
            phrase("{chip:g} Gbit chips, no denser than what runs here or the published maximum asks for", chip=chip)
        )
    return says.fits(phrase("{chip:g} Gbit chips of at most {limit:g}", chip=chip, limit=limit))


def chip_gbit(size_bytes: int, ranks: int, width: int) -> float:
    """Density of a module's chips [Gbit]: its size over ranks and the chips that make 64 bits."""
    return size_bytes * 8 / GIB / ranks / (BUS_BITS / width)


def _addressed(ground: FitGround, slot: ModuleSlot, chip: float) -> tuple[float, bool]:
    """(densest chip that is known to be addressed [Gbit], whether that is its limit): recorded; else half the largest
    module of the place in GiB, which has two ranks of eight chips; else what fitted modules and the published maximum
    prove, which may be less than the limit."""
    known = ground.machine.memory.chip_max_gbit
    if known is None and slot.max_bytes is not None:
        known = slot.max_bytes / GIB / 2
    if known is not None:
        return known, True
    proven = _proven_gbit(ground)
    if chip <= proven:
        return proven, False
    published: int = ground.need(ground.machine.memory.published_max_bytes, PUBLISHED)
    share = published / max(len(ground.machine.slots), 1) / GIB / 2
    if chip <= share:
        return share, False
    dense_gap = Gap("memory.chip_max_gbit", "densest chip that the controller addresses", (1.0, 2.0, 4.0, 8.0, 16.0),
                    "look up the chipset's data sheet", 5, "Gbit")  # fmt: skip
    return ground.need(known, dense_gap), True


def _proven_gbit(ground: FitGround) -> float:
    """The densest chip that runs on this board today [Gbit]; 0 where none is known."""
    if ground.before_board():
        return 0.0
    found = working_modules(ground.machine, ground.today).values()
    known = [chip_gbit(m.size_bytes, m.ranks, m.chip_width) for m in found if m.ranks and m.chip_width]
    return max(known, default=0.0)


def with_channels(ground: FitGround) -> Machine:
    """The machine with the channel of every place, for rules that cannot do without. Raises MissingFact."""

    def known(slot: ModuleSlot) -> ModuleSlot:
        if slot.channel is not None:
            return slot
        gap = Gap(f"slots.{slot.id}.channel", phrase("channel of {slot}", slot=lower_first(slot.label)), (0, 1),
                  "read it off the board (A1, B2) or look into the handbook", 3)  # fmt: skip
        return replace(slot, channel=ground.need(None, gap))

    return replace(ground.machine, slots=tuple(known(s) for s in ground.machine.slots))


def _ranks(ground: FitGround, slot: ModuleSlot, own: int) -> int:
    """Ranks on the channel of a place; a place of unknown channel may be on it."""
    modules = ground.config.modules()
    here = next(s.channel for s in ground.machine.slots if s.id == slot.id)
    return own + sum(
        modules[s.id].ranks or 1
        for s in ground.machine.slots
        if s.id != slot.id and s.id in modules and (s.channel == here or None in (s.channel, here))
    )  # fmt: skip


def _modules_beside(ground: FitGround) -> int:
    """Modules that may share a channel: as many as there are where channels are not known, else places of one."""
    named = [s.channel for s in ground.machine.slots]
    most = len(named) if None in named else max((named.count(c) for c in named), default=1)
    return max(min(most, len(ground.config.modules())), 1)


def pairs(ground: FitGround, subject: Subject) -> Verdict:
    modules = list(ground.config.modules().values())
    standard = False if all(m.generation is not MemoryGeneration.DDR2 for m in modules) else None
    known = ground.machine.memory.pairs_required
    required = ground.need(known if known is not None else standard, PAIRS)
    facts = (
        Fact("modules in the plan", str(len(modules)), Origin.PLANNED),
        on_machine(ground, "pairs required", required, "memory.pairs_required"),
    )
    text = "Some platforms start only with equal pairs, or want filler modules in their empty slots."
    says = Answers("MEM-PAIR", subject, text, facts)
    kinds = [(m.size_bytes, m.speed_mts, m.ranks) for m in modules]
    odd = [k for k in set(kinds) if kinds.count(k) % 2]
    if required and odd:
        return says.refused("this board starts only with equal pairs", "Modules in equal pairs.")
    return says.fits("equal pairs" if not odd else "no pairs needed")


def _partly_filled(ground: FitGround) -> tuple[Subject, ...]:
    """Boards with more than one place per channel that stay partly filled: only there the order matters."""
    slots = ground.machine.slots
    filled = [s for s in all_modules(ground) if len(s.places) < len(slots)]
    return tuple(filled) if len(slots) > len({s.channel for s in slots}) else ()


def order(ground: FitGround, subject: Subject) -> Verdict:
    """Modules of a plan may go into other places than planned: an order that nobody recorded is read at the bench."""
    first = ground.machine.memory.fill_first
    text = "Boards name the slots to fill first, the larger pair in the first of them."
    if not first:
        unknown = (on_machine(ground, "board's order", None, "memory.fill_first"),)
        return Answers("MEM-ORDER", subject, text, unknown).fits(
            "in the order that the board's print names", open_=True
        )
    names = tuple(ground.machine.place_label(p) for p in first)
    filled = set(subject.places)
    modules = ground.config.modules()
    sizes = [modules[p].size_bytes for p in first if p in modules]
    facts = (
        on_machine(ground, "board's order", names, "memory.fill_first"),
        Fact("filled", joined(", ", (ground.machine.place_label(p) for p in subject.places)), Origin.PLANNED),
    )
    says = Answers("MEM-ORDER", subject, text, facts)
    wanted = first[: len(filled)]
    if filled != set(wanted):
        where = joined(" and ", (lower_first(ground.machine.place_label(p)) for p in wanted))
        return says.limited(
            phrase("the board fills {where} first", where=where),
            "may start slower or not see a module",
            phrase("Use {where}.", where=where),
        )
    if sizes != sorted(sizes, reverse=True):
        return says.limited("the larger pair belongs in the first slots", "may run slower", "Swap the pairs.")
    return says.fits("in the board's own order")


POPULATION_RULES: tuple[Rule, ...] = (
    Rule("MEM-REG", "Buffering and ECC", modules_of, buffering),
    Rule("MEM-DENS", "Density of the chips, ranks", _old_modules, density),
    Rule("MEM-PAIR", "Pairs", all_modules, pairs),
    Rule("MEM-ORDER", "Order of slots", _partly_filled, order),
)
