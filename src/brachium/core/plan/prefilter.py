"""Which items of a large price list are worth judging on a machine: those of the right kind, of equals the cheapest.

Exact: what is left out is refused by MEM-FORM, MEM-GEN, STO-IF or CPU-SOCKET, with any listed board, or is alike in
every attribute that any rule or the prediction looks at and dearer. Small lists are judged whole, so that a person sees
why a part is refused.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive, MemoryModule
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.plan.candidates import PORTABLE, CatalogueItem

SMALL = 500


def worth_judging(machine: Machine, items: Sequence[CatalogueItem]) -> tuple[CatalogueItem, ...]:
    """The items to judge, in the list's own order."""
    if len(items) <= SMALL:
        return tuple(items)
    forms = {(s.form, s.generation) for s in machine.slots}
    interfaces = {i for b in machine.bays for i in (b.interface, *b.also)}
    boards = [i.part for i in items if isinstance(i.part, BoardPart)] if machine.kind not in PORTABLE else []
    forms |= {(b.memory_form, b.memory_generation) for b in boards}
    own = machine.platform.board.socket
    sockets = {own, *(b.socket for b in boards)}
    best: dict[object, CatalogueItem] = {}
    for item in items:
        part = item.part
        if isinstance(part, MemoryModule) and (part.form, part.generation) not in forms:
            continue
        if isinstance(part, Drive) and part.interface not in interfaces:
            continue
        if isinstance(part, ProcessorPart) and own is not None and part.socket not in sockets:
            continue
        key = (item.group, item.count, item.services, replace(part, name="") if part is not None else None)
        if key not in best or item.price < best[key].price:
            best[key] = item
    kept = {i.id for i in best.values()}
    return tuple(i for i in items if i.id in kept)
