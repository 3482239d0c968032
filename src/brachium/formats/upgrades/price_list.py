"""The price list from version to version; docs/how-to/change-the-record.md says how to add one."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from typing import Any


def with_unknown_buffering(text: Any) -> Any:
    """Version 2: a module whose list says nothing of buffering and ECC is not known to be unbuffered any more."""
    return text


def with_more_of_parts(text: Any) -> Any:
    """Version 3: attributes of parts as in version 3 of the job."""
    return text


def with_nothing_unsaid(text: Any) -> Any:
    """Version 4: what nobody states of a part is not known, but a board must say its memory slots; a list that did not
    meant two. A board may state the channel of each place."""
    rows = list(csv.reader(io.StringIO(text)))
    heads = rows[0] if rows else []
    if "group" not in heads or "more" not in heads or "slots" in heads:
        return text
    group, more = heads.index("group"), heads.index("more")
    for row in rows[1:]:
        if len(row) > max(group, more) and row[group] == "board" and "slots=" not in row[more]:
            row[more] = "; ".join(e for e in (row[more], "slots=2") if e)
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(rows)
    return out.getvalue()


def with_more_of_cards(text: Any) -> Any:
    """Version 5: attributes of parts as in version 5 of the job."""
    return text


def with_network_cards(text: Any) -> Any:
    """Version 6: attributes of parts as in version 7 of the job; a service may be a lowered voltage."""
    return text


def with_places_of_pads(text: Any) -> Any:
    """Version 7: a pad may say what it lies on."""
    return text


UPGRADES: tuple[Callable[[Any], Any], ...] = (
    with_unknown_buffering,
    with_more_of_parts,
    with_nothing_unsaid,
    with_more_of_cards,
    with_network_cards,
    with_places_of_pads,
)
