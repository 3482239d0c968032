"""The best way to fill the memory slots: keep, move, add and take out, over what is fitted and what is bought.

Exact up to eight removable places: every way to share the modules out over the groups of like places (those of one
channel, with one limit) is looked at, branch and bound by bytes. Best is, one after the other: most usable bytes, most
bandwidth, fewest modules bought, fewest places touched, the board's own order. More places than that are filled in
order, and what is fitted stays.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from brachium.core.machine.machine import Configuration, Machine, ModuleSlot
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.memory_rates import BYTES_PER_TRANSFER, mean_channels, possible_channels, processor_mts

EXACT_PLACES = 8
Kind = tuple[MemoryModule, bool]  # a module, and whether it is bought
Counts = tuple[int, ...]  # of each kind


@dataclass(frozen=True)
class Population:
    """What sits in the removable places, by place; places that stay empty are left out."""

    parts: Mapping[str, MemoryModule]
    bought: int  # of the modules that were offered so many are used
    bytes: int  # of all memory, soldered included
    bandwidth_mb_s: float  # 0 where channels or rates are not known


@dataclass(frozen=True)
class _Group:
    """Places that are alike: of one channel, with one limit."""

    places: tuple[ModuleSlot, ...]
    fitted: Counts

    @property
    def channel(self) -> int | None:
        return self.places[0].channel


def best_population(machine: Machine, bought: Sequence[MemoryModule], all_bought: bool = False) -> Population | None:
    """The best population with the fitted modules and those bought; `all_bought`: none of them may be left over.

    None where no population keeps the limits. Left out: modules proven faulty, places proven dead, what lies in them.
    """
    return _Search(machine, bought, all_bought).best()


def _usable(machine: Machine) -> list[ModuleSlot]:
    """Places that a module can go into, in the board's own order, those that it does not name last."""
    places = [s for s in machine.slots if s.takes_module and s.id not in machine.bad_places]
    first = {p: k for k, p in enumerate(machine.memory.fill_first)}
    return sorted(places, key=lambda s: first.get(s.id, len(first)))


