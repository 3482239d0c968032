"""What a protocol of a version holds never changes: runs of it are compared for years."""

from __future__ import annotations

from brachium.core.measure.feel_tests import EVERYDAY, GRAPHICS, HEAT, LADDER
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, COUNTED, PROTOCOLS, STABLE, TESTS

SHORT = (
    "sustained",
    "cpu_all",
    "cpu_single",
    "mem_bandwidth",
    "mem_gather",
    "drive_seq",
    "drive_rand_q1",
    "drive_rand_q32",
)
KNOWN = {
    ("Standard", 1): ((180.0, 120.0, 600.0, 300.0), (*SHORT, "start_up", "own_task"), 3, 2),
    ("Quick", 1): ((15.0, 15.0, 60.0, 30.0), SHORT, 3, 1),
    ("Standard", 2): ((180.0, 120.0, 600.0, 300.0), (*SHORT, "start_up", "own_task", *COMPILED, *COMPILED_DRIVE), 3, 2),
    ("Quick", 2): ((15.0, 15.0, 60.0, 30.0), (*SHORT, "mem_latency", "drive_flush"), 3, 1),
    ("Standard", 3): (
        (180.0, 120.0, 600.0, 300.0),
        (*SHORT, "start_up", "own_task", *COMPILED, *COMPILED_DRIVE, *EVERYDAY, LADDER, *GRAPHICS),
        3,
        2,
    ),
    ("Quick", 3): (
        (15.0, 15.0, 60.0, 30.0),
        (*SHORT, *COMPILED, *COMPILED_DRIVE, *EVERYDAY, *(k for k in GRAPHICS if k not in HEAT)),
        3,
        1,
    ),
    ("Stability", 1): ((30.0, 1800.0, 60.0), ("sustained",), 1, 1),
}


def test_a_protocol_changes_only_with_its_version() -> None:
    for p in (*PROTOCOLS.values(), STABLE):
        seen = (tuple(x.duration_s for x in p.phases), p.tests, p.repeats, p.sessions)
        assert KNOWN.get((p.name, p.version)) == seen, f"{p.name}: raise its version and write the new one down here"
    used = {t for p in PROTOCOLS.values() for t in p.tests} | {COUNTED}
    assert used == {t.key for t in TESTS}, "a test that no protocol holds is never run"
