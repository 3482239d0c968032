"""Storage rules of starting and of the data: STO-BOOT, STO-MODE, STO-CACHE, STO-DATA, STO-HEALTH."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import drive_size
from brachium.core.base.why import Fact, Origin
from brachium.core.drives.copy_time import copy_time
from brachium.core.drives.health import DriveState
from brachium.core.fit.answers import Answers, on_machine, on_part
from brachium.core.fit.assumptions import FREE_SHARE
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.storage import drive_in, link_ceiling_mb_s, link_of
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.drive_part import Drive, DriveInterface, DriveRole
from brachium.core.machine.platform import BOARD, BootMode, DriveMode
from brachium.core.machine.system_drive import system_today

MBR_SECTORS = 2**32
HOLDS_NOTHING = (DriveRole.CACHE, DriveRole.SCRATCH)
LEAST_SECTOR = 512  # byte
MODE = Gap("platform.system.boot_mode", "start mode of the installed system", tuple(BootMode),
           "ask the system: firmware tables there = UEFI", 1)  # fmt: skip
IMAGE = "image of the failing drive"


def new_drives(ground: FitGround) -> tuple[Subject, ...]:
    return ground.fresh(Drive)


def _placed(ground: FitGround) -> tuple[Subject, ...]:
    bays = {b.id for b in ground.machine.bays}
    return tuple(s for s in new_drives(ground) if s.places[0] in bays)


def _started(ground: FitGround) -> tuple[Subject, ...]:
    """New drives, and under another board the system's drive that stays: it must start there too."""
    out = _placed(ground)
    kept = system_today(ground.before) if ground.before is not None and ground.before_board() else None
    if kept is not None and kept[0] not in ground.changed and kept[0] in [b.id for b in ground.machine.bays]:
        out = (*out, Subject((kept[0], BOARD), kept[1]))
    return out


def role_of(ground: FitGround, subject: Subject) -> DriveRole | None:
    """What a new drive is for: its own role, else that of the drive whose place it takes; None where nobody said."""
    drive, there = subject.part, ground.today.parts.get(subject.places[0])
    own = drive.role if isinstance(drive, Drive) else None
    return own if own is not None else there.role if isinstance(there, Drive) else None


def start(ground: FitGround, subject: Subject) -> Verdict:
    role = role_of(ground, subject)
    if role is None or role is DriveRole.SYSTEM:
        return _as_system(ground, subject)
    text = "Nothing is started from a drive for data: neither start mode nor the reach of an MBR matters to it."
    return Answers("STO-BOOT", subject, text, (on_part("role", role),)).fits(
        phrase("{role}, not started from", role=role)
    )


def _as_system(ground: FitGround, subject: Subject) -> Verdict:
    _, drive = drive_in(ground, subject)
    board, system = ground.machine.platform.board, ground.machine.platform.system
    modes_gap = Gap("platform.board.boot_modes", "start modes of the firmware",
                    ((BootMode.LEGACY,), (BootMode.UEFI,), (BootMode.LEGACY, BootMode.UEFI)),
                    "look into the firmware set-up", 3)  # fmt: skip
    text = (
        "Firmware starts from NVMe only where it knows it. An MBR reaches 2^32 sectors; a GPT data disk works under "
        "legacy start, starting from one depends on system and loader. A system starts in the mode it was installed in."
    )
    facts = [
        on_part(
            "drive",
            phrase("{interface}, {size_bytes}", interface=drive.interface, size_bytes=drive_size(drive.size_bytes)),
        )
    ]
    if drive.interface is DriveInterface.NVME:
        nvme_gap = Gap(
            "platform.board.nvme_start", "start from NVMe", (True, False), "look into the firmware set-up", 3
        )
        starts = ground.need(board.nvme_start, nvme_gap)
        facts.append(on_machine(ground, "firmware starts from NVMe", starts, "platform.board.nvme_start"))
        if not starts:
            return _no_start(ground, Answers("STO-BOOT", subject, text, tuple(facts)))
    blind = _4kn_under_legacy(ground, drive, text, subject)
    if blind is not None:
        return blind
    within = drive.size_bytes <= MBR_SECTORS * (drive.sector_bytes or LEAST_SECTOR)
    if within and drive.interface is not DriveInterface.NVME and not ground.before_board():
        return Answers("STO-BOOT", subject, text, tuple(facts)).fits("starts as the old drive did")
    modes = ground.need(board.boot_modes, modes_gap)
    installed = ground.need(system.boot_mode, MODE)
    facts += [on_machine(ground, "firmware offers", modes, "platform.board.boot_modes"),
              on_machine(ground, "system installed for", installed, "platform.system.boot_mode")]  # fmt: skip
    says = Answers("STO-BOOT", subject, text, tuple(facts))
    if installed not in modes or (drive.interface is DriveInterface.NVME and installed is BootMode.LEGACY):
        if BootMode.UEFI not in modes:
            return says.refused(
                phrase(
                    "the system starts in {installed} mode, the firmware offers none for this drive",
                    installed=installed,
                ),
                "A SATA drive.",
            )
        return says.needs("system made ready for UEFI start", "A new installation instead of a copy.",
                          "the system must be made ready for UEFI start first")  # fmt: skip
    if installed is BootMode.LEGACY and not within:
        reach = MBR_SECTORS * _sector_bytes(ground, drive)
        if drive.size_bytes > reach:
            return says.limited(
                phrase("legacy start: an MBR reaches {reach} of it", reach=drive_size(reach)),
                drive_size(reach),
                "UEFI start, or sectors of 4 KiB.",
            )
    return says.fits(phrase("starts in {installed} mode, as installed", installed=installed))


