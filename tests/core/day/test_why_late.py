"""Why a promise is late, in words: parts, its own work, others that go first."""

from __future__ import annotations

from brachium.core.day.blocks import Block, DayJob, ShopDay
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.why_late import why_late

SHOP = ShopDay(1, 2, ((540, 1080), (1980, 2520)), 540)


def job(name: str, minutes: int, due: int | None, release: int = 0) -> DayJob:
    return DayJob(name, name.capitalize(), (Block(f"{name}/a", name, "b", ("s",), minutes),), release, due)


def said(jobs: list[DayJob], name: str) -> str:
    sheet = greedy_sheet(jobs, SHOP)
    return why_late(next(j for j in jobs if j.id == name), jobs, sheet, SHOP)


def test_each_reason_is_named_with_its_minutes() -> None:
    assert said([job("a", 60, 1080)], "a") == "" and said([job("a", 60, None)], "a") == ""
    assert said([job("a", 90, 600)], "a") == "30 min late because it takes 1 h 30 min, and 1 h 00 min are left"
    late = said([job("a", 60, 1080, 1980)], "a")
    assert late.startswith("16 h 00 min late because its parts come tomorrow")
    assert "has passed already" in said([job("a", 60, 500)], "a")
    waits = said([job("a", 60, 610), job("b", 60, 620)], "b")
    assert waits == "40 min late because A goes first"
    both = said([job("a", 60, 560), job("b", 60, 570)], "b")
    assert "30 min late because it takes 1 h 00 min" in both and both.endswith("1 h 00 min late because A goes first")
