"""Fields that two benches changed differently, until a person has chosen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from brachium.core.base.merge import Clash, with_value
from brachium.formats.shop_documents import EVERY, ShopDocument
from brachium.store.edits import JobEdit, SettingEdit


@dataclass(frozen=True)
class OpenClash:
    """One field: the edit that was made here, what both sides say, which bench the other value is from."""

    edit: JobEdit | SettingEdit
    clash: Clash
    who: str

    @property
    def field(self) -> tuple[str, tuple[str, ...]]:
        """The record or document, and the path in it."""
        return (self.edit.job_id if isinstance(self.edit, JobEdit) else "", self.clash.path)


class OpenClashes:
    """In the order in which they came; a later value of the same field takes the place of an earlier one."""

    def __init__(self) -> None:
        self.open: list[OpenClash] = []

    def add(self, edit: JobEdit | SettingEdit, clashes: tuple[Clash, ...], who: str) -> None:
        for clash in clashes:
            new = OpenClash(edit, clash, who)
            self.open = [o for o in self.open if o.field != new.field] + [new]

    def take(self, chosen: OpenClash) -> bool:
        """It is chosen; whether nothing of its edit is left to choose."""
        self.open = [o for o in self.open if o is not chosen]
        return not any(o.edit.token == chosen.edit.token for o in self.open)


def chosen_setting(chosen: OpenClash, now: str) -> str:
    """The text of a document of the shop's own with the value that was chosen. Raises Problem where it cannot be
    read."""
    key, *rest = chosen.clash.path
    document: ShopDocument[Any] | None = next((d for d in EVERY if d.key == key), None)
    if document is None or not rest:
        return str(chosen.clash.mine)
    value = document.codec.read(now, key) if now else document.empty
    return document.codec.text(with_value(value, tuple(rest), chosen.clash.mine))
