"""Whatever is planned on whatever kind of machine, in whatever build: the plan keeps people, parts and data safe."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.drives.copy_time import copy_time
from brachium.core.machine.cooling_parts import Pad, PadOn
from brachium.core.machine.drive_part import DriveRole
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.platform import CoolerHold, HeldBy
from brachium.core.record.drive_records import Transfer, Way
from brachium.core.work.hazards import HAZARDS, Tag, touched_in
from brachium.core.work.seen import Seen
from brachium.core.work.steps import steps_for
from tests.core.choose.test_new_processor import candidate
from tests.core.fit.bench_machines import DISK, NVME, SSD, TOWER
from tests.support.every_plan import KINDS, RANGES, Broken, base, broken_rules, builds, built, plans_of, task
from tests.support.golden_plans import FOLDER, GOLDEN, Golden, plan_text


@pytest.mark.parametrize("kind", KINDS)
def test_every_plan_of_every_kind_and_build_keeps_every_rule(kind: MachineKind) -> None:
    found: dict[tuple[str, tuple[str, ...]], list[Broken]] = {}
    for name, machine in builds(kind).items():
        for plan in plans_of(kind):
            chosen = tuple(task(machine, n) for n in plan)
            broken = broken_rules(machine, chosen, steps_for(machine, chosen, ()))
            if broken:
                found[name, plan] = broken
    assert not found, list(found.items())[:3]


@pytest.mark.parametrize("kind", KINDS)
def test_one_task_takes_minutes_within_the_range_of_its_kind(kind: MachineKind) -> None:
    least, most = RANGES[kind]
    machine = base(kind)
    for (name,) in (p for p in plans_of(kind) if len(p) == 1):
        steps = steps_for(machine, (task(machine, name),), ())
        minutes = sum(s.attended_min for s in steps)
        assert (least if name not in ("adapter", "voltage") else 5) <= minutes <= most, (name, minutes)
    longer = sum(s.attended_min for s in steps_for(builds(kind)["worst"], (task(machine, "memory"),), ()))
    assert longer > sum(s.attended_min for s in steps_for(machine, (task(machine, "memory"),), ()))


def test_the_properties_notice_a_plan_that_breaks_them() -> None:
    """A check that cannot fail proves nothing: each rule is broken once."""
    machine = base(MachineKind.LAPTOP)
    chosen = (task(machine, "memory"), task(machine, "paste"))
    steps = steps_for(machine, chosen, ())
    at = {s.id: k for k, s in enumerate(steps)}
    moved = list(steps)
    moved.insert(at["battery-off"], moved.pop(at["memory"]))
    rules = {b.rule for b in broken_rules(machine, chosen, tuple(moved))}
    assert "the battery inside is still in" in rules
    shut = list(steps)
    shut.append(shut.pop(at["memory"]))
    assert "open while it is shut" in {b.rule for b in broken_rules(machine, chosen, tuple(shut))}
    unscrewed = tuple(s for s in steps if s.id != "close")
    assert "does not go back" in {b.rule for b in broken_rules(machine, chosen, unscrewed)}
    mute = tuple(replace(s, cautions=(), signs=()) for s in steps)
    assert {"no strap", "no caution alcohol for “alcohol”"} <= {b.rule for b in broken_rules(machine, chosen, mute)}
    tower = base(MachineKind.TOWER)
    drive = (task(tower, "drive"),)
    lost = tuple(s for s in steps_for(tower, drive, ()) if s.id != "clone")
    assert "the system is lost" in {b.rule for b in broken_rules(tower, drive, lost)}


@pytest.mark.parametrize("way", [Way.COPY, Way.FRESH])
def test_the_system_is_never_lost_whatever_its_drive_is_called(way: Way) -> None:
    """The faster drive holds data only; the system's own slow one is replaced in its place."""
    data = replace(NVME, role=DriveRole.DATA)
    system = replace(DISK, role=DriveRole.SYSTEM)
    machine = TOWER.with_part("m2", data).with_part("bay-1", system)
    chosen = (candidate(SSD, "bay-1"),)
    steps = steps_for(machine, chosen, (), Transfer(way))
    assert ("clone" if way is Way.COPY else "install") in [s.id for s in steps]
    assert not broken_rules(machine, chosen, steps)
    beside = steps_for(machine, (candidate(replace(SSD, role=DriveRole.DATA), "bay-2"),), ())
    assert "clone" not in [s.id for s in beside], "a drive for data leaves the system where it is"


