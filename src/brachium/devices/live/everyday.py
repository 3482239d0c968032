"""Everyday tasks and the memory ladder as children: what each of them needs and how long it may take."""

from __future__ import annotations

from collections.abc import Mapping

from brachium.core.measure.feel_tests import EVERYDAY, LADDER
from brachium_probe.children import ChildSpec

MIB = 1 << 20
ROOM_BYTES = 600 * MIB  # free space that the tasks need beside the test file
WORKING_BYTES = 256 * MIB
STEPS = (1.5, 1.2, 1.0, 0.85, 0.7, 0.5, 0.35)  # of the working set, the largest first
# seconds with the making of its data, on a machine of some years
TASK_S: Mapping[str, float] = {
    "task_files": 9.0, "task_database": 8.0, "task_start_cold": 9.0, "task_start_warm": 7.0, "task_compress": 9.0,
    "task_photos": 6.0, "task_sheet": 5.0, "task_together": 16.0, LADDER: 30.0,
}  # fmt: skip


def everyday_spec(key: str, where: Mapping[str, object] | None) -> ChildSpec:
    """The child of an everyday task or of the ladder. Raises KeyError without a folder, or for another key."""
    if where is None or key not in (*EVERYDAY, LADDER):
        raise KeyError(key)
    if key == LADDER:
        return ChildSpec("memory-ladder", {**where, "steps": list(STEPS), "working_bytes": WORKING_BYTES})
    return ChildSpec("everyday", {**where, "task": key})
