"""A SMART data: media faults told from cable faults, and what to do in which order.

Reallocated, pending and uncorrectable sectors speak against the drive. Interface errors speak against cable, plug or
port, and only by their increase: that counter never goes back (ATA attribute 199). NVMe: critical warning, spare,
percentage used and media errors (NVM Express base specification, SMART / health log page 02h).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.drives.assumptions import FEW_SECTORS, SPARE_LOW, USED_UP
from brachium.core.drives.readings import HealthReading


@dataclass(frozen=True)
class Counter:
    """One counter: key, title, ATA attribute ids, and whether it speaks of the media or of the interface."""

    key: str
    title: str
    ata: tuple[int, ...] = ()
    speaks_of: str = ""


COUNTERS: tuple[Counter, ...] = (
    Counter("reallocated", "Reallocated sectors", (5,), "media"),
    Counter("pending", "Pending sectors", (197,), "media"),
    Counter("uncorrectable", "Uncorrectable sectors", (198, 187), "media"),
    Counter("media_errors", "Media errors", (), "media"),
    Counter("interface", "Interface errors", (199,), "interface"),
    Counter("spare_pct", "Spare left [%]", (), "wear"),
    Counter("used_pct", "Life used [%]", (), "wear"),
    Counter("warning", "Critical warning", (), "wear"),
    Counter("hours", "Hours on", (9,)),
)
BY_KEY = {c.key: c for c in COUNTERS}
BY_ATA = {number: c.key for c in COUNTERS for number in c.ata}
MEDIA = tuple(c.key for c in COUNTERS if c.speaks_of == "media")


class DriveState(StrEnum):
    NOT_READ = "not read"
    CLEAN = "clean"
    WATCH = "watch"
    INTERFACE_OLD = "interface errors, old or new"
    INTERFACE = "interface errors rise"
    MEDIA = "media faults"


@dataclass(frozen=True)
class DriveVerdict:
    """What the counters say of a drive, and what comes next, in order."""

    state: DriveState
    text: str
    advice: tuple[str, ...]
    because: Because

    @property
    def sign(self) -> str:
        """The state of the sign `health` (signs.py); empty where nothing was read."""
        return {
            DriveState.NOT_READ: "", DriveState.MEDIA: "media faults", DriveState.INTERFACE: "interface errors",
            DriveState.INTERFACE_OLD: "interface errors",
        }.get(self.state, "clean")  # fmt: skip


def judge(readings: Sequence[HealthReading], cabled: bool) -> DriveVerdict:
    """Judge the readings of one drive in the order they were taken; `cabled` = its cable can be changed."""
    if not readings:
        because = Because("The drive's counters were not read", "STO-HEALTH", "They take two minutes and come first.")
        return DriveVerdict(DriveState.NOT_READ, "counters not read", ("read the counters",), because)
    state, text = _state(readings)
    advice = _advice(state, cabled)
    because = Because(
        phrase("Drive: {text}", text=text), "STO-HEALTH",
        "Sectors speak against the drive. Interface errors never go back, so only their increase under load speaks, "
        "and it speaks against cable, plug or port.",
        tuple(_facts(readings)), joined('; then ', advice),
        "Another reading after the drive has worked for some minutes.",
    )  # fmt: skip
    return DriveVerdict(state, text, advice, because)


# complex: one branch a state, the worst first
def _state(readings: Sequence[HealthReading]) -> tuple[DriveState, str]:
    last = readings[-1].counters
    rises = {k: last[k] - readings[0].counters[k] for k in last if k in readings[0].counters}
    sectors = {k: last.get(k, 0) for k in MEDIA}
    grown = [k for k in MEDIA if rises.get(k, 0) > 0]
    if any(sectors[k] for k in MEDIA if k != "reallocated") or grown or _worn(last):
        return DriveState.MEDIA, _media_text(sectors, grown, last)
    if sectors["reallocated"] >= FEW_SECTORS:
        return DriveState.MEDIA, phrase("{sectors} reallocated sectors", sectors=sectors["reallocated"])
    interface = last.get("interface", 0)
    if rises.get("interface", 0) > 0:
        return DriveState.INTERFACE, phrase(
            "{rises} new interface errors since the first reading", rises=rises["interface"]
        )
    if interface and len(readings) < 2:
        return DriveState.INTERFACE_OLD, phrase("{interface} interface errors, from whenever", interface=interface)
    if sectors["reallocated"]:
        return DriveState.WATCH, phrase("{sectors} reallocated sectors, not growing", sectors=sectors["reallocated"])
    return DriveState.CLEAN, phrase(
        "nothing against it{more}",
        more=phrase("; {interface} old interface errors, none new", interface=interface) if interface else "",
    )


def _worn(last: Mapping[str, int]) -> bool:
    return bool(last.get("warning")) or last.get("spare_pct", 100) < SPARE_LOW or last.get("used_pct", 0) >= USED_UP


def _media_text(sectors: Mapping[str, int], grown: Sequence[str], last: Mapping[str, int]) -> str:
    parts = [
        phrase(
            "{sectors} {title}{which}",
            sectors=sectors[k],
            title=lower_first(BY_KEY[k].title),
            which=", growing" if k in grown else "",
        )
        for k in MEDIA
        if sectors[k]
    ]
    if not parts:
        parts = [
            phrase(
                "worn out: {last} % spare left, {last2} % of its life used",
                last=last.get("spare_pct", 100),
                last2=last.get("used_pct", 0),
            )
        ]
    return joined(", ", parts)


def _advice(state: DriveState, cabled: bool) -> tuple[str, ...]:
    if state is DriveState.MEDIA:
        return ("image it before anything else", "then replace it", "do no load test on it")
    if state in (DriveState.INTERFACE, DriveState.INTERFACE_OLD):
        again = ("load it and read again: only an increase speaks",) if state is DriveState.INTERFACE_OLD else ()
        cable = ("change the cable and read again", "then another port") if cabled else ("reseat it and read again",)
        return (*again, *cable, "then the drive")
    if state is DriveState.WATCH:
        return ("read again in a month", "keep the backup fresh")
    return ("nothing to do",)


def _facts(readings: Sequence[HealthReading]) -> list[Fact]:
    last, first = readings[-1], readings[0]
    out = [Fact("read", phrase("{when} ({source})", when=last.when, source=last.source), Origin.LOGGED)]
    for key, value in last.counters.items():
        title = BY_KEY[key].title if key in BY_KEY else key
        before = first.counters.get(key)
        change = (
            phrase(", {value:+d} since {when}", value=value - before, when=first.when)
            if len(readings) > 1 and before is not None
            else ""
        )
        out.append(Fact(title.lower(), phrase("{value}{change}", value=value, change=change), Origin.MEASURED))
    return out
