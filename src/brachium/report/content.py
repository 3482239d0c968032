"""What a hand-over report says: gathered once, then written as HTML and PDF."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.figures.base.drawing import Drawing


@dataclass(frozen=True)
class Row:
    """A row of a table; `note` is small print."""

    label: str
    value: str
    note: str = ""


@dataclass(frozen=True)
class ReportContent:
    """Plain words and figures; no computation happens behind this point."""

    title: str
    machine: str
    date: str
    headline: str
    subline: str
    done: tuple[Row, ...]
    targets: tuple[Row, ...]
    cost: tuple[Row, ...]
    heat: tuple[Row, ...]
    differences: tuple[Row, ...]
    lifted: tuple[Row, ...]
    condition: tuple[str, ...]
    watch: tuple[str, ...]
    limits: tuple[str, ...]
    figures: tuple[tuple[str, Drawing], ...]
    work: tuple[Row, ...] = ()  # times, screws, the layer of paste, steps left out
    drives: tuple[Row, ...] = ()  # that came out, with their erasure
    configurations: tuple[Row, ...] = ()  # more than two of them, each against the one before


@dataclass(frozen=True)
class ComparisonSection:
    """One later run against the first one."""

    title: str
    headline: str
    subline: str
    figures: tuple[tuple[str, Drawing], ...]
    heat: tuple[Row, ...]
    differences: tuple[Row, ...]
    tests: tuple[Row, ...]


@dataclass(frozen=True)
class OwnerContent:
    """One page for the owner: plain words, at most three figures."""

    title: str
    machine: str
    date: str
    headline: str
    done: tuple[str, ...]
    brought: tuple[str, ...]
    targets: tuple[Row, ...]
    cost: str
    watch: tuple[str, ...]
    cannot: tuple[str, ...]
    figures: tuple[tuple[str, Drawing], ...]
    remark: str = ""


@dataclass(frozen=True)
class BuyerContent:
    """A sheet for the buyer: nothing of the former owner."""

    title: str
    machine: str
    date: str
    specification: tuple[Row, ...]
    passed: tuple[str, ...]
    measured: tuple[Row, ...]
    faults: tuple[str, ...]
    included: tuple[str, ...]
    remark: str = ""


@dataclass(frozen=True)
class OfferPlan:
    """One plan of an offer in plain words."""

    title: str
    price: str
    brings: str
    odds: tuple[Row, ...]
    does: tuple[str, ...]
    first: str


@dataclass(frozen=True)
class OfferContent:
    """What the owner is asked to decide: the machine, what holds it back, up to three plans, remarks."""

    title: str
    machine: str
    date: str
    found: str
    plans: tuple[OfferPlan, ...]
    remarks: tuple[str, ...]


@dataclass(frozen=True)
class DaySection:
    """One day on paper: its date, the sheet, who does what when."""

    date: str
    figure: Drawing
    rows: tuple[Row, ...]


@dataclass(frozen=True)
class DayContent:
    """A day sheet on paper: what is late and why, each day, what is not on it; `machine` says which ones."""

    title: str
    machine: str
    date: str
    headline: str
    late: tuple[Row, ...]
    days: tuple[DaySection, ...]
    left_out: tuple[str, ...]


@dataclass(frozen=True)
class SheetStep:
    """A step on the work sheet: its number, words, the numbers of its cautions, its picture."""

    number: int
    title: str
    minutes: str
    detail: str
    tools: str
    cautions: str
    note: str
    no_return: bool
    done: bool
    figure: Drawing


@dataclass(frozen=True)
class WorkSheetContent:
    """The work on paper: each caution once, numbered, then every step with a box to tick."""

    title: str
    machine: str
    date: str
    headline: str
    cautions: tuple[str, ...]
    steps: tuple[SheetStep, ...]


@dataclass(frozen=True)
class ComparisonContent:
    """Runs compared without a job around them."""

    title: str
    machine: str
    sections: tuple[ComparisonSection, ...]
