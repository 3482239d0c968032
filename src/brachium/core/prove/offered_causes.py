"""What else changed between two configurations and may be the work that the figures show: offered, not claimed."""

from __future__ import annotations

from brachium.core.base.text import phrase, upper_first
from brachium.core.prove.comparison import Comparison

WORK = {
    "fan mode": "a cooler chip may be the fan's work, not the paste's",
    "stand": "cooler air may be the stand's work",
    "panel or lid": "air may come in another way",
    "power profile": "power and clock follow it",
    "power limits": "power and clock follow them",
    "boost": "power and clock follow it",
    "adapter": "a stronger one may give back power",
    "mains": "a battery limits power",
    "temperature from": "another sensor tells another temperature",
}


def offered_causes(comparison: Comparison) -> tuple[str, ...]:
    """A sentence a cause; the fan's work in kelvin where the law of the fan allows."""
    fan = comparison.heat.fan
    out = [upper_first(fan.words)] if fan is not None else []
    for difference in comparison.differences:
        if difference.one_sided or difference.name not in WORK or difference.text == "the work itself":
            continue
        if difference.name == "fan mode" and fan is not None:
            continue
        name = upper_first(difference.name)
        out.append(
            phrase(
                "{name} {before}, then {after}: {work}",
                name=name,
                before=difference.before,
                after=difference.after,
                work=WORK[difference.name],
            )
        )
    return tuple(out)
