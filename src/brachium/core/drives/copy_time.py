"""How long it takes to copy what is in use from one drive to another.

A copy moves the used bytes at the slowest of old drive, link of the new one, bridge and new drive; a verifying pass
reads both again and takes as long. A disk reads its inner tracks at about half the rate of the outer ones; over a whole
disk its rate is taken as the mean of both. Every bad area of the source costs the time of its retries on top.
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.drives.assumptions import AREA_SECTORS, BAD_AREA_S, BRIDGE_MB_S, LEAST_MB_S
from brachium.core.machine.parts import Drive


@dataclass(frozen=True)
class CopyTime:
    """What limits the copy, its rate [MB/s], and how long it takes without the verifying pass [min]; of that on bad
    areas [min]."""

    limited_by: str
    rate_mb_s: float
    minutes: float
    bad_min: float = 0.0


def mean_rate_mb_s(drive: Drive) -> float:
    """Mean sequential rate over the whole drive [MB/s]."""
    return 0.5 * (drive.outer_mb_s + drive.inner_mb_s)


def copy_time(
    used_bytes: int, old: Drive | None, new: Drive | None, bridge_mb_s: float = BRIDGE_MB_S,
    link_mb_s: float | None = None, bad_sectors: int = 0,
) -> CopyTime:  # fmt: skip
    """`old` is None where what is copied does not come from it, such as an image; `new` is None where it goes onto a
    drive that nobody named; `link_mb_s` is what the link of the new drive's place carries, None where it is not known;
    `bad_sectors` of the old drive that are pending or cannot be read."""
    rates = {"the bridge": bridge_mb_s}
    if new is not None:
        rates["the new drive"] = mean_rate_mb_s(new)
    if old is not None:
        rates["the old drive"] = mean_rate_mb_s(old)
    if link_mb_s is not None:
        rates["the link"] = link_mb_s
    limited_by, rate = min(((name, max(rate, LEAST_MB_S)) for name, rate in rates.items()), key=lambda r: r[1])
    bad_min = -(-bad_sectors // AREA_SECTORS) * BAD_AREA_S / 60.0 if old is not None else 0.0
    return CopyTime(limited_by, rate, used_bytes / 1e6 / rate / 60.0 + bad_min, bad_min)
