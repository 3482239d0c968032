"""Faults of a simulated machine as parameters on its healthy physics."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.devices.simulated.physics import Thermals

NO_BATTERY_POWER_SHARE = 0.55


@dataclass(frozen=True)
class Faults:
    """Factors on the healthy machine: 1 = well. `fan` is the share of its speed that the fan still reaches.

    Without a battery a laptop holds itself to a share of its full power, however cool it is. `place` is the resistance
    that a bad stand adds at the fins, `power` the share of full power that the adapter gives, `clock` the share of the
    highest clock that the power profile allows, `design` the power of the chip over what the cooler was built for,
    `pipe` the resistance of a heat pipe that dries out, `neighbours_w` heat of regulators beside the chip [W].
    """

    paste: float = 1.0
    dust: float = 1.0
    fan: float = 1.0
    battery_missing: bool = False
    room_c: float | None = None
    place: float = 1.0
    power: float = 1.0
    clock: float = 1.0
    design: float = 1.0
    pipe: float = 1.0
    neighbours_w: float = 0.0


def with_faults(healthy: Thermals, faults: Faults) -> Thermals:
    """The machine's physics with its faults."""
    cooling = replace(
        healthy.cooling,
        paste_k_w=healthy.cooling.paste_k_w * faults.paste,
        pipe_k_w=healthy.cooling.pipe_k_w * faults.pipe,
        hidden_load_w=healthy.cooling.hidden_load_w + faults.neighbours_w,
        fins_k_w=healthy.cooling.fins_k_w * faults.dust * faults.place,
        intake_share=min(healthy.cooling.intake_share * faults.place, 0.8),
    )
    silicon = replace(
        healthy.silicon, dynamic_w=healthy.silicon.dynamic_w * faults.design,
        cap_mhz=healthy.silicon.max_mhz * faults.clock if faults.clock < 1.0 else healthy.silicon.cap_mhz,
    )  # fmt: skip
    share = min(NO_BATTERY_POWER_SHARE if faults.battery_missing else 1.0, faults.power)
    if share < 1.0:
        full_w = silicon.idle_w + silicon.dynamic_w + silicon.leakage_w
        silicon = replace(silicon, power_limit_w=share * full_w)
    fan = replace(healthy.fan, strength_frac=healthy.fan.strength_frac * faults.fan)
    room = healthy.room_c if faults.room_c is None else faults.room_c
    return replace(healthy, cooling=cooling, silicon=silicon, fan=fan, room_c=room)
