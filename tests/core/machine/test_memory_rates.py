"""Bandwidth of memory: regions that are interleaved over the channels, dead slots, what board and processor drive."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base.units import GIB
from brachium.core.machine.machine import Machine, MemoryPlatform, ModuleSlot, Processor
from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.memory_rates import bandwidth_mb_s, channel_sizes, mean_channels, possible_channels, regions

G = MemoryGeneration.DDR3
MODULE = MemoryModule("m", MemoryForm.DIMM, G, 4 * GIB, 1600)


def board(channels: list[int | None], sizes: list[int], platform: MemoryPlatform = MemoryPlatform()) -> Machine:
    slots = tuple(ModuleSlot(f"s{k}", f"s{k}", MemoryForm.DIMM, G, c) for k, c in enumerate(channels))
    machine = Machine(slots=slots, memory=platform)
    for k, size in enumerate(sizes):
        machine = machine.with_part(f"s{k}", replace(MODULE, size_bytes=size * GIB) if size else None)
    return machine


def rate(machine: Machine) -> float | None:
    return bandwidth_mb_s(machine, machine.configuration())


@pytest.mark.parametrize(
    ("sizes", "mean"),
    [
        ((4, 4, 4), 3.0), ((8, 8, 8, 4), (16 * 4 + 12 * 3) / 28), ((8, 4), (8 * 2 + 4 * 1) / 12), ((4,), 1.0),
        ((16, 8, 8, 8), (32 * 4 + 8 * 1) / 40), ((), 0.0),
    ],
)  # fmt: skip
def test_what_channels_have_in_common_lies_over_all_of_them(sizes: tuple[int, ...], mean: float) -> None:
    assert mean_channels(sizes) == pytest.approx(mean)


@given(st.lists(st.integers(1, 12), min_size=1, max_size=6), st.integers(1, 6))
def test_regions_are_those_of_filling_gibibyte_by_gibibyte(sizes: list[int], most: int) -> None:
    """Against a slow walk: every layer of one unit is spread over the channels that still have room."""
    layers = [sum(s > level for s in sizes) for level in range(max(sizes))]
    assert sum(b for b, _ in regions(sizes)) == sum(sizes)
    assert mean_channels(sizes, most) == pytest.approx(sum(n * min(n, most) for n in layers) / sum(sizes))


def test_three_equal_modules_on_three_channels_are_three_channels() -> None:
    assert rate(board([0, 1, 2], [4, 4, 4])) == pytest.approx(3 * 8 * 1600)
    assert rate(board([0, 0, 1, 1], [4, 4, 0, 0])) == pytest.approx(8 * 1600), "two places of one channel"


def test_the_processor_drives_no_more_channels_than_it_has() -> None:
    four = board([0, 1, 2, 3], [4, 4, 4, 4])
    narrow = replace(four, processor=Processor(memory_channels=2))
    assert possible_channels(four) == 4 and possible_channels(narrow) == 2
    assert rate(narrow) == pytest.approx(2 * 8 * 1600)
    assert possible_channels(replace(narrow, memory=MemoryPlatform(channels=1))) == 1


def test_a_module_in_a_dead_place_does_not_count_and_unknown_channels_say_nothing() -> None:
    dead = replace(board([0, 1], [4, 4]), bad_places=("s1",))
    assert channel_sizes(dead, dead.configuration()) == (4 * GIB,) and rate(dead) == pytest.approx(8 * 1600)
    assert rate(board([None, None], [4, 4])) is None and rate(board([None, None], [4, 0])) == pytest.approx(8 * 1600)
