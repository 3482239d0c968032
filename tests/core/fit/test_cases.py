"""Every fit rule case by case: what decides whether a part belongs in a machine, and what forgetting a fact does."""

from __future__ import annotations

from collections import Counter
from dataclasses import fields, is_dataclass, replace

import pytest

from brachium.core.fit.engine import FitGround, settle_gap
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.fill import fact_of, with_fact
from brachium.core.fit.verdict import Level
from brachium.core.machine.machine import Machine
from brachium.core.machine.new_board import as_it_will_be
from tests.core.fit.bench_machines import AROUND, TOWER, FitCase
from tests.core.fit.cases_memory import MEMORY_CASES
from tests.core.fit.cases_other import BOARD_CASES, CARD_CASES, PLATFORM_CASES, SUPPLY_CASES
from tests.core.fit.cases_processor import COOLING_CASES, PROCESSOR_CASES
from tests.core.fit.cases_real_machines import REAL_CASES
from tests.core.fit.cases_storage import STORAGE_CASES

CASES = (
    *MEMORY_CASES, *STORAGE_CASES, *PROCESSOR_CASES, *COOLING_CASES, *CARD_CASES, *SUPPLY_CASES, *BOARD_CASES,
    *PLATFORM_CASES, *REAL_CASES,
)  # fmt: skip
NOT_FACTS = {"bays.thread", "bays.uplink_mb_s", "platform.system.ceiling_bytes"}  # None has a meaning there


@pytest.mark.parametrize("case", CASES, ids=lambda c: f"{c.rule}-{c.says[:28]}")
def test_case(case: FitCase) -> None:
    found = case.verdicts()
    if case.level is None:
        assert case.rule not in found
        return
    verdict = found[case.rule]
    assert verdict.level is case.level, verdict.sentence
    assert case.says in verdict.sentence
    told = [verdict.because.result, verdict.because.would_change, *(f.value for f in verdict.because.facts)]
    assert case.figure in " ".join(told)
    assert verdict.because.rule == case.rule and verdict.because.text
    if case.level is Level.NEEDS_FIRST:
        assert verdict.precondition
    if verdict.level not in (Level.FITS, Level.NEEDS_FIRST):
        assert verdict.because.would_change, "every limit says what would change it"


def test_every_rule_is_shown_at_least_twice_in_both_directions() -> None:
    good = Counter(c.rule for c in CASES if c.level in (Level.FITS, None))
    bad = Counter(c.rule for c in CASES if c.level not in (Level.FITS, None))
    ids = {r.id for r in ALL_RULES}
    assert {i for i in ids if good[i] < 2} == {i for i in ids if bad[i] < 2} == set()
    assert {i for i in ids if good[i] + bad[i] < 4} == set()
    assert len(CASES) >= 400


def facts_of(here: object, path: str = "") -> list[str]:
    """Paths of everything in a record that may be unknown."""
    out: list[str] = []
    if isinstance(here, tuple):
        for x in here:
            if is_dataclass(x) and hasattr(x, "id"):
                out += facts_of(x, f"{path}.{x.id}")
        return out
    assert is_dataclass(here)
    for f in fields(here):
        name, value = f"{path}.{f.name}".strip("."), getattr(here, f.name)
        if "None" in str(f.type) and value is not None:
            out.append(name)
        elif is_dataclass(value) or (isinstance(value, tuple) and value and is_dataclass(value[0])):
            out += facts_of(value, name)
    return out


def is_fact(path: str) -> bool:
    parts = path.split(".")
    return f"{parts[0]}.{parts[-1]}" not in NOT_FACTS and path not in NOT_FACTS


SOFT = ("MEM-PROFILE", "MEM-CHAN", "MEM-SPEED", "MEM-ORDER", "STO-LINK", "STO-MODE", "STO-THERM", "STO-BAY")


