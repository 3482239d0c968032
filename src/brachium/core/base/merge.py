"""Merging two edits of one record, field by field: what both left alone, what one changed, what both changed.

`mine` and `theirs` were both made from `base`. A field that only one of them changed takes that change; one that both
changed alike is no matter; one that both changed differently is a clash: a person chooses, and the merged value is
`theirs` there, which is what lies in the shop already.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable, Iterable, Mapping
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any, Final, Generic, TypeVar

T = TypeVar("T")
KEYS: Final = ("id", "step_id", "place_id", "key", "job_id", "model")
"""Fields by which entries of a list are known again, the first that all of them have and that tells them apart."""


PAIR: Final = "name"
"""Entries that are pairs of a name and what belongs to it."""


class Absent:
    """Stands for an entry that one side does not have."""

    def __repr__(self) -> str:
        return "absent"


ABSENT: Final = Absent()


@dataclass(frozen=True)
class Clash:
    """One field that both changed: its path in the record, its value before, here and there; ABSENT = not there."""

    path: tuple[str, ...]
    base: Any
    mine: Any
    theirs: Any


@dataclass(frozen=True)
class Merged(Generic[T]):
    """The merged record, and what a person has to choose."""

    value: T
    clashes: tuple[Clash, ...] = ()


def merge(base: T, mine: T, theirs: T) -> Merged[T]:
    """Both edits in one record; see the module for the rules."""
    clashes: list[Clash] = []
    return Merged(_merge(base, mine, theirs, (), clashes), tuple(clashes))


def with_mine(base: T, mine: T, theirs: T) -> T:
    """Both edits in one record; where they clash, mine: what a person typed and that is still on its way."""
    clashes: list[Clash] = []
    return _merge(base, mine, theirs, (), clashes, mine_wins=True)  # type: ignore[no-any-return]


def with_value(record: Any, path: tuple[str, ...], value: Any) -> Any:
    """A record with one field of it changed: what a person chose of a clash. An entry that is gone is put back; a field
    of something that is gone has no place, and the record stays as it is."""
    if not path:
        return value
    head, rest = path[0], path[1:]
    if is_dataclass(record) and not isinstance(record, type):
        return replace(record, **{head: with_value(getattr(record, head), rest, value)})
    if isinstance(record, Mapping):
        key = next((k for k in record if str(k) == head), head)
        changed = with_value(record.get(key, ABSENT), rest, value)
        return {k: v for k, v in ({**record, key: changed}).items() if v is not ABSENT}
    if isinstance(record, tuple):
        return _entry_changed(record, head, rest, value)
    return record


def _entry_changed(entries: tuple[Any, ...], head: str, rest: tuple[str, ...], value: Any) -> tuple[Any, ...]:
    of_pairs = isinstance(entries[0], tuple) if entries else not rest and not is_dataclass(value)
    if of_pairs:
        pairs = {**dict(entries), head: value}
        return tuple((k, v) for k, v in pairs.items() if v is not ABSENT)
    at = next((k for k, entry in enumerate(entries) if _is_called(entry, head)), len(entries))
    old = entries[at] if at < len(entries) else ABSENT
    new = value if old is ABSENT and not rest else with_value(old, rest, value)
    return (*entries[:at], *([] if new is ABSENT else [new]), *entries[at + 1 :])


def _is_called(entry: Any, name: str) -> bool:
    return any(str(getattr(entry, key)) == name for key in KEYS if hasattr(entry, key))


def _merge(
    base: Any, mine: Any, theirs: Any, path: tuple[str, ...], clashes: list[Clash], mine_wins: bool = False
) -> Any:
    if mine is theirs or base is mine or _same(mine, theirs) or _same(base, mine):
        return theirs
    if _same(base, theirs):
        return mine
    three = (base, mine, theirs)
    if len({type(v) for v in three}) == 1:
        if is_dataclass(base) and not getattr(base, "MERGES_WHOLE", False):
            changed = {
                name: _merge(
                    getattr(base, name), getattr(mine, name), getattr(theirs, name), (*path, name), clashes, mine_wins
                )
                for name in (f.name for f in fields(base))
            }
            return replace(theirs, **changed)
        if isinstance(base, Mapping):
            return _merge_by_key(base, mine, theirs, path, clashes, mine_wins)
        if isinstance(base, tuple):
            return _merge_lists(base, mine, theirs, path, clashes, mine_wins)
    clashes.append(Clash(path, *three))
    return mine if mine_wins else theirs


def _same(a: Any, b: Any) -> bool:
    return type(a) is type(b) and bool(a == b) if not isinstance(a, str) else isinstance(b, str) and a == b


def _merge_by_key(
    base: Mapping[Any, Any], mine: Mapping[Any, Any], theirs: Mapping[Any, Any], path: tuple[str, ...],
    clashes: list[Clash], mine_wins: bool,
) -> dict[Any, Any]:  # fmt: skip
    """Entries by their key, in the order that lies in the shop, those that are new here behind them."""
    out = {}
    for key in dict.fromkeys((*theirs, *mine)):
        was, here, there = base.get(key, ABSENT), mine.get(key, ABSENT), theirs.get(key, ABSENT)
        value = _merge(was, here, there, (*path, str(key)), clashes, mine_wins)
        if value is not ABSENT:
            out[key] = value
    for key in base:  # an entry that one side took away while the other changed it clashes above; gone on both: gone
        if key not in mine and key not in theirs:
            out.pop(key, None)
    return out


def _merge_lists(
    base: tuple[Any, ...], mine: tuple[Any, ...], theirs: tuple[Any, ...], path: tuple[str, ...],
    clashes: list[Clash], mine_wins: bool,
) -> tuple[Any, ...]:  # fmt: skip
    """Lists whose entries can be known again are merged entry by entry; of others what each side put in and took out
    counts; what cannot be told apart (an entry that is there twice, another order) is one value."""
    key = _key_of(base, mine, theirs)
    if key == PAIR:
        was, here, there = dict(base), dict(mine), dict(theirs)
        return tuple(_merge_by_key(was, here, there, path, clashes, mine_wins).items())
    if key:
        was, here, there = ({getattr(v, key): v for v in values} for values in (base, mine, theirs))
        return tuple(_merge_by_key(was, here, there, path, clashes, mine_wins).values())
    if all(map(_is_set, (base, mine, theirs))) and _ordered_alike(base, mine):
        return _merge_sets(base, mine, theirs)
    clashes.append(Clash(path, base, mine, theirs))
    return mine if mine_wins else theirs


def _merge_sets(base: tuple[Any, ...], mine: tuple[Any, ...], theirs: tuple[Any, ...]) -> tuple[Any, ...]:
    gone = [v for v in base if v not in mine]
    fresh = [v for v in mine if v not in base and v not in theirs]
    return (*(v for v in theirs if v not in gone), *fresh)


def _key_of(*lists: tuple[Any, ...]) -> str:
    """By what the entries of all three are known again; empty where nothing tells them apart."""
    every = [v for values in lists for v in values]
    if every and all(map(_is_pair, every)):
        return PAIR if all(_once(v[0] for v in values) for values in lists) else ""
    if not all(map(is_dataclass, every)):
        return ""
    return next((k for k in KEYS if all(_told_apart(values, k) for values in lists)), "")


def _is_pair(value: object) -> bool:
    return isinstance(value, tuple) and len(value) == 2 and isinstance(value[0], str)


def _told_apart(values: tuple[Any, ...], key: str) -> bool:
    return all(hasattr(v, key) for v in values) and _once(getattr(v, key) for v in values)


def _once(names: Iterable[Hashable]) -> bool:
    return max(Counter(names).values(), default=1) == 1


def _is_set(values: tuple[Any, ...]) -> bool:
    """Whether entries are names or records, each there once: numbers in a row, such as width and height, are no set."""
    names = all(isinstance(v, str) or is_dataclass(v) for v in values)
    return names and all(value not in values[:number] for number, value in enumerate(values))


def _ordered_alike(base: tuple[Any, ...], mine: tuple[Any, ...]) -> bool:
    """Whether what stayed stands in the order in which it stood: a list that was put in order is one value."""
    return [v for v in mine if v in base] == [v for v in base if v in mine]
