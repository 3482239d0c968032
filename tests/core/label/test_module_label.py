"""Module labels: a corpus from the standard, a label printed and read back, words that are none."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.label.memory_grades import RATES_MTS, bin_of, bins_of, cas_of
from brachium.core.label.module_label import ModuleLabel, print_module_label, read_module_label
from brachium.core.machine.memory_part import Buffering, MemoryForm, MemoryGeneration

LABELS = (Path(__file__).parents[2] / "data" / "module_labels.tsv").read_text().splitlines()
FIELDS = LABELS[0].split("\t")[1:]
UNSAID = {"yes": True, "no": False, "-": None}


def _plain(value: object) -> object:
    return f"{value:g}" if isinstance(value, int | float) and not isinstance(value, bool) else value


@pytest.mark.parametrize("row", LABELS[1:], ids=lambda row: row.split("\t")[0])
def test_a_label_is_read_as_the_standard_means_it(row: str) -> None:
    text, *expected = row.split("\t")
    label = read_module_label(text)
    found = {f: _plain(getattr(label, f)) for f in FIELDS}
    assert found == {f: UNSAID.get(v, v) for f, v in zip(FIELDS, expected, strict=True)}
    assert label.not_understood == ()
    assert set(label.left_open) == {f for f, v in zip(FIELDS, expected, strict=True) if v == "-"}


@pytest.mark.parametrize(("text", "words"), [
    ("4GB 1Rx8 PC3L-12800Q-11", ("Q",)), ("PC3-9999S", ("PC3-9999S",)), ("4GB DDR4-100", ("100",)),
    ("8GB quantum DDR4", ("quantum",)), ("8000GB DDR4", ("8000GB",)), ("0GB DDR3", ("0GB",)),
    ("PC4-2400Q-SA1", ("Q",)), ("1Rx7 PC4-2400T", ("1Rx7",)), ("hello", ("hello",)),
])  # fmt: skip
def test_what_means_nothing_is_given_back(text: str, words: tuple[str, ...]) -> None:
    assert read_module_label(text).not_understood == words


KINDS = [(MemoryForm.SO_DIMM, Buffering.UNBUFFERED, False), (MemoryForm.DIMM, Buffering.UNBUFFERED, False),
         (MemoryForm.DIMM, Buffering.UNBUFFERED, True), (MemoryForm.SO_DIMM, Buffering.UNBUFFERED, True),
         (MemoryForm.DIMM, Buffering.REGISTERED, True), (MemoryForm.DIMM, Buffering.LOAD_REDUCED, True),
         (None, None, None)]  # fmt: skip
GENERATIONS = [g for g in RATES_MTS if g not in (MemoryGeneration.SDR, MemoryGeneration.RDRAM)]
USUAL = {MemoryGeneration.DDR: 2.5, MemoryGeneration.DDR2: 1.8, MemoryGeneration.DDR4: 1.2, MemoryGeneration.DDR5: 1.1}


@st.composite
def labels(draw: st.DrawFn) -> ModuleLabel:
    generation = draw(st.sampled_from(GENERATIONS))
    mts = draw(st.sampled_from(RATES_MTS[generation]))
    form, buffering, ecc = draw(st.sampled_from(KINDS))
    bins = [cas_of(generation, mts, b) for b in bins_of(generation, mts)]
    early = {MemoryGeneration.DDR: [2, 2.5, 3], MemoryGeneration.DDR2: [3, 4, 5, 6, 7], MemoryGeneration.DDR3: []}
    cas = draw(st.sampled_from([None, *(c for c in early.get(generation, bins) if c is not None)]))
    ranks = draw(st.sampled_from([None, 1, 2, 4, 8]))
    return ModuleLabel(
        form, generation, draw(st.sampled_from([None, 128, 512, 1024, 3072, 24576, 262144])), ranks,
        draw(st.sampled_from([4, 8, 16])) if ranks else None, buffering, ecc, mts,
        USUAL.get(generation, draw(st.sampled_from([1.35, 1.5]))), cas,
    )  # fmt: skip


@given(labels())
def test_a_printed_label_reads_as_the_same_module(label: ModuleLabel) -> None:
    assert read_module_label(print_module_label(label)) == label


@given(st.text(max_size=80))
def test_any_text_comes_back_with_nothing_raised(text: str) -> None:
    label = read_module_label(text)
    assert label.size_mib is None or 1 <= label.size_mib <= 1 << 20


def test_bins_name_their_latency() -> None:
    """JESD79-4: the bins that modules are sold by."""
    assert [cas_of(MemoryGeneration.DDR4, r, b) for r, b in ((2133, "P"), (2400, "T"), (2666, "V"), (3200, "AA"))] == [
        15, 17, 19, 22]  # fmt: skip
    assert bin_of(MemoryGeneration.DDR4, 2400, 17) == "T" and bin_of(MemoryGeneration.DDR3, 1600, 11) == ""
