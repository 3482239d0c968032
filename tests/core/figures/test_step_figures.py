"""Pictures of steps: one for every step of every plan, from the record, the place lit, nothing beside the paper."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Text
from brachium.core.figures.base.placing import scaled
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.work.scene import scene_of
from brachium.core.figures.work.step_figure import step_figure
from brachium.core.figures.work.step_strip import step_strip
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import CoolerHold, HeldBy
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.step import Mode, Step
from brachium.core.work.step_kinds.proof import after_run_step
from brachium.core.work.steps import steps_for
from tests.support.every_plan import base, builds, built, task
from tests.support.golden_plans import GOLDEN, Golden

W, H = 500.0, 330.0


def texts(drawing: Drawing) -> list[str]:
    return [i.text for i in drawing.items if isinstance(i, Text)]


def beside(drawing: Drawing) -> list[str]:
    """Texts that reach out of the drawing."""
    out = []
    for t in (i for i in drawing.items if isinstance(i, Text)):
        wide = text_width(t.text, t.size, t.weight, t.condensed)
        left = t.x - {"start": 0.0, "middle": wide / 2, "end": wide}[t.anchor]
        if (
            left < -0.06 * wide - 2
            or left + wide > drawing.width + 0.10 * wide + 2
            or not 0 < t.y <= drawing.height + 2
        ):
            out.append(t.text)
    return out


@pytest.mark.parametrize("golden", GOLDEN, ids=lambda g: g.name)
def test_every_step_has_its_picture_and_nothing_is_cut(golden: Golden) -> None:
    machine = builds(golden.kind)[golden.build]
    chosen = tuple(task(machine, n) for n in golden.tasks)
    steps = (*steps_for(machine, chosen, golden.needs), after_run_step(()))
    for step in steps:
        drawing = step_figure(scene_of(machine, chosen, steps, step), W, H)
        assert len(drawing.items) > 4 and drawing.title == step.title, step.id
        assert beside(drawing) == [], step.id
        twice = scaled(drawing, 2.0)
        assert (twice.width, twice.height) == (2 * drawing.width, 2 * drawing.height) and beside(twice) == []


def test_a_machine_that_has_only_figures_has_pictures_too() -> None:
    """From logs or typed numbers nothing is known of kind, places or parts."""
    machine, chosen = Machine(), (task(Machine(), "clean"), task(Machine(), "paste"), task(Machine(), "voltage"))
    steps = (*steps_for(machine, chosen, ("new CMOS battery",)), after_run_step(()))
    for step in steps:
        drawing = step_figure(scene_of(machine, chosen, steps, step), W, H)
        assert len(drawing.items) > 4 and beside(drawing) == [], step.id
        assert "None" not in " ".join(texts(drawing)), step.id


def figure(machine: Machine, step_id: str, *tasks: str, screws: tuple[ScrewGroup, ...] = ()) -> Drawing:
    chosen = tuple(task(machine, n) for n in tasks)
    steps = steps_for(machine, chosen, ())
    step = next(s for s in steps if s.id == step_id)
    return step_figure(scene_of(machine, chosen, steps, step, screws), W, H)


def lit(drawing: Drawing) -> list[Box]:
    """Boxes drawn with the heavy line of what is lit."""
    return [i for i in drawing.items if isinstance(i, Box) and i.role == "cool" and i.width > 2.0]


def test_the_place_of_the_hands_is_lit_and_what_was_done_before_is_in_it() -> None:
    tower = base(MachineKind.TOWER)
    first = figure(tower, "memory", "memory", "card")
    region = next(r for r in first.regions if r.id == tower.slots[0].id)
    (box,) = lit(first)
    assert box.x <= region.x and box.y <= region.y + 1 and box.x + box.w >= region.x + region.w
    card = figure(tower, "card", "memory", "card")
    assert "free" not in next(r for r in card.regions if r.id == tower.slots[0].id).label, "fitted in the step before"
    assert [b for b in lit(card) if b.x != box.x or b.y != box.y], "another place is lit now"
    bare = replace(tower, slots=(), bays=(), fitted=(), leads=())
    unknown = figure(bare, "clean", "clean")
    assert lit(unknown), "chip, fan and fins are on every machine"


def test_what_comes_off_is_shaded_and_what_goes_back_is_not() -> None:
    laptop = base(MachineKind.LAPTOP)
    off, on = (figure(laptop, i, "paste") for i in ("battery-off", "battery-on"))
    assert any(isinstance(i, Hatch) for i in off.items) and not any(isinstance(i, Hatch) for i in on.items)


def dots(drawing: Drawing) -> int:
    """Screws that somebody counted."""
    return sum(isinstance(i, Dot) and i.role == "cool" and i.fill == "sheet" for i in drawing.items)


def test_screws_are_those_of_the_record_and_nobody_is_told_a_number_that_nobody_counted() -> None:
    tower = base(MachineKind.TOWER)
    unsaid = figure(tower, "open", "memory")
    assert dots(unsaid) == 0 and any("not counted yet" in t for t in texts(unsaid))
    named = figure(built(tower, held_by=HeldBy.SCREWS, screws=3, screw_head="hex"), "open", "memory")
    assert dots(named) == 3 and "3 × hex" in texts(named)
    counted = figure(tower, "open", "memory", screws=(ScrewGroup("cover", 5, "T15", 6.0, "6-32"),))
    assert dots(counted) == 5 and any("5 × T15, 6-32 × 6 mm" in t for t in texts(counted))
    clips = figure(built(tower, held_by=HeldBy.CLIPS), "open", "memory")
    assert "clips all round" in texts(clips) and dots(clips) == 0


@pytest.mark.parametrize(("hold", "says"), [
    (CoolerHold.PUSH_PINS, "opposite pins, one pair after the other"), (CoolerHold.CLIP, "far side first"),
    (CoolerHold.SCREWS, "two passes, by hand, in this order"), (None, "how it is held: look first"),
])  # fmt: skip
def test_a_cooler_is_numbered_as_it_is_worked(hold: CoolerHold | None, says: str) -> None:
    machine = built(base(MachineKind.TOWER), cooler_hold=hold)
    on, off = figure(machine, "paste", "paste"), figure(machine, "cooler-off", "paste")
    assert says in texts(on)
    order = [t for t in texts(on) if t.isdigit()]
    assert (
        order
        == [t for t in texts(off) if t.isdigit()]
        == [str(k + 1) for k in range(2 if hold is CoolerHold.CLIP else 4)]
    )


def test_paste_is_drawn_by_its_contact() -> None:
    for bare, says in ((True, "bare die: cover it whole, thinly"), (False, "spreader: a pea or a thin cross")):
        tower = base(MachineKind.TOWER)
        contacts = replace(tower.platform.contacts, bare_die=bare)
        machine = replace(tower, platform=replace(tower.platform, contacts=contacts))
        assert says in texts(figure(machine, "paste", "paste"))
    nobody = replace(tower, platform=replace(tower.platform, contacts=replace(contacts, bare_die=None)))
    assert any("nobody recorded" in t for t in texts(figure(nobody, "paste", "paste")))


def test_the_first_start_shows_what_is_to_be_seen() -> None:
    tower = base(MachineKind.TOWER)
    drawing = figure(tower, "first-start", "drive", "memory")
    assert any("480 GB, shown as 447 GiB" in t or "480 GB" in t for t in texts(drawing))
    assert "Memory in all" in drawing.about


def test_the_strip_says_where_the_hands_are_and_where_nothing_goes_back() -> None:
    steps = [Step(f"s{k}", f"Step {k}", "", mode=Mode.OPEN, no_return=k == 2) for k in range(40)]
    for count in (1, 3, 40):
        strip = step_strip(steps[:count], {"s0"}, steps[count - 1].id, 760.0)
        assert [r.id for r in strip.regions] == [s.id for s in steps[:count]] and beside(strip) == []
        assert any(f"Step {count - 1}" in t for t in texts(strip))
    assert "done" in strip.regions[0].label and "to do" in strip.regions[1].label
