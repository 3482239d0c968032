"""The rules of the house: no circles, floors of core, folders that one can take in, functions that one can read."""

from __future__ import annotations

from pathlib import Path

from scripts import house


def test_no_rule_of_the_house_is_broken() -> None:
    assert house.broken() == []


def test_the_measure_sees_what_it_is_to_see(tmp_path: Path) -> None:
    core = tmp_path / "brachium" / "core"
    files = {
        "base/why.py": "from brachium.core.day import blocks\n", "day/blocks.py": "import brachium.core.day.exact\n",
        "day/exact.py": "def f():\n    from brachium.core.day import blocks\n\n    return blocks\n",
        "learn/drift.py": "import typing\nif typing.TYPE_CHECKING:\n    from brachium.core.day.blocks import x\n",
    }  # fmt: skip
    for name, text in files.items():
        (core / name).parent.mkdir(parents=True, exist_ok=True)
        (core / name).parent.joinpath("__init__.py").write_text("")
        (core / name).write_text(text)
    branches = "\n".join(f"    if a == {k} and b: return {k}" for k in range(9))
    (core / "day/long.py").write_text(
        f"def long(a, b):\n{branches}\n\n\n# complex: it is made so\ndef other(a, b):\n{branches}\n"
    )
    for number in range(house.MOST_FILES):
        (core / f"learn/many{number}.py").write_text("")
    said = house.broken(tmp_path)
    assert "circle of files: brachium.core.day.blocks, brachium.core.day.exact" in said, "imports inside functions too"
    assert "floor: core.base imports core.day" in said and "floor: core.learn imports core.day" in said, "sideways too"
    assert any(s.startswith("crowded: brachium/core/learn: 26 files") for s in said)
    assert [s for s in said if s.startswith("complex")] == [
        "complex without a reason: brachium.core.day.long:long (19)"
    ]
    assert {f.excuse for f in house.functions(tmp_path) if f.place.endswith(":other")} == {"it is made so"}
