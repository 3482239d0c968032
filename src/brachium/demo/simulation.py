"""How a machine of the demo shop behaves: its physics when healthy, its faults, the conditions before and after."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.units import GIB
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.parts import Service
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.system_drive import system_drive
from brachium.core.measure.conditions import Conditions
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.faults import Faults, with_faults
from brachium.devices.simulated.machine import OwnTask, SimulatedSpec
from brachium.devices.simulated.physics import Thermals
from brachium.devices.simulated.tree import TreeState

PASTE_AGED, DUST_AGED = 1.5, 1.35  # factors on their resistances after months of use


@dataclass(frozen=True)
class Simulation:
    """A machine that exists in numbers. Services take `faults` away; `after` holds the conditions of an after-run."""

    machine: Machine
    healthy: Thermals
    faults: Faults
    before: Conditions
    after: Conditions
    tree: TreeState = field(default_factory=TreeState)
    task: OwnTask = field(default_factory=OwnTask)
    memory_draw_mb_s: float = 19_500.0
    seed: int = 1

    def spec(
        self, config: Configuration, services: frozenset[Service], after_work: bool, aged: bool = False,
        put_back: bool = False,
    ) -> SimulatedSpec:  # fmt: skip
        """Physics in a configuration and with the services done so far; `aged` = months of use later, `put_back` =
        under the conditions of the before-run but for the room, as somebody does who was told that they differ.

        Raises ExpectedProblem where it could not start: no memory, or nothing to start from.
        """
        has_battery = any(isinstance(p, Battery) for p in config.parts.values())
        conditions = self._conditions(after_work, put_back, has_battery)
        faults = replace(
            self._worked_on(services, aged), room_c=conditions.room_c,
            battery_missing=self.faults.battery_missing and not has_battery,
        )  # fmt: skip
        place = system_drive(self.machine, config)
        if place is None or not config.memory_bytes():
            what = "no drive to start from" if place is None else "no memory"
            raise ExpectedProblem(f"the machine has {what}", "Measure", "Record what is in its slots, or plan it.")
        link = next((b.link_mb_s for b in self.machine.bays if b.id == place[0]), None) or 150.0
        return SimulatedSpec(
            with_faults(self.healthy, faults), SimulatedDrive.of(place[1], link), config.memory_bytes() / GIB,
            bandwidth_mb_s(self.machine, config) or 0.0, self.memory_draw_mb_s,
            threads=self.machine.processor.threads or 4, task=self.task, conditions=conditions,
            seed=self.seed + after_work + 2 * aged,
        )  # fmt: skip

    def _conditions(self, after_work: bool, put_back: bool, has_battery: bool) -> Conditions:
        conditions = self.after if after_work else self.before
        if put_back:
            conditions = replace(self.before, room_c=self.after.room_c)
        return replace(conditions, battery_fitted=has_battery) if self.faults.battery_missing else conditions

    def _worked_on(self, services: frozenset[Service], aged: bool) -> Faults:
        """Its faults after services that were done, and some of them again after months."""
        faults = replace(
            self.faults, paste=1.0 if Service.NEW_PASTE in services else self.faults.paste,
            dust=1.0 if Service.CLEAN_FINS in services else self.faults.dust,
        )  # fmt: skip
        return replace(faults, paste=PASTE_AGED * faults.paste, dust=DUST_AGED * faults.dust) if aged else faults
