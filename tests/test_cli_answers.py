"""Taking in, fitting and asking a shop from the command line, by the same calls as the window."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from pydantic import TypeAdapter
from typer.testing import CliRunner

from brachium.cli.commands import app
from brachium.formats.answers.shapes import ANSWERS

LAPTOP = "2x4 ddr3 1600 sodimm; 500gb 2.5 hdd; 35w 2c4t socket pg-9; 1080p; frobnicate"


@pytest.fixture
def shop(tmp_path: Path) -> Path:
    return tmp_path / "empty.db"


def _run(*words: str) -> str:
    done = CliRunner().invoke(app, [str(w) for w in words])
    assert done.exit_code == 0, done.output
    return done.stdout


def _asked(*words: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(_run(*words, "--json"))
    TypeAdapter(ANSWERS[words[0]]).validate_python(found, strict=True)
    return found


def test_a_line_makes_a_job_and_a_part_is_judged_in_it(shop: Path) -> None:
    taken = _asked("take-in", "--shop", str(shop), "--kind", "laptop", "--line", LAPTOP)
    assert taken["not_understood"] == ["frobnicate"] and taken["not_recorded"] == []
    assert taken["pieces"][0]["words"][0] == {"words": "2x4", "fields": ["size_mib", "count"]}
    assert (
        taken["pieces"][0]["keys"] == ["parts.slot-1", "parts.slot-2"] and "memory.published_max_bytes" in taken["open"]
    )
    at = ("--shop", str(shop), "--job", taken["job"])
    right = _asked("fit", *at, "--part", "4GB 1Rx8 PC3L-12800S-11-13-B4")
    levels = {v["rule"]: v["level"] for v in right["verdicts"]}
    assert levels["MEM-FORM"] == levels["MEM-GEN"] == "works" and right["part"]["part"]["size_bytes"] == 4 << 30
    wrong = _asked("fit", *at, "--part", "8GB PC4-2400T-SA1")
    assert wrong["level"] == "no" and wrong["verdicts"][0]["rule"] == "MEM-GEN"
    desktop = _asked("fit", *at, "--part", "8GB PC3-12800U", "--place", "Memory slot 2")
    assert desktop["level"] == "no" and desktop["places"] == ["slot-2"] and desktop["verdicts"][0]["rule"] == "MEM-FORM"
    elsewhere = _asked("fit", *at, "--part", "500gb sata ssd 2.5", "--place", "battery")
    assert elsewhere["level"] == "no" and "battery does not take a drive" in elsewhere["lacks"]
    nvme = _asked("fit", *at, "--part", "500gb nvme m.2 2280 ssd")
    assert nvme["level"] == "no", "no place of its form or link is there"
    open_one = next(v for v in right["verdicts"] if v["level"] == "find_out")
    assert open_one["settled_by"]["how"] and open_one["settled_by"]["minutes"] > 0
    assert _asked("next", *at)["title"] and _asked("steps", *at)["steps"] == []
    assert _asked("plans", *at)["recommended"] is None, "gains are not known without a before-run"
    assert {"causes", "headline", "checks"} <= set(_asked("causes", *at))


def test_too_little_said_is_told_and_not_guessed(shop: Path) -> None:
    taken = _asked("take-in", "--shop", str(shop), "--line", "8gb; 256gb")
    assert taken["machine"]["kind"] == "not known" and "kind" in taken["open"] and len(taken["not_recorded"]) == 2
    found = _asked("fit", "--shop", str(shop), "--part", "8gb ddr4 sodimm")
    assert found["level"] == "find_out" and "memory slot" in found["lacks"]
    found = _asked("fit", "--shop", str(shop), "--part", "blue paint")
    assert found["level"] == "find_out" and found["part"]["read"] is None
    tablet = _asked("take-in", "--shop", str(shop), "--kind", "tablet", "--line", "4gb lpddr3; 64gb emmc")
    soldered = _asked("fit", "--shop", str(shop), "--job", tablet["job"], "--part", "8gb ddr3 sodimm")
    assert soldered["level"] == "no" and "soldered" in soldered["lacks"]


def test_what_nobody_said_of_a_card_refuses_nothing(shop: Path) -> None:
    taken = _asked("take-in", "--shop", str(shop), "--line", "tower ddr4 2x8gb 64-bit 2 slots")
    at = ("--shop", str(shop), "--job", taken["job"])
    silent = {v["rule"]: v["level"] for v in _asked("fit", *at, "--part", "gpu 4gb pcie 3.0 x16 120w")["verdicts"]}
    assert silent["GFX-POWER"] == silent["GFX-SLOT"] == "find_out", "its plugs, height and thickness are not known"
    said = _asked("fit", *at, "--part", "gpu 4gb pcie 3.0 x16 120w no plugs full height single slot")
    assert {v["rule"]: v["level"] for v in said["verdicts"]}["GFX-POWER"] == "no"
    much = _asked("take-in", "--shop", str(shop), "--line", "tower 8x8gb ddr4, 2 slots")
    assert "2 memory slots were said and 8 modules" in much["not_recorded"][0]


def test_for_people_and_with_a_name_that_is_wrong(shop: Path) -> None:
    said = _run("take-in", "--shop", str(shop), "--kind", "tower", "--line", LAPTOP)
    assert "frobnicate" in said and "not understood" in said and "still open" in said
    assert "find out in memory slot" in _run("fit", "--shop", str(shop), "--part", "8GB DDR3-1600 1.5V sodimm")
    wrong = CliRunner().invoke(app, ["fit", "--shop", str(shop), "--part", "8gb ddr3", "--place", "attic"])
    assert wrong.exit_code == 1 and "attic" in wrong.output and "Memory slot 1" in wrong.output
    kind = CliRunner().invoke(app, ["take-in", "--shop", str(shop), "--kind", "toaster", "--line", "x"])
    assert kind.exit_code == 1 and "toaster" in kind.output and "handheld" in kind.output
    for command in ("causes", "plans", "steps", "next"):
        assert _run(command, "--shop", str(shop)).strip()
