"""What another processor, cooler or graphics card changes: ratios of rated rates, power, limit."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.fit.assumptions import USUAL_LIMIT_C
from brachium.core.machine.card_parts import Card
from brachium.core.machine.cooling_parts import Cooler, Fan
from brachium.core.machine.machine import Machine, Processor
from brachium.core.machine.parts import Part, Service
from brachium.core.machine.places import blows_on_chip
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.plan.candidates import Candidate


@dataclass(frozen=True)
class ProcessorChange:
    """Ratios of the rated rates, None = not known or no change; power [W] and limit [degC] of another processor; rating
    of the new cooler over the old one's; `fan`: another fan blows on its heatsink; `board_w`: what the board supplies
    another processor with [W]."""

    single_ratio: float | None = None
    all_ratio: float | None = None
    power_w: float | None = None
    limit_c: float = USUAL_LIMIT_C
    cooler_ratio: float | None = None
    fan: bool = False
    lower_voltage: bool = False
    board_w: float | None = None


def change_of(machine: Machine, chosen: tuple[Candidate, ...]) -> ProcessorChange:
    """What candidates change of processor and cooler. Rates come from one table, so that only their ratio counts."""
    chip = next((p for p in _parts(chosen) if isinstance(p, ProcessorPart)), None)
    cooling = _cooler_ratio(machine, chosen)
    fan = any(isinstance(a.part, Fan) and blows_on_chip(machine, a.place_id) for c in chosen for a in c.assignments)
    lower = any(Service.LOWER_VOLTAGE in c.services for c in chosen)
    if chip is None:
        return ProcessorChange(cooler_ratio=cooling, fan=fan, lower_voltage=lower)
    old = machine.configuration().processor() or machine.processor
    by_clock = _by_clocks(chip, old)
    return ProcessorChange(
        _ratio(chip.single_rate, old.single_rate) or by_clock[0], _ratio(chip.all_rate, old.all_rate) or by_clock[1],
        chip.power_w,
        chip.limit_c or machine.processor.limit_c or USUAL_LIMIT_C, cooling, fan,
        board_w=machine.platform.board.power_w,
    )  # fmt: skip


def _cooler_ratio(machine: Machine, chosen: tuple[Candidate, ...]) -> float | None:
    """Rating of a new cooler over the old one's; one that came with the machine was built for its processor."""
    new = next((p for p in _parts(chosen) if isinstance(p, Cooler)), None)
    old = machine.configuration().cooler()
    rated = old.rated_w if old is not None else machine.processor.design_power_w
    return _ratio(new.rated_w, rated) if new is not None else None


def _by_clocks(chip: ProcessorPart, old: ProcessorPart | Processor) -> tuple[float | None, float | None]:
    """Ratios of one thread and of all of two processors of one family, which do alike in a clock: one thread runs at
    the boost clock, all cores at the base clock, which is what the design power keeps up. None where not recorded."""
    if not isinstance(old, ProcessorPart) or not chip.family or chip.family != old.family:
        return None, None
    one = _ratio(chip.boost_mhz, old.boost_mhz)
    if chip.boost_mhz is None and old.boost_mhz is None:
        one = _ratio(chip.base_mhz, old.base_mhz)
    cores, base = _ratio(chip.cores, old.cores), _ratio(chip.base_mhz, old.base_mhz)
    return one, cores * base if cores and base else None


def _ratio(new: float | None, old: float | None) -> float | None:
    """None where either is not stated."""
    return new / old if new and old else None


def network_ratio(machine: Machine, chosen: tuple[Candidate, ...]) -> float | None:
    """Rate of a new network port over the fastest there is; None = not known or no change."""
    new = max((p.network_mbit_s for p in _parts(chosen) if isinstance(p, Card) and p.network_mbit_s), default=None)
    old = network_today(machine)
    return max(new / old, 1.0) if new and old else None


def network_today(machine: Machine) -> float | None:
    """Rate of the fastest network port there is [Mbit/s]; None = not known."""
    cards = [c.network_mbit_s for c in machine.configuration().cards().values() if c.network_mbit_s]
    return max([*cards, *([machine.platform.board.network_mbit_s] if machine.platform.board.network_mbit_s else [])],
               default=None)  # fmt: skip


def graphics_ratio(machine: Machine, chosen: tuple[Candidate, ...]) -> float | None:
    """Rated graphics work of a new card over the fitted one's; None = not known or no change."""
    new = max((p.graphics_rate for p in _parts(chosen) if isinstance(p, Card) and p.graphics_rate), default=None)
    old = graphics_today(machine)
    return new / old if new and old else None


def graphics_today(machine: Machine) -> float | None:
    """Rated graphics work today: of the fitted cards, else of the processor's own graphics, the baseline of a first
    card; None = not known."""
    cards = [c for c in machine.configuration().cards().values() if c.display is not False]
    if cards:
        return max((c.graphics_rate for c in cards if c.graphics_rate), default=None)
    chip = machine.configuration().processor()
    return (chip.graphics_rate if chip is not None else None) or machine.processor.graphics_rate


def _parts(chosen: tuple[Candidate, ...]) -> list[Part]:
    return [a.part for c in chosen for a in c.assignments if a.part is not None]
