"""The machine as it will be: what a new main board, a new supply and cards that carry drives bring with them."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.carried_places import with_carried_places
from brachium.core.machine.leads import leads_of, takes_lead
from brachium.core.machine.machine import Configuration, Machine, MemoryPlatform, ModuleSlot
from brachium.core.machine.parts import BayForm, Drive
from brachium.core.machine.platform import BOARD, SUPPLY, Board, BootMode
from brachium.core.machine.power_parts import Supply


def as_it_will_be(machine: Machine, config: Configuration) -> Machine:
    """The machine with the planned board, supply and drive cards; itself where none is planned."""
    machine = with_carried_places(_with_supply(machine, config), config)
    board = config.parts.get(BOARD)
    if not isinstance(board, BoardPart) or machine.configuration().parts.get(BOARD) == board:
        return machine
    slots = _slots(machine, board)
    whole = board.slot_max_bytes * board.slots if board.slot_max_bytes else None
    first = tuple(slots[k - 1].id for k in board.fill_order if 1 <= k <= board.slots)
    count = len(set(board.place_channels)) or None
    memory = MemoryPlatform(count, board.memory_mts, None, whole, whole, False, fill_first=first)
    m2 = [b.id for b in machine.bays if b.form is BayForm.M2]
    count_m2 = len(m2) if board.m2_places is None else board.m2_places  # not known: BRD-KEEP asks before one is used
    bays = tuple(b for b in machine.bays if b.form is not BayForm.M2 or m2.index(b.id) < count_m2)
    identity = replace(machine.identity, firmware=board.firmware)
    platform = replace(machine.platform, board=_board(machine, board))
    return replace(machine, slots=slots, memory=memory, bays=bays, identity=identity, platform=platform, bad_places=())


def _with_supply(machine: Machine, config: Configuration) -> Machine:
    """A planned supply brings its own leads; one whose connectors nobody counted leaves those of today in doubt."""
    supply = config.parts.get(SUPPLY)
    if not isinstance(supply, Supply) or machine.configuration().parts.get(SUPPLY) == supply:
        return machine
    fed = [place for place, part in config.parts.items() if isinstance(part, Drive) and takes_lead(part)]
    return replace(machine, leads=leads_of(supply.connectors or (), fed))


def _slots(machine: Machine, board: BoardPart) -> tuple[ModuleSlot, ...]:
    """Its places take the names of the old ones, as far as there are any; their channels as the board states them."""
    ids = [s.id for s in machine.slots] + [f"slot-new-{k}" for k in range(1, board.slots + 1)]
    return tuple(
        ModuleSlot(ids[k], phrase("Memory slot {k}", k=k + 1), board.memory_form, board.memory_generation,
                   _channel(board, k), board.slot_max_bytes)
        for k in range(board.slots)
    )  # fmt: skip


def _channel(board: BoardPart, place: int) -> int | None:
    told = board.place_channels
    return told[place] - 1 if place < len(told) else None


def _board(machine: Machine, board: BoardPart) -> Board:
    return Board(
        False, board.socket, board.revision or None, board.families, (), board.processor_power_w,
        tuple(BootMode(m) for m in board.boot_modes) if board.boot_modes is not None else None,
        board.m2_places > 0 if board.m2_places is not None else None, machine.platform.board.drive_mode,
        board.functions, board.own_plugs, None, None, False, False, board.cooler_pattern or None, board.form,
    )  # fmt: skip
