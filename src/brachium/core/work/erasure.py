"""Erasing a drive that leaves: which method suits it, how long it takes, and the record that proves it.

The program plans and records; it erases nothing itself. Methods after NIST SP 800-88 Rev. 1 (clear, purge, destroy):
one whole overwrite clears a turning disk; on flash it misses spare cells, so that the drive's own command is used;
what cannot be written any more is destroyed by a licensed taker.
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.drives.assumptions import LEAST_MB_S
from brachium.core.drives.copy_time import mean_rate_mb_s
from brachium.core.drives.health import DriveState
from brachium.core.machine.parts import Drive
from brachium.core.record.drive_records import EraseMethod, Erasure, Verified
from brachium.core.work.assumptions import COMMAND_MIN, SAMPLE_SHARE


@dataclass(frozen=True)
class ErasePlan:
    """The method that suits a drive, minutes that it runs by itself with verifying, why."""

    method: EraseMethod
    verified: Verified
    unattended_min: float
    why: str


def erase_plan(drive: Drive, state: DriveState | None = None) -> ErasePlan:
    """What suits a drive; `state` is its health where it was read."""
    rate = max(mean_rate_mb_s(drive), LEAST_MB_S)
    whole = drive.size_bytes / 1e6 / rate / 60.0
    if state is DriveState.MEDIA:
        return ErasePlan(
            EraseMethod.DESTROYED, Verified.PAPER, 0.0, "a failing drive cannot be trusted to have erased itself"
        )
    if drive.rotational:
        why = "one whole overwrite clears a turning disk"
        return ErasePlan(EraseMethod.OVERWRITE, Verified.SAMPLES, (1.0 + SAMPLE_SHARE) * whole, why)
    why = "overwriting misses the spare cells of flash; its own command reaches them"
    return ErasePlan(EraseMethod.COMMAND, Verified.SAMPLES, COMMAND_MIN + SAMPLE_SHARE * whole, why)


def record_problem(erasure: Erasure, drive: Drive | None) -> str:
    """What is missing or wrong in a record; empty where it proves an erasure."""
    if not erasure.who.strip():
        return "who erased it is missing"
    if not erasure.when.strip():
        return "when it was erased is missing"
    if erasure.method is EraseMethod.DESTROYED and erasure.verified is not Verified.PAPER:
        return "a destroyed drive is proven by the taker's certificate"
    if erasure.method is not EraseMethod.DESTROYED and erasure.verified is Verified.PAPER:
        return "read samples back: a certificate is for destroyed drives"
    if drive is not None and not drive.rotational and erasure.method is EraseMethod.OVERWRITE:
        return "overwriting does not reach the spare cells of flash: use the drive's own command"
    return ""