class _Search:
    def __init__(self, machine: Machine, bought: Sequence[MemoryModule], all_bought: bool) -> None:
        self._machine, self._all_bought, self._bought = machine, all_bought, len(bought)
        self._places = _usable(machine)
        self._order = {s.id: k for k, s in enumerate(self._places)}
        modules = machine.configuration().modules()
        removable = {s.id for s in machine.slots if s.takes_module}
        self._fitted = {p: m for p, m in modules.items() if p in self._order and p not in machine.bad_parts}
        self._fixed = [(s.channel, modules[s.id]) for s in machine.slots if s.id in modules and s.id not in removable]
        have = Counter[Kind]((m, False) for m in self._fitted.values()) + Counter[Kind]((m, True) for m in bought)
        self._kinds = sorted(have, key=lambda k: (-k[0].size_bytes, k[1]))
        self._have = tuple(have[k] for k in self._kinds)
        self._groups = self._grouped()

    def _grouped(self) -> tuple[_Group, ...]:
        found: dict[tuple[object, ...], list[ModuleSlot]] = {}
        for s in self._places:
            found.setdefault((s.channel, s.max_bytes, s.form, s.generation), []).append(s)
        return tuple(_Group(tuple(g), self._counts([self._fitted[s.id] for s in g if s.id in self._fitted]))
                     for g in found.values())  # fmt: skip

    def _counts(self, modules: Sequence[MemoryModule]) -> Counts:
        return tuple(modules.count(m) if not new else 0 for m, new in self._kinds)

    def best(self) -> Population | None:
        if len(self._places) > EXACT_PLACES:
            return self._added()
        self._top: tuple[float, ...] | None = None
        self._found: tuple[Counts, ...] | None = None
        self._look(0, self._have, (), 0)
        return None if self._found is None else self._population(self._placed(self._found))

    def _look(self, at: int, left: Counts, chosen: tuple[Counts, ...], size: int) -> None:
        if at == len(self._groups):
            self._judge(chosen, size)
            return
        spare = sorted((m.size_bytes for (m, _), n in zip(self._kinds, left, strict=True) for _ in range(n)),
                       reverse=True)  # fmt: skip
        room = sum(len(g.places) for g in self._groups[at:])
        if self._top is not None and size + sum(spare[:room]) < self._top[0]:
            return
        for counts in self._ways(self._groups[at], left):
            more = sum(n * m.size_bytes for (m, _), n in zip(self._kinds, counts, strict=True))
            rest = tuple(a - b for a, b in zip(left, counts, strict=True))
            self._look(at + 1, rest, (*chosen, counts), size + more)

    def _ways(self, group: _Group, left: Counts) -> Iterator[Counts]:
        """Ways to fill a group, the fullest first."""
        slot, room = group.places[0], len(group.places)

        def fits(module: MemoryModule) -> bool:
            like = (module.form, module.generation) == (slot.form, slot.generation)
            return like and (slot.max_bytes is None or module.size_bytes <= slot.max_bytes)

        most = [n if fits(m) else 0 for (m, _), n in zip(self._kinds, left, strict=True)]

        def fill(k: int, free: int) -> Iterator[Counts]:
            if k == len(most):
                yield ()
                return
            for n in range(min(most[k], free), -1, -1):
                for rest in fill(k + 1, free - n):
                    yield (n, *rest)

        return fill(0, room)

    def _judge(self, chosen: tuple[Counts, ...], size: int) -> None:
        """Keep a way that beats the best so far, if it keeps the limits."""
        used = [sum(c[k] for c in chosen) for k in range(len(self._kinds))]
        bought = sum(n for (_, new), n in zip(self._kinds, used, strict=True) if new)
        if not self._allowed(used, bought, size):
            return
        score = (float(size), self._bandwidth(chosen), -float(bought), -float(self._touched(chosen)))
        if self._top is not None and score < self._top[:4]:
            return
        full = (*score, -float(sum(self._order[p] for p in self._placed(chosen))))
        if self._top is None or full > self._top:
            self._top, self._found = full, chosen

    def _allowed(self, used: Sequence[int], bought: int, size: int) -> bool:
        memory = self._machine.memory
        whole = size + sum(m.size_bytes for _, m in self._fixed)
        if memory.controller_max_bytes is not None and whole > memory.controller_max_bytes:
            return False
        if self._all_bought and bought < self._bought:
            return False
        return not memory.pairs_required or self._paired(used)

    def _touched(self, chosen: tuple[Counts, ...]) -> int:
        """Places whose module changes."""
        pairs = list(zip(self._groups, chosen, strict=True))
        stay = [sum(min(a, b) for a, b in zip(g.fitted, c, strict=True)) for g, c in pairs]
        return sum(max(sum(g.fitted), sum(c)) - n for (g, c), n in zip(pairs, stay, strict=True))

    def _paired(self, used: Sequence[int]) -> bool:
        alike = Counter[tuple[object, ...]]()
        for (m, _), n in zip(self._kinds, used, strict=True):
            alike[m.size_bytes, m.speed_mts, m.ranks] += n
        return all(n % 2 == 0 for n in alike.values())

    def _bandwidth(self, chosen: tuple[Counts, ...]) -> float:
        sizes: dict[int | None, int] = {}
        rates: list[int | None] = [m.speed_mts for _, m in self._fixed]
        for channel, module in self._fixed:
            sizes[channel] = sizes.get(channel, 0) + module.size_bytes
        for group, counts in zip(self._groups, chosen, strict=True):
            for (m, _), n in zip(self._kinds, counts, strict=True):
                if n:
                    sizes[group.channel] = sizes.get(group.channel, 0) + n * m.size_bytes
                    rates.append(m.speed_mts)
        several = len(self._fixed) + sum(sum(c) for c in chosen) > 1
        if not rates or None in rates or (None in sizes and several):
            return 0.0
        memory = self._machine.memory
        limits = [memory.board_max_mts, processor_mts(self._machine, self._machine.configuration())]
        rate = min(r for r in (*rates, *limits) if r)
        return BYTES_PER_TRANSFER * rate * mean_channels(list(sizes.values()), possible_channels(self._machine))

    def _placed(self, chosen: tuple[Counts, ...]) -> dict[str, MemoryModule]:
        """Modules in their places: what stays in its group keeps its place, the rest takes those given up, then free
        ones, in order."""
        out: dict[str, MemoryModule] = {}
        for group, counts in zip(self._groups, chosen, strict=True):
            wanted = dict(zip(self._kinds, counts, strict=True))
            for slot in group.places:
                there = self._fitted.get(slot.id)
                if there is not None and wanted.get((there, False), 0) > 0:
                    out[slot.id] = there
                    wanted[there, False] -= 1
            free = sorted((s.id for s in group.places if s.id not in out), key=lambda p: p not in self._fitted)
            rest = [m for (m, _), n in wanted.items() for _ in range(n)]
            out |= dict(zip(free, rest, strict=False))
        return out

    def _population(self, parts: Mapping[str, MemoryModule]) -> Population:
        fixed = [m for _, m in self._fixed]
        owned = Counter(self._fitted.values())
        bought = sum((Counter(parts.values()) - owned).values())
        config = Configuration({**parts, **{f"fixed-{k}": m for k, m in enumerate(fixed)}})
        chosen = tuple(self._new_counts([parts[s.id] for s in g.places if s.id in parts]) for g in self._groups)
        return Population(parts, bought, config.memory_bytes(), self._bandwidth(chosen))

    def _new_counts(self, modules: Sequence[MemoryModule]) -> Counts:
        seen: set[MemoryModule] = set()
        out = []
        for module, _ in self._kinds:
            out.append(0 if module in seen else modules.count(module))
            seen.add(module)
        return tuple(out)

    def _added(self) -> Population | None:
        """What is fitted stays; what is bought takes free places in order."""
        parts = {p: m for p, m in self._fitted.items() if p in self._order}
        free = [s for s in self._places if s.id not in parts]
        for kind, n in zip(self._kinds, self._have, strict=True):
            for _ in range(n if kind[1] else 0):
                place = next((s for s in free if (s.form, s.generation) == (kind[0].form, kind[0].generation)), None)
                if place is None:
                    return None
                parts[place.id] = kind[0]
                free.remove(place)
        return self._population(parts)
