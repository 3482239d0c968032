"""Counters of drives: media faults, cable faults, old errors, wear; files in and out of order."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.drives.health import DriveState, judge
from brachium.core.drives.readings import HealthReading
from brachium.formats.drive_counters import read_counters


def readings(*counters: dict[str, int]) -> tuple[HealthReading, ...]:
    return tuple(HealthReading("bay", f"day {k}", c) for k, c in enumerate(counters))


@pytest.mark.parametrize(
    ("counters", "state", "sign"),
    [
        ((), DriveState.NOT_READ, ""),
        (({"reallocated": 0, "interface": 0},), DriveState.CLEAN, "clean"),
        (({"reallocated": 2},), DriveState.WATCH, "clean"),
        (({"reallocated": 2}, {"reallocated": 3}), DriveState.MEDIA, "media faults"),
        (({"reallocated": 30},), DriveState.MEDIA, "media faults"),
        (({"pending": 1},), DriveState.MEDIA, "media faults"),
        (({"uncorrectable": 1, "interface": 900},), DriveState.MEDIA, "media faults"),
        (({"interface": 900},), DriveState.INTERFACE_OLD, "interface errors"),
        (({"interface": 900}, {"interface": 900}), DriveState.CLEAN, "clean"),
        (({"interface": 900}, {"interface": 901}), DriveState.INTERFACE, "interface errors"),
        (({"media_errors": 4, "spare_pct": 100},), DriveState.MEDIA, "media faults"),
        (({"spare_pct": 4},), DriveState.MEDIA, "media faults"),
        (({"used_pct": 100},), DriveState.MEDIA, "media faults"),
        (({"used_pct": 99},), DriveState.CLEAN, "clean"),
        (({"used_pct": 40, "spare_pct": 100, "warning": 0},), DriveState.CLEAN, "clean"),
    ],
)
def test_what_the_counters_say(counters: tuple[dict[str, int], ...], state: DriveState, sign: str) -> None:
    verdict = judge(readings(*counters), True)
    assert verdict.state is state and verdict.sign == sign and verdict.advice


def test_an_image_comes_first_and_a_cable_only_where_there_is_one() -> None:
    dying = judge(readings({"pending": 9}), True)
    assert dying.advice[0].startswith("image it") and "no load test" in dying.advice[-1]
    rising = readings({"interface": 5}, {"interface": 50})
    assert judge(rising, True).advice[0] == "change the cable and read again"
    assert "cable" not in " ".join(judge(rising, False).advice)
    assert judge(rising, True).text == "45 new interface errors since the first reading"
    facts = {f.label: f.value for f in judge(rising, True).because.facts}
    assert facts["interface errors"] == "50, +45 since day 0"


TABLE = """Some report of a drive, 2026
ID# NAME                 FLAG  VALUE WORST THRESH TYPE     UPDATED FAILED RAW
  5 Reallocated_Sectors  0x0033 100   100   010   Pre-fail Always  -      41
  9 Power_On_Hours       0x0032 064   064   000   Old_age  Always  -      31260 (11 52 0)
187 Reported_Errors      0x0032 100   100   000   Old_age  Always  -      2
194 Temperature          0x0022 031   045   000   Old_age  Always  -      31
197 Pending_Sectors      0x0012 100   100   000   Old_age  Always  -      6
198 Offline_Errors       0x0010 100   100   000   Old_age  Offline -      1
199 Link_Errors          0x003e 200   200   000   Old_age  Always  -      0
"""


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        (TABLE, {"reallocated": 41, "hours": 31260, "uncorrectable": 2, "pending": 6, "interface": 0}),
        ("name,value\npending,6\ninterface;12\nmodel,4711\n", {"pending": 6, "interface": 12}),
        (json.dumps({"media_errors": 3, "spare_pct": 90, "serial": "x"}), {"media_errors": 3, "spare_pct": 90}),
    ],
)
def test_counters_are_read_from_tables_csv_and_json(tmp_path: Path, text: str, expected: dict[str, int]) -> None:
    (tmp_path / "drive.txt").write_text(text)
    assert read_counters(tmp_path / "drive.txt") == expected


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "no counter was found"), (b"\xff\xfe\x00garbage\n\x00", "no counter was found"),
        (b'{"pending": ', "this is no JSON file"), (b'{"pending": "six"}', "not a whole number"),
        (b"pending,-4\n", "line 1: pending is -4"), (b"x" * (2 << 20), "larger than 1 MiB"), (None, "drive.txt"),
    ],
)  # fmt: skip
def test_bad_files_are_named_with_a_remedy(tmp_path: Path, content: bytes | None, says: str) -> None:
    path = tmp_path / "drive.txt"
    if content is not None:
        path.write_bytes(content)
    with pytest.raises(Problem) as caught:
        read_counters(path)
    assert says in str(caught.value)
    if isinstance(caught.value, ExpectedProblem):
        assert "by hand" in str(caught.value)


def test_what_is_counted_is_named_and_wear_only_where_nothing_else_is() -> None:
    pending = judge(readings({"pending": 9, "used_pct": 30}), True)
    assert "9" in pending.text and "worn out" not in pending.text
    worn = judge(readings({"spare_pct": 4, "used_pct": 80}), True)
    assert "worn out: 4 % spare left, 80 % of its life used" in worn.text
