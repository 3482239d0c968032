"""Locks of a machine: what a change of firmware, drive, processor or board may shut for good."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class LockState(StrEnum):
    """What is known of a lock of the machine."""

    NOT_ASKED = "not asked"
    NONE = "there is none"
    HANDLED = "there, key or code in hand"
    SHUT = "there, and no key"


@dataclass(frozen=True)
class Locks:
    """Locks that a change may shut for good: disk encryption, firmware password, enrolment, board-tied licence."""

    encryption: LockState = LockState.NOT_ASKED
    firmware_password: LockState = LockState.NOT_ASKED
    enrolment: LockState = LockState.NOT_ASKED
    licence: LockState = LockState.NOT_ASKED
