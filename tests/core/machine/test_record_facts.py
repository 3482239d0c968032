"""Every fact of a record: entered in its unit, shown with its origin, corrected, forgotten; figures that cannot be."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from enum import StrEnum

import pytest

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.fit.fill import with_fact
from brachium.core.machine.facts.open_facts import UNSAID
from brachium.core.machine.facts.part_facts import part_facts, part_kinds, typed_part
from brachium.core.machine.facts.record_facts import RecordFact, record_facts
from brachium.core.machine.facts.typed_facts import shown_value, typed_value
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from tests.support.every_fact import FACTS, MACHINE, text_for


def _of(machine: Machine, key: str) -> RecordFact:
    return next(f for f in record_facts(machine) if f.key == key)


@pytest.mark.parametrize("fact", [f for f in FACTS if f.key != "platform.cache_pairs"], ids=lambda f: f.key)
def test_every_fact_is_entered_shown_corrected_and_forgotten(fact: RecordFact) -> None:
    entered = with_fact(MACHINE, fact.key, typed_value(fact, text_for(fact)))
    now = _of(entered, fact.key)
    assert now.origin is Origin.TYPED and shown_value(now) != shown_value(fact)
    assert typed_value(now, shown_value(now)) == now.value, "what is shown can be typed again"
    if fact.required:
        with pytest.raises(ValueError, match="cannot be left out"):
            typed_value(now, "")
        return
    gone = with_fact(entered, fact.key, typed_value(now, ""))
    after = _of(gone, fact.key)
    assert after.value == fact.empty and (after.origin is Origin.ASSUMED or after.value not in UNSAID)


def test_the_list_follows_the_records_and_misses_no_field() -> None:
    """A field of a record that holds a plain value has a row; records within it have their own."""
    keys = {f.key for f in FACTS}
    stems = {"identity": MACHINE.identity, "processor": MACHINE.processor, "memory": MACHINE.memory,
             "slots.slot-1": MACHINE.slots[0], "bays.bay-1": MACHINE.bays[0],
             "platform.cards.card-1": MACHINE.platform.cards[0], "platform.headers.fan-1": MACHINE.platform.headers[0],
             "platform.chips.vrm": MACHINE.platform.chips[0]}  # fmt: skip
    stems |= {f"parts.{place}": part for place, part in MACHINE.configuration().parts.items()}
    stems |= {f"platform.{f.name}": v for f in fields(MACHINE.platform)
              if is_dataclass(v := getattr(MACHINE.platform, f.name))}  # fmt: skip
    left_out = {"id", "kind", "derates", "planned"}  # a table of its own, and what a stay plans
    for stem, record in stems.items():
        missing = {f.name for f in fields(record) if f"{stem}.{f.name}" not in keys} - left_out  # type: ignore[arg-type]
        assert not missing, f"{stem}: {missing}"


@pytest.mark.parametrize(
    ("key", "text", "value"),
    [
        ("parts.slot-1.size_bytes", "4", 4 * GIB), ("parts.slot-1.size_bytes", "512 MiB", GIB // 2),
        ("parts.bay-1.size_bytes", "1.5 TB", 1500 * GB), ("parts.bay-1.used_bytes", "120", 120 * GB),
        ("processor.base_mhz", "2,4 GHz", 2400.0), ("memory.published_max_bytes", "16 GB", 16 * GIB),
        ("bays.bay-1.max_height_mm", "9.5 mm", 9.5), ("kind", "mini", MachineKind.MINI_PC),
        ("parts.slot-1.volts", "1.35, 1.5", (1.35, 1.5)), ("platform.board.nvme_start", "no", False),
    ],
)  # fmt: skip
def test_figures_are_typed_in_units_that_people_use(key: str, text: str, value: object) -> None:
    assert typed_value(_of(MACHINE, key), text) == value


@pytest.mark.parametrize(
    ("key", "text", "says"),
    [
        ("processor.base_mhz", "2400000", "thousand"), ("processor.design_power_w", "95000", "thousand"),
        ("parts.slot-1.speed_mts", "1600000", "thousand"), ("bays.bay-1.max_height_mm", "9500", "thousand"),
        ("parts.slot-1.size_bytes", "4294967296", "thousand"), ("processor.limit_c", "95 kg", "In °C"),
        ("processor.cores", "many", "whole number"), ("kind", "toaster", "One of"),
        ("platform.board.nvme_start", "perhaps", "Yes or no"), ("parts.battery.volts", "eleven", "number in V"),
    ],
)  # fmt: skip
def test_a_figure_that_cannot_be_is_asked_back(key: str, text: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        typed_value(_of(MACHINE, key), text)


@pytest.mark.parametrize("kind", part_kinds())
def test_a_part_of_any_kind_is_made_by_hand_attribute_by_attribute(kind: str) -> None:
    texts = {f.key: text_for(f) for f in part_facts(kind)}
    part = typed_part(kind, texts)
    shown = {f.key: shown_value(f) for f in part_facts(kind, part)}
    again = typed_part(kind, shown)
    assert again == part and part.name == "some words"
    assert all(shown[f.key] for f in part_facts(kind)), "no attribute is lost"
    needed = next((f for f in part_facts(kind) if f.required and f.key != "name"), None)
    if needed is not None:
        with pytest.raises(ValueError, match=needed.title):
            typed_part(kind, {**texts, needed.key: ""})


def test_a_choice_may_be_begun_and_an_enumeration_is_never_guessed() -> None:
    form = _of(MACHINE, "parts.slot-1.form")
    assert isinstance(typed_value(form, "so-"), StrEnum) and typed_value(form, "rimm") == "RIMM"
    with pytest.raises(ValueError, match="One of"):
        typed_value(_of(MACHINE, "parts.slot-1.generation"), "lpddr")


def test_cache_pairs_and_channels_are_typed_by_the_labels_of_places() -> None:
    first, second = (b.label for b in MACHINE.bays[:2])
    fact = _of(MACHINE, "platform.cache_pairs")
    paired = with_fact(MACHINE, fact.key, typed_value(fact, f"{first} + {second}"))
    assert paired.platform.cache_pairs == (tuple(b.id for b in MACHINE.bays[:2]),)
    assert shown_value(_of(paired, fact.key)) == f"{first} + {second}"
    with pytest.raises(ValueError, match="such as"):
        with_fact(MACHINE, fact.key, (f"{first} + attic",))
    named = MACHINE
    for slot, label in zip(MACHINE.slots, ("DIMM A1", "DIMM A2", "DIMM B1", "DIMM B2"), strict=True):
        named = with_fact(named, f"slots.{slot.id}.label", label)
    assert [s.channel for s in named.slots] == [0, 0, 1, 1]
    assert named.origin("slots.slot-1.channel") is Origin.LABEL
