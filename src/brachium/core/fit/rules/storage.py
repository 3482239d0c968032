"""Storage rules: STO-IF, STO-BAY, STO-LINK."""

from __future__ import annotations

from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.answers import on_machine, on_part
from brachium.core.fit.assumptions import PCIE_PRACTICAL, SATA_PRACTICAL
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.machine import DriveBay
from brachium.core.machine.parts import BayForm, Drive, DriveInterface

READ_4K_MB = 0.004096
NVME = DriveInterface.NVME
SATA_LINKS = (150.0, 300.0, 600.0)
LINKS = {NVME: (250.0, 985.0, 1969.0, 3938.0, 7876.0), DriveInterface.PATA: (33.0, 66.0, 100.0, 133.0)}
FLAT = (BayForm.M2, BayForm.MINI_CARD, BayForm.CARD)  # places without a height of their own: STO-KEY judges them


def drive_in(ground: FitGround, subject: Subject) -> tuple[DriveBay, Drive]:
    bay = next(b for b in ground.machine.bays if b.id == subject.places[0])
    assert isinstance(subject.part, Drive)
    return bay, subject.part


def drives_of(ground: FitGround) -> tuple[Subject, ...]:
    parts = ground.config.parts
    return tuple(Subject((b.id,), parts[b.id]) for b in ground.machine.bays if b.id in parts)


