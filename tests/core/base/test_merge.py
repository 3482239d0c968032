"""Two edits of one record: what each changed is there afterwards, or a person is asked. Nothing goes by itself."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.base.merge import ABSENT, Clash, merge, with_mine, with_value
from brachium.core.record.job import DataSafe, DataState, Photo, StepDone
from brachium.demo.newsroom import newsroom_job

JOB = newsroom_job()


@dataclass(frozen=True)
class Entry:
    id: str
    word: str = ""
    number: int = 0


@dataclass(frozen=True)
class Record:
    """A little of everything that records are made of."""

    word: str = ""
    number: int | None = None
    names: tuple[str, ...] = ()
    entries: tuple[Entry, ...] = ()
    pairs: tuple[tuple[str, str], ...] = ()
    size: tuple[int, ...] = (3, 4)
    by_key: dict[str, str] = field(default_factory=dict)
    inner: Entry = Entry("inner")


WORDS = st.sampled_from(["", "a", "b", "c"])
ENTRIES = st.lists(st.builds(Entry, st.sampled_from("pqrs"), WORDS, st.integers(0, 2)), max_size=4,
                   unique_by=lambda e: e.id).map(tuple)  # fmt: skip
RECORDS = st.builds(
    Record, WORDS, st.none() | st.integers(0, 3), st.lists(WORDS, max_size=3, unique=True).map(tuple), ENTRIES,
    st.dictionaries(st.sampled_from("xyz"), WORDS, max_size=3).map(lambda d: tuple(sorted(d.items()))),
    st.tuples(st.integers(0, 2), st.integers(0, 2)), st.dictionaries(st.sampled_from("xyz"), WORDS, max_size=3),
    st.builds(Entry, st.just("inner"), WORDS, st.integers(0, 2)),
)  # fmt: skip
LEAVES = ("word", "number", "size")


@settings(max_examples=400)
@given(RECORDS, RECORDS, RECORDS)
def test_what_one_side_changed_is_taken_and_what_both_changed_is_asked(
    base: Record, mine: Record, theirs: Record
) -> None:
    merged = merge(base, mine, theirs)
    asked = {c.path[0] for c in merged.clashes}
    for name in LEAVES:
        was, here, there = (getattr(r, name) for r in (base, mine, theirs))
        got = getattr(merged.value, name)
        if here in (there, was):
            assert got == there and name not in asked
        elif there == was:
            assert got == here and name not in asked
        else:
            assert got == there and name in asked
    for entry in mine.entries:
        if entry not in base.entries and "entries" not in asked:
            assert any(e.id == entry.id for e in merged.value.entries), "nothing that was put in here is lost"
    for clash in merged.clashes:
        assert clash.mine != clash.theirs and clash.mine != clash.base and clash.theirs != clash.base
    assert merge(base, mine, base).value == mine and merge(base, base, theirs).value == theirs
    assert merge(base, mine, mine).value == mine
    chosen = merged.value
    for clash in merged.clashes:
        chosen = with_value(chosen, clash.path, clash.mine)
    assert with_mine(base, mine, theirs) == chosen or _in_another_order(with_mine(base, mine, theirs), chosen)


def _in_another_order(a: Record, b: Record) -> bool:
    """Entries that come back after a choice stand at the end."""

    def key(e: Entry) -> str:
        return e.id

    return replace(a, entries=tuple(sorted(a.entries, key=key)), pairs=tuple(sorted(a.pairs))) == replace(
        b, entries=tuple(sorted(b.entries, key=key)), pairs=tuple(sorted(b.pairs)))  # fmt: skip


def test_records_of_machines_are_merged_down_to_their_parts() -> None:
    module = replace(JOB.machine.fitted[0], part=replace(JOB.machine.fitted[0].part, name="typed here"))
    here = replace(JOB, machine=replace(JOB.machine, fitted=(module, *JOB.machine.fitted[1:])),
                   steps_done=(StepDone("open", "now", 4.0),), own_conditions={"before": {"room": "21"}})  # fmt: skip
    identity = replace(JOB.machine.identity, serial="S-1")
    there = replace(JOB, machine=replace(JOB.machine, identity=identity), steps_done=(StepDone("paste", "now", 9.0),),
                    own_conditions={"after": {"room": "23"}}, photos=(Photo("p", 1, 1),))  # fmt: skip
    merged = merge(JOB, here, there)
    assert merged.clashes == ()
    got = merged.value
    assert got.machine.fitted[0].part.name == "typed here" and got.machine.identity.serial == "S-1"
    assert {s.step_id for s in got.steps_done} == {"open", "paste"} and got.photos == there.photos
    assert got.own_conditions == {"before": {"room": "21"}, "after": {"room": "23"}}


@pytest.mark.parametrize(
    ("mine", "theirs", "path"),
    [
        ({"budget": Decimal(1)}, {"budget": Decimal(2)}, ("budget",)),
        ({"data_safe": DataSafe(DataState.BACKED_UP)}, {"data_safe": DataSafe(DataState.NOT_NEEDED)},
         ("data_safe", "state")),
        ({"last_chance": (("lid", "yes"),)}, {"last_chance": (("lid", "no"),)}, ("last_chance", "lid")),
        ({"steps_done": (StepDone("a", "", 1.0),)}, {"steps_done": (StepDone("a", "", 2.0),)}, ("steps_done", "a")),
        ({"remarks": {"owner": "x"}}, {"remarks": {"owner": "y"}}, ("remarks", "owner")),
    ],
)  # fmt: skip
def test_the_same_field_twice_names_its_path_and_either_value_can_be_taken(
    mine: dict[str, object], theirs: dict[str, object], path: tuple[str, ...]
) -> None:
    here, there = replace(JOB, **mine), replace(JOB, **theirs)  # type: ignore[arg-type]
    merged = merge(JOB, here, there)
    (clash,) = merged.clashes
    assert clash.path == path and merged.value == there
    assert with_value(merged.value, clash.path, clash.mine) == here == with_mine(JOB, here, there)


def test_what_one_took_away_while_the_other_changed_it_is_asked() -> None:
    base = Record(entries=(Entry("p"), Entry("q")))
    gone, changed = replace(base, entries=(Entry("q"),)), replace(base, entries=(Entry("p", "new"), Entry("q")))
    merged = merge(base, gone, changed)
    assert merged.clashes == (Clash(("entries", "p"), Entry("p"), ABSENT, Entry("p", "new")),)
    assert merged.value == changed and with_value(merged.value, ("entries", "p"), ABSENT) == gone
    assert merge(base, gone, gone).value == gone and merge(base, gone, base).value == gone


def test_lists_that_cannot_be_told_apart_are_one_value() -> None:
    for base, mine, theirs in (
        (Record(names=("a", "b")), Record(names=("b", "a")), Record(names=("a", "b", "c"))),
        (Record(names=("a", "a")), Record(names=("a",)), Record(names=("a", "a", "b"))),
        (Record(size=(3, 4)), Record(size=(5, 4)), Record(size=(3, 6))),
    ):
        assert len(merge(base, mine, theirs).clashes) == 1
    assert merge(Record(names=("a",)), Record(names=()), Record(names=("a", "b"))).value == Record(names=("b",))