def _4kn_under_legacy(ground: FitGround, drive: Drive, text: str, subject: Subject) -> Verdict | None:
    """Legacy firmware reads sectors of 512 byte alone (INT 13h); from others it cannot load anything (UEFI can)."""
    if drive.sector_bytes in (None, LEAST_SECTOR):
        return None
    mode = ground.need(ground.machine.platform.system.boot_mode, MODE)
    if mode is not BootMode.LEGACY:
        return None
    facts = (on_part("sectors", drive.sector_bytes, "byte"),
             on_machine(ground, "system installed for", mode, "platform.system.boot_mode"))  # fmt: skip
    says = Answers("STO-BOOT", subject, text, facts)
    return says.refused(
        phrase("legacy firmware starts from no drive of {sector_bytes}-byte sectors", sector_bytes=drive.sector_bytes),
        "A drive of 512-byte sectors, or UEFI start.",
    )


def _no_start(ground: FitGround, says: Answers) -> Verdict:
    """The firmware starts from no NVMe drive: it may still hold data beside another."""
    if all(k in says.subject.places for k in ground.config.drives()):
        return says.refused("the firmware does not start from NVMe", "A SATA drive beside it, or newer firmware.")
    return says.limited("for data only: the firmware does not start from NVMe", "no start from it",
                        "Newer firmware that knows NVMe.")  # fmt: skip


def _sector_bytes(ground: FitGround, drive: Drive) -> int:
    gap = Gap(
        phrase("sectors of {drive}", drive=drive.name),
        phrase("sectors of {drive}", drive=drive.name),
        (512, 4096),
        "ask the system, or look into its data sheet",
        1,
        "byte",
    )
    return ground.need(drive.sector_bytes, gap)


def _on_controller(ground: FitGround) -> tuple[Subject, ...]:
    """SSDs on the board's SATA controller; NVMe drives too where it hides them in RAID mode."""
    raid = ground.machine.platform.board.drive_mode is DriveMode.RAID
    return tuple(
        s for s in _placed(ground)
        if isinstance(s.part, Drive) and ((s.part.interface is DriveInterface.SATA and not s.part.rotational)
                                          or (raid and s.part.interface in (DriveInterface.SATA, DriveInterface.NVME)))
    )  # fmt: skip


