"""Places added by hand: memory slots, drive bays and leads by their standard kind; the unknown stays not known."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from brachium.core.base.text import phrase
from brachium.core.base.why import Origin
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE
from brachium.core.machine.machine import Lead, LeadKind, Machine
from brachium.core.machine.parts import BayForm, DriveInterface, MemoryForm, MemoryGeneration
from brachium.core.machine.platform import ChipContact, FanHeader
from brachium.core.machine.typical_places import free_id, noted, with_bay, with_card_place, with_slot

OF_CHIP = re.compile(r"processor|cpu|cooler|heatsink", re.IGNORECASE)  # names of a fan's place on the processor


@dataclass(frozen=True)
class PlaceKind:
    """A kind of place; `memory`, `bay`, `lead`, `card_lanes`, `fan` or `chip` says which it is."""

    id: str
    title: str
    memory: tuple[MemoryForm, MemoryGeneration] | None = None
    bay: tuple[DriveInterface, BayForm] | None = None
    lead: LeadKind | None = None
    card_lanes: int = 0
    fan: bool = False
    chip: bool = False


def _memory(form: MemoryForm, generation: MemoryGeneration) -> PlaceKind:
    return PlaceKind(
        f"{form}-{generation}".lower(),
        phrase("Memory slot, {form} {generation}", form=form, generation=generation),
        memory=(form, generation),
    )


PLACE_KINDS: tuple[PlaceKind, ...] = (
    *(_memory(f, g) for f in (MemoryForm.SO_DIMM, MemoryForm.DIMM)
      for g in (MemoryGeneration.DDR2, MemoryGeneration.DDR3, MemoryGeneration.DDR4, MemoryGeneration.DDR5,
                MemoryGeneration.SDR, MemoryGeneration.DDR)),
    _memory(MemoryForm.RIMM, MemoryGeneration.RDRAM),
    *(_memory(MemoryForm.SOLDERED, g) for g in (MemoryGeneration.LPDDR3, MemoryGeneration.LPDDR4,
                                                MemoryGeneration.LPDDR5, MemoryGeneration.DDR3, MemoryGeneration.DDR4,
                                                MemoryGeneration.DDR5)),
    PlaceKind("bay-2.5", "Drive bay, 2.5 in SATA", bay=(DriveInterface.SATA, BayForm.IN_2_5)),
    PlaceKind("bay-3.5", "Drive bay, 3.5 in SATA", bay=(DriveInterface.SATA, BayForm.IN_3_5)),
    PlaceKind("bay-m2", "M.2 slot, NVMe", bay=(DriveInterface.NVME, BayForm.M2)),
    PlaceKind("bay-optical", "Optical bay, SATA", bay=(DriveInterface.SATA, BayForm.OPTICAL)),
    PlaceKind("bay-pata", "Drive bay, 3.5 in parallel ATA", bay=(DriveInterface.PATA, BayForm.IN_3_5)),
    PlaceKind("bay-m2-sata", "M.2 slot, SATA", bay=(DriveInterface.SATA, BayForm.M2)),
    PlaceKind("bay-msata", "mSATA slot", bay=(DriveInterface.MSATA, BayForm.MINI_CARD)),
    PlaceKind("bay-emmc", "Soldered drive, eMMC", bay=(DriveInterface.EMMC, BayForm.SOLDERED)),
    PlaceKind("bay-sas", "Drive bay, 3.5 in SAS", bay=(DriveInterface.SAS, BayForm.IN_3_5)),
    PlaceKind("bay-sas-2.5", "Drive bay, 2.5 in SAS", bay=(DriveInterface.SAS, BayForm.IN_2_5)),
    PlaceKind("bay-pata-2.5", "Drive bay, 2.5 in parallel ATA", bay=(DriveInterface.PATA, BayForm.IN_2_5)),
    PlaceKind("bay-optical-high", "Optical bay, 12.7 mm", bay=(DriveInterface.SATA, BayForm.OPTICAL_HIGH)),
    *(PlaceKind(f"card-x{n}", phrase("Card slot, x{n}", n=n), card_lanes=n) for n in (16, 8, 4, 1)),
    PlaceKind("fan", "Fan plug", fan=True),
    PlaceKind("chip", "Chip under the cooler", chip=True),
    *(PlaceKind(f"lead-{k.name.lower()}", phrase("Power connector, {k}", k=k), lead=k) for k in LeadKind),
)  # fmt: skip


def with_place(machine: Machine, kind_id: str) -> tuple[Machine, str]:
    """The machine with one more place, and the place's id. Raises KeyError for an unknown kind.

    Channel, link speed, height and largest module stay not known.
    """
    kind = {k.id: k for k in PLACE_KINDS}[kind_id]
    if kind.memory is not None:
        return with_slot(machine, *kind.memory, Origin.TYPED)
    if kind.bay is not None:
        return with_bay(machine, *kind.bay, Origin.TYPED)
    if kind.card_lanes:
        return with_card_place(machine, kind.card_lanes, Origin.TYPED)
    if kind.lead is not None:
        return _with_lead(machine, kind.lead)
    return _with_chip(machine) if kind.chip else _with_fan_plug(machine)


def _with_lead(machine: Machine, kind: LeadKind) -> tuple[Machine, str]:
    number = 1 + sum(lead.kind is kind for lead in machine.leads)
    lead = Lead(
        free_id("lead", [x.id for x in machine.leads]), phrase("{kind} {number}", kind=kind, number=number), kind
    )
    return noted(replace(machine, leads=(*machine.leads, lead)), f"leads.{lead.id}", Origin.TYPED), lead.id


def _with_fan_plug(machine: Machine) -> tuple[Machine, str]:
    headers = machine.platform.headers
    made = FanHeader(free_id("fan", [h.id for h in headers]), phrase("Fan {count}", count=len(headers) + 1))
    platform = replace(machine.platform, headers=(*headers, made))
    return noted(replace(machine, platform=platform), f"platform.headers.{made.id}", Origin.TYPED), made.id


def _with_chip(machine: Machine) -> tuple[Machine, str]:
    chips = machine.platform.chips
    made = ChipContact(free_id("chip", [c.id for c in chips]), phrase("Chip {count}", count=len(chips) + 1))
    platform = replace(machine.platform, chips=(*chips, made))
    return noted(replace(machine, platform=platform), f"platform.chips.{made.id}", Origin.TYPED), made.id


def blows_on_chip(machine: Machine, place_id: str) -> bool:
    """Whether a fan there blows on the processor's heatsink: of a flat machine its only fan does, elsewhere one whose
    place is named after processor or cooler."""
    header = next((h for h in machine.platform.headers if h.id == place_id), None)
    if header is None:
        return False
    flat = machine.kind in PORTABLE or machine.kind in ON_ADAPTER
    return (flat and len(machine.platform.headers) == 1) or OF_CHIP.search(header.label) is not None


# complex: one filter a list of places
def without_place(machine: Machine, place_id: str) -> Machine:
    """The machine without a place and what sits in it."""
    out = replace(
        machine, slots=tuple(s for s in machine.slots if s.id != place_id),
        bays=tuple(b for b in machine.bays if b.id != place_id),
        fitted=tuple(f for f in machine.fitted if f.place_id != place_id),
        platform=replace(
            machine.platform, cards=tuple(c for c in machine.platform.cards if c.id != place_id),
            headers=tuple(h for h in machine.platform.headers if h.id != place_id),
            chips=tuple(c for c in machine.platform.chips if c.id != place_id),
        ),
        leads=tuple(replace(lead, feeds="" if lead.feeds == place_id else lead.feeds)
                    for lead in machine.leads if lead.id != place_id),
    )  # fmt: skip
    gone = [name for name in ("slots", "bays", "leads") if not getattr(out, name)]  # nothing is said of them any more
    kept = {k: v for k, v in out.origins.items() if k not in gone and place_id not in k.split(".")}
    return replace(out, origins=kept)


def with_feed(machine: Machine, lead_id: str, place_id: str) -> Machine:
    """The machine with a lead feeding a place; empty frees it."""
    return replace(
        machine, leads=tuple(replace(x, feeds=place_id) if x.id == lead_id else x for x in machine.leads)
    )  # fmt: skip
