"""A label of any kind: the kind whose standard explains most of its words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields

from brachium.core.label.drive_label import DriveLabel, read_drive_label
from brachium.core.label.module_label import ModuleLabel, read_module_label
from brachium.core.label.power_label import (
    AdapterLabel,
    BatteryLabel,
    SupplyLabel,
    read_adapter_label,
    read_battery_label,
    read_supply_label,
)

Label = ModuleLabel | DriveLabel | AdapterLabel | BatteryLabel | SupplyLabel
READERS: dict[str, Callable[[str], Label]] = {
    "memory": read_module_label, "drive": read_drive_label, "battery": read_battery_label,
    "adapter": read_adapter_label, "supply": read_supply_label,
}  # fmt: skip
LARGEST_MODULE_MIB = 64 * 1024  # a bare size beyond is a drive's


def read_label(text: str) -> tuple[str, Label] | None:
    """(kind, what it says); None where no kind understands a word of it. Never raises."""
    found = [(kind, reader(text)) for kind, reader in READERS.items()]
    said = [(kind, label) for kind, label in found if _said(label)]
    return max(said, key=lambda pair: _fitness(*pair)) if said else None


def _said(label: Label) -> int:
    return sum(
        getattr(label, f.name) not in (None, 1, ())
        for f in fields(label)
        if f.name not in ("not_understood", "understood")
    )


def _fitness(kind: str, label: Label) -> tuple[int, int, bool]:
    """Fewest words left over, then most said; a bare size that no module has is a drive's."""
    large = isinstance(label, ModuleLabel) and (label.size_mib or 0) > LARGEST_MODULE_MIB and label.generation is None
    return -len(label.not_understood), _said(label), not large