def mode(ground: FitGround, subject: Subject) -> Verdict:
    board = ground.machine.platform.board
    now, offers = board.drive_mode, board.drive_modes
    facts = (on_machine(ground, "controller mode", now, "platform.board.drive_mode"),
             on_machine(ground, "modes it has", offers, "platform.board.drive_modes"))  # fmt: skip
    text = "An SSD wants AHCI; changing the mode under an installed system stops that from starting."
    says = Answers("STO-MODE", subject, text, facts)
    if now is DriveMode.RAID:
        return says.needs("driver of the RAID mode at hand, or the mode changed to AHCI",
                          "A controller in AHCI mode.",
                          "hidden by the RAID mode from systems without its driver")  # fmt: skip
    if now is DriveMode.LEGACY and offers is None:
        choices = ((DriveMode.LEGACY,), (DriveMode.LEGACY, DriveMode.AHCI))
        offers = ground.need(None, Gap("platform.board.drive_modes", "controller modes that the board has", choices,
                                       "look into the firmware set-up", 3))  # fmt: skip
    if offers is not None and DriveMode.AHCI not in offers:
        return says.limited(
            phrase(
                "the board has {offers} mode only: works, one read at a time", offers=offers[0] if offers else "legacy"
            ),
            "no queue of reads",
            "A controller card with AHCI.",
        )
    if now is DriveMode.LEGACY:
        return says.needs("AHCI driver enabled in the system, then the mode changed", "A new installation.",
                          "the controller runs in legacy mode")  # fmt: skip
    if now is None:  # it works in either; which one it is decides a step, not the part
        return says.fits("works in AHCI and legacy mode: read which one is set before it goes in", open_=True)
    return says.fits("the controller runs in AHCI mode")


def _broken_pairs(ground: FitGround) -> tuple[Subject, ...]:
    """Cache pairs and arrays of which the plan touches a member."""
    changed = set(ground.changed)
    return tuple(Subject(pair) for pair in ground.machine.platform.cache_pairs if changed & set(pair))


def cache(ground: FitGround, subject: Subject) -> Verdict:
    names = joined(" and ", (lower_first(ground.machine.place_label(p)) for p in subject.places))
    facts = (on_machine(ground, "seen as one", names, "platform.cache_pairs"),
             Fact("data settled", "yes" if ground.around.data_safe else "no", Origin.LOGGED))  # fmt: skip
    text = (
        "A small fast and a large slow drive that work as one are dissolved before either is pulled, or data is lost."
    )
    says = Answers("STO-CACHE", subject, text, facts)
    after = () if ground.around.data_safe else ("owner's data settled",)
    if _is_array(ground, subject):
        return says.needs(
            "array backed up, then dissolved by its own tool",
            "Leaving the array together.",
            phrase("{names} are one array: back it up and dissolve it first", names=names),
            after,
        )
    return says.needs("cache pair dissolved by its own tool", "Leaving the pair together.",
                      phrase("{names} work as one: dissolve them first", names=names), after)  # fmt: skip


def _is_array(ground: FitGround, subject: Subject) -> bool:
    """Drives that hold one array: more than two, or said to be members; a pair is a cache in front of a disk else."""
    drives = ground.today.drives()
    roles = {drives[p].role for p in subject.places if p in drives}
    return len(subject.places) > 2 or DriveRole.ARRAY in roles


def _replacing(ground: FitGround) -> tuple[Subject, ...]:
    """New drives that take over what an old one held; a cache and a scratch disk hold nothing that is kept."""
    old = ground.today.drives()
    return tuple(s for s in _placed(ground) if old and role_of(ground, s) not in HOLDS_NOTHING)


def _source(ground: FitGround, subject: Subject) -> str:
    """The place of the drive whose data moves: the one that is replaced, else the system's."""
    old = ground.today.drives()
    if subject.places[0] in old:
        return subject.places[0]
    found = system_today(ground.before or ground.machine)
    return found[0] if found is not None else next(iter(old))


