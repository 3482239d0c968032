"""Leads of a power supply from its connectors."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.machine.drive_part import BayForm, Drive, DriveInterface
from brachium.core.machine.machine import Lead, LeadKind

FED_BY_LEAD = (BayForm.IN_2_5, BayForm.IN_3_5, BayForm.OPTICAL, BayForm.OPTICAL_HIGH)  # M.2, mSATA take none


def takes_lead(drive: Drive) -> bool:
    """Whether a drive needs a SATA lead of the supply."""
    return drive.interface is DriveInterface.SATA and drive.form in FED_BY_LEAD


def leads_of(connectors: tuple[str, ...], fed: list[str]) -> tuple[Lead, ...]:
    """The leads of a supply by its connectors, the first SATA ones on the drives that are there."""
    out: list[Lead] = []
    rest = list(fed)
    for kind in LeadKind:
        for number in range(1, connectors.count(kind.value) + 1):
            feeds = rest.pop(0) if kind is LeadKind.SATA and rest else ""
            out.append(
                Lead(
                    f"lead-{kind.name.lower()}-{number}",
                    phrase("{kind} {number}", kind=kind, number=number),
                    kind,
                    feeds,
                )
            )
    return tuple(out)
