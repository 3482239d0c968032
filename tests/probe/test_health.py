"""Drives' own counters from raw bytes: every offset by the standards, damaged answers, captured trees, the record."""

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
from brachium_probe.health import COUNTS, ata_counters, nvme_counters, read_health
from brachium_probe.scan import scan
from brachium_probe.tree import Tree
from tests.support.system_tree import scanned_laptop


def smart(attributes: dict[int, int], wrong: int = 0) -> bytes:
    """SMART data with these raw values and a true checksum."""
    data = bytearray(512)
    for k, (number, raw) in enumerate(attributes.items()):
        data[2 + 12 * k : 14 + 12 * k] = (
            struct.pack("<BHBB", number, 0x33, 100, 100) + raw.to_bytes(6, "little") + b"\0"
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
    assert ata_counters(smart(raw)) == {
        "reallocated": 41, "hours": 31_260, "uncorrectable": 2, "pending": 6, "interface": 1891,
    }  # fmt: skip
    assert COUNTS == BY_ATA, "the record knows the probe's names"


def test_the_health_log_of_the_nvme_standard() -> None:
    found = nvme_counters(health_log(88, 12, 3, 4711, 4))
    assert found == {"warning": 4, "spare_pct": 88, "used_pct": 12, "media_errors": 3, "hours": 4711}
    assert set(found) <= set(BY_KEY)


@pytest.mark.parametrize("data", [b"", smart({5: 1}, wrong=1), smart({5: 1})[:300]])
def test_a_damaged_answer_gives_no_attributes(data: bytes) -> None:
    assert ata_counters(data) == {}


@pytest.mark.parametrize("data", [b"", bytes(512), health_log(spare=200), health_log()[:300]])
def test_an_empty_or_impossible_log_gives_no_counters(data: bytes) -> None:
    assert nvme_counters(data) == {}


@given(st.binary(min_size=0, max_size=600))
def test_any_bytes_are_survived(data: bytes) -> None:
    for found in (ata_counters(data), nvme_counters(data)):
        assert all(v >= 0 for v in found.values())


def test_a_drive_that_cannot_be_asked_says_why() -> None:
    assert read_health(Tree(), "no-such-drive") == ({}, "No such file or directory")


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