@pytest.mark.parametrize(("hold", "off", "on"), [
    (CoolerHold.PUSH_PINS, "quarter turn against its arrow", "both legs"),
    (CoolerHold.BACK_PLATE, "back plate: it falls", "Back plate seated"),
    (CoolerHold.CLIP, "under tension", "far side first"), (CoolerHold.SCREWS, "numbered screws", "numbered order"),
    (None, "Look what holds it", "pins until they click"),
])  # fmt: skip
def test_a_cooler_comes_off_by_what_holds_it(hold: CoolerHold | None, off: str, on: str) -> None:
    steps = {s.id: s for s in steps_for(built(TOWER, cooler_hold=hold), (task(TOWER, "paste"),), ())}
    assert off in steps["cooler-off"].detail and on in steps["paste"].detail


def test_a_case_opens_by_what_holds_it_with_the_driver_that_was_recorded() -> None:
    laptop = base(MachineKind.LAPTOP)

    def opened(**build: object) -> tuple[str, str, str]:
        step = next(s for s in steps_for(built(laptop, **build), (task(laptop, "memory"),), ()) if s.id == "open")
        return step.title, step.detail, step.tools

    assert opened(held_by=HeldBy.SCREWS, screws=11, screw_head="five-lobe")[1:] == (
        "11 screws. Photograph first. Lay the screws down in the order they come out; note any that are longer.",
        "five-lobe, plastic pick",
    )
    assert "clip by clip" in opened(held_by=HeldBy.BOTH)[1] and "clip by clip" in opened(held_by=HeldBy.CLIPS)[1]
    assert opened(held_by=HeldBy.GLUE)[0] == "Open the glued case" and "by the head" in opened()[2]
    tablet = base(MachineKind.TABLET)
    unsaid = next(s for s in steps_for(tablet, (task(tablet, "battery"),), ()) if s.id == "open")
    assert unsaid.detail.startswith("Look first what holds it"), "nobody said that it is glued"


def test_what_opening_uses_up_is_bought_before_and_cannot_be_taken_back() -> None:
    machine = built(base(MachineKind.ALL_IN_ONE), glass_glued=True, trim_breaks=True)
    steps = steps_for(machine, (task(machine, "drive"),), ())
    ids = [s.id for s in steps]
    ready = steps[ids.index("ready")]
    assert ready.detail.startswith("Trim") and "adhesive strips" in ready.detail
    assert ids.index("ready") < ids.index("power-off")
    assert {s.id for s in steps if s.no_return} >= {"trim-off", "glass-off"}
    adapter = steps_for(base(MachineKind.LAPTOP), (task(base(MachineKind.LAPTOP), "adapter"),), ())
    assert "ready" not in [s.id for s in adapter]


def test_own_steps_bring_the_cautions_of_what_they_touch() -> None:
    assert Tag.ADHESIVE in touched_in("Loosen the edge with a heat gun") and Tag.GLASS in touched_in(
        "Glasscheibe abheben"
    )
    assert touched_in("Count the feet") == frozenset() and touched_in("Count the feet", ("cell",)) == {Tag.CELL}
    assert all(any(tag in h.tags for h in HAZARDS) for tag in touched_in("battery glue glass mains alcohol dust heavy"))


