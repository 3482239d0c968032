"""First start: what should be seen against what is seen, and what a difference may come from."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.app.intake.scanning import scan_of
from brachium.app.view.finished_machine import as_finished
from brachium.app.view.job_view import JobView
from brachium.core.base.units import GIB
from brachium.core.work.first_start import expected_of, looked_at, seen_in, size_in
from tests.core.fit.bench_machines import TOWER


@pytest.mark.parametrize(
    ("text", "size"),
    [("447 GiB", 447 * GIB), ("1,82 TiB", 1.82 * (1 << 40)), ("480 GB, shown as 447 GiB", 447 * GIB), ("empty", 0.0),
     ("7,8 GB", 7.8e9), ("much", None), ("1.024.5 GiB", None), (". GiB", None)],
)  # fmt: skip
def test_sizes_are_read_as_people_type_them(text: str, size: float | None) -> None:
    assert size_in(text) == (None if size is None else pytest.approx(size))


def test_a_scan_after_the_work_agrees_with_what_was_fitted(finished_view: JobView) -> None:
    machine = as_finished(finished_view)
    seen = seen_in(machine, scan_of(replace(finished_view.job, machine=machine)))
    found = {x.expected.key: x for x in looked_at(machine, seen)}
    assert not [k for k, x in found.items() if x.agrees is False], found
    assert found["memory"].agrees and found["drive:bay-main"].agrees and found["channels"].agrees
    old = looked_at(machine, seen_in(machine, scan_of(finished_view.job)))
    differs = {x.expected.key: x for x in old if x.agrees is False}
    assert {"memory", "channels"} <= set(differs), "the machine as it was is not what was paid for"
    assert any("Swap grid" in c.check for c in differs["memory"].causes)


def test_what_is_typed_is_compared_and_the_rest_is_open() -> None:
    keys = {e.key for e in expected_of(TOWER)}
    assert {"processor", "memory", "slot:slot-1", "drive:bay-1", "link:bay-1", "fan"} <= keys
    typed = {"memory": "4 GiB", "fan": "stands still", "slot:slot-1": "4 GiB", "processor": "D4-65, 4 threads"}
    found = {x.expected.key: x for x in looked_at(TOWER, typed)}
    total = TOWER.configuration().memory_bytes()
    assert found["memory"].agrees is (total == 4 * GIB) and found["fan"].agrees is False
    assert "plug home" in found["fan"].causes[0].check
    assert found["processor"].agrees is False and found["drive:bay-1"].agrees is None
    assert found["slot:slot-1"].agrees is True
