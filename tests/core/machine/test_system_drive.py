"""Which drive holds the system today: by role, never the small one of a cache pair."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GB
from brachium.core.machine.drive_part import DriveRole
from brachium.core.machine.machine import Machine
from brachium.core.machine.system_drive import system_today
from tests.core.fit.bench_machines import DISK, SSD, TOWER


def place(machine: Machine) -> str:
    found = system_today(machine)
    assert found is not None
    return found[0]


def test_the_system_is_by_role_and_not_on_the_cache_of_a_pair() -> None:
    both = TOWER.with_part("bay-2", replace(SSD, size_bytes=60 * GB))
    assert place(both) == "bay-2", "the fastest where nobody said more"
    paired = replace(both, platform=replace(both.platform, cache_pairs=(("bay-1", "bay-2"),)))
    assert place(paired) == "bay-1"
    assert place(both.with_part("bay-2", replace(SSD, role=DriveRole.SCRATCH))) == "bay-1"
    assert place(both.with_part("bay-1", replace(DISK, role=DriveRole.SYSTEM))) == "bay-1"
    assert system_today(both.with_part("bay-1", None).with_part("bay-2", None)) is None
