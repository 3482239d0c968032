"""A protocol of the shop's own, made from the standard one by its durations, repeats and sessions."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.core.base.text import phrase
from brachium.core.measure.run import PhaseStep, Protocol
from brachium.core.measure.workloads import STANDARD

NAME = "Own"
PHASES = ("settle", "idle", "load", "cool-down")
SHORT_LOAD_S, SHORT_IDLE_S = 300.0, 60.0


@dataclass(frozen=True)
class Bounds:
    """Lowest and highest value of a field, and its unit."""

    low: float
    high: float
    unit: str


BOUNDS = {
    "settle": Bounds(0.1, 30.0, "min"), "idle": Bounds(0.25, 30.0, "min"), "load": Bounds(0.5, 120.0, "min"),
    "cool-down": Bounds(0.25, 60.0, "min"), "repeats": Bounds(1, 20, ""), "sessions": Bounds(1, 6, ""),
    "test_s": Bounds(2.0, 120.0, "s"),
}  # fmt: skip


def value_of(protocol: Protocol, field: str) -> float:
    """A field as a person sees it: phases in minutes."""
    if field in PHASES:
        return next(p.duration_s for p in protocol.phases if p.name == field) / 60.0
    return float(getattr(protocol, field))


def changed_protocol(protocol: Protocol, field: str, value: float, version: int) -> Protocol:
    """The protocol with one field changed, as that version of the shop's own.

    Raises ValueError naming the bounds. What it cannot conclude is worked out anew, so that a short load says so.
    """
    bounds = BOUNDS[field]
    if not bounds.low <= value <= bounds.high:
        raise ValueError(
            phrase("{low:g} to {high:g} {bounds}", low=bounds.low, high=bounds.high, bounds=bounds.unit).strip()
        )
    if field in PHASES:
        phases = tuple(PhaseStep(p.name, 60.0 * value) if p.name == field else p for p in protocol.phases)
        out = replace(protocol, phases=phases)
    elif field == "test_s":
        out = replace(protocol, test_s=value)
    elif field == "repeats":
        out = replace(protocol, repeats=round(value))
    else:
        out = replace(protocol, sessions=round(value))
    return replace(out, name=NAME, version=version, cannot=_cannot(out))


def _cannot(protocol: Protocol) -> tuple[str, ...]:
    said = []
    if value_of(protocol, "load") * 60 < SHORT_LOAD_S:
        said.append("so short a load does not settle a heatsink: nothing is said of airflow or the total resistance")
    if value_of(protocol, "idle") * 60 < SHORT_IDLE_S:
        said.append("so short an idle phase leaves the calm temperature uncertain")
    if protocol.sessions < 2:
        said.append("one session cannot tell a small gain from the machine's mood of the day")
    return tuple(said)


def starting_point() -> Protocol:
    """The standard protocol as version 1 of the shop's own."""
    return replace(STANDARD, name=NAME, version=1, cannot=_cannot(STANDARD))
