"""SMART data from raw bytes: every offset by the standards, damaged answers, captured trees, the record."""

from __future__ import annotations

import struct
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.app.intake.local_job import with_scan
from brachium.app.intake.scanning import scan_of
from brachium.core.drives.health import BY_ATA, BY_KEY
from brachium.demo.newsroom import newsroom_job
from brachium.formats.scan_plain import scan_from_plain
from brachium_probe.health import nvme_counters, read_health
from brachium_probe.scan import scan
from brachium_probe.smart import COUNTS, attributes, counts, failing, temperature_c, unreadable
from brachium_probe.tree import Tree
from tests.support.system_tree import scanned_laptop


def smart(raws: dict[int, int], wrong: int = 0, value: int = 100) -> bytes:
    """SMART data with these raw values and a true checksum."""
    data = bytearray(512)
    for k, (number, raw) in enumerate(raws.items()):
        data[2 + 12 * k : 14 + 12 * k] = (
            struct.pack("<BHBB", number, 0x33, value, 90) + raw.to_bytes(6, "little") + b"\0"
        )
    data[511] = (-sum(data) + wrong) % 256
    return bytes(data)


def health_log(spare: int = 100, used: int = 3, media: int = 0, hours: int = 900, warning: int = 0) -> bytes:
    data = bytearray(512)
    data[0], data[3], data[5] = warning, spare, used
    data[128:144], data[160:176] = hours.to_bytes(16, "little"), media.to_bytes(16, "little")
    return bytes(data)


def test_attributes_are_found_at_their_offsets_and_packed_hours_are_cut() -> None:
    raw = {5: 41, 9: 31_260 | 52 << 32, 187: 2, 194: 31, 197: 6, 198: 1, 199: 1891}
    assert counts(attributes(smart(raw))) == {
        "reallocated": 41, "hours": 31_260, "uncorrectable": 2, "pending": 6, "interface": 1891,
    }  # fmt: skip
    assert COUNTS == BY_ATA, "the record knows the probe's names"


def test_the_health_log_of_the_nvme_standard() -> None:
    found = nvme_counters(health_log(88, 12, 3, 4711, 4))
    assert found == {"warning": 4, "spare_pct": 88, "used_pct": 12, "media_errors": 3, "hours": 4711}
    assert set(found) <= set(BY_KEY)


@pytest.mark.parametrize("data", [b"", smart({5: 1}, wrong=1), smart({5: 1})[:300]])
def test_a_damaged_answer_gives_no_attributes(data: bytes) -> None:
    assert counts(attributes(data)) == {}


@pytest.mark.parametrize("data", [b"", bytes(512), health_log(spare=200), health_log()[:300]])
def test_an_empty_or_impossible_log_gives_no_counters(data: bytes) -> None:
    assert nvme_counters(data) == {}


@given(st.binary(min_size=0, max_size=600))
def test_any_bytes_are_survived(data: bytes) -> None:
    for found in (counts(attributes(data)), nvme_counters(data)):
        assert all(v >= 0 for v in found.values())


def thresholds(limits: dict[int, int]) -> bytes:
    data = bytearray(512)
    for k, (number, limit) in enumerate(limits.items()):
        data[2 + 12 * k : 4 + 12 * k] = bytes((number, limit))
    data[511] = -sum(data) % 256
    return bytes(data)


def test_values_thresholds_and_the_drives_own_verdict(tmp_path: Path) -> None:
    data = smart({5: 3000, 194: 41 | 20 << 16, 199: 7}, value=36)
    found = attributes(data, thresholds({5: 36, 199: 10}))
    assert found[0] == {"id": 5, "value": 36, "worst": 90, "raw": 3000, "threshold": 36}
    assert failing(found) == [5] and failing(attributes(data)) == [], "without thresholds it calls nothing"
    assert temperature_c(found) == 41, "the lowest byte; lowest and highest so far stand above it"
    (tmp_path / "drive-counters").mkdir()
    (tmp_path / "drive-counters" / "sda").write_bytes(data)
    (tmp_path / "drive-counters" / "sda.thresholds").write_bytes(thresholds({5: 36}))
    read = read_health(Tree(str(tmp_path)), "sda")
    assert read.failed == [5] and read.counters == {"reallocated": 3000, "interface": 7} and read.temperature_c == 41


def test_raw_values_that_can_be_no_counts_are_not_called_faults() -> None:
    drive = 234_441_648  # sectors of 120 GB
    packed = attributes(smart({5: 0x0004_0000_0000 + 4_000_000_000, 197: 300_000_000, 199: 12}))
    assert counts(packed, drive) == {"interface": 12} and unreadable(packed, drive) == ["pending", "reallocated"]
    odd = attributes(smart({5: 5_000_000}))
    assert counts(odd) == {} and unreadable(odd) == ["reallocated"], "a value as of new beside millions"
    worn = attributes(smart({5: 5_000_000}, value=20))
    assert counts(worn, drive) == {"reallocated": 5_000_000}, "a low value beside it makes it a count"


@pytest.mark.parametrize(("raw", "hours"), [
    (0, 0), (31_260, 31_260), (1_500_000, 25_000), (31_260 | 52 << 32, 31_260), (0xFFFF_FFFF_FFFF, 0xFFFF),
    (0x00AB_FF00_0000, None),
])  # fmt: skip
def test_hours_are_plain_in_minutes_or_packed_or_not_told(raw: int, hours: int | None) -> None:
    assert counts(attributes(smart({9: raw}))).get("hours") == hours


def test_a_drive_that_cannot_be_asked_says_why() -> None:
    found = read_health(Tree(), "no-such-drive")
    assert found.counters == {} and found.why == "No such file or directory"


def test_a_captured_tree_carries_them_into_the_record(tmp_path: Path) -> None:
    tree = scanned_laptop(tmp_path)
    (tmp_path / "drive-counters").mkdir()
    (tmp_path / "drive-counters" / "sda").write_bytes(smart({5: 0, 197: 0, 199: 12}))
    found = scan(Tree(str(tree.root)))
    drives = {d["name"]: d["counters"] for d in found["drives"]}
    assert drives["sda"] == {"reallocated": 0, "pending": 0, "interface": 12}
    read = scan_from_plain(found, "x")
    job = newsroom_job()
    disk = next(p for p, d in job.machine.configuration().drives().items())
    size = job.machine.configuration().drives()[disk].size_bytes
    fitting = replace(read, drives=tuple(replace(d, size_bytes=size, model=None) for d in read.drives))
    once = with_scan(job, fitting)
    assert [(h.place, h.counters["interface"]) for h in once.health] == [(disk, 12)]
    assert with_scan(once, fitting).health == once.health, "the same scan is no second reading"
    later = replace(fitting, notes=("read again",))
    assert len(with_scan(once, later).health) == 2


def test_a_simulated_machine_has_none_to_read() -> None:
    assert all(not d.counters for d in scan_of(newsroom_job()).drives)
