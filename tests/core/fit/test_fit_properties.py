"""What holds of every verdict: no tried value is said, and a fact that is true never makes anything less certain."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from random import Random

import pytest

from brachium.core.fit.engine import FitGround, MissingFact
from brachium.core.fit.fill import fact_of, with_fact
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.machine import Machine
from tests.core.fit.bench_machines import FitCase
from tests.core.fit.test_cases import CASES, SOFT, facts_of, is_fact

SPAN = re.compile(r"\d+(?:\.\d+)?(?: [TGM]i?B)? to \d+(?:\.\d+)?|up to \d+(?:\.\d+)?")
FIGURE = re.compile(r"(?<![\w.])\d+(?:\.\d+)?(?![\w.]*-?pin)")
ASKED = [c for c in CASES if c.level is not None]
SHIFT = 1.0625  # exact in binary, and no value of any list is another one's


def _forgotten(case: FitCase, random: Random, most: int) -> tuple[Machine, list[str]]:
    """The machine of a case with some of its facts forgotten, and which."""
    machine = case.machine()
    paths = [p for p in facts_of(machine) if is_fact(p)]
    gone = random.sample(paths, min(most, len(paths)))
    for path in gone:
        machine = with_fact(machine, path, None)
    return machine, gone


def _worlds(random: Random) -> Iterator[tuple[FitCase, Machine, list[str]]]:
    """Every case twice: with a few facts gone, and with most of them gone."""
    for case in ASKED:
        for most in (random.randint(1, 4), random.randint(20, 60)):
            yield (case, *_forgotten(case, random, most))


def _shifted(gap: Gap) -> Gap:
    """The same gap with other figures among its values; what is no figure stays."""
    values = tuple(v * SHIFT if isinstance(v, float) else v for v in gap.values)
    return replace(gap, values=values)


def _recorded(case: FitCase, machine: Machine) -> set[str]:
    """The figures of the record and of the plan, as a sentence writes them."""
    return {f"{float(x):g}" for x in FIGURE.findall(f"{machine} {case.plan}")}


def _verdicts(case: FitCase, machine: Machine) -> dict[tuple[str, ...], Verdict]:
    return {v.places: v for v in case.all_of_rule(machine)}


@pytest.mark.parametrize("seed", [41])
def test_no_value_that_was_only_tried_is_ever_said(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """With other figures tried for what is missing, every sentence says the same ones, spans and what they hang on
    apart."""
    worlds = list(_worlds(Random(seed)))
    plain = [_verdicts(case, machine) for case, machine, _ in worlds]
    need = FitGround.need

    def shifted(self: FitGround, value: object, gap: Gap) -> object:
        try:
            return need(self, value, gap)
        except MissingFact as missing:
            raise MissingFact(_shifted(missing.gap)) from None

    monkeypatch.setattr(FitGround, "need", shifted)
    compared = 0
    for (case, machine, gone), before in zip(worlds, plain, strict=True):
        for places, verdict in _verdicts(case, machine).items():
            was = before.get(places)
            if was is None or was.level is not verdict.level:
                continue  # a figure on the other side of a limit: another verdict
            said, now = (set(FIGURE.findall(SPAN.sub("", v.sentence))) for v in (was, verdict))
            assert (said ^ now) <= _recorded(case, machine), (case.rule, gone, was.sentence, verdict.sentence)
            compared += 1
    assert compared > 800


@pytest.mark.parametrize("seed", [51])
def test_a_true_fact_never_makes_a_verdict_less_certain(seed: int) -> None:
    random = Random(seed)
    settled = 0
    for case, machine, gone in _worlds(random):
        whole = case.machine()
        path = random.choice(gone)
        before = _verdicts(case, machine)
        after = _verdicts(case, with_fact(machine, path, fact_of(whole, path)))
        for places, verdict in before.items():
            now = after.get(places)
            if now is None or verdict.level is Level.NOT_KNOWN:
                continue
            assert now.level is not Level.NOT_KNOWN, (case.rule, path, verdict.sentence, now.sentence)
            if case.rule not in SOFT and case.rule not in READ_FIRST:
                assert now.level is verdict.level, (case.rule, path, verdict.sentence, now.sentence)
            settled += 1
    assert settled > 700


READ_FIRST = ("CPU-FIRMWARE",)  # of an unread version it says: read it first, update an older one


@pytest.mark.parametrize("seed", [61])
def test_what_is_refused_is_refused_with_fewer_facts_or_not_known_but_never_works(seed: int) -> None:
    random = Random(seed)
    for case in (c for c in ASKED if c.level is Level.REFUSED):
        full = {k: v for k, v in _verdicts(case, case.machine()).items() if v.level is Level.REFUSED}
        for most in (2, 8, 30):
            machine, gone = _forgotten(case, random, most)
            for places, verdict in _verdicts(case, machine).items():
                if places in full:
                    assert verdict.level in (Level.REFUSED, Level.NOT_KNOWN), (case.rule, gone, verdict.sentence)
