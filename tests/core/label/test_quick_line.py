"""Quick lines as people say them: each word linked to its field, what nobody knows marked, never dropped."""

from __future__ import annotations

import re
from enum import Enum
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.base.units import GIB
from brachium.core.base.why import Origin
from brachium.core.label.quick_line import read_quick_line
from brachium.core.label.record_line import record_line
from brachium.core.machine.facts.open_facts import open_facts
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule

CORPUS = [line.split("\t") for line in
          (Path(__file__).parents[2] / "data" / "quick_lines.tsv").read_text().splitlines()]  # fmt: skip
NOT_FIELDS = ("understood", "not_understood")
NEW = Machine(kind=MachineKind.NOT_KNOWN)


def _words(value: object) -> str:
    if isinstance(value, Enum):
        return str(value.value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return "+".join("x".join(map(_words, v)) if isinstance(v, tuple) else _words(v) for v in value)
    return f"{value:g}" if isinstance(value, float) else str(value)


def _understood(text: str) -> str:
    out = []
    for piece in read_quick_line(text).pieces:
        said = {} if piece.reading is None else vars(piece.reading)
        fields = [f"{k}={_words(v).replace(' ', '_')}" for k, v in said.items()
                  if k not in NOT_FIELDS and v not in (None, ()) and (k, v) != ("count", 1)]  # fmt: skip
        out.append(" ".join([piece.kind or "?", *fields, *(f"!{w}" for w in piece.not_understood)]))
    return " | ".join(out)


def test_the_corpus_is_large_enough() -> None:
    assert len(CORPUS) >= 60 and len({text for text, _ in CORPUS}) == len(CORPUS)


@pytest.mark.parametrize(("text", "meant"), CORPUS)
def test_a_line_is_read_right_or_marked(text: str, meant: str) -> None:
    assert _understood(text) == meant


@settings(max_examples=150, deadline=None)
@given(st.text(max_size=60) | st.lists(st.sampled_from([t for t, _ in CORPUS]), max_size=3).map("; ".join))
def test_no_word_is_dropped_and_nothing_raises(text: str) -> None:
    line = read_quick_line(text)
    record_line(NEW, line)
    told = " ".join(p.text for p in line.pieces)
    for word in set(re.findall(r"[A-Za-z]{4,}", text)) - {"plus"}:
        assert word in told, f"{word} of {text!r} is nowhere"


def test_what_a_line_says_is_typed_what_its_kind_brings_typical_and_the_rest_open() -> None:
    line = read_quick_line("laptop; 1x4gb ddr3 1600 sodimm; 500gb hdd; 35w 2c4t socket pg-9")
    machine = record_line(NEW, line).machine
    module, drive = machine.configuration().parts["slot-1"], machine.configuration().parts["bay-1"]
    assert isinstance(module, MemoryModule) and isinstance(drive, Drive)
    assert (module.size_bytes, module.speed_mts, module.buffering, module.volts) == (4 * GIB, 1600, None, ())
    assert (drive.form, drive.interface, drive.height_mm) == (BayForm.IN_2_5, DriveInterface.SATA, None)
    origins = {k: machine.origin(k) for k in (
        "kind", "slots.slot-1", "slots.slot-2", "parts.slot-1.speed_mts", "parts.slot-1.ranks", "parts.bay-1.interface",
        "parts.bay-1.size_bytes", "parts.bay-1.outer_mb_s", "processor.design_power_w", "processor.limit_c",
        "memory.published_max_bytes")}  # fmt: skip
    assert origins == {
        "kind": Origin.TYPED, "slots.slot-1": Origin.TYPED, "slots.slot-2": Origin.TYPICAL,
        "parts.slot-1.speed_mts": Origin.TYPED, "parts.slot-1.ranks": Origin.ASSUMED,
        "parts.bay-1.interface": Origin.TYPICAL, "parts.bay-1.size_bytes": Origin.TYPED,
        "parts.bay-1.outer_mb_s": Origin.TYPICAL, "processor.design_power_w": Origin.TYPED,
        "processor.limit_c": Origin.ASSUMED, "memory.published_max_bytes": Origin.ASSUMED,
    }  # fmt: skip
    still = open_facts(machine)
    assert {"processor.limit_c", "slots.slot-2.channel", "parts.slot-1.volts", "bays.bay-1.link_mb_s"} <= set(still)
    assert not {"kind", "processor.cores", "parts.slot-1.speed_mts"} & set(still)


def test_a_printed_label_is_a_label_and_places_follow_what_is_said() -> None:
    machine = record_line(NEW, read_quick_line("mini pc 2 x 8GB PC4-2400T-SA1; 4 slots; 256gb nvme ssd")).machine
    assert machine.origin("parts.slot-1.speed_mts") is Origin.LABEL and len(machine.slots) == 4
    assert [b.form for b in machine.bays][:1] == [BayForm.M2] and "bay-1" in machine.configuration().parts
    free = record_line(NEW, read_quick_line("laptop 8gb ddr4 sodimm, one slot free")).machine
    slots = [(s.form, s.generation, s.channel) for s in free.slots]
    assert slots == [(MemoryForm.SO_DIMM, MemoryGeneration.DDR4, None)] * 2, "no channel is told by a place's number"
    both = record_line(NEW, read_quick_line("laptop 8 GB soldered ddr4 plus 8gb sodimm ddr4-3200")).machine
    assert sorted(s.form for s in both.slots if s.id in both.configuration().parts) == ["SO-DIMM", "soldered"]


def test_what_cannot_be_recorded_is_said_and_a_second_line_adds() -> None:
    bare = record_line(NEW, read_quick_line("8gb; 256gb"))
    assert not bare.machine.fitted and len(bare.unrecorded) == 2 and "DDR3" in bare.unrecorded[0]
    one = record_line(NEW, read_quick_line("tower 2x2gb ddr3-1333 1tb 3.5 hdd")).machine
    two = record_line(one, read_quick_line("1x4gb ddr3-1600; 240gb sata ssd 2.5; 500 W supply 3x sata")).machine
    assert two.configuration().memory_bytes() == 8 * GIB and len(two.configuration().drives()) == 2
    assert [lead.feeds for lead in two.leads] == ["bay-1", "bay-2", ""], "a plug that feeds something is not free"


@pytest.mark.parametrize(("line", "places"), [
    ("laptop; 4gb 2Rx8 PC3L-12800S; slot 2 free", 2), ("laptop; 4gb ddr3 sodimm; slot 2 free; slot 4 is empty", 3),
    ("laptop; 4gb ddr3 sodimm; 2 free", 3), ("tower; 2x2gb ddr3; memory slot 3 free", 3),
])  # fmt: skip
def test_the_number_of_a_free_place_is_a_name_not_a_count(line: str, places: int) -> None:
    assert len(record_line(Machine(), read_quick_line(line)).machine.slots) == places
