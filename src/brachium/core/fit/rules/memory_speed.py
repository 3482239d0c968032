"""Memory rules of speed: MEM-CHAN, MEM-SPEED. Faster or slower, never unfit: what is not known is said as a range."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import Text, counted, joined, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.memory import all_modules, module_in, modules_of
from brachium.core.fit.verdict import Verdict
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.memory_rates import (
    bandwidth_mb_s,
    channel_sizes,
    derated_mts,
    mean_channels,
    memory_speed_mts,
    possible_channels,
    processor_mts,
    working_modules,
)


def channels(ground: FitGround, subject: Subject) -> Verdict:
    machine, config = ground.machine, ground.config
    sizes, possible = channel_sizes(machine, config), possible_channels(machine, config)
    rate, speed = bandwidth_mb_s(machine, config), memory_speed_mts(machine, config)
    if sizes is None or possible is None or rate is None or speed is None:
        return _channels_not_known(ground, subject, sizes)
    active, matched = min(len(sizes), possible), len(set(sizes)) <= 1
    facts = (
        Fact("channels filled", phrase("{count}", count=len(sizes)), Origin.PLANNED),
        on_machine(ground, "channels of board and processor", possible, "memory.channels"),
        Fact("channel sizes", "equal" if matched else "unequal", Origin.PLANNED),
        Fact("runs at", phrase("{speed} MT/s", speed=speed), Origin.COMPUTED),
    )
    text = (
        "Each filled channel moves 8 bytes per transfer. What all channels have in common is shared out over all of "
        "them, the next part over those that still have room, and so on."
    )
    says = Answers("MEM-CHAN", subject, text, facts)
    result = phrase("{rate:.1f} GB/s peak", rate=rate / 1000)
    if active < possible:
        return says.limited(
            counted(
                active,
                "{count} channel of {possible}, {rate:.1f} GB/s",
                "{count} channels of {possible}, {rate:.1f} GB/s",
                possible=possible,
                rate=rate / 1000,
            ),
            result,
            "A further, equal module in a free channel.",
        )
    if not matched and mean_channels(sizes, possible) < active:
        return says.limited(
            phrase("unequal channels, {rate:.1f} GB/s on average", rate=rate / 1000), result, "Modules of equal size."
        )
    named = counted(active, "{count} channel", "{count} channels")
    return says.fits(
        phrase("{named}, {rate:.1f} GB/s", named=named, rate=rate / 1000),
        phrase("{named} × 8 B × {speed} MT/s = {rate:.1f} GB/s", named=named, speed=speed, rate=rate / 1000),
    )


def _channels_not_known(ground: FitGround, subject: Subject, sizes: tuple[int, ...] | None) -> Verdict:
    modules = len(working_modules(ground.machine, ground.config))
    most = min(modules, possible_channels(ground.machine, ground.config) or modules)
    speed = memory_speed_mts(ground.machine, ground.config)
    known = None if sizes is None else min(len(sizes), most)
    channels = str(known) if known is not None else "1" if most <= 1 else phrase("1 to {most}", most=most)
    low, high = (8.0 * (speed or 0) * n / 1000 for n in ((known, known) if known is not None else (1, most)))
    rate = (
        ""
        if not speed
        else phrase(", {low:.1f} GB/s", low=low)
        if low == high
        else phrase(", {low:.1f} to {high:.1f} GB/s", low=low, high=high)
    )
    facts = (
        Fact("channels of the slots", "not recorded" if sizes is None else channels, ground.machine.origin("slots")),
        Fact("runs at", phrase("{speed} MT/s", speed=speed) if speed else "not known", Origin.COMPUTED),
    )
    text = "Each filled channel moves 8 bytes per transfer; how many there are is not recorded."
    return Answers("MEM-CHAN", subject, text, facts).fits(
        joined(
            "",
            (
                phrase("1 to {most} channels", most=most)
                if known is None and most > 1
                else counted(known or 1, "{count} channel", "{count} channels"),
                rate,
            ),
        ),
        open_=low != high,
    )


@dataclass(frozen=True)
class _Limits:
    """What bounds the rate of one module [MT/s]; None = not recorded, or no table."""

    own: int | None
    board: int | None
    chip: int | None
    table: int | None
    others: tuple[int, ...]

    @property
    def most(self) -> int:
        return min(v for v in (self.own, self.board, self.chip, self.table, *self.others) if v)


def _limits(ground: FitGround, subject: Subject, module: MemoryModule) -> _Limits:
    beside = working_modules(ground.machine, ground.config).items()
    return _Limits(
        module.speed_mts, ground.machine.memory.board_max_mts, processor_mts(ground.machine, ground.config),
        derated_mts(ground.machine, ground.config),
        tuple(m.speed_mts for k, m in beside if k != subject.places[0] and m.speed_mts),
    )  # fmt: skip


def _facts(ground: FitGround, limits: _Limits) -> tuple[Fact, ...]:
    facts = [Fact("module", phrase("{own} MT/s", own=limits.own) if limits.own else "not recorded", Origin.LABEL),
             on_machine(ground, "board", limits.board, "memory.board_max_mts", "MT/s")]  # fmt: skip
    if limits.chip:
        facts.append(on_machine(ground, "processor", limits.chip, "memory.processor_max_mts", "MT/s"))
    if limits.table:
        facts.append(
            Fact("board's table for this population", phrase("{table} MT/s", table=limits.table), Origin.CATALOGUE)
        )
    return (*facts, *(Fact("neighbour", phrase("{o} MT/s", o=o), Origin.LABEL) for o in limits.others))


def speed(ground: FitGround, subject: Subject) -> Verdict:
    _, module = module_in(ground, subject)
    limits = _limits(ground, subject, module)
    text = "All modules run at the lowest of their own grades, the board's and the processor's."
    says = Answers("MEM-SPEED", subject, text, _facts(ground, limits))
    if limits.own is None:
        return says.fits("at the slowest rate of all; its own is not recorded", open_=True)
    proven = _proven_mts(ground, module) or 0
    if limits.board is None and proven < limits.most:
        return _not_settled(says, limits, proven, "the board's limit")
    rows = [r.mts for r in ground.machine.memory.derates] if limits.table is None and limits.others else []
    if rows and min(rows) < limits.most:
        return _not_settled(says, limits, min(rows), "the channels of the slots")
    return _at(says, ground, limits)


def _at(says: Answers, ground: FitGround, limits: _Limits) -> Verdict:
    """The rate is known."""
    most, own = limits.most, limits.own or limits.most
    if most < own:
        return says.limited(phrase("runs at {most}, not {own}", most=most, own=own), phrase("{most} MT/s", most=most),
                            "Nothing cheaper: a faster grade brings nothing here.")  # fmt: skip
    before = memory_speed_mts(ground.machine, ground.today) if not ground.before_board() else None
    fresh = says.subject.part != ground.today.parts.get(says.subject.places[0])
    if before is not None and most < before and fresh:
        slows = Text("slows all to {mts} MT/s, the fitted ones run at {before}", {"mts": most, "before": before})
        return says.limited(slows, phrase("{most} MT/s", most=most), "A faster module.")
    return says.fits(phrase("runs at its own {most} MT/s", most=most))


def _proven_mts(ground: FitGround, module: MemoryModule) -> int | None:
    """The rate at which memory of that generation runs on this board today [MT/s]."""
    if ground.before_board():
        return None
    today = working_modules(ground.machine, ground.today).values()
    rates = [m.speed_mts for m in today if m.speed_mts and m.generation is module.generation]
    return min(rates) if rates and len(rates) == len(today) else None


def _not_settled(says: Answers, limits: _Limits, least: int, what: str) -> Verdict:
    """What a limit that nobody recorded leaves open."""
    most, own = limits.most, limits.own or limits.most
    rates = Text("{least} to {most}", {"least": least, "most": most}) if least else phrase("up to {most}", most=most)
    if most < own:
        sentence = Text("runs at {rates}, not {own} MT/s, by {what}, not recorded",
                        {"rates": rates, "own": own, "what": what})  # fmt: skip
        return says.limited(sentence, phrase("{rates} MT/s", rates=rates), phrase("Recording {what}.", what=what))
    sentence = Text("runs at {rates} MT/s, by {what}, not recorded", {"rates": rates, "what": what})
    return says.fits(sentence, phrase("{rates} MT/s", rates=rates), open_=True)


SPEED_RULES: tuple[Rule, ...] = (
    Rule("MEM-CHAN", "Channels", all_modules, channels, ("memory", "processor")),
    Rule("MEM-SPEED", "Speed", modules_of, speed, ("memory", "processor")),
)
