"""Leads of a power supply from its connectors."""

from __future__ import annotations

from brachium.core.machine.machine import Lead, LeadKind


def leads_of(connectors: tuple[str, ...], fed: list[str]) -> tuple[Lead, ...]:
    """The leads of a supply by its connectors, the first SATA ones on the drives that are there."""
    out: list[Lead] = []
    rest = list(fed)
    for kind in LeadKind:
        for number in range(1, connectors.count(kind.value) + 1):
            feeds = rest.pop(0) if kind is LeadKind.SATA and rest else ""
            out.append(Lead(f"lead-{kind.name.lower()}-{number}", f"{kind} {number}", kind, feeds))
    return tuple(out)