def data(ground: FitGround, subject: Subject) -> Verdict:
    bay, drive = drive_in(ground, subject)
    place = _source(ground, subject)
    source = ground.today.drives()[place]
    of_system = source.role in (None, DriveRole.SYSTEM)
    gap = Gap("platform.system.used_bytes" if of_system else f"parts.{place}.used_bytes",
              "bytes in use on the old drive",
              tuple(int(share * source.size_bytes) for share in (0.1, 0.3, 0.5, 0.7, 0.9, 1.0)),
              "ask the system how full the drive is", 1, "byte")  # fmt: skip
    around = ground.around.used_bytes if of_system else None
    system = ground.machine.platform.system.used_bytes if of_system else None
    used = ground.need(next((n for n in (source.used_bytes, around, system) if n is not None), None), gap)
    room = (1.0 - FREE_SHARE) * drive.size_bytes
    rate = link_of(bay, drive)
    link = link_ceiling_mb_s(bay, rate, drive.interface) if rate is not None else None
    copy = copy_time(used, source, drive, link_mb_s=link)
    facts = (
        Fact("in use", drive_size(used), Origin.MEASURED if around is not None else Origin.TYPED),
        on_part("new drive", drive_size(drive.size_bytes)),
        Fact(
            phrase("copied at the rate of {limited_by}", limited_by=copy.limited_by),
            phrase("{rate_mb_s:.0f} MB/s", rate_mb_s=copy.rate_mb_s),
            Origin.COMPUTED,
        ),
        Fact(
            "copying, and as long for the verifying pass",
            phrase("{minutes:.0f} min", minutes=copy.minutes),
            Origin.COMPUTED,
        ),
    )
    says = Answers("STO-DATA", subject, "What is in use must leave 15 % of the new drive free.", facts)
    if used <= room:
        return says.fits(
            phrase("{used} in use, 15 % stays free", used=drive_size(used)),
            phrase("about {minutes:.0f} min with verifying", minutes=2 * copy.minutes),
        )
    if used <= drive.size_bytes:
        return says.needs(
            "data thinned out or moved",
            phrase("A drive of {int}.", int=drive_size(int(used / (1.0 - FREE_SHARE)))),
            phrase("{used} in use leave less than 15 % free", used=drive_size(used)),
        )
    return says.refused(
        phrase("{used} in use are more than it holds", used=drive_size(used)),
        phrase("A drive of at least {int}.", int=drive_size(int(used / (1.0 - FREE_SHARE)))),
    )


@dataclass(frozen=True)
class _Counted(Subject):
    """A drive whose counters are known, by its place; what is said of it may be said of more places."""

    place: str = ""


def _judged(ground: FitGround) -> tuple[Subject, ...]:
    """Drives with known counters that the plan touches or keeps. What fails speaks of the whole plan, so that no drive
    of it can do without an image."""
    fresh = tuple(s.places[0] for s in new_drives(ground))
    out = []
    for place, state in ground.around.drives.items():
        fails, goes = state is DriveState.MEDIA, place in ground.changed
        places = (place,) if not fails else (place, *fresh) if goes or fresh else ()
        if place in ground.today.parts:
            out.append(_Counted(places, ground.today.parts[place], place))
    return tuple(out)


def health(ground: FitGround, subject: Subject) -> Verdict:
    assert isinstance(subject, _Counted)
    place = subject.place
    state, goes = ground.around.drives[place], place in ground.changed
    facts = (
        Fact("SMART data", state, Origin.MEASURED),
        Fact("stays", "no" if goes else "yes", Origin.PLANNED),
    )
    text = (
        "Reallocated, pending and uncorrectable sectors speak against the disk; rising interface errors against "
        "its cable. A drive with pending sectors is imaged before anything else, whatever place a new one takes, and "
        "what was on it comes back from the image."
    )
    says = Answers("STO-HEALTH", subject, text, facts)
    if state is DriveState.MEDIA:
        label = lower_first(ground.machine.place_label(place))
        words = "the old drive fails" if goes else phrase("the drive in {label} fails, and stays", label=label)
        return says.needs(
            IMAGE,
            "Nothing: read it while it still reads.",
            phrase("{words}: image it before anything else", words=words),
        )
    if state is DriveState.INTERFACE and not goes:
        return says.needs("new data cable", "Reseating the cable and reading the counter again.",
                          "interface errors rise: new cable first")  # fmt: skip
    return says.fits(phrase("counters: {state}", state=state))


STORAGE_START_RULES: tuple[Rule, ...] = (
    Rule("STO-BOOT", "Start from the drive", _started, start),
    Rule("STO-MODE", "Controller mode", _on_controller, mode),
    Rule("STO-CACHE", "Cache pairs", _broken_pairs, cache),
    Rule("STO-DATA", "Data fits", _replacing, data),
    Rule("STO-HEALTH", "Health of the drives", _judged, health),
)
