"""Power as parts: supplies, adapters, batteries."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from brachium.core.base.marks import of_machine, of_model


@dataclass(frozen=True)
class Supply:
    """A power supply: form, rating in all and of its 12 V output [W]; `own_plugs` = plugs of a maker's own.

    `pin3_power` = its SATA leads carry 3.3 V on pin 3, on which drives with power-disable stay off. `connectors` are
    its plugs, one entry each, by the names of `LeadKind`; `card_16_w` what the sense pins of its 16-pin plug allow [W].
    """

    name: str
    form: str
    rated_w: float | None = None
    rated_12v_w: float | None = None
    own_plugs: bool | None = None
    pin3_power: bool | None = None
    connectors: tuple[str, ...] | None = None
    year: int | None = None
    card_16_w: float | None = None
    kind: Literal["supply"] = "supply"


@dataclass(frozen=True)
class Adapter:
    """An adapter: rating [W], output [V] and [A], plug and polarity, whether the machine recognises it; for USB-C the
    profile that is used [V], [A], all profiles as `20x3.25`, and the cable's rated current [A]."""

    name: str
    rated_w: float | None = None
    recognised: bool | None = None
    usb_c_v: float | None = None
    usb_c_a: float | None = None
    cable_a: float | None = None
    volts: float | None = None
    amps: float | None = None
    plug: str = ""
    polarity: str = ""
    profiles: tuple[str, ...] = ()
    kind: Literal["adapter"] = "adapter"


@dataclass(frozen=True)
class Battery:
    """A battery: capacity when full and by design [Wh], nominal voltage [V], plug; `inside` the case or outside."""

    name: str = of_model()
    full_wh: float | None = of_machine(None)
    design_wh: float | None = of_model(None)
    volts: float | None = of_model(None)
    plug: str = of_model("")
    inside: bool | None = of_model(None)
    kind: Literal["battery"] = of_model("battery")
