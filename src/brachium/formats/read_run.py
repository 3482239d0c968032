"""What reading a run gives, whichever form it was written in."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.run import Run


@dataclass(frozen=True)
class ReadRun:
    """A run as read; `damaged` names what could not be read, in words. `scan` is what the machine said of itself."""

    run: Run
    damaged: tuple[str, ...] = ()
    scan: Scan | None = None
