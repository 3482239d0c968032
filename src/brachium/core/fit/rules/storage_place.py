"""Storage rules of the place: STO-KEY, STO-SCREW, STO-SHARE, STO-THERM, LEG-ATA."""

from __future__ import annotations

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import GB, drive_size
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.storage import drive_in, drives_of
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.drive_part import BayForm, Drive, DriveInterface, M2Key, Thread
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import DriveBay

LENGTHS = (30, 42, 60, 80, 110)
USUAL = {BayForm.IN_2_5: Thread.M3, BayForm.IN_3_5: Thread.COARSE, BayForm.M2: Thread.M2}
BITS_28 = 137 * GB  # 2^28 sectors of 512 byte
CABLE_40_MB_S = 33.0
PAD = "heat pad or spreader for the M.2 drive"


def _m2(ground: FitGround) -> tuple[Subject, ...]:
    forms = {b.id: b.form for b in ground.machine.bays}
    return tuple(
        s for s in drives_of(ground)
        if isinstance(s.part, Drive) and s.part.form is BayForm.M2 and forms[s.places[0]] is BayForm.M2
        and s.part != ground.today.parts.get(s.places[0])
    )  # fmt: skip


def key(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    own, there = _keys(ground, bay, drive)
    text = "An M.2 edge is notched B, M or both; each length needs its standoff, and double-sided modules need height."
    facts = (
        on_part("drive", phrase("key {key}, {length_mm} mm", key=drive.key or '?', length_mm=drive.length_mm or '?')),
        on_machine(ground, bay.label, bay.key, f"bays.{bay.id}.key"),
        on_machine(ground, "standoffs for", bay.lengths_mm, "bays", "mm"),
    )  # fmt: skip
    says = Answers("STO-KEY", subject, text, facts)
    if own is not M2Key.B_M and own is not there:
        return says.refused(
            phrase("key {own} does not go into a key {there} slot", own=own, there=there),
            phrase("A drive with key {there} or B+M.", there=there),
        )
    length_gap = Gap(
        phrase("length of {drive}", drive=drive.name),
        "drive's length",
        LENGTHS,
        "read it off the label (2280: 80 mm)",
        1,
    )
    length = ground.need(drive.length_mm, length_gap)
    stands = _standoffs(ground, bay, length)
    if length > max(stands):
        return says.refused(
            phrase("{length} mm long, the slot ends at {stands} mm", length=length, stands=max(stands)),
            phrase("At most {stands} mm.", stands=max(stands)),
        )
    if length not in stands:
        return says.needs(
            phrase("standoff at {length} mm", length=length),
            phrase("A drive of {stands} mm.", stands=joined(" or ", (str(n) for n in stands))),
        )
    if _too_thick(ground, bay, drive):
        return says.refused("chips on both sides, no room under the slot", "A single-sided drive.")
    if drive.key is None or (bay.key is None and own is not M2Key.B_M):
        return says.fits(phrase("{length} mm, standoff there; edges for NVMe go into slots for NVMe", length=length))
    return says.fits(phrase("key {own}, {length} mm, standoff there", own=own, length=length))


def _standoffs(ground: FitGround, bay: DriveBay, length: int) -> tuple[int, ...]:
    """As recorded; a drive of that length which sits there today proves its standoff."""
    today = ground.today.parts.get(bay.id)
    if bay.lengths_mm is None and isinstance(today, Drive) and today.length_mm == length:
        return (length,)
    gap = Gap(
        f"bays.{bay.id}.lengths_mm",
        phrase("standoffs of {bay}", bay=lower_first(bay.label)),
        (*((n,) for n in LENGTHS), LENGTHS),
        "look where the board has a standoff",
        2,
        "mm",
    )
    return ground.need(bay.lengths_mm, gap)


def _keys(ground: FitGround, bay: DriveBay, drive: Drive) -> tuple[M2Key, M2Key | None]:
    """Edge key of the drive and of the place; four lanes for NVMe are on key M (PCI-SIG M.2, socket 3)."""
    fast = drive.interface is DriveInterface.NVME and DriveInterface.NVME in (bay.interface, *bay.also)
    if fast and bay.key in (None, M2Key.M):  # takes any edge that carries NVMe
        return drive.key or M2Key.M, M2Key.M
    own = ground.need(
        drive.key,
        Gap(phrase("edge key of {drive}", drive=drive.name), "drive's edge key", tuple(M2Key), "look at it", 1),
    )
    if bay.key is not None or own is M2Key.B_M:
        return own, bay.key
    gap = Gap(
        f"bays.{bay.id}.key",
        phrase("edge key of {bay}", bay=lower_first(bay.label)),
        (M2Key.B, M2Key.M),
        "look into the slot",
        2,
    )
    return own, ground.need(bay.key, gap)


def _too_thick(ground: FitGround, bay: DriveBay, drive: Drive) -> bool:
    """Whether chips on the underside find no room; a desktop's socket leaves room for what nobody measured."""
    if drive.double_sided is False:
        return False
    if ground.machine.kind not in PORTABLE and bay.double_sided is None and drive.double_sided is None:
        return False
    gap = Gap(
        f"bays.{bay.id}.double_sided",
        phrase("room under {bay}", bay=lower_first(bay.label)),
        (True, False),
        "look under the slot",
        2,
    )
    if ground.need(bay.double_sided, gap):
        return False
    sides = Gap(
        phrase("sides of {drive}", drive=drive.name),
        "drive's chips on both sides",
        (True, False),
        "look at its back",
        1,
    )
    return ground.need(drive.double_sided, sides)


def screws(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    thread = drive.thread or USUAL.get(drive.form)
    facts = (on_part("drive", thread), on_machine(ground, "screws there", bay.thread, "bays"))
    text = "2.5 in drives take M3 fine, 3.5 in drives 6-32 coarse, M.2 M2 or M2.5; a coarse screw strips an SSD."
    says = Answers("STO-SCREW", subject, text, facts)
    if thread is None:
        return says.fits("held without screws of its own")
    if bay.thread is not None and bay.thread is not thread:
        return says.needs(
            phrase("{thread} screws for the drive", thread=thread),
            phrase("{thread} screws: those there are {thread2}.", thread=thread, thread2=bay.thread),
        )
    return says.fits(phrase("takes {thread} screws", thread=thread))


def _sharing(ground: FitGround) -> tuple[Subject, ...]:
    """Pairs of filled places of which one switches the other off."""
    parts, machine = ground.config.parts, ground.machine
    places = [(b.id, b.excludes) for b in machine.bays] + [(c.id, c.excludes) for c in machine.platform.cards]
    return tuple(
        Subject((place, other), parts[place]) for place, excludes in places if place in parts for other in excludes
    )  # fmt: skip


def share(ground: FitGround, subject: Subject) -> Verdict:
    here, there = subject.places
    label, other = ground.machine.place_label(here), ground.machine.place_label(there)
    facts = (on_machine(ground, phrase("{label} switches off", label=label), other, "bays"),)
    text = "Some slots share their lanes: what sits in one switches the other off or halves it."
    says = Answers("STO-SHARE", subject, text, facts)
    if there in ground.config.parts:
        return says.refused(
            phrase("{label} switches {other} off, which is filled", label=label.lower(), other=other.lower()),
            phrase("Empty {other}.", other=other.lower()),
        )
    return says.fits(phrase("{other} is switched off and empty", other=other.lower()))


def warm(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    text = "Bare M.2 controllers throttle at 70 to 80 °C: they want a pad or spreader where no air reaches them."
    facts = (on_part("spreader", drive.spreader), on_machine(ground, "air or a pad there", bay.air, "bays"))
    says = Answers("STO-THERM", subject, text, facts)
    if drive.interface is not DriveInterface.NVME:
        return says.fits("SATA controllers stay cool")
    if drive.spreader:
        return says.fits("has its own spreader")
    if bay.air is None:  # decides a pad, not the part
        return says.fits("wants a pad where no air reaches it: look when it goes in", open_=True)
    if bay.air:
        return says.fits("air or a pad reaches it")
    return says.needs(PAD, "A drive with its own spreader.", "no air there: a pad or spreader first, or it slows down")


def _parallel(ground: FitGround) -> tuple[Subject, ...]:
    return tuple(
        s for s in drives_of(ground) if isinstance(s.part, Drive) and s.part.interface is DriveInterface.PATA
    )  # fmt: skip


def parallel(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    on_cable = [
        b.id for b in ground.machine.bays
        if b is bay or (b.cable and b.cable == bay.cable and b.id in ground.config.parts)
    ]  # fmt: skip
    text = "28-bit addresses end at 137 GB; a 40-wire cable at 33 MB/s; a cable holds two drives, one per position."
    bits_gap = Gap(f"bays.{bay.id}.ata_bits", "address bits of the parallel port", (28, 48),
                   "read the board's handbook",
                   4, "bit")  # fmt: skip
    wires_gap = Gap(f"bays.{bay.id}.cable_wires", "wires of the parallel cable", (40, 80), "count them over a thumb's "
                    "width, or look at the plug colours", 1)  # fmt: skip
    if len(on_cable) > 2:
        return Answers("LEG-ATA", subject, text).refused("three drives on one cable", "Another cable.")
    bits = ground.need(bay.ata_bits, bits_gap) if drive.size_bytes > BITS_28 else bay.ata_bits
    wires = ground.need(bay.cable_wires, wires_gap) if drive.outer_mb_s > CABLE_40_MB_S else bay.cable_wires
    facts = (
        on_part("drive", drive_size(drive.size_bytes)), on_machine(ground, "address bits", bits, "bays"),
        on_machine(ground, "cable wires", wires, "bays"),
        Fact("drives on the cable", str(len(on_cable)), Origin.PLANNED),
    )  # fmt: skip
    says = Answers("LEG-ATA", subject, text, facts)
    if drive.size_bytes > BITS_28 and bits == 28:
        return says.limited("28-bit addresses: 137 GB of it", "137 GB", "A drive up to 137 GB, or newer firmware.")
    if drive.outer_mb_s > CABLE_40_MB_S and wires == 40:
        return says.limited("a 40-wire cable: 33 MB/s", "33 MB/s", "An 80-wire cable.")
    return says.fits("one position, full size and rate")


STORAGE_PLACE_RULES: tuple[Rule, ...] = (
    Rule("STO-KEY", "Edge key, length, sides", _m2, key),
    Rule("STO-SCREW", "Screws", drives_of, screws),
    Rule("STO-SHARE", "Places that exclude each other", _sharing, share, ("drive", "card"), lambda part: part.kind),
    Rule("STO-THERM", "Heat of bare modules", _m2, warm),
    Rule("LEG-ATA", "Parallel drives", _parallel, parallel),
)
