"""Which items of a large price list are worth judging on a machine: those of the right kind, of equals the cheapest.

Exact: what is left out is refused by MEM-FORM, MEM-GEN, STO-IF or CPU-SOCKET, with any listed board, or is alike in
every attribute that any rule or the prediction looks at and dearer. Small lists are judged whole, so that a person sees
why a part is refused.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive, MemoryModule, Part
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.plan.candidates import CatalogueItem

SMALL = 500


def worth_judging(machine: Machine, items: Sequence[CatalogueItem]) -> tuple[CatalogueItem, ...]:
    """The items to judge, in the list's own order."""
    if len(items) <= SMALL:
        return tuple(items)
    kinds = _Kinds.of(machine, items)
    best: dict[object, CatalogueItem] = {}
    for item in items:
        if not kinds.may_go_in(item.part):
            continue
        key = (item.group, item.count, item.services, replace(item.part, name="") if item.part is not None else None)
        if key not in best or item.price < best[key].price:
            best[key] = item
    kept = {i.id for i in best.values()}
    return tuple(i for i in items if i.id in kept)


@dataclass(frozen=True)
class _Kinds:
    """What can go into a machine, with its own board or any listed one. `socket` is its own, None = not recorded."""

    forms: frozenset[object]
    interfaces: frozenset[object]
    socket: str | None
    sockets: frozenset[str | None]

    @staticmethod
    def of(machine: Machine, items: Sequence[CatalogueItem]) -> _Kinds:
        boards = [i.part for i in items if isinstance(i.part, BoardPart)] if machine.kind not in PORTABLE else []
        forms = {(s.form, s.generation) for s in machine.slots} | {(b.memory_form, b.memory_generation) for b in boards}
        interfaces = {i for b in machine.bays for i in (b.interface, *b.also)}
        own = machine.platform.board.socket
        return _Kinds(frozenset(forms), frozenset(interfaces), own, frozenset({own, *(b.socket for b in boards)}))

    def may_go_in(self, part: Part | None) -> bool:
        match part:
            case MemoryModule():
                return (part.form, part.generation) in self.forms
            case Drive():
                return part.interface in self.interfaces
            case ProcessorPart():
                return self.socket is None or part.socket in self.sockets
            case _:
                return True
