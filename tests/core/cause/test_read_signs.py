"""Signs read from a run and a record: each state from doctored figures, and nothing from what was not looked at."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest

from brachium.app.view.cause_record import known_of
from brachium.app.view.job_view import JobView
from brachium.core.base.units import GIB
from brachium.core.cause.assess import assess, headline, ladder, strength
from brachium.core.cause.checks import ACCEPTED
from brachium.core.cause.cures import with_chances
from brachium.core.cause.known import Known
from brachium.core.cause.read_signs import observations
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.drives.readings import HealthReading
from brachium.core.heat.before_figures import figures_of
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.scanned.scan import (
    Scan,
    ScannedBattery,
    ScannedDevice,
    ScannedDrive,
    ScannedField,
    ScannedPlace,
)
from brachium.core.measure.own_tests import How, OwnResult
from brachium.core.measure.run import RunCheck
from brachium.core.record.checks import CheckDone
from brachium.core.use.profile import profile_of

VIDEO = profile_of("video")
SHORT = Scan((ScannedField("memory.usable_bytes", int(3.2 * GIB), "", ""),),
             (ScannedPlace(0, 4 * GIB),), (ScannedDrive("sda", "SATA", link="1.5 Gbps", link_max="6.0 Gbps"),),
             (ScannedBattery(True, 10.0, 44.0, "Wh", 0.23),))  # fmt: skip


@pytest.fixture(scope="module")
def known(finished_view: JobView) -> Known:
    return known_of(finished_view.job, finished_view.measured.before, finished_view.causes.figures)


def states(known: Known) -> dict[str, str]:
    return {o.sign: o.state for o in observations(known)}


def test_the_newsroom_laptop_shows_its_signs(known: Known) -> None:
    assert states(known) == {
        "held": "by heat", "split": "mostly chip to heatsink", "power": "as designed",
        "profile": "balanced or faster", "battery": "in order", "channels": "one empty", "rate": "as they allow",
        "memory_test": "nothing found", "drive_kind": "hard disk", "drive_rate": "as its kind gives",
        "space": "enough", "stall": "much", "memory_use": "full", "calm": "calm", "vents": "nothing found",
        "dirt": "none or slight", "noise": "noisy or stuck", "drive_noise": "quiet", "starts": "it does",
        "wish": "not met",
    }  # fmt: skip


def _figures(k: Known, **changes: object) -> Known:
    assert k.figures is not None
    return replace(k, figures=replace(k.figures, **changes))  # type: ignore[arg-type]


def _throttle(k: Known, kind: HeldBack) -> Known:
    assert k.figures is not None and k.figures.reading is not None and k.figures.reading.throttle is not None
    throttle = replace(k.figures.reading.throttle, kind=kind)
    return _figures(k, reading=replace(k.figures.reading, throttle=throttle))


def _conditions(k: Known, **changes: object) -> Known:
    assert k.run is not None
    return replace(k, run=replace(k.run, conditions=replace(k.run.conditions, **changes)))  # type: ignore[arg-type]


def _run(k: Known, **changes: object) -> Known:
    assert k.run is not None
    return replace(k, run=replace(k.run, **changes))  # type: ignore[arg-type]


CARD = ScannedDevice("0000:01:00.0", "0x030000", "gen 3 x4", "gen 3 x16")
BAD_WORDS = (RunCheck("mem_test", "Memory test by patterns", False, "3 memory errors"),)
CHANGES: tuple[tuple[str, Callable[[Known], Known], str, str | None], ...] = (
    ("cool", lambda k: _throttle(k, HeldBack.NONE), "held", "not"),
    ("power limit", lambda k: _throttle(k, HeldBack.UNCLEAR), "held", "far from its limit"),
    ("no clock", lambda k: _throttle(k, HeldBack.NOT_KNOWN), "held", None),
    ("little power", lambda k: replace(k, machine=replace(k.machine, processor=replace(
        k.machine.processor, design_power_w=80.0))), "power", "well below"),
    ("no battery", lambda k: _conditions(k, battery_fitted=False), "battery", "missing or worn out"),
    ("worn", lambda k: replace(k, scan=SHORT), "battery", "missing or worn out"),
    ("saving", lambda k: _conditions(k, power_profile="powersave"), "profile", "saving"),
    ("no profile", lambda k: _conditions(k, power_profile=""), "profile", None),
    ("full drive", lambda k: _conditions(k, free_space_frac=0.03), "space", "hardly any"),
    ("not stalled", lambda k: _figures(k, stall_share=0.02), "stall", "hardly"),
    ("stall not sampled", lambda k: _figures(k, stall_measured=False), "stall", None),
    ("memory errors", lambda k: _run(k, checks=BAD_WORDS), "memory_test", "memory errors"),
    ("no test", lambda k: _run(k, checks=()), "memory_test", None),
    ("32 bits", lambda k: replace(k, scan=SHORT, machine=k.machine.with_part("slot-2", k.machine.fitted[0].part)),
     "system", "a part"),
    ("one not seen", lambda k: replace(k, scan=SHORT, machine=k.machine.with_part("slot-2", k.machine.fitted[0].part)),
     "counted", "some not seen"),
    ("slow link", lambda k: replace(k, scan=SHORT), "link", "below their highest"),
    ("card in a narrow place", lambda k: replace(k, scan=replace(SHORT, drives=(), devices=(CARD,))), "gpu_link",
     "fewer than it could"),
    ("card at rest", lambda k: replace(k, scan=replace(SHORT, drives=(), devices=(replace(CARD, link="gen 1 x16"),))),
     "gpu_link", "all of them"),
    ("felt", lambda k: replace(k, findings=(Finding("felt", "vents", Severity.BAD),)), "dirt", "felted or much"),
    ("loose dust", lambda k: replace(k, findings=(Finding("dust", "vents", Severity.BAD),)), "dirt", "none or slight"),
    ("plug of a drive", lambda k: replace(k, findings=(Finding("cable", "drives"),)), "drive_noise",
     "noisy or cable loose"),
    ("plug elsewhere", lambda k: replace(k, findings=(Finding("cable", "front"),)), "drive_noise", "quiet"),
    ("stops in the firmware", lambda k: replace(k, tried=(TestResult("system", TrialOutcome.FAILS),)), "starts",
     "stops before the system"),
    ("restarts", lambda k: replace(k, tried=(TestResult("stays", TrialOutcome.FAILS),)), "stays",
     "restarts or goes off"),
    ("boost off", lambda k: replace(_conditions(k, boost=False), machine=replace(k.machine, processor=replace(
        k.machine.processor, base_mhz=2000.0, boost_mhz=3400.0))), "boost", "off"),
    ("a chip that may have none", lambda k: _conditions(k, boost=False), "boost", None),
    ("basic driver", lambda k: _conditions(k, graphics_driver="simpledrm"), "gpu_driver", "basic or none"),
    ("own driver", lambda k: _conditions(k, graphics_driver="orrin 24.1"), "gpu_driver", "the chip's own"),
    ("below its base clock", lambda k: replace(k, machine=replace(k.machine, processor=replace(
        k.machine.processor, base_mhz=5000.0))), "top_clock", "below its base clock"),
    ("flat, low and cool", lambda k: replace(_throttle(k, HeldBack.NONE), machine=replace(k.machine, processor=replace(
        k.machine.processor, base_mhz=5000.0, limit_c=125.0))), "held", "far from its limit"),
    ("spent", lambda k: replace(k, health=(HealthReading("bay-main", "", {"used_pct": 96}),)), "wear",
     "nearly used up"),
    ("hot drive", lambda k: replace(k, scan=replace(SHORT, drives=(replace(SHORT.drives[0], temperature_c=71),))),
     "drive_heat", "65 °C or more"),
    ("stutters", lambda k: replace(k, own_results=(
        OwnResult("frames-1", "before", 60.0, How.FRAMES, note="a.csv: 900 frames, 24 stutters"),)), "stutter", "many"),
    ("blocked", lambda k: replace(k, findings=(Finding("vent", "vents"),)), "vents", "blocked or covered"),
    ("never looked", lambda k: replace(k, findings=(), tried=()), "vents", None),
)  # fmt: skip


@pytest.mark.parametrize(("name", "change", "sign", "state"), CHANGES, ids=[c[0] for c in CHANGES])
def test_each_state_follows_its_figure(
    known: Known, name: str, change: Callable[[Known], Known], sign: str, state: str | None
) -> None:
    assert states(change(known)).get(sign) == state


def test_without_a_run_only_the_record_speaks(known: Known) -> None:
    bare = Known(known.machine, tried=(TestResult("battery", TrialOutcome.ABSENT),))
    assert set(states(bare)) == {"battery", "channels", "drive_kind", "vents", "dirt", "noise", "drive_noise"}
    assessment = assess(bare, VIDEO)
    assert assessment.limits == () and {c.kind.id for c in assessment.called} == {"channels"}


def test_the_newsroom_laptop_has_four_causes_and_their_costs(known: Known) -> None:
    assessment = assess(known, VIDEO)
    assert [c.kind.id for c in assessment.called] == ["memory", "disk", "paste", "channels"]
    costs = [c.cost_frac for c in assessment.called]
    assert costs == sorted(costs, reverse=True) and 0.25 < costs[0] < 0.45 and all(c > 0.01 for c in costs)
    assert {strength(c) for c in assessment.called} == {"likely"}, "looks and one run prove nothing alone"


def test_after_the_work_nothing_is_called(known: Known, finished_view: JobView) -> None:
    from brachium.core.plan.candidates import planned

    machine = known.machine
    for place, part in planned(machine, finished_view.choice.chosen()).parts.items():
        machine = machine.with_part(place, part)
    after = finished_view.measured.after
    assert after is not None
    mended = replace(known, machine=machine, run=after, figures=figures_of(after, 95.0), tried=(), findings=())
    assessment = assess(mended, VIDEO)
    assert assessment.called == ()
    assert assessment.headline == "Nothing found yet; not checked: graphics", "video work takes some of its time"
    watched = assess(mended, VIDEO, (CheckDone("watch_graphics", "with room left", 4.0),))
    assert watched.headline == "Nothing that was measured holds this machine back"


def test_heat_is_said_before_its_part_is_known(known: Known) -> None:
    assert known.figures is not None and known.figures.reading is not None
    even = replace(known.figures.reading, stair=None)
    vague = replace(_figures(known, reading=even, stall_share=0.01), findings=(), tried=())
    assessment = assess(vague, VIDEO)
    assert headline(vague, assessment.ranked).startswith("Heat holds the chip back; which part")
    sure = assess(vague, VIDEO, (CheckDone("repaste", "clearly cooler", 35.0),))
    assert sure.cause("paste").settled and "repaste" not in {c.check.id for c in sure.checks}
    assert sure.cause("paste").weights[0].checked, "the answer is the strongest sign"


def test_the_ladder_stops_where_it_found_the_cause(known: Known) -> None:
    fresh = ladder({}, known.machine)
    assert [r.state for r in fresh] == ["next", *["later"] * (len(fresh) - 1)]
    minutes = [r.check.rung for r in fresh]
    assert minutes == sorted(minutes) and fresh[0].check.id == "look_place"
    assert minutes[-1] == ACCEPTED and set(minutes) == set(range(1, ACCEPTED + 1)), "every rung is there"
    assert {r.state for r in ladder({}, known.machine, met=True)} == {"stop"}, "a configuration keeps the target"
    looked = {r.check.id: r.state for r in ladder({"look_place": "free", "look_fins": "felt or lint"}, known.machine)}
    assert looked["look_place"] == "made" and looked["look_fins"] == "found" and looked["repaste"] == "later"
    found = {r.check.id: r.state for r in ladder({"clean": "clearly cooler"}, known.machine)}
    assert found["clean"] == "found" and found["repaste"] == "stop" and found["look_place"] == "next"


def test_readings_of_any_drive_count(known: Known, finished_view: JobView) -> None:
    job = replace(finished_view.job, health=(HealthReading("bay-main", "", {"pending": 3}),))
    seen = states(known_of(job, finished_view.measured.before, finished_view.causes.figures))
    assert seen["health"] == "media faults"


def test_frames_of_a_log_show_a_cap_or_none_and_typed_results_show_neither(known: Known) -> None:
    result = OwnResult("task-1", "before", 60.0, How.FRAMES)
    assert states(replace(known, own_results=(result,)))["cap"] == "free"
    assert "cap" not in states(replace(known, own_results=(replace(result, how=How.TYPED),)))
    capped = replace(result, invalid="a cap at 60 /s")
    assert states(replace(known, own_results=(capped,)))["cap"] == "on one even step"


def test_results_below_those_of_machines_like_it_speak_by_their_titles(known: Known) -> None:
    beside = {"mem_bandwidth": False, "cpu_all": True, "own:chipload-1": False}
    found = {o.sign: (o.state, o.figure) for o in observations(replace(known, beside_others=beside))}
    assert found["band_memory"] == ("below them", "Memory bandwidth")
    assert found["band_heat"] == ("worse than theirs", "Chip temperature under load")
    assert found["band_processor"] == ("as they do", "1 result within")


def test_without_a_logged_clock_nothing_is_given_back(known: Known) -> None:
    """A typed clock may say that power holds it; the figures of a log without one stand for nothing."""
    assert known.figures is not None and known.figures.reading is not None
    slow = (OwnResult("clock-1", "before", 790.0), OwnResult("chipload-1", "before", 50.0))
    machine = replace(known.machine, processor=replace(known.machine.processor, base_mhz=2400.0, limit_c=95.0))
    blind = replace(_throttle(known, HeldBack.NOT_KNOWN), machine=machine, own_results=slow)
    assert blind.figures is not None and blind.figures.reading is not None
    assert blind.figures.reading.throttle is not None
    bare = replace(blind.figures.reading.throttle, full_clock_mhz=None, sustained_clock_mhz=None)
    figures = replace(blind.figures, reading=replace(blind.figures.reading, throttle=bare), full_clock_mhz=1.0,
                      sustained_clock_mhz=1.0)  # fmt: skip
    found = assess(replace(blind, figures=figures), VIDEO)
    assert ("held", "far from its limit") in {(o.sign, o.state) for o in found.seen}
    assert with_chances(figures, found, 2400.0).power_clock is None
