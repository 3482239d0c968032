"""Storage rules: STO-IF, STO-BAY, STO-LINK."""

from __future__ import annotations

from brachium.core.base.text import Text, lower_first, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.answers import Answers, key_of, on_machine, on_part
from brachium.core.fit.assumptions import PCIE_PRACTICAL, SATA_PRACTICAL
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.links import PCIE_LANE_MB_S
from brachium.core.machine.machine import DriveBay
from brachium.core.machine.parts import BayForm, Drive, DriveInterface

READ_4K_MB = 0.004096
NVME = DriveInterface.NVME
SATA_LINKS = (150.0, 300.0, 600.0)
LINKS = {NVME: (250.0, 985.0, 1969.0, 3938.0, 7876.0), DriveInterface.PATA: (33.0, 66.0, 100.0, 133.0)}
HEIGHTS = (5.0, 7.0, 9.5, 12.5, 15.0, 26.1)
SPACER = "spacer"  # fills the height that a thinner drive leaves; one that fills the bay needs none
BRACKET = "bracket for a 2.5 in drive"
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
    facts: tuple[Fact, ...] = (
        Fact("drive", drive.interface, Origin.LABEL),
        Fact(bay.label, bay.interface, ground.machine.origin(f"bays.{bay.id}")),
    )
    text = "The drive must speak what the port speaks; the same plug shape can carry different signals."
    if drive.interface in bay.also:
        sentence = phrase("{interface}, which the slot carries too", interface=drive.interface)
        return Verdict("STO-IF", Level.FITS, subject.places, sentence, Because(sentence, "STO-IF", text, facts))
    if drive.interface == bay.interface:
        sentence = phrase("{interface} on a {interface2} port", interface=drive.interface, interface2=bay.interface)
        return Verdict("STO-IF", Level.FITS, subject.places, sentence, Because(sentence, "STO-IF", text, facts))
    if (drive.interface, bay.interface) == (DriveInterface.SATA, DriveInterface.SAS):  # SAS controllers tunnel SATA
        sentence = "SATA drive on a SAS port, which takes both"
        return Verdict("STO-IF", Level.FITS, subject.places, sentence, Because(sentence, "STO-IF", text, facts))
    if drive.interface is DriveInterface.SAS:
        facts = (*facts, Fact("SAS", "a SAS port takes both, a SATA port no SAS drive", Origin.CATALOGUE))
    sentence = phrase(
        "{interface} drive, but the port is {interface2}", interface=drive.interface, interface2=bay.interface
    )
    because = Because(
        sentence, "STO-IF", text, facts, "refused", phrase("A {interface} drive.", interface=bay.interface)
    )
    return Verdict("STO-IF", Level.REFUSED, subject.places, sentence, because)


