"""The record of a job from version to version; docs/how-to/change-the-record.md says how to add one."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from brachium.formats.upgrades.words import in_plain_words


def with_more_memory_kinds(plain: Any) -> Any:
    """Version 2: older and denser kinds of memory modules; a module may say its chip width and latency."""
    return plain


def with_more_kinds_of_machine(plain: Any) -> Any:
    """Version 3: five kinds of machine more, of which one is not known and the one to begin with (it was a laptop);
    roles of drives, connectors, chips, build, settings."""
    machine = plain.get("machine") if isinstance(plain, dict) else None
    if not isinstance(machine, dict) or "kind" in machine:
        return plain
    return {**plain, "machine": {"kind": "laptop", **machine}}


def with_nothing_unsaid(plain: Any) -> Any:
    """Version 4: what nobody states of a part is not known (it began with 512-byte sectors, one place of thickness, a
    speed signal, ...); a board for sale may state the channels of its places. What is written stays as it is."""
    return plain


def with_lanes_said(plain: Any) -> Any:
    """Version 5: lanes of a card slot that nobody counted are not known; one that did not say them had 16. Profiles,
    16-pin plugs, drive adapters, places of boxes outside, vouchers, facts of parts for sale, and what an own test was
    before it was changed come in."""
    if not isinstance(plain, dict):
        return plain
    said = {k: _lanes_said(plain[k]) for k in ("machine", "handed_machine") if k in plain}
    return {**plain, **said}


def with_configurations(plain: Any) -> Any:
    """Version 6: a typed result may belong to a configuration between before and after, by its name."""
    return plain


def with_network_cards(plain: Any) -> Any:
    """Version 7: a card may say the rate of its network port; the look at busy programs is part of a wider look, and
    keeps the answers that say the same there."""
    checks = plain.get("checks") if isinstance(plain, dict) else None
    return plain if not isinstance(checks, list) else {**plain, "checks": [_wider_look(c) for c in checks]}


def with_troubles(plain: Any) -> Any:
    """Version 8: trouble met at steps, what own steps touch, how a cooler is held and what lies over other parts come
    in; nothing that is written changes."""
    return plain


def with_plain_words(plain: Any) -> Any:
    """Version 9: labels and answers that the program wrote, in the words of the glossary."""
    return in_plain_words(plain)


def _wider_look(check: Any) -> Any:
    same = ("a program nobody asked for", "an update or index")
    if isinstance(check, dict) and check.get("check") == "busy_names" and check.get("answer") in same:
        return {**check, "check": "read_system"}
    return check


def _lanes_said(machine: Any) -> Any:
    platform = machine.get("platform") if isinstance(machine, dict) else None
    cards = platform.get("cards") if isinstance(platform, dict) else None
    if not isinstance(cards, list) or platform is None:
        return machine
    told = [{"lanes": 16, **c} if isinstance(c, dict) else c for c in cards]
    return dict(machine) | {"platform": dict(platform) | {"cards": told}}


UPGRADES: tuple[Callable[[Any], Any], ...] = (
    with_more_memory_kinds,
    with_more_kinds_of_machine,
    with_nothing_unsaid,
    with_lanes_said,
    with_configurations,
    with_network_cards,
    with_troubles,
    with_plain_words,
)
