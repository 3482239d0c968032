"""What the year before left in the demo shop's record; `make demo-shop` works it out again."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from pydantic import TypeAdapter

from brachium.app.shop.shop_record import keep_record
from brachium.core.learn.outcomes import JobOutcome
from brachium.core.record.work.repaste import Repaste

if TYPE_CHECKING:
    from brachium.app.shop.workspace import Workspace

RECORD = Path(__file__).parents[2] / "demo" / "record.json"


@dataclass(frozen=True)
class ShopRecord:
    """What finished jobs taught: gains predicted and measured, repastes."""

    outcomes: tuple[JobOutcome, ...]
    repastes: tuple[Repaste, ...]


@cache
def _record() -> TypeAdapter[ShopRecord]:
    return TypeAdapter(ShopRecord)


def record_to_json(record: ShopRecord) -> str:
    return _record().dump_json(record, indent=1).decode() + "\n"


def demo_record() -> ShopRecord:
    return _record().validate_json(RECORD.read_bytes())


def add_record(workspace: Workspace) -> None:
    """Give a new demo shop the record of the year before."""
    found = demo_record()
    keep_record(workspace, found.outcomes, found.repastes)
