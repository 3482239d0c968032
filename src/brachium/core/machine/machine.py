"""A machine as recorded: who it is, its places, what sits in them, what its platform can do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property

from brachium.core.base.marks import of_machine, of_model, of_stay
from brachium.core.base.own_words import OwnWords
from brachium.core.base.why import Origin
from brachium.core.machine.card_parts import Card
from brachium.core.machine.cooling_parts import Cooler
from brachium.core.machine.drive_part import BayForm, Drive, DriveInterface, M2Key, Thread
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.memory_part import Buffering, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.origins import origin_of
from brachium.core.machine.parts import Part
from brachium.core.machine.platform import SINGLE_PLACES, SOCKET, Platform
from brachium.core.machine.processor_part import ProcessorPart


@dataclass(frozen=True)
class Identity:
    """Who the machine is. Empty text = not recorded."""

    maker: str = of_model("")
    model: str = of_model("")
    serial: str = of_machine("")
    year: int | None = of_model(None)
    firmware: str = of_machine("")
    system: str = of_machine("")

    def __post_init__(self) -> None:
        for name in ("maker", "model", "serial", "firmware", "system"):  # a version is no decimal number
            object.__setattr__(self, name, OwnWords(getattr(self, name)))


@dataclass(frozen=True)
class Processor:
    """The fitted processor: clocks [MHz], design and boost power [W], how long it may boost [s], limit [degC].

    `count` is how many of them there are.
    """

    name: str = ""
    cores: int | None = None
    threads: int | None = None
    design_power_w: float | None = None
    limit_c: float | None = None
    graphics: bool | None = None
    single_rate: float | None = None  # rated work rates, in the unit of the processor table
    all_rate: float | None = None
    bits: int | None = None
    base_mhz: float | None = None
    boost_mhz: float | None = None
    boost_power_w: float | None = None
    boost_s: float | None = None
    memory: tuple[MemoryGeneration, ...] | None = None
    memory_channels: int | None = None
    features: tuple[str, ...] | None = None
    count: int | None = None
    graphics_rate: float | None = None  # of its own graphics, in the unit of cards


@dataclass(frozen=True)
class Derate:
    """A row of a board's speed table: modules per channel, ranks of the widest module, speed [MT/s]."""

    modules: int
    ranks: int
    mts: int


@dataclass(frozen=True)
class MemoryPlatform:
    """What board and controller can do with memory; None = not known. Speeds in MT/s.

    `buffering` are the kinds of module that the board runs, `chip_max_gbit` the densest chip that its controller
    addresses, `ranks_max` most ranks per channel, `fill_first` the places in the board's own order.
    """

    channels: int | None = None
    board_max_mts: int | None = None
    processor_max_mts: int | None = None
    published_max_bytes: int | None = None
    controller_max_bytes: int | None = None
    low_voltage_only: bool | None = None
    buffering: tuple[Buffering, ...] | None = None
    takes_ecc: bool | None = None
    chip_max_gbit: float | None = None
    ranks_max: int | None = None
    pairs_required: bool | None = None
    fill_first: tuple[str, ...] = ()
    derates: tuple[Derate, ...] = ()
    remaps: bool | None = None
    graphics_share_bytes: int | None = None
    takes_profiles: bool | None = None  # sets rates of the module above the standard ones
    filler_places: tuple[str, ...] = ()  # serial channels: places that hold a filler, without which the chain is open


@dataclass(frozen=True)
class ModuleSlot:
    """A memory slot. `channel` counts from 0; None = not known, which the order of the places does not tell."""

    id: str
    label: str
    form: MemoryForm
    generation: MemoryGeneration
    channel: int | None = None
    max_bytes: int | None = None
    soldered: bool | None = False  # None = it looks so, to be looked at

    @property
    def takes_module(self) -> bool:
        """Whether a module can go in; soldered memory is a place that is never offered."""
        return self.form is not MemoryForm.SOLDERED and self.soldered is not True


@dataclass(frozen=True)
class DriveBay:
    """A drive bay. `link_mb_s` is the payload of its link after coding (SATA 1.5/3/6 Gb/s: 150/300/600)."""

    id: str = of_model()
    label: str = of_model()
    interface: DriveInterface = of_model()
    form: BayForm = of_model()
    max_height_mm: float | None = of_model()
    link_mb_s: float | None = of_model()
    needs: str = of_model("")  # bracket, caddy, spacer: what a drive of another size needs first here
    needs_at_hand: bool = of_stay(False)
    also: tuple[DriveInterface, ...] = of_model(())  # what the place carries beside `interface`
    key: M2Key | None = of_model(None)
    lengths_mm: tuple[int, ...] | None = of_model(None)  # M.2 lengths that have a standoff
    double_sided: bool | None = of_model(None)
    thread: Thread | None = of_model(None)  # of the screws that are there; None = as usual for the form
    air: bool | None = of_model(None)  # air or a pad reaches a bare controller
    excludes: tuple[str, ...] = of_model(())  # places that are switched off while it is used
    uplink_mb_s: float | None = of_model(None)  # what this place and others share
    ata_bits: int | None = of_model(None)  # of parallel ports: 28 or 48 bit addresses
    cable_wires: int | None = of_model(None)
    also_link_mb_s: float | None = of_model(None)  # link of what it carries beside `interface`
    cable: str = of_model("")  # the parallel cable it hangs on


