"""What a check says on a practice machine: from its physics where it can be computed, else from its hidden cause."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from brachium.core.cause.checks import BY_ID
from brachium.core.cause.kinds import HEAT
from brachium.devices.simulated.faults import Faults, with_faults
from brachium.devices.simulated.physics import steady_rises_k
from brachium.devices.simulated.practice_machine import PracticeMachine

MISJUDGED = 0.08  # a look through a grille or behind a machine
SLIPS = 0.02  # a reading noted wrongly
CURE_SLIPS = 0.005  # a cure tried on the wrong thing that seems to work
# Of checks with several answers: with which chances a cause shows itself, by which answers
MANY: Mapping[str, Mapping[str, tuple[tuple[float, int], ...]]] = {
    "limit_flags": {"external": ((0.85, 3),), "battery": ((0.40, 2), (0.35, 3)), "adapter": ((0.45, 2), (0.35, 3)),
                    "regulators": ((0.60, 2), (0.25, 3)), **dict.fromkeys(HEAT, ((0.9, 1),))},
    "system_log": {"supply": ((0.85, 1),), "dying": ((0.7, 2),), "cable": ((0.5, 2),), "bad_memory": ((0.45, 3),),
                   **dict.fromkeys(HEAT, ((0.4, 4),))},
    "who_works": {"background": ((0.95, 1),), "updates": ((0.92, 2),)},
}  # fmt: skip
CLEAR_FANS, CLEAR_STAND_K, CLEAR_STEP_K, STEP_NOISE_K = 0.75, 4.0, 3.0, 0.8
# Of checks with two answers: causes that give the second one, causes that give it in so many machines but one
SPEAKS: Mapping[str, tuple[tuple[str, ...], tuple[str, ...], int]] = {
    "other_drive": (("disk", "dying", "shingled", "worn"), (), 1),
    "task_alone": (("background",), ("updates", "memory"), 2), "read_link": (("link",), ("cable",), 2),
    "rating": (("cooler",), (), 1), "other_battery": (("battery",), (), 1), "other_adapter": (("adapter",), (), 1),
    "set_profile": (("governor",), (), 1), "borrow_module": (("channels",), (), 1), "usable": (("bits",), (), 1),
    "speeds": (("slow_memory",), (), 1), "long_memory_test": (("bad_memory",), (), 1),
    "swap_cable": (("cable",), (), 1), "other_port": (("link",), (), 1), "read_space": (("full",), (), 1),
    "watch_graphics": (("graphics", "gpu_memory"), (), 1), "cap_off": (("cap",), (), 1),
    "feel_pipe": (("pipe",), (), 1), "boost_on": (("boost_off",), (), 1), "hand_sensor": ((), ("external",), 2),
    "cool_regulators": (("regulators",), (), 1),
    "watch_processor": (("slow_chip", "channels", "slow_memory"), (), 1), "faster_machine": (("slow_chip",), (), 1),
    "self_test": ((), ("dying",), 4), "read_mode": (("drive_mode",), (), 1), "trim": ((), ("worn",), 4),
    "cool_drive": (("hot_drive",), (), 1), "long_write": (("shingled",), ("worn",), 2),
    "recording": (("shingled",), (), 1),
    "from_stick": (("background", "updates", "dying", "full"), ("gpu_driver",), 2),
    "watch_gpu_memory": (("gpu_memory",), (), 1), "own_driver": (("gpu_driver",), (), 1),
    "reseat_card": (("gpu_width",), (), 1), "watch_decoder": (("no_decode",), (), 1),
    "net_speed": (("network",), (), 1), "start_order": (("start_setting",), (), 1),
    "reset_settings": (("start_setting", "boost_off"), ("drive_mode",), 2),
    "cell_volts": ((), ("start_setting",), 2), "other_supply": (("supply",), (), 1),
    "blow_out": ((), ("fins",), 2), "lower_limit": (("cooler",), (), 1), "accept_heat": ((), (), 1),
    "graphics_out": ((), ("supply",), 2), "minimum": (("supply",), ("bad_memory",), 2),
}  # fmt: skip


def answer_of(one: PracticeMachine, check_id: str, rng: np.random.Generator) -> str:
    """What a check says on this machine: one of the states of its sign. Raises KeyError for an unknown check."""
    states = BY_ID[check_id].sign.states
    hot = one.cause in HEAT
    if check_id in ("look_place", "look_fins"):
        truth = one.cause == {"look_place": "place", "look_fins": "fins"}[check_id]
        return states[int(truth != (rng.random() < MISJUDGED))]
    if check_id == "fan_full":
        if one.faults.fan < CLEAR_FANS:
            return states[2]
        return states[int(_gain_of_full_fan(one) + rng.normal(0.0, STEP_NOISE_K) > 6.0)]
    if check_id in ("stand_free", "clean", "repaste"):
        clear = CLEAR_STAND_K if check_id == "stand_free" else CLEAR_STEP_K
        gain = _gain(one, check_id) if hot else 0.0
        return states[int(gain + rng.normal(0.0, STEP_NOISE_K) > clear)]
    if check_id in ("read_health", "counters_rise"):
        k = {"dying": 1, "cable": 2}.get(one.cause, 0)
        return states[k] if rng.random() > SLIPS else states[0]
    if check_id in MANY:
        k = _one_of_many(one, check_id, rng)
        return states[k] if rng.random() > SLIPS else states[0]
    slips = CURE_SLIPS if BY_ID[check_id].sign.decides else SLIPS
    return states[int(_speaks(one, check_id) != (rng.random() < slips))]


def _one_of_many(one: PracticeMachine, check_id: str, rng: np.random.Generator) -> int:
    """The answer of a check with several, by its place; the first where the truth shows only sometimes and now not."""
    drawn = rng.random()
    for chance, place in MANY[check_id].get(one.cause, ()):
        if drawn < chance:
            return place
        drawn -= chance
    return 0


def _speaks(one: PracticeMachine, check_id: str) -> bool:
    """Whether the truth gives the second answer of a check."""
    always, odd, odd_of = SPEAKS[check_id]
    if check_id == "other_drive" and one.cause == "full":
        return not one.machine.configuration().drives()["bay-1"].rotational
    return one.cause in always or (one.cause in odd and one.seed % odd_of > 0)


def _gain(one: PracticeMachine, check_id: str) -> float:
    """Fall of the chip's rise at equal power and fan speed when the check takes its fault away [K]."""
    mended = {"stand_free": replace(one.faults, place=1.0), "clean": replace(one.faults, dust=1.0),
              "repaste": replace(one.faults, paste=1.0)}[check_id]  # fmt: skip
    return _rise(one, one.faults, 1.0) - _rise(one, mended, 1.0)


def _gain_of_full_fan(one: PracticeMachine) -> float:
    """Fall of the rise between the fan's speed near the limit and its highest [K]."""
    return _rise(one, one.faults, 0.92) - _rise(one, one.faults, 1.0)


def _rise(one: PracticeMachine, faults: Faults, fan_share: float) -> float:
    thermals = with_faults(one.healthy, faults)
    chip = one.healthy.silicon
    power = chip.idle_w + 0.8 * chip.dynamic_w
    return sum(steady_rises_k(thermals.cooling, power, fan_share * thermals.fan.target_rpm(200.0)))
