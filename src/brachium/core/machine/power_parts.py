"""Power as parts: supplies, adapters, batteries."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from brachium.core.base.marks import of_machine, of_model


@dataclass(frozen=True)
class Supply:
    """A power supply: form, rating in all and of its 12 V output [W]; `own_plugs` = plugs of a maker's own.

    `pin3_power` = its SATA leads carry 3.3 V on pin 3, on which drives with power-disable stay off.
    """

    name: str
    form: str
    rated_w: float | None = None
    rated_12v_w: float | None = None
    own_plugs: bool | None = None
    pin3_power: bool | None = None
    kind: Literal["supply"] = "supply"


@dataclass(frozen=True)
class Adapter:
    """A laptop's adapter: rating [W], whether the machine recognises it; for USB-C its profile [V], [A] and the
    cable's rated current [A]."""

    name: str
    rated_w: float | None = None
    recognised: bool | None = None
    usb_c_v: float | None = None
    usb_c_a: float | None = None
    cable_a: float | None = None
    kind: Literal["adapter"] = "adapter"


@dataclass(frozen=True)
class Battery:
    """A battery: capacity when full and by design [Wh]."""

    name: str = of_model()
    full_wh: float | None = of_machine(None)
    design_wh: float | None = of_model(None)
    kind: Literal["battery"] = of_model("battery")