@pytest.mark.parametrize("golden", GOLDEN, ids=lambda g: g.name)
def test_plans_that_were_read_line_by_line_stay_as_they_were_read(golden: Golden) -> None:
    """Forty plans of ten kinds; `python -m scripts.golden_plans` writes them anew, and the difference is read."""
    assert plan_text(golden) == (FOLDER / f"{golden.name}.txt").read_text(encoding="utf-8")
    machine = builds(golden.kind)[golden.build]
    chosen = tuple(task(machine, n) for n in golden.tasks)
    assert broken_rules(machine, chosen, steps_for(machine, chosen, golden.needs, Transfer(golden.way))) == []
    assert {p.stem for p in FOLDER.glob("*.txt")} == {g.name for g in GOLDEN}


def test_an_array_is_copied_away_before_it_is_taken_apart_and_comes_back_from_there() -> None:
    machine = replace(TOWER, platform=replace(TOWER.platform, cache_pairs=(("bay-1", "bay-2", "old"),)))
    need = "array backed up, then dissolved by its own tool"
    steps = steps_for(machine, (candidate(SSD, "bay-1"),), (need,))
    ids = [s.id for s in steps]
    first, back = steps[ids.index("first-0")], steps[ids.index("clone")]
    assert ids.index("first-0") < ids.index("clone") < ids.index("drive") and first.no_return
    disk = TOWER.configuration().drives()["bay-1"]
    twice = 2 * copy_time(int(0.6 * disk.size_bytes), disk, None).minutes  # the only drive of it that is recorded
    assert first.unattended_min == round(twice) and "600 GB in use, assumed" in first.detail
    assert "from the image" in back.title and "not read again" in back.detail, "there is nothing left to copy"


def test_bad_areas_cost_minutes_and_that_is_said() -> None:
    disk = TOWER.configuration().drives()["bay-1"]
    clean, bad = (copy_time(disk.size_bytes, disk, None, bad_sectors=n) for n in (0, 400))
    assert bad.minutes - clean.minutes == pytest.approx(50 * 20 / 60) == bad.bad_min
    assert copy_time(10**9, None, disk, bad_sectors=400).bad_min == 0.0, "an image has no bad areas"
    chosen, need = (candidate(SSD, "bay-2"),), "image of the failing drive"
    told = steps_for(TOWER, chosen, (need,), failing=("bay-1",), seen=Seen({"bay-1": 400}))[0]
    assert told.unattended_min == round(bad.minutes) and "17 min on bad areas" in told.detail
    unread = steps_for(TOWER, chosen, (need,), failing=("bay-1",))[0]
    assert unread.unattended_min == round(clean.minutes) and "Bad areas come on top" in unread.detail


def test_what_does_not_blow_out_is_washed_and_dries_while_it_is_open() -> None:
    plan = (task(TOWER, "clean"), task(TOWER, "memory"))
    steps = steps_for(TOWER, plan, (), seen=Seen(found=frozenset({"tar"})))
    ids = [s.id for s in steps]
    assert ids.index("clean") < ids.index("wash") < ids.index("close") and ids.index("clean") < ids.index("memory")
    assert steps[ids.index("wash")].unattended_min >= 120
    assert "wash" not in [s.id for s in steps_for(TOWER, plan, (), seen=Seen(found=frozenset({"dust"})))]


def test_pads_on_memory_and_on_a_drive_leave_the_cooler_on() -> None:
    for on, title in ((PadOn.MEMORY, "Lay the pads on the memory"), (PadOn.DRIVE, "Lay the pad on the drive")):
        steps = steps_for(TOWER, (candidate(Pad("pad", 1.0, pad_on=on), "pads"),), ())
        assert "cooler-off" not in [s.id for s in steps] and title in [s.title for s in steps]
    for on in (PadOn.CHIPS, None):
        assert "cooler-off" in [s.id for s in steps_for(TOWER, (candidate(Pad("pad", 1.0, pad_on=on), "pads"),), ())]