def bay_form(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    text = "Form and height must suit the bay; a drive in another kind of bay needs its caddy or bracket."
    u2 = drive.form is BayForm.IN_2_5 and drive.interface is NVME
    facts = (on_part("drive", phrase("{form}, U.2 plug", form=drive.form) if u2 else drive.form),
             on_machine(ground, bay.label, bay.form, f"bays.{bay.id}"))  # fmt: skip
    says = Answers("STO-BAY", subject, text, facts)
    if drive.form is bay.form and drive.form in FLAT:
        return says.fits(phrase("{form} in a slot for {form2}", form=drive.form, form2=bay.form))
    if drive.form is BayForm.IN_2_5 and bay.form is BayForm.IN_3_5:  # low enough for any bay of that form
        return _through(says, bay.needs or BRACKET, bay.needs_at_hand)
    via_caddy = drive.form is BayForm.IN_2_5 and bay.form in (BayForm.OPTICAL, BayForm.OPTICAL_HIGH)
    if drive.form != bay.form and not via_caddy:
        change = "A U.2 slot with its cable, or a card for it." if u2 else phrase("A {form} drive.", form=bay.form)
        return says.refused(phrase("{a} drive does not go into {a2} bay", a=_a(drive.form), a2=_a(bay.form)), change)
    if drive.form is BayForm.IN_3_5 and bay.max_height_mm is None:
        return says.fits("3.5 in in a bay of that form")
    return _by_height(ground, subject, text)


def _a(form: BayForm) -> str:
    """The form with its article: `a 2.5 in`, `an M.2`."""
    return phrase(
        "{which} {form}", which="an" if form[0] in "Mmo" and form is not BayForm.MINI_CARD else "a", form=form
    )


def _through(says: Answers, needs: str, at_hand: bool) -> Verdict:
    if at_hand:
        return says.fits(phrase("in its {needs}, which is at hand", needs=needs))
    return says.needs(
        needs, phrase("A {needs} on the shelf.", needs=needs), phrase("needs a {needs} first", needs=needs)
    )


def _by_height(ground: FitGround, subject: Subject, text: str) -> Verdict:
    bay, drive = drive_in(ground, subject)
    gap = Gap(
        f"bays.{bay.id}.max_height_mm",
        phrase("height of {bay}", bay=lower_first(bay.label)),
        HEIGHTS,
        "measure the bay with a rule",
        3,
        "mm",
    )
    drive_gap = Gap(key_of(ground, bay.id, drive, "height_mm"), "drive's height", HEIGHTS,
                    "read it off the label or measure it", 2, "mm")  # fmt: skip
    there = ground.today.parts.get(bay.id)
    proven = there.height_mm if isinstance(there, Drive) and there.form is bay.form else None
    if bay.max_height_mm is None and proven is not None and drive.height_mm is not None and drive.height_mm <= proven:
        facts = (
            on_part("drive", phrase("{form}, {height_mm:g} mm", form=drive.form, height_mm=drive.height_mm)),
            on_part("sits there today", proven, "mm"),
        )
        return Answers("STO-BAY", subject, text, facts).fits(
            phrase("{height_mm:g} mm, no higher than what sits there", height_mm=drive.height_mm)
        )
    room = ground.need(bay.max_height_mm, gap)
    height = ground.need(drive.height_mm, drive_gap)
    facts = (
        on_part("drive", phrase("{form}, {height:g} mm", form=drive.form, height=height)),
        on_machine(ground, bay.label, phrase("{form}, up to {room:g} mm", form=bay.form, room=room), f"bays.{bay.id}"),
    )
    says = Answers("STO-BAY", subject, text, facts)
    if height > room:
        return says.refused(
            phrase("{height:g} mm high, the bay takes {room:g} mm", height=height, room=room),
            phrase("A drive of at most {room:g} mm.", room=room),
        )
    spacer = SPACER in bay.needs
    if bay.needs and bay.form is not BayForm.IN_3_5 and not (spacer and height == room):
        return _through(says, bay.needs, bay.needs_at_hand)
    return says.fits(
        phrase("{form}, {height:g} mm in a bay for {room:g} mm", form=drive.form, height=height, room=room)
    )


def link_ceiling_mb_s(bay: DriveBay, link_mb_s: float, carried: DriveInterface | None = None) -> float:
    """Practical sequential ceiling of a link [MB/s]: 0.92 of the coded SATA payload, 0.87 of PCIe.

    `carried` is what the drive speaks, where the place carries more than one thing.
    """
    return link_mb_s * (PCIE_PRACTICAL if (carried or bay.interface) is DriveInterface.NVME else SATA_PRACTICAL)


def link_of(bay: DriveBay, drive: Drive) -> float | None:
    """Payload of the link that a drive would run on [MB/s]: a place that carries two kinds has one of each."""
    return bay.link_mb_s if drive.interface not in bay.also else bay.also_link_mb_s


def _linked(ground: FitGround) -> tuple[Subject, ...]:
    """Drives whose place carries what they speak; of others there is no link to speak of."""
    bays = {b.id: b for b in ground.machine.bays}
    return tuple(
        s for s in drives_of(ground)
        if isinstance(s.part, Drive) and s.part.interface in (bays[s.places[0]].interface, *bays[s.places[0]].also)
    )  # fmt: skip


def link(ground: FitGround, subject: Subject) -> Verdict:
    """Faster or slower, never unfit: a link that nobody recorded is said as a range."""
    bay, drive = drive_in(ground, subject)
    text = (
        "Sequential reading runs at the slower of drive and link. Small random reads are set by the drive's "
        "latency, so an old link is no reason to keep a disk."
    )
    rated = on_part("drive, sequential", phrase("{outer_mb_s:.0f} MB/s", outer_mb_s=drive.outer_mb_s))
    rate = link_of(bay, drive)
    if rate is None:
        unknown = (rated, on_machine(ground, "link", None, f"bays.{bay.id}.link_mb_s"))
        return _any_link(bay, drive, Answers("STO-LINK", subject, text, unknown))
    ceiling = link_ceiling_mb_s(bay, min(rate, bay.uplink_mb_s or rate), drive.interface)
    facts = (
        rated,
        Fact(
            "link after coding",
            phrase("{rate:.0f} MB/s{lanes_words}", rate=rate, lanes_words=_lanes_words(rate, drive)),
            ground.machine.origin(f"bays.{bay.id}"),
        ),
        on_machine(ground, "uplink shared with others", bay.uplink_mb_s, "bays", "MB/s"),
        Fact("link in practice", phrase("{ceiling:.0f} MB/s", ceiling=ceiling), Origin.COMPUTED),
        Fact(
            "4 KiB reads the link carries",
            phrase("{ceiling:,.0f} /s", ceiling=ceiling / READ_4K_MB).replace(",", "\u202f"),
            Origin.COMPUTED,
        ),
    )
    says = Answers("STO-LINK", subject, text, facts)
    result = phrase("{outer_mb_s:.0f} MB/s sequential", outer_mb_s=min(drive.outer_mb_s, ceiling))
    if drive.outer_mb_s > 1.02 * ceiling:
        return says.limited(
            phrase("link limits it to {ceiling:.0f} MB/s", ceiling=ceiling), result, "Another port with a faster link."
        )
    return says.fits(phrase("{outer_mb_s:.0f} MB/s within the link", outer_mb_s=drive.outer_mb_s), result)


def _lanes_words(rate: float, drive: Drive) -> str:
    """Generation and lanes that come to a rate, where some do: `, gen 2 x4`."""
    if drive.interface is not NVME:
        return ""
    found = [(g, n) for g, lane in PCIE_LANE_MB_S.items() for n in (4, 2, 1) if abs(lane * n - rate) < 1.0]
    return phrase(", gen {found} x{found2}", found=found[0][0], found2=found[0][1]) if found else ""


def _any_link(bay: DriveBay, drive: Drive, says: Answers) -> Verdict:
    least = link_ceiling_mb_s(bay, min(LINKS.get(drive.interface, SATA_LINKS)), drive.interface)
    uplink = link_ceiling_mb_s(bay, bay.uplink_mb_s, drive.interface) if bay.uplink_mb_s else drive.outer_mb_s
    most = min(drive.outer_mb_s, uplink)
    if drive.outer_mb_s <= 1.02 * least:
        return says.fits(phrase("{outer_mb_s:.0f} MB/s within any link of its kind", outer_mb_s=drive.outer_mb_s))
    rates = Text(
        "{least} to {most} MB/s, by the link, not recorded",
        {"least": phrase("{least:.0f}", least=least), "most": phrase("{most:.0f}", most=max(most, least))},
    )
    return says.fits(
        rates, phrase("{least:.0f} to {most:.0f} MB/s sequential", least=least, most=max(most, least)), open_=True
    )


STORAGE_RULES: tuple[Rule, ...] = (
    Rule("STO-IF", "Interface of drive and port", drives_of, interface),
    Rule("STO-BAY", "Bay form and height", drives_of, bay_form),
    Rule("STO-LINK", "Ceiling of the link", _linked, link),
)
