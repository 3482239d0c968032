"""Writes the forty work plans that were read line by line into tests/data/plans; look at the difference first."""

from __future__ import annotations

from tests.support.golden_plans import FOLDER, GOLDEN, plan_text

FOLDER.mkdir(parents=True, exist_ok=True)
for golden in GOLDEN:
    (FOLDER / f"{golden.name}.txt").write_text(plan_text(golden), encoding="utf-8")
print(f"{len(GOLDEN)} plans")
