"""Merging two edits of a document of the shop's own: entry by entry where its reader is known, else as one text."""

from __future__ import annotations

from typing import Any

from brachium.core.base.merge import ABSENT, Clash, merge
from brachium.core.base.problems import Problem
from brachium.formats.limits import SHAPE


def merge_setting(key: str, before: str | None, after: str, theirs: str) -> tuple[str, tuple[Clash, ...]]:
    """The text to keep, and what both changed differently; there `theirs` stays."""
    if theirs in (before, after) or before == after:
        return (theirs if before == after else after), ()
    from brachium.formats.shop_documents import (  # late: its readers are not needed where nothing is to merge
        EVERY,
        ShopDocument,
    )

    found: ShopDocument[Any] | None = next((d for d in EVERY if d.key == key), None)
    one_text = (Clash((key,), before if before is not None else ABSENT, after, theirs),)
    if found is None:
        return theirs, one_text
    try:
        was = found.codec.read(before, key) if before else found.empty
        merged = merge(was, found.codec.read(after, key), found.codec.read(theirs, key))
        clashes = tuple(Clash((key, *c.path), c.base, c.mine, c.theirs) for c in merged.clashes)
        return found.codec.text(merged.value), clashes
    except (Problem, *SHAPE):
        return theirs, one_text
