"""Paste: how much, what it weighs and costs, and the least resistance that a fresh layer can have.

Volume = contact area x bond line (0.05 to 0.1 mm), plus the grooves of direct-contact pipes. R = bond line / (k x area)
is a lower bound: it leaves out both boundaries, so that an advertised conductivity predicts no gain. Sources: heat
conduction through a plane layer; practice at the bench for the bond line.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import pi

from brachium.core.fit.assumptions import BOND_MM
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import Machine
from brachium.core.record.work.paste import Contact, Method
from brachium.core.work.assumptions import DENSITY_G_CM3, GROOVE_MM, GROOVE_SHARE

DEFAULT = {Contact.SPREADER: Method.DOT, Contact.DIE: Method.SPREAD, Contact.PIPES: Method.LINE}


def contact_of(machine: Machine) -> Contact:
    """What lies under the cooler, as far as it is recorded; portables have bare dies."""
    contacts = machine.platform.contacts
    if contacts.pipe_grooves:
        return Contact.PIPES
    bare = contacts.bare_die if contacts.bare_die is not None else machine.kind in PORTABLE
    return Contact.DIE if bare else Contact.SPREADER


@dataclass(frozen=True)
class Amount:
    """Volume [mm3] and weight [g] as (least, most), cost at a price a gram, diameter of the dot to scale [mm], lower
    bound of the layer's resistance [K/W], None without a conductivity."""

    volume_mm3: tuple[float, float]
    weight_g: tuple[float, float]
    cost: Decimal
    dot_mm: float
    least_k_w: float | None


def paste_amount(
    area_mm2: float, contact: Contact, price_per_g: Decimal = Decimal(0), density: float = DENSITY_G_CM3,
    conductivity: float | None = None,
) -> Amount:  # fmt: skip
    """Raises ValueError for an area that is not above zero."""
    if not area_mm2 > 0:
        raise ValueError("the contact's area is above 0 mm²")
    grooves = GROOVE_SHARE * area_mm2 * GROOVE_MM if contact is Contact.PIPES else 0.0
    low, high = (area_mm2 * b + grooves for b in BOND_MM)
    grams = low * density / 1000.0, high * density / 1000.0
    cost = (price_per_g * Decimal(str(grams[1]))).quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
    dot = 2.0 * (3.0 * high / (2.0 * pi)) ** (1.0 / 3.0)  # a half sphere of that volume
    least = None if conductivity is None else BOND_MM[0] / 1000.0 / (conductivity * area_mm2 * 1e-6)
    return Amount((low, high), grams, cost, dot, least)
