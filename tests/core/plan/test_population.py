"""The population of memory slots: the same as trying every module in every place, over random boards."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest

from brachium.core.base.units import GIB
from brachium.core.machine.machine import Machine, MemoryPlatform, ModuleSlot
from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.plan.candidates import CatalogueItem, Group, candidates, planned, replaces
from brachium.core.plan.population import best_population

G, DIMM = MemoryGeneration.DDR3, MemoryForm.DIMM


def module(name: str, gib: int, rate: int = 1600) -> MemoryModule:
    return MemoryModule(name, DIMM, G, gib * GIB, rate)


def board(on: list[int | None], fitted: list[MemoryModule | None], **memory: object) -> Machine:
    slots = tuple(ModuleSlot(f"s{k}", f"s{k}", DIMM, G, c) for k, c in enumerate(on))
    machine = Machine(slots=slots, memory=MemoryPlatform(**memory))  # type: ignore[arg-type]
    for k, part in enumerate(fitted):
        machine = machine.with_part(f"s{k}", part)
    return machine


def random_board(rng: np.random.Generator) -> tuple[Machine, list[MemoryModule]]:
    """One to eight places on one to four channels; soldered, dead, limited, paired; owned and bought modules."""
    places = int(rng.choice([1, 2, 2, 3, 4, 4, 4, 5, 6, 8]))
    several = int(rng.integers(1, 5))
    channels = [None if several == 4 and rng.random() < 0.3 else int(k) % several for k in rng.permutation(places)]
    kinds = [module(f"m{k}", int(rng.choice([2, 4, 8])), int(rng.choice([1333, 1600]))) for k in range(2)]
    filled = 0.5 if places < 6 else 0.35
    fitted = [kinds[int(rng.integers(2))] if rng.random() < filled else None for _ in range(places)]
    limit = int(rng.choice([12, 16, 64])) * GIB if rng.random() < 0.4 else None
    machine = board(channels, fitted, controller_max_bytes=limit, pairs_required=bool(rng.random() < 0.15),
                    channels=int(rng.integers(1, 5)) if rng.random() < 0.4 else None)  # fmt: skip
    slots = list(machine.slots)
    if rng.random() < 0.3 and fitted[0] is not None:
        slots[0] = replace(slots[0], form=MemoryForm.SOLDERED, soldered=True)
    if rng.random() < 0.3:
        slots[-1] = replace(slots[-1], max_bytes=4 * GIB)
    dead = (slots[-1].id,) if places > 1 and rng.random() < 0.2 else ()
    new = [module("new", int(rng.choice([4, 8])))] * int(rng.integers(0, 3 if places > 5 else 4))
    return replace(machine, slots=tuple(slots), bad_places=dead), new


def by_hand(machine: Machine, bought: list[MemoryModule]) -> tuple[float, float, int, int] | None:
    """(bytes, bandwidth, bought, touched) of the best of all ways, every place tried with every kind of module."""
    usable = [s for s in machine.slots if s.takes_module and s.id not in machine.bad_places]
    today = machine.configuration().modules()
    loose = {s.id: today[s.id] for s in usable if s.id in today}
    fixed = [(s.channel, today[s.id]) for s in machine.slots if not s.takes_module and s.id in today]
    kinds = list(dict.fromkeys([*loose.values(), *bought]))
    best = None
    left = {k: list(loose.values()).count(k) + bought.count(k) for k in kinds}
    for way in ways(left, len(usable)):
        used = [m for m in way if m is not None]
        if any(m is not None and s.max_bytes and m.size_bytes > s.max_bytes for s, m in zip(usable, way, strict=True)):
            continue
        whole = [(s.channel, m) for s, m in zip(usable, way, strict=True) if m is not None] + fixed
        size = sum(m.size_bytes for _, m in whole)
        if machine.memory.controller_max_bytes and size > machine.memory.controller_max_bytes:
            continue
        alike = [(m.size_bytes, m.speed_mts) for m in used]
        if machine.memory.pairs_required and any(alike.count(a) % 2 for a in alike):
            continue
        more = sum(max(0, used.count(k) - list(loose.values()).count(k)) for k in set(bought))
        touched = sum(loose.get(s.id) != m for s, m in zip(usable, way, strict=True))
        score = (size, rate(machine, whole), -more, -touched)
        best = score if best is None or score > best else best
    return None if best is None else (best[0], best[1], -best[2], -best[3])


def ways(left: dict[MemoryModule, int], places: int) -> Iterator[tuple[MemoryModule | None, ...]]:
    """Every way to put modules into places, each place tried with each kind of which one is left, or with none."""
    if places == 0:
        yield ()
        return
    for kind in (None, *(k for k, n in left.items() if n)):
        rest = left if kind is None else {**left, kind: left[kind] - 1}
        for more in ways(rest, places - 1):
            yield (kind, *more)


def rate(machine: Machine, whole: list[tuple[int | None, MemoryModule]]) -> float:
    """Unit by unit: every 2 GiB layer is spread over the channels that still have room."""
    if not whole or (len(whole) > 1 and any(c is None for c, _ in whole)):
        return 0.0
    sizes: dict[int | None, int] = {}
    for c, m in whole:
        sizes[c] = sizes.get(c, 0) + m.size_bytes // (2 * GIB)
    named = {s.channel for s in machine.slots}
    most = min(n for n in (machine.memory.channels, None if None in named else len(named), 99) if n)
    layers = [sum(v > level for v in sizes.values()) for level in range(max(sizes.values()))]
    mean = sum(n * min(n, most) for n in layers) / sum(sizes.values())
    return round(8.0 * min(m.speed_mts or 0 for _, m in whole) * mean, 6)


@pytest.mark.parametrize("seed", range(10))
def test_it_is_that_of_brute_force(seed: int) -> None:
    rng = np.random.default_rng([19, seed])
    for _ in range(50):
        machine, new = random_board(rng)
        found, expected = best_population(machine, new), by_hand(machine, new)
        if expected is None:
            assert found is None
            continue
        assert found is not None
        today = machine.configuration().modules()
        places = [s.id for s in machine.slots if s.takes_module and s.id not in machine.bad_places]
        touched = sum(found.parts.get(p) != today.get(p) for p in places)
        got = (found.bytes, round(found.bandwidth_mb_s, 6), found.bought, touched)
        assert got == pytest.approx(expected), (machine, new, dict(found.parts))


def test_a_kit_goes_into_free_places_before_it_displaces_anything() -> None:
    four, eight = module("four", 4), module("eight", 8)
    found = best_population(board([None] * 4, [four, four, None, None]), [eight, eight], all_bought=True)
    assert found is not None and found.parts == {"s0": four, "s1": four, "s2": eight, "s3": eight}


def test_a_module_moves_where_that_fills_another_channel() -> None:
    four = module("four", 4)
    found = best_population(board([0, 0, 1, 1], [four, four, None, None]), [])
    assert found is not None and set(found.parts) & {"s2", "s3"} and len(found.parts) == 2


def test_the_smallest_goes_where_nothing_is_free_and_soldered_memory_stays() -> None:
    two, four, eight = module("two", 2), module("four", 4), module("eight", 8)
    found = best_population(board([0, 1], [two, four]), [eight], all_bought=True)
    assert found is not None and set(found.parts.values()) == {four, eight}
    machine = board([0, 1], [four, two])
    soldered = replace(machine, slots=(replace(machine.slots[0], form=MemoryForm.SOLDERED), machine.slots[1]))
    found = best_population(soldered, [eight], all_bought=True)
    assert found is not None and found.parts == {"s1": eight} and found.bytes == 12 * GIB
    assert best_population(soldered, [eight, eight], all_bought=True) is None, "more than there are places"


def test_more_places_than_are_tried_are_filled_in_order() -> None:
    four = module("four", 4)
    machine = board([k % 4 for k in range(16)], [four] * 4)
    found = best_population(machine, [four] * 4, all_bought=True)
    assert found is not None and list(found.parts) == [f"s{k}" for k in range(8)] and found.bought == 4


def test_a_single_module_is_offered_at_every_place_and_two_of_them_are_planned_together() -> None:
    four = module("four", 4)
    machine = replace(board([0, 0, 1, 1], [four, None, None, None]), bad_places=("s2",))
    items = tuple(CatalogueItem(n, Group.MEMORY, n, Decimal(9), 1, module(n, 8)) for n in ("a", "b"))
    found = {c.id: c for c in candidates(machine, items)}
    assert set(found) == {"a", "a@s0", "a@s1", "b", "b@s0", "b@s1"} and found["a"].places == ("s3",)
    assert not found["a"].aside and found["a@s1"].aside, "a dead slot is not offered, the best is weighed"
    both = (found["a"], found["b@s1"])
    assert not replaces(*both) and replaces(found["a"], found["b"])
    assert sum(m.name in "ab" for m in planned(machine, both).modules().values()) == 2
    kit = CatalogueItem("kit", Group.MEMORY, "kit", Decimal(9), 2, module("k", 8))
    free = board([0, 0, 1, 1], [four, None, four, None])
    assert [c.places for c in candidates(free, (kit,))] == [("s1", "s3")], "in free places, nothing displaced"


def test_what_lies_in_a_dead_place_stays_there_and_is_not_counted_twice() -> None:
    machine = replace(board([0, 1, 1], [module("four", 4), None, None]), bad_places=("s0",))
    eight = CatalogueItem("eight", Group.MEMORY, "eight", Decimal(9), 1, module("eight", 8))
    found = candidates(machine, (eight,))
    assert not any("s0" in c.places for c in found)
    assert sorted(m.name for m in planned(machine, found[:1]).modules().values()) == ["eight", "four"]
