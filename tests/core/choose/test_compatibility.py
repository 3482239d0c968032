"""Rules that weigh kinds of parts against each other: the compiled tables say what every rule says plan by plan."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from itertools import product

import numpy as np
import pytest

from brachium.core.choose.compatibility import go_together, option_alone, verdicts_concerning
from brachium.core.choose.draws import draw
from brachium.core.choose.front import build_front
from brachium.core.choose.other_board import beside_boards
from brachium.core.choose.plan_space import GROUPS, Limits, compile_plans, usable_option
from brachium.core.choose.plans import why_not
from brachium.core.choose.predict import bands_of
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_part import MemoryGeneration
from brachium.core.machine.parts import Part
from brachium.core.plan.candidates import PART_GROUPS, Candidate, CatalogueItem, Group, candidates, planned
from brachium.core.use.profile import profile_of
from brachium.core.work.effort import Effort
from tests.core.fit.bench_machines import AROUND, BOARD, CARD, CHIP, COOLER, D3, SSD, SUPPLY, TOWER

VIDEO = profile_of("video")
WARM = BeforeFigures(None, True, 0.5, 3400.0, 2900.0, 0.25, 0.35, 0.1, True, 0.2, 20.0, 0.7)
OUT = {Group.FAN, Group.ADAPTER, Group.BATTERY, Group.RADIO, Group.PADS, Group.BOARD}


def item(part: Part, price: int) -> CatalogueItem:
    return CatalogueItem(part.name, PART_GROUPS[part.kind], part.name, Decimal(price), part=part)


def random_parts(rng: np.random.Generator) -> tuple[CatalogueItem, ...]:
    """Processors too hot for the supply or blind, cards that give a picture, supplies, coolers, tall modules."""
    watts, lights = [float(w) for w in rng.choice([65, 84, 95], 2)], rng.random(2) < 0.5
    chips = [replace(CHIP, name=f"cpu{k}", power_w=watts[k], graphics=bool(lights[k]),
                     memory_mts=int(rng.choice([1333, 1600])))
             for k in range(2)]  # fmt: skip
    cards = [replace(CARD, name=f"card{k}", power_w=float(rng.choice([30, 60, 70])), display=bool(rng.random() < 0.7))
             for k in range(2)]  # fmt: skip
    supplies = [replace(SUPPLY, name=f"psu{k}", rated_w=float(w), rated_12v_w=float(w) - 20.0)
                for k, w in enumerate(rng.choice([250, 400], 2))]  # fmt: skip
    coolers = [replace(COOLER, name="cool", over_memory_mm=35.0, rated_w=float(rng.choice([65, 95])))]
    memory = [replace(D3, name="tall", height_mm=44.0), replace(D3, name="flat", size_bytes=2 * D3.size_bytes)]
    parts: list[Part] = [*chips, *cards, *supplies, *coolers, *memory, SSD]
    return tuple(item(p, int(rng.integers(5, 90))) for p in parts)


def tower(rng: np.random.Generator) -> object:
    """The tower with a weak supply, so that loads decide."""
    weak = replace(SUPPLY, rated_w=float(rng.choice([150, 190, 220])), rated_12v_w=float(rng.choice([140, 180])))
    return TOWER.with_part("supply", weak)


@pytest.mark.parametrize("seed", range(4))
def test_tables_say_what_all_rules_say_plan_by_plan(seed: int) -> None:
    rng = np.random.default_rng(seed)
    machine = tower(rng)
    around = replace(AROUND, claims=tuple(replace(AROUND.claims[0], part=f"cpu{k}") for k in range(2)))
    options = [option_alone(machine, c, around) for c in candidates(machine, random_parts(rng))]  # type: ignore[arg-type]
    usable = [o for o in options if usable_option(o, frozenset()) and o.candidate.group not in OUT]
    axes = [(None, *(o for o in usable if o.candidate.group is g)) for g in GROUPS]
    fits = go_together(machine, axes, around, frozenset())  # type: ignore[arg-type]
    kept = 0
    for where in product(*(range(len(a)) for a in axes)):
        if rng.random() < 0.5:  # half of the plans tell as much
            continue
        chosen = tuple(o.candidate for o in (a[k] for a, k in zip(axes, where, strict=True)) if o is not None)
        verdicts = evaluate(ALL_RULES, machine, planned(machine, chosen), around)  # type: ignore[arg-type]
        touched = {p for c in chosen for p in c.places}
        bad = any(v.level > Level.NEEDS_FIRST for v in verdicts if not v.places or touched & set(v.places))
        assert bool(fits[where]) is not (bad and bool(chosen)), [c.id for c in chosen]
        kept += bool(fits[where])
    assert 1 < kept < fits.size, "some plans are kept out, some not"


def test_plans_with_another_board_are_those_that_every_rule_lets_pass() -> None:
    """Boards of other sockets, memory and ports: what stays is judged with what comes."""
    counts = [board_plans(np.random.default_rng([seed, 7])) for seed in range(12)]
    assert sum(c > 0 for c in counts) >= 6 and 0 in counts, f"some boards are kept out, some not: {counts}"


def board_plans(rng: np.random.Generator) -> int:
    """How many plans hold the board of a random tower, after comparing all plans with all rules."""
    machine = TOWER.with_part("slot-2", D3) if rng.random() < 0.3 else TOWER
    around = replace(AROUND, claims=tuple(replace(AROUND.claims[0], part=n) for n in ("old kind", "new kind")))
    ddr4 = replace(D3, name="ddr4", generation=MemoryGeneration.DDR4, speed_mts=2133, volts=(1.2,))
    new = MemoryGeneration.DDR4 if rng.random() < 0.6 else MemoryGeneration.DDR3
    slots, pattern = int(rng.choice([2, 4])), str(rng.choice(["KM-2", "KX-3"]))
    other = replace(BOARD, name="other", socket=str(rng.choice(["KM-2", "KX-3"])), memory_generation=new, slots=slots,
                    families=("D4", "E1"), sata_ports=int(rng.choice([1, 4])), revision="r2", memory_mts=2400,
                    fill_order=tuple(range(1, slots + 1)), cooler_pattern=pattern)  # fmt: skip
    chip = replace(CHIP, name="new kind", socket="KX-3", family="E1", memory=(new,), memory_mts=2400)
    items = (item(other, 60), item(replace(CHIP, name="old kind"), 40), item(chip, 70), item(SSD, 30),
             replace(item(ddr4, 45), id="pair", count=2),
             item(replace(COOLER, name="wide", patterns=("KX-3",)), 20))  # fmt: skip
    found = candidates(machine, items)
    options = [option_alone(machine, c, around) for c in found]
    boards = beside_boards(machine, found, around)
    space = compile_plans(machine, options, VIDEO, WARM, Limits(30.0), Effort(machine), around=around, boards=boards)
    offered = np.flatnonzero(space.within(Limits(30.0)))
    mine = {tuple(sorted(space.plan(int(k)).ids)) for k in offered}
    assert mine == {tuple(sorted(ids)) for ids in passing(machine, found, around)}
    by_id = {c.id: c for c in found}
    for k in offered[:: max(offered.size // 10, 1)]:
        plan = space.plan(int(k))
        band = bands_of(
            machine, tuple(by_id[i] for i in plan.ids), VIDEO, WARM, draw(VIDEO, WARM, machine), around.heat
        )
        assert plan.gain == pytest.approx(band.mid, rel=0.03), plan.ids
    return sum("other@board" in ids for ids in mine)


def passing(machine: Machine, found: tuple[Candidate, ...], around: Circumstances) -> set[tuple[str, ...]]:
    """Plans that every rule lets pass, evaluated one by one; what another board still lacks keeps a plan out."""
    out = {()}
    for picked in product(*([None, *(c for c in found if c.group is g)] for g in GROUPS)):
        chosen = tuple(c for c in picked if c is not None)
        verdicts = verdicts_concerning(evaluate(ALL_RULES, machine, planned(machine, chosen), around), chosen)
        lacks = any(v.rule == "BRD-KEEP" and v.level is Level.NEEDS_FIRST for v in verdicts)
        if not lacks and not any(v.level > Level.NEEDS_FIRST for v in verdicts):
            out.add(tuple(c.id for c in chosen))
    return out


def test_a_processor_that_needs_another_supply_is_on_the_front_with_it_only() -> None:
    machine = TOWER.with_part("supply", replace(SUPPLY, rated_w=125.0, rated_12v_w=120.0))
    machine = machine.with_part("socket", replace(CHIP, graphics_rate=100.0))
    around = replace(AROUND, claims=(replace(AROUND.claims[0], part="cpu"),))
    strong = replace(CHIP, name="cpu", power_w=95.0, all_rate=900.0)
    items = (
        item(strong, 80),
        item(replace(SUPPLY, name="psu"), 40),
        item(replace(CARD, name="card", power_w=70.0, graphics_rate=100.0), 30),
    )
    options = [option_alone(machine, c, around) for c in candidates(machine, items)]
    front = build_front(machine, options, VIDEO, WARM, Limits(30.0), Effort(machine), around=around)
    table = compile_plans(machine, options, VIDEO, WARM, Limits(30.0), Effort(machine), around=around)
    assert all(("psu@supply" in p.ids) == ("cpu@socket" in p.ids) for p in front.plans) and len(front.plans) == 2
    only_card = [o for o in options if o.candidate.group is Group.CARD and o.candidate.places == ("card-1",)]
    bare = compile_plans(machine, only_card, VIDEO, WARM, Limits(30.0), Effort(machine), around=around)
    assert bare.best_with(only_card[0].candidate.id, Limits(30.0)) is None
    assert why_not(only_card[0], front, bare, Limits(30.0)) == "It goes together with nothing that is to be had"
    assert why_not(only_card[0], front, table, Limits(30.0)).startswith("The best plan with it ")


def test_what_nobody_can_say_the_gain_of_is_in_no_plan() -> None:
    """Neither dominated, as if it brought nothing, nor recommended: it is left out of the front."""
    machine = TOWER.with_part("socket", replace(CHIP, graphics_rate=100.0))
    cards = [replace(CARD, name=n, graphics_rate=r, power_w=30.0) for n, r in (("known", 400.0), ("unknown", None))]
    options = [option_alone(machine, c, AROUND) for c in candidates(machine, tuple(item(c, 30) for c in cards))]
    space = compile_plans(machine, options, VIDEO, WARM, Limits(30.0), Effort(machine), around=AROUND)
    assert any("known@" in i for i in space.ids) and not any(i.startswith("unknown@") for i in space.ids)


def test_the_closed_form_of_a_new_processor_is_the_middle_of_its_draws() -> None:
    around = replace(AROUND, claims=(replace(AROUND.claims[0], part="cpu"),))
    chip = replace(CHIP, name="cpu", power_w=84.0, all_rate=660.0, single_rate=130.0)
    items = (item(chip, 80), item(COOLER, 30), item(replace(D3, name="big", size_bytes=8 << 30), 20))
    options = [option_alone(TOWER, c, around) for c in candidates(TOWER, items)]
    by_id = {o.candidate.id: o.candidate for o in options}
    draws = draw(VIDEO, WARM, TOWER)
    table = compile_plans(TOWER, options, VIDEO, WARM, Limits(30.0), Effort(TOWER), around=around)
    seen = 0
    for k in range(table.cost.size):
        plan = table.plan(k)
        band = bands_of(TOWER, tuple(by_id[i] for i in plan.ids), VIDEO, WARM, draws, around.heat)
        assert plan.gain == pytest.approx(band.mid, rel=0.03), plan.ids
        seen += band.high / band.low > 1.1
    assert seen > 2, "another processor is uncertain, and says so"
