"""What one repaste of the shop brought."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.machine.kinds import MachineKind


@dataclass(frozen=True)
class Repaste:
    """One finished repaste: rise over the plate at `at_w` fell by `change_k` +- `half_k` (95 %) [K]."""

    job_id: str
    kind: MachineKind
    when: str
    change_k: float
    half_k: float
    at_w: float