@pytest.mark.parametrize("number", range(8))
def test_forgetting_any_fact_leaves_the_verdict_or_makes_it_not_known_and_the_named_fact_settles_it(
    number: int,
) -> None:
    asked = 0
    for case in CASES[number::8]:
        if case.level in (None, Level.NOT_KNOWN):
            continue
        machine = case.machine()
        full = case.verdicts(machine)[case.rule]
        for path in filter(is_fact, facts_of(machine)):
            forgot = with_fact(machine, path, None)
            verdict = case.about(full, forgot)
            if verdict is None and full.level is not Level.REFUSED and case.rule in SOFT:
                continue  # it says nothing of what it cannot know, which is no word about the part
            assert verdict is not None, (case.rule, path)
            if verdict.level is full.level:
                continue
            if case.rule in SOFT and full.level is not Level.REFUSED and verdict.level is Level.FITS:
                continue  # decides how fast it is, or a step of the work: said, never asked
            gap = verdict.gap
            assert verdict.level is Level.NOT_KNOWN and gap is not None, (case.rule, case.says, path)
            settled = [case.about(full, with_fact(forgot, gap.key, value)) for value in gap.values]
            assert all(v is not None and v.gap is None for v in settled), (case.rule, path, gap.key)
            assert len({v.level for v in settled if v is not None}) > 1, (case.rule, path, gap.key)
            again = case.about(full, with_fact(forgot, path, fact_of(machine, path)))
            assert again is not None and again.level is full.level
            asked += 1
    assert asked > 5, "some facts decide"


def test_of_two_missing_facts_the_one_is_named_that_settles_more_for_its_minutes() -> None:
    case = next(c for c in CASES if c.rule == "CPU-SOCKET" and c.level is Level.FITS)
    bare = case.machine().with_part("socket", None)  # a fitted processor would prove both
    for fact in ("platform.board.socket", "platform.board.revision"):
        bare = with_fact(bare, fact, None)
    gap = case.verdicts(bare)["CPU-SOCKET"].gap
    assert gap is not None and gap.key == "platform.board.socket"


def test_every_value_a_gap_offers_is_one_the_rule_understands() -> None:
    seen = set()
    for case in CASES:
        machine = case.machine()
        config = machine.configuration().with_changes(case.plan)
        around = replace(AROUND, **dict(case.around))  # type: ignore[arg-type]
        for verdict in case.verdicts(machine).values():
            if verdict.gap is None or verdict.gap.key in seen:
                continue
            seen.add(verdict.gap.key)
            rule = next(r for r in ALL_RULES if r.id == verdict.rule)
            ground = FitGround(as_it_will_be(machine, config), config, around, before=machine)
            subject = next(s for s in rule.subjects(ground) if s.places == verdict.places)
            levels = {
                settle_gap(rule, replace(ground, tried={verdict.gap.key: v}), subject).level for v in verdict.gap.values
            }
            assert levels != {Level.NOT_KNOWN}, verdict.gap.key
    assert len(seen) > 25


def test_every_verdict_speaks_of_the_places_of_its_subject() -> None:
    """So that what a plan does not touch need not be judged anew."""
    for case in CASES:
        machine = case.machine()
        config = machine.configuration().with_changes(case.plan)
        around = replace(AROUND, **dict(case.around))  # type: ignore[arg-type]
        ground = FitGround(as_it_will_be(machine, config), config, around, before=machine)
        for rule in (r for r in ALL_RULES if r.id == case.rule):
            for subject in rule.subjects(ground):
                assert settle_gap(rule, ground, subject).places == subject.places


def test_a_path_that_the_record_does_not_have_is_refused() -> None:
    for key in ("memory.colour", "bays.nowhere.link_mb_s", "ranks of m", "parts.slot-9.height_mm"):
        with pytest.raises(KeyError):
            with_fact(TOWER, key, 1)
    assert isinstance(with_fact(TOWER, "leads.sata", 4), Machine)
    assert sum(lead.kind == "SATA power" for lead in with_fact(TOWER, "leads.sata", 4).leads) == 4
