"""Compiled kernels: right by independent sums, harmless to the file, absent with a sentence."""

from __future__ import annotations

import os
import time
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from brachium.core.base import kernels
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, TESTS
from brachium.devices.live import compiled
from brachium.devices.live.bench import missing_here, offers_here
from brachium.devices.live.compiled import compiled_specs, working_sets
from brachium.devices.live.workloads import WorkloadPlan, live_workload
from brachium.devices.native import build, library
from brachium.devices.workloads.drive import block_word, filled
from brachium_probe.own_folder import OwnFolder, make_file
from brachium_probe.tree import Tree

needs_kernels = pytest.mark.skipif(not library.available(), reason="no C compiler here: the kernels are not built")
MIB = 1 << 20
SIZE = 8 * MIB


def words(size: int) -> tuple[library.Words, np.ndarray]:
    block = library.Words(size)
    return block, np.frombuffer(block._map, dtype=np.uint64, count=size // 8)


@needs_kernels
def test_a_ring_visits_every_line_once_and_no_neighbour_follows_by_rule() -> None:
    block, seen = words(64 << 10)
    library.chased(block, 64 << 10, 0.0)
    lines = (64 << 10) // 64
    at, order, start = 0, [], seen.ctypes.data
    for _ in range(lines):
        order.append(at)
        at = (int(seen[at]) - start) // 8
    assert at == 0 and sorted(order) == [8 * k for k in range(lines)], "one cycle through every line"
    steps = np.diff(order)
    assert np.unique(steps).size > lines // 4, "no stride that a prefetcher could learn"


@needs_kernels
def test_loads_from_memory_take_longer_than_those_from_the_inner_cache() -> None:
    block, _ = words(64 * MIB)
    inner = library.chased(block, 16 << 10, 0.05)
    outer = library.chased(block, 64 * MIB, 0.2)
    assert inner.units % 8 == 0 and inner.seconds >= 0.05
    assert outer.seconds / outer.units > 3.0 * inner.seconds / inner.units


@needs_kernels
def test_a_block_is_memory_and_not_one_page_of_zeros() -> None:
    _, seen = words(4 * MIB)
    assert seen.min() > 0, "every page was written before anything is read from it"


@needs_kernels
def test_streams_read_write_and_copy_what_is_there() -> None:
    block, seen = words(4 * MIB)
    other, copied = words(4 * MIB)
    seen[:] = np.arange(seen.size, dtype=np.uint64)
    read = library.streamed("read", block, None, 0.01)
    assert read.checksum == int(seen.sum()) and read.wrong == 0 and read.units % (4 * MIB) == 0
    assert library.streamed("copy", block, other, 0.01).wrong == 0 and np.array_equal(seen, copied)
    wrote = library.streamed("write", block, None, 0.01)
    assert wrote.wrong == 0 and np.unique(seen).size == 1 and seen[0] != 0


@needs_kernels
def test_work_ends_in_the_same_sum_every_round_and_integer_work_is_what_it_says() -> None:
    for kind in ("integer", "branch", "float", "hash"):
        first, second = library.worked(kind, 0.0), library.worked(kind, 0.02)
        assert first.checksum == second.checksum != 0 and first.wrong == second.wrong == 0, kind
        assert second.units > 0 and second.seconds >= 0.02
    x = (np.arange(1, 4097, dtype=np.uint64)) * np.uint64(0x9E3779B97F4A7C15)
    for _ in range(24):
        for shift, left in ((13, True), (7, False), (17, True)):
            x ^= (x << np.uint64(shift)) if left else (x >> np.uint64(shift))
        x = x + (x >> np.uint64(32)) * np.uint64(31)
    wanted = int(np.bitwise_xor.reduce(x + np.arange(4096, dtype=np.uint64)))
    assert library.worked("integer", 0.0).checksum == wanted, "the same by NumPy"


@pytest.fixture
def numbered(tmp_path: Path) -> tuple[Path, int]:
    """A file of numbered blocks, open past the cache."""
    path = tmp_path / "blocks.bin"
    path.write_bytes(filled(0, SIZE // 4096))
    return path, os.open(path, os.O_RDWR | os.O_DIRECT)


@needs_kernels
@pytest.mark.parametrize("ring", [False, True])
@pytest.mark.parametrize("depth", [1, 4, 32])
def test_requests_read_the_blocks_they_ask_for(numbered: tuple[Path, int], depth: int, ring: bool) -> None:
    if ring and not library.has_ring():
        pytest.skip("this kernel has no io_uring")
    path, handle = numbered
    before = path.read_bytes()
    done = library.requested(handle, SIZE, depth, 0.1, ring=ring)
    assert done.error == 0 and done.wrong == 0 and done.units > 10 and done.seconds >= 0.09
    mixed = library.requested(handle, SIZE, depth, 0.1, mixed=True, ring=ring)
    assert mixed.error == 0 and mixed.wrong == 0
    assert library.in_order(handle, SIZE, depth, 0.05, ring=ring).wrong == 0
    assert library.flushed(handle, SIZE, 0.05).wrong == 0
    assert path.read_bytes() == before, "what is written is what was read"
    os.pwrite(handle, *_spoiled())
    spoiled = library.requested(handle, SIZE, 1, 0.3, ring=ring)
    assert spoiled.wrong > 0, "a block that holds something else is noticed"
    os.close(handle)


def _spoiled() -> tuple[memoryview, int]:
    import mmap

    buffer = mmap.mmap(-1, SIZE // 2)
    return memoryview(buffer), 0


@needs_kernels
def test_bad_requests_are_refused_and_a_closed_file_is_an_error(numbered: tuple[Path, int]) -> None:
    _, handle = numbered
    assert library.requested(handle, SIZE, 0, 0.1).error and library.requested(handle, SIZE, 9999, 0.1).error
    assert library.requested(handle, 100, 1, 0.1).error and library.requested(handle, SIZE, 1, 0.1, block=100).error
    os.close(handle)
    for ring in (False, library.has_ring()):
        assert library.requested(handle, SIZE, 4, 0.1, ring=ring).error != 0
    assert library.flushed(handle, SIZE, 0.1).error != 0
    reader, writer = os.pipe()
    try:
        for ring in (False, library.has_ring()):
            assert library.requested(reader, SIZE, 4, 0.1, ring=ring).error, "a pipe is never waited for"
    finally:
        os.close(reader)
        os.close(writer)


def finished(plan: WorkloadPlan, key: str) -> object:
    workload = live_workload(plan, key, lambda _: None)
    workload.start()
    while not workload.done():
        time.sleep(0.01)
    assert workload.problem() == "", (key, workload.problem())
    return workload


@needs_kernels
def test_every_compiled_test_runs_in_its_child_and_gives_its_unit(tmp_path: Path) -> None:
    own = OwnFolder(str(tmp_path))
    try:
        with os.fdopen(make_file(own.where()), "wb") as file:
            file.write(filled(0, SIZE // 4096))
        plan = WorkloadPlan(0.3, 1.0, MIB, SIZE, own.where(), (min(os.sched_getaffinity(0)),))
        for key in (*COMPILED, *COMPILED_DRIVE):
            workload = finished(plan, key)
            value = workload.result()  # type: ignore[attr-defined]
            assert np.isfinite(value) and value > 0, key
            assert bool(workload.curve()) == (key == "mem_latency")  # type: ignore[attr-defined]
        assert int.from_bytes((tmp_path / own.name / own.file).read_bytes()[:8], "little") == block_word(0)
    finally:
        own.close()
    assert list(tmp_path.iterdir()) == [], "nothing is left"
    with pytest.raises(KeyError):
        compiled_specs((0,), "drive_q1", 1.0, None)


def test_the_curve_reaches_four_times_the_last_cache_as_far_as_there_is_room(tmp_path: Path) -> None:
    cache = tmp_path / "sys/devices/system/cpu/cpu0/cache/index3"
    cache.mkdir(parents=True)
    (cache / "size").write_text("6144K\n")
    (tmp_path / "proc").mkdir()
    meminfo = tmp_path / "proc/meminfo"
    meminfo.write_text("MemTotal: 8000000 kB\nMemAvailable: 6000000 kB\nMemFree: 6000000 kB\n")
    sets = working_sets(Tree(str(tmp_path)))
    assert sets[0] == 4096 and 24 * MIB <= sets[-1] < 48 * MIB and all(b == 2 * a for a, b in pairwise(sets))
    meminfo.write_text("MemTotal: 64000 kB\nMemAvailable: 20000 kB\nMemFree: 20000 kB\n")
    assert working_sets(Tree(str(tmp_path)))[-1] <= 10 * MIB, "little memory, a shorter curve"


def test_without_a_compiler_the_tests_are_left_out_with_a_sentence(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "one.c").write_text("int one(void) { return 1; }\n")
    (tmp_path / "one.h").write_text("int one(void);\n")
    own = kernels.Kernels(tmp_path, ("one.c",), ("one.h",))
    with monkeypatch.context() as none_here:
        none_here.setattr(build, "COMPILERS", ())
        assert build.built(own) == (None, "there is no C compiler here") and not own.available()
        with pytest.raises(OSError, match="run set-up"):
            kernels.loaded(own)
    monkeypatch.setattr(compiled, "available", lambda: False)
    assert not set(offers_here(True)) & {*COMPILED, *COMPILED_DRIVE}
    told = {m.what: m.why for m in missing_here(True)}
    assert "run set-up" in told["compiled tests"]
    bad = tmp_path / "cc"
    bad.write_text("#!/bin/sh\necho 'no such header' >&2\nexit 1\n")
    bad.chmod(0o755)
    monkeypatch.setattr(build, "compiler", lambda: str(bad))
    assert build.built(own) == (None, "the compiler said: no such header")
    assert not list((tmp_path / "built").glob("*.so*"))
    assert {t.key for t in TESTS} >= {*COMPILED, *COMPILED_DRIVE}
