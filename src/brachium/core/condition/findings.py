"""What is found on a machine before it is opened: kinds of findings, what each means for time, price and safety."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import IntEnum

CELL_CAUTION = (
    "Stop. Do not press, pierce, charge or bin the cell. Isolate it away from anything that burns and follow local "
    "rules; battery-pack repair belongs to licensed people."
)
MAINS_CAUTION = (
    "Do not start it. A power supply is never opened; it holds charge after unplugging. Leave it to licensed people."
)
DUST_CAUTION = (
    "Blow dust outdoors or at an extraction, with a mask; mould, droppings and tar film are not to be breathed."
)
GLASS_CAUTION = "Broken glass: gloves, and tape over the cracks before anything is moved."


class Severity(IntEnum):
    """How bad a finding is."""

    SLIGHT = 1
    CLEAR = 2
    BAD = 3

    @property
    def words(self) -> str:
        return ("slight", "clear", "bad")[self.value - 1]


@dataclass(frozen=True)
class FindingKind:
    """A kind of finding. Minutes are added to the work at severity *clear*; `price` says what it does to the worth.

    `stops` closes every latch until the finding is gone.
    """

    id: str
    title: str
    minutes: float
    price: str
    means: str
    caution: str = ""
    stops: bool = False


KINDS: tuple[FindingKind, ...] = (
    FindingKind("cell", "Swollen cell", 0, "a new battery, or the machine is not worth it",
                "gas in a lithium cell; it may burn", CELL_CAUTION, True),
    FindingKind("burnt", "Smell or mark of burning", 0, "no price before the cause is known", "something failed hot",
                MAINS_CAUTION, True),
    FindingKind("capacitors", "Bulging capacitors", 0, "not worth parts until repaired by a qualified person",
                "board or supply is at its end", MAINS_CAUTION, True),
    FindingKind("liquid", "Liquid marks", 20, "less, and corrosion goes on", "open, look and clean before any test"),
    FindingKind("pin", "Bent or missing pin", 15, "less where it cannot be straightened",
                "a part may not be seen, or short out"),
    FindingKind("cable", "Loose or unplugged cable", 4, "no change", "often all that is wrong after transport"),
    FindingKind("screw", "Missing screw", 3, "a screw of the right thread", "the cover or a drive works loose"),
    FindingKind("clip", "Cracked clip or cover", 6, "less for resale", "opening it again breaks more"),
    FindingKind("ribbon", "Torn ribbon or cable", 15, "a ribbon of its kind", "what hangs on it does not work"),
    FindingKind("missing", "Missing part", 5, "the part", "not whole without it"),
    FindingKind("vent", "Blocked vent", 5, "no change", "heat: the cheapest thing to mend"),
    FindingKind("fan", "Noisy or stuck fan", 12, "a fan", "bearing worn; cleaning will not do"),
    FindingKind("dust", "Loose dust", 6, "no change", "blows out", DUST_CAUTION),
    FindingKind("felt", "Felted lint", 15, "no change", "comes off the fins in one piece once the fan is out",
                DUST_CAUTION),
    FindingKind("hair", "Pet hair", 15, "no change", "wound round the fan's axle", DUST_CAUTION),
    FindingKind("insects", "Insects or droppings", 20, "less", "clean outdoors, look for eaten cables", DUST_CAUTION),
    FindingKind("tar", "Tar film from smoke", 30, "less, and it smells", "sticks; the fan is opened or replaced",
                DUST_CAUTION),
    FindingKind("glass", "Cracked glass or screen", 0, "a screen, or less", "may be worth more than the machine",
                GLASS_CAUTION),
    FindingKind("port", "Broken port or hinge", 15, "less", "soldering or a part"),
    FindingKind("noise", "Noisy drive", 5, "a drive", "image the data before anything else"),
)  # fmt: skip
_BY_ID = {k.id: k for k in KINDS}
FACTORS = {Severity.SLIGHT: 0.5, Severity.CLEAR: 1.0, Severity.BAD: 2.0}


@dataclass(frozen=True)
class Finding:
    """A finding pinned to a zone of the machine's drawing."""

    kind: str
    zone: str
    severity: Severity = Severity.CLEAR
    note: str = ""


def kind_of(finding: Finding) -> FindingKind:
    """The kind of a finding; one that this program does not know keeps its name and means nothing more."""
    return _BY_ID.get(finding.kind) or FindingKind(finding.kind, finding.kind.capitalize(), 0, "", "")


def added_minutes(findings: Iterable[Finding]) -> float:
    """Attended minutes that the findings add to the work [min]."""
    return sum(kind_of(f).minutes * FACTORS[f.severity] for f in findings)


def stopping(findings: Iterable[Finding]) -> Finding | None:
    """The first finding that stops the job."""
    return next((f for f in findings if kind_of(f).stops), None)
