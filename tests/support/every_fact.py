"""A machine with one place and one part of every kind, and something that can be typed for each of its facts."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.label.quick_line import read_quick_line
from brachium.core.label.record_line import record_line
from brachium.core.machine.facts.record_facts import RecordFact, record_facts
from brachium.core.machine.facts.typed_facts import shown_value
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import ChipContact, FanHeader

LINE = ("tower; 2x2gb ddr3-1333 dimm; 1tb 3.5 hdd; gpu 2gb pcie x16; 500 W supply 3x sata; 48Wh battery 11.1V; "
        "65W adapter 19.5V; 4c4t 95w socket XA-12")  # fmt: skip


def _machine() -> Machine:
    """What a line can say, and what it cannot."""
    made = record_line(Machine(), read_quick_line(LINE)).machine
    platform = replace(
        made.platform, headers=(FanHeader("fan-1", "Fan 1"),), chips=(ChipContact("vrm", "Voltage stage"),)
    )
    return replace(made, platform=platform)


MACHINE = _machine()
FACTS = record_facts(MACHINE)


def text_for(fact: RecordFact) -> str:
    """Something that can be typed for it, other than what stands there."""
    if fact.key == "platform.cache_pairs":
        return " + ".join(b.label for b in MACHINE.bays[:2])
    if fact.choices:
        return next(c.value for c in fact.choices if c.value != shown_value(fact))
    if fact.type is bool:
        return "no" if shown_value(fact) == "yes" else "yes"
    if fact.type is str:
        return "some words"
    scale = fact.unit.value
    low = 2.0 if scale.sign == "" else max(scale.least, min(2.0, scale.most))
    return "2010" if scale.least > 1900 else f"{low if shown_value(fact) != f'{low:g}' else low + 1:g}"
