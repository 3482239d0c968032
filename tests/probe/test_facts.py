"""Conditions that the machine itself tells: what its battery does, and whether the clock may boost."""

from __future__ import annotations

from pathlib import Path

import pytest

from brachium_probe import facts
from brachium_probe.tree import Tree


def put(root: Path, **files: str) -> Tree:
    for name, text in files.items():
        path = root / name.replace("__", "/")
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
    return Tree(str(root))


@pytest.mark.parametrize(("status", "says"), [
    ("Charging", "charging"), ("Full", "not charging"), ("Not charging", "not charging"),
    ("Discharging", "running down"), ("Unknown", ""),
])  # fmt: skip
def test_what_the_battery_does_and_holds(tmp_path: Path, status: str, says: str) -> None:
    base = "sys__class__power_supply__BAT0__"
    tree = put(tmp_path, **{f"{base}type": "Battery\n", f"{base}status": f"{status}\n", f"{base}capacity": "61\n"})
    found = facts.conditions(tree, None, "")
    assert (found["charge"], found["charge_frac"]) == (says, 0.61)


@pytest.mark.parametrize(("name", "text", "says"), [
    ("own_pstate__no_turbo", "1\n", False), ("own_pstate__no_turbo", "0\n", True), ("cpufreq__boost", "0\n", False),
    ("cpufreq__boost", "1\n", True), ("cpufreq__boost", "?\n", None), ("online", "0-3\n", None),
])  # fmt: skip
def test_whether_the_clock_may_boost(tmp_path: Path, name: str, text: str, says: bool | None) -> None:
    tree = put(tmp_path, **{f"sys__devices__system__cpu__{name}": text})
    found = facts.conditions(tree, None, "")
    assert found["boost"] is says and found["charge"] == "" and found["charge_frac"] is None