class LeadKind(StrEnum):
    """What a lead of the power supply carries, by its plug."""

    SATA = "SATA power"
    DRIVE_4 = "4-pin drive power"
    CARD_6 = "6-pin card power"
    CARD_8 = "8-pin card power"
    CARD_16 = "16-pin card power"
    PROCESSOR_8 = "8-pin processor power"


@dataclass(frozen=True)
class Lead:
    """A plug of the power supply; `feeds` is the place it feeds, empty = free."""

    id: str
    label: str
    kind: LeadKind
    feeds: str = ""


@dataclass(frozen=True)
class Fitted:
    """A part in a place."""

    place_id: str = of_model()
    part: Part = of_model()


@dataclass(frozen=True)
class Machine:
    """The record of one machine. `origins` says where each field came from, keyed by its dotted name."""

    kind: MachineKind = of_model(MachineKind.NOT_KNOWN)
    identity: Identity = of_model(factory=Identity)
    processor: Processor = of_model(factory=Processor)
    memory: MemoryPlatform = of_model(factory=MemoryPlatform)
    slots: tuple[ModuleSlot, ...] = of_model(())
    bays: tuple[DriveBay, ...] = of_model(())
    fitted: tuple[Fitted, ...] = of_model(())
    leads: tuple[Lead, ...] = of_model(())  # empty = not recorded
    fan_max_rpm: float | None = of_model(None)  # from the fan's label, or held at full speed
    bad_places: tuple[str, ...] = of_machine(())  # places proven dead: nothing is offered for them (MEM-BAD)
    bad_parts: tuple[str, ...] = of_machine(())  # places whose part is proven faulty
    platform: Platform = of_model(factory=Platform)
    origins: Mapping[str, Origin] = of_model(factory=dict)

    def origin(self, name: str) -> Origin:
        """Where a field came from: as noted, else typed where it was said and assumed where it is a default."""
        known = self._known_origins.get(name)
        if known is None:
            known = origin_of(self, self._configuration.parts, self.origins, name)
            self._known_origins[name] = known
        return known

    @cached_property
    def _known_origins(self) -> dict[str, Origin]:
        return {}  # a rule asks for the same few again and again

    def configuration(self) -> Configuration:
        """What sits where today."""
        return self._configuration

    @cached_property
    def _configuration(self) -> Configuration:
        return Configuration({f.place_id: f.part for f in self.fitted})

    def place_label(self, place_id: str) -> str:
        """What the place is called; its id where it has no name."""
        return self._labels.get(place_id, place_id)

    @cached_property
    def _labels(self) -> Mapping[str, str]:
        labels = {s.id: s.label for s in self.slots} | {b.id: b.label for b in self.bays}
        labels |= {lead.id: lead.label for lead in self.leads} | SINGLE_PLACES
        labels |= {c.id: c.label for c in self.platform.cards} | {h.id: h.label for h in self.platform.headers}
        return labels | {c.id: c.label for c in self.platform.chips}

    def with_part(self, place_id: str, part: Part | None) -> Machine:
        """The same machine with a place filled or emptied."""
        rest = tuple(f for f in self.fitted if f.place_id != place_id)
        return replace(self, fitted=rest if part is None else (*rest, Fitted(place_id, part)))


@dataclass(frozen=True)
class Configuration:
    """What sits where, keyed by place id: the machine as it is, or as it will be."""

    parts: Mapping[str, Part]

    def with_changes(self, changes: Mapping[str, Part | None]) -> Configuration:
        parts: dict[str, Part] = dict(self.parts)
        for place_id, part in changes.items():
            parts.pop(place_id, None)
            if part is not None:
                parts[place_id] = part
        return Configuration(parts)

    def modules(self) -> dict[str, MemoryModule]:
        return {k: p for k, p in self.parts.items() if isinstance(p, MemoryModule)}

    def drives(self) -> dict[str, Drive]:
        return {k: p for k, p in self.parts.items() if isinstance(p, Drive)}

    def processor(self) -> ProcessorPart | None:
        """The processor where it is recorded as a part, or planned."""
        part = self.parts.get(SOCKET)
        return part if isinstance(part, ProcessorPart) else None

    def cooler(self) -> Cooler | None:
        return next((p for p in self.parts.values() if isinstance(p, Cooler)), None)

    def cards(self) -> dict[str, Card]:
        return {k: p for k, p in self.parts.items() if isinstance(p, Card)}

    def memory_bytes(self) -> int:
        return sum(m.size_bytes for m in self.modules().values())
