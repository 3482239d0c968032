"""The short tests: titles, units, directions, and the spread assumed until the shop has its own history."""

from __future__ import annotations

from collections.abc import Mapping

from brachium.core.measure.feel_tests import EVERYDAY, FEEL_TESTS, GRAPHICS, HEAT, LADDER
from brachium.core.measure.run import PhaseStep, Protocol, TestSpec
from brachium.core.measure.spread import Spread

TESTS: tuple[TestSpec, ...] = (
    TestSpec("sustained", "All threads, sustained", "work/s", True, 1,
             "mean work rate over the second half of the sustained load"),
    TestSpec("cpu_all", "All threads, short", "work/s", True, 1, "20 s on all threads from a calm start"),
    TestSpec("cpu_single", "Single thread", "work/s", True, 1, "20 s on one thread from a calm start"),
    TestSpec("mem_bandwidth", "Memory bandwidth", "GB/s", True, 1, "large copies by several processes"),
    TestSpec("mem_gather", "Memory, random access", "M/s", True, 1,
             "single words of a large table in random order; several misses overlap, so this is no latency"),
    TestSpec("drive_seq", "Drive, sequential read", "MB/s", True, 1, "a 2 GiB file with direct I/O"),
    TestSpec("drive_rand_q1", "Drive, random 4 KiB reads, one at a time", "reads/s", True, 1,
             "depth 1 on a 2 GiB file"),
    TestSpec("drive_rand_q32", "Drive, random 4 KiB, 32 at a time", "reads/s", True, 1, "depth 32 on a 2 GiB file"),
    TestSpec("start_up", "Start-up", "s", False, 1, "power button to usable, pending updates excluded"),
    TestSpec("start_counted", "Start-up, as the machine counts it", "s", False, 1,
             "firmware, loader and system until its run level was reached; read once a session, sign-in not included"),
    TestSpec("own_task", "Owner's task: clip export", "s", False, 1,
             "one export of the owner's own, with its memory working set"),
    TestSpec("mem_latency", "Memory latency", "ns", False, 1,
             "one dependent load from a working set of four times the last cache; by working set on its curve"),
    TestSpec("mem_read", "Memory, read", "GB/s", True, 1, "streams read on all threads, compiled"),
    TestSpec("mem_write", "Memory, write", "GB/s", True, 1, "streams written on all threads, compiled"),
    TestSpec("mem_copy", "Memory, copy", "GB/s", True, 1, "copied on all threads, bytes both ways, compiled"),
    TestSpec("cpu_integer", "Integer work", "rounds/s", True, 1, "plain integer code on all threads, compiled"),
    TestSpec("cpu_branch", "Work full of branches", "rounds/s", True, 1,
             "sorting of short random runs on all threads: branches that nothing foresees, compiled"),
    TestSpec("cpu_float", "Floating-point work", "rounds/s", True, 1,
             "multiply, add, root and divide in double precision on all threads, compiled"),
    TestSpec("cpu_hash", "Hashing", "rounds/s", True, 1,
             "bytes hashed by a table on all threads, each step waiting for the one before, compiled"),
    TestSpec("drive_stream", "Drive, in order, 1 MiB", "MB/s", True, 1, "four large requests at a time, direct I/O"),
    TestSpec("drive_q1", "Drive, small reads, one at a time", "reads/s", True, 1, "4 KiB at random places, compiled"),
    TestSpec("drive_q4", "Drive, small, 4 at a time", "reads/s", True, 1, "4 KiB at random places, compiled"),
    TestSpec("drive_q32", "Drive, small, 32 at a time", "reads/s", True, 2,
             "4 KiB at random places by two processes, compiled"),
    TestSpec("drive_mixed", "Drive, reads and writes mixed", "requests/s", True, 1,
             "every third of 4 KiB requests writes, four at a time"),
    TestSpec("drive_flush", "Drive, writes that wait", "writes/s", True, 1,
             "4 KiB written and flushed to the drive before the next: what a database waits for"),
    *FEEL_TESTS,
)  # fmt: skip
COMPILED = ("mem_latency", "mem_read", "mem_write", "mem_copy", "cpu_integer", "cpu_branch", "cpu_float", "cpu_hash")
COMPILED_DRIVE = ("drive_stream", "drive_q1", "drive_q4", "drive_q32", "drive_mixed", "drive_flush")
COMPILED_S = 4.0  # of one repeat of a compiled test at most [s]; a curve shares it among its points

COUNTED = "start_counted"  # read once a session, no workload
_DEFAULT = Spread()
_DRIVE = Spread(between=0.035, within=0.03)
_TIMED = Spread(between=0.03, within=0.02)
SPREADS: Mapping[str, Spread] = {
    "drive_seq": _DRIVE,
    "drive_rand_q1": _DRIVE,
    "drive_rand_q32": _DRIVE,
    **dict.fromkeys(COMPILED_DRIVE, _DRIVE),
    "start_up": _TIMED,
    COUNTED: _TIMED,
    "own_task": _TIMED,
}

# A protocol names the tests it may hold, a new one joins by a new version; which of them a machine and its use need is
# chosen by tests_by_use.py
_SHORT = (
    "sustained",
    "cpu_all",
    "cpu_single",
    "mem_bandwidth",
    "mem_gather",
    "drive_seq",
    "drive_rand_q1",
    "drive_rand_q32",
)
STANDARD = Protocol(
    "Standard", 3,
    (PhaseStep("settle", 180.0), PhaseStep("idle", 120.0), PhaseStep("load", 600.0), PhaseStep("cool-down", 300.0)),
    (*_SHORT, "start_up", "own_task", *COMPILED, *COMPILED_DRIVE, *EVERYDAY, LADDER, *GRAPHICS), 3, 2,
)  # fmt: skip

QUICK = Protocol(
    "Quick", 3,
    (PhaseStep("settle", 15.0), PhaseStep("idle", 15.0), PhaseStep("load", 60.0), PhaseStep("cool-down", 30.0)),
    (*_SHORT, *COMPILED, *COMPILED_DRIVE, *EVERYDAY, *(k for k in GRAPHICS if k not in HEAT)), 3, 1, test_s=3.0,
    memory_test_s=10.0, memory_test_bytes=512 << 20, drive_bytes=512 << 20,
    cannot=("a minute of load does not settle a heatsink: nothing is said of airflow or the total resistance",
            "one session cannot tell a small gain from the machine's mood of the day",
            "ten seconds of memory test find only plain faults"),
)  # fmt: skip
STABLE = Protocol(
    "Stability", 1,
    (PhaseStep("idle", 30.0), PhaseStep("load", 1800.0), PhaseStep("cool-down", 60.0)),
    ("sustained",), 1, 1, memory_test_s=1800.0, memory_test_bytes=64 << 30,
    cannot=("a fault that shows only after hours, or only in summer", "memory that the running system keeps for itself",
            "a supply that fails under other loads than the processor's", "drives: their SMART data tells"),
)  # fmt: skip
PROTOCOLS: Mapping[str, Protocol] = {"quick": QUICK, "standard": STANDARD}


def spread_for(test: str) -> Spread:
    """The spread assumed until the machine or the shop has a history of its own."""
    return SPREADS.get(test.removeprefix("probe_"), _DEFAULT)


def spec_of(key: str) -> TestSpec:
    return next(t for t in TESTS if t.key == key)
