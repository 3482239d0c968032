"""How fast memory runs: channels that are filled, regions that are interleaved over them, rate, bandwidth."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.memory_part import MemoryModule

BYTES_PER_TRANSFER = 8.0  # of a channel: 64 bit; of DDR5 two halves of 32


def working_modules(machine: Machine, config: Configuration) -> Mapping[str, MemoryModule]:
    """Modules by place; one in a place that was proven dead does not count."""
    return {k: m for k, m in config.modules().items() if k not in machine.bad_places}


def channel_sizes(machine: Machine, config: Configuration) -> tuple[int, ...] | None:
    """Memory on each channel that carries data [byte]; None where a filled place's channel is not known.

    One module alone is on one channel wherever it sits.
    """
    found = working_modules(machine, config)
    modules = [(s.channel, found[s.id]) for s in machine.slots if s.id in found]
    sizes: dict[int, int] = {}
    for channel, module in modules:
        if channel is None and len(modules) > 1:
            return None
        sizes[channel or 0] = sizes.get(channel or 0, 0) + module.size_bytes
    return tuple(sizes.values())


def possible_channels(machine: Machine, config: Configuration | None = None) -> int | None:
    """Channels that board and processor have: the fewest of what is recorded and of those of the places; None where
    none of them is known. `config` brings another processor."""
    named = {s.channel for s in machine.slots}
    most = len(named) if None not in named else None
    chip = (config or machine.configuration()).processor()
    own = chip.memory_channels if chip is not None else machine.processor.memory_channels
    known = [n for n in (machine.memory.channels, most, own) if n]
    return min(known) if known else None


def regions(sizes: Sequence[int]) -> tuple[tuple[int, int], ...]:
    """(bytes, channels) of each part of the memory: what all channels have in common lies over all of them, the next
    part over those that still have room, and so on."""
    out: list[tuple[int, int]] = []
    left, low = sorted(s for s in sizes if s), 0
    while left:
        out.append(((left[0] - low) * len(left), len(left)))
        low = left[0]
        left = [s for s in left if s > low]
    return tuple(out)


def mean_channels(sizes: Sequence[int], most: int | None = None) -> float:
    """Channels that work at once, as the mean over all memory; never more than `most`. 0 without memory."""
    parts = regions(sizes)
    whole = sum(b for b, _ in parts)
    return sum(b * min(n, most or n) for b, n in parts) / whole if whole else 0.0


def bandwidth_mb_s(machine: Machine, config: Configuration) -> float | None:
    """Peak memory bandwidth = channels x 8 byte x MT/s [MB/s], the mean over all memory where channels are unequal.

    None where rate or channels are not known.
    """
    speed, sizes = memory_speed_mts(machine, config), channel_sizes(machine, config)
    if speed is None or not sizes:
        return None
    return BYTES_PER_TRANSFER * speed * mean_channels(sizes, possible_channels(machine, config))


def memory_speed_mts(machine: Machine, config: Configuration) -> int | None:
    """Speed all modules run at: the lowest of modules, board, its table and processor (MEM-SPEED); None without any,
    and where a module's own rate is not known."""
    speeds = [m.speed_mts for m in working_modules(machine, config).values()]
    if not speeds or None in speeds:
        return None
    limits = [machine.memory.board_max_mts, processor_mts(machine, config), derated_mts(machine, config)]
    return min(s for s in (*speeds, *limits) if s is not None)


def processor_mts(machine: Machine, config: Configuration) -> int | None:
    """Memory speed of the processor that will be there [MT/s]; None = not known."""
    chip = config.processor()
    return chip.memory_mts if chip is not None and chip.memory_mts else machine.memory.processor_max_mts


def derated_mts(machine: Machine, config: Configuration) -> int | None:
    """Speed that the board's table gives for the population [MT/s]; None without a table or a row that covers it."""
    per_channel: dict[int | None, int] = {}
    ranks = 1
    found = working_modules(machine, config)
    for slot in machine.slots:
        part = found.get(slot.id)
        if part is not None:
            per_channel[slot.channel] = per_channel.get(slot.channel, 0) + 1
            ranks = max(ranks, part.ranks or 1)
    if not per_channel or (None in per_channel and sum(per_channel.values()) > 1):
        return None
    most = max(per_channel.values())
    rows = [r.mts for r in machine.memory.derates if r.modules >= most and r.ranks >= ranks]
    return max(rows) if rows else None