def interface(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    facts = (
        Fact("drive", drive.interface, Origin.LABEL),
        Fact(bay.label, bay.interface, ground.machine.origin(f"bays.{bay.id}")),
    )
    text = "The drive must speak what the port speaks; the same plug shape can carry different signals."
    if drive.interface in bay.also:
        sentence = f"{drive.interface}, which the place carries too"
        return Verdict("STO-IF", Level.FITS, subject.places, sentence, Because(sentence, "STO-IF", text, facts))
    if drive.interface == bay.interface:
        sentence = f"{drive.interface} on a {bay.interface} port"
        return Verdict("STO-IF", Level.FITS, subject.places, sentence, Because(sentence, "STO-IF", text, facts))
    sentence = f"{drive.interface} drive, but the port is {bay.interface}"
    because = Because(sentence, "STO-IF", text, facts, "refused", f"A {bay.interface} drive.")
    return Verdict("STO-IF", Level.REFUSED, subject.places, sentence, because)


def bay_form(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    gap = Gap(f"bays.{bay.id}.max_height_mm", f"height of {bay.label.lower()}", (5.0, 7.0, 9.5, 12.5, 15.0, 26.1),
              "measure the bay with a rule", 3, "mm")  # fmt: skip
    drive_gap = Gap(f"drive.{drive.name}.height", "drive's height", (5.0, 7.0, 9.5, 12.5, 15.0, 26.1),
                    "read it off the label or measure it", 2, "mm")  # fmt: skip
    text = "Form and height must suit the bay; a drive in another kind of bay needs its caddy or bracket."
    via_caddy = drive.form is BayForm.IN_2_5 and (
        bay.form in (BayForm.OPTICAL, BayForm.OPTICAL_HIGH) or (bay.form is BayForm.IN_3_5 and bool(bay.needs))
    )
    if drive.form is bay.form and drive.form in FLAT:
        sentence = f"{drive.form} in a place for {bay.form}"
        facts = (on_part("drive", drive.form), on_machine(ground, bay.label, bay.form, "bays"))
        return Verdict("STO-BAY", Level.FITS, subject.places, sentence, Because(sentence, "STO-BAY", text, facts))
    if drive.form != bay.form and not via_caddy:
        facts = (
            Fact("drive", drive.form, Origin.LABEL),
            Fact(bay.label, bay.form, ground.machine.origin(f"bays.{bay.id}")),
        )
        sentence = f"a {drive.form} drive has no place in a {bay.form} bay"
        because = Because(sentence, "STO-BAY", text, facts, "refused", f"A {bay.form} drive.")
        return Verdict("STO-BAY", Level.REFUSED, subject.places, sentence, because)
    room = ground.need(bay.max_height_mm, gap)
    height = ground.need(drive.height_mm, drive_gap)
    facts = (
        Fact("drive", f"{drive.form}, {height:g} mm", Origin.LABEL),
        Fact(bay.label, f"{bay.form}, up to {room:g} mm", ground.machine.origin(f"bays.{bay.id}")),
    )
    if height > room:
        sentence = f"{height:g} mm high, the bay takes {room:g} mm"
        because = Because(sentence, "STO-BAY", text, facts, "refused", f"A drive of at most {room:g} mm.")
        return Verdict("STO-BAY", Level.REFUSED, subject.places, sentence, because)
    if bay.needs and not bay.needs_at_hand and (via_caddy or bay.form is not BayForm.IN_3_5):
        sentence = f"needs a {bay.needs} first"
        because = Because(sentence, "STO-BAY", text, facts, "needs first", f"A {bay.needs} on the shelf.")
        return Verdict("STO-BAY", Level.NEEDS_FIRST, subject.places, sentence, because, precondition=bay.needs)
    sentence = f"{drive.form}, {height:g} mm in a bay for {room:g} mm"
    return Verdict("STO-BAY", Level.FITS, subject.places, sentence, Because(sentence, "STO-BAY", text, facts))


def link_ceiling_mb_s(bay: DriveBay, link_mb_s: float) -> float:
    """Practical sequential ceiling of a link [MB/s]: 0.92 of the coded SATA payload, 0.87 of PCIe."""
    return link_mb_s * (PCIE_PRACTICAL if bay.interface is DriveInterface.NVME else SATA_PRACTICAL)


def link(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    gap = Gap(f"bays.{bay.id}.link_mb_s", f"link speed of {bay.label.lower()}", LINKS.get(bay.interface, SATA_LINKS),
              "scan the link, or read the board's handbook", 3, "MB/s")  # fmt: skip
    rate = ground.need(bay.link_mb_s, gap)
    ceiling = link_ceiling_mb_s(bay, min(rate, bay.uplink_mb_s or rate))
    facts = (
        Fact("drive, sequential", f"{drive.outer_mb_s:.0f} MB/s", Origin.CATALOGUE),
        Fact("link after coding", f"{rate:.0f} MB/s", ground.machine.origin(f"bays.{bay.id}")),
        on_machine(ground, "uplink shared with others", bay.uplink_mb_s, "bays", "MB/s"),
        Fact("link in practice", f"{ceiling:.0f} MB/s", Origin.COMPUTED),
        Fact(
            "4 KiB reads the link carries",
            f"{ceiling / READ_4K_MB:,.0f} /s".replace(",", "\u202f"),
            Origin.COMPUTED,
        ),
    )
    text = (
        "Sequential reading runs at the slower of drive and link. Small random reads are set by the drive's "
        "latency, so an old link is no reason to keep a disk."
    )
    result = f"{min(drive.outer_mb_s, ceiling):.0f} MB/s sequential"
    if drive.outer_mb_s > 1.02 * ceiling:
        sentence = f"link limits it to {ceiling:.0f} MB/s"
        because = Because(sentence, "STO-LINK", text, facts, result, "Another port with a faster link.")
        return Verdict("STO-LINK", Level.LIMITED, subject.places, sentence, because)
    sentence = f"{drive.outer_mb_s:.0f} MB/s within the link"
    return Verdict("STO-LINK", Level.FITS, subject.places, sentence, Because(sentence, "STO-LINK", text, facts, result))


STORAGE_RULES: tuple[Rule, ...] = (
    Rule("STO-IF", "Interface of drive and port", drives_of, interface),
    Rule("STO-BAY", "Bay form and height", drives_of, bay_form),
    Rule("STO-LINK", "Ceiling of the link", drives_of, link),
)
