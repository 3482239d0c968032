"""Copy time against figures worked out by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.base.units import GB
from brachium.core.drives.copy_time import CopyTime, copy_time, mean_rate_mb_s
from brachium.core.machine.parts import BayForm, Drive, DriveInterface

DISK = Drive("disk", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 500 * GB, True, 120.0, 60.0, 12.0)
SSD = Drive("ssd", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 480 * GB, False, 500.0, 460.0, 0.1)


def test_the_slowest_of_all_sets_the_time() -> None:
    assert mean_rate_mb_s(DISK) == 90.0
    assert copy_time(162 * GB, DISK, SSD) == CopyTime("the old drive", 90.0, 30.0)
    assert copy_time(210 * GB, None, SSD) == CopyTime("the bridge", 350.0, pytest.approx(10.0))
    assert copy_time(288 * GB, None, SSD, 1000.0) == CopyTime("the new drive", 480.0, pytest.approx(10.0))
    assert copy_time(81 * GB, None, SSD, 1000.0, 135.0) == CopyTime("the link", 135.0, pytest.approx(10.0))
    unknown = replace(DISK, outer_mb_s=0.0, inner_mb_s=0.0)
    assert copy_time(6 * GB, unknown, SSD) == CopyTime("the old drive", 1.0, pytest.approx(100.0))
