"""How long it takes to copy what is in use from one drive to another.

A copy moves the used bytes at the slowest of old drive, link of the new one, bridge and new drive; a verifying pass
reads both again and takes as long. A disk reads its inner tracks at about half the rate of the outer ones; over a whole
disk its rate is taken as the mean of both.
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.drives.assumptions import BRIDGE_MB_S, LEAST_MB_S
from brachium.core.machine.parts import Drive


@dataclass(frozen=True)
class CopyTime:
    """What limits the copy, its rate [MB/s], and how long it takes without the verifying pass [min]."""

    limited_by: str
    rate_mb_s: float
    minutes: float


def mean_rate_mb_s(drive: Drive) -> float:
    """Mean sequential rate over the whole drive [MB/s]."""
    return 0.5 * (drive.outer_mb_s + drive.inner_mb_s)


def copy_time(
    used_bytes: int, old: Drive | None, new: Drive, bridge_mb_s: float = BRIDGE_MB_S, link_mb_s: float | None = None
) -> CopyTime:
    """`old` is None where what is copied does not come from it, such as an image; `link_mb_s` is what the link of the
    new drive's place carries, None where it is not known."""
    rates = {"the bridge": bridge_mb_s, "the new drive": mean_rate_mb_s(new)}
    if old is not None:
        rates["the old drive"] = mean_rate_mb_s(old)
    if link_mb_s is not None:
        rates["the link"] = link_mb_s
    limited_by, rate = min(((name, max(rate, LEAST_MB_S)) for name, rate in rates.items()), key=lambda r: r[1])
    return CopyTime(limited_by, rate, used_bytes / 1e6 / rate / 60.0)
