"""What a check says on a practice machine: from its physics where it can be computed, else from its hidden cause."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from brachium.core.cause.checks import BY_ID
from brachium.core.cause.first_checks import PICTURES, SLOW_DRIVES
from brachium.core.cause.kinds import BESIDE, HEAT, POWER
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.faults import Faults, with_faults
from brachium.devices.simulated.physics import ThermalState, steady_rises_k
from brachium.devices.simulated.practice_machine import PracticeMachine
from brachium.devices.simulated.workloads import SYSTEM_GIB

MISJUDGED = 0.08  # a look through a grille or behind a machine
SLIPS = 0.02  # a reading noted wrongly
CURE_SLIPS = 0.005  # a cure tried on the wrong thing that seems to work
# Of checks with several answers: with which chances a cause shows itself, by which answers
MANY: Mapping[str, Mapping[str, tuple[tuple[float, int], ...]]] = {
    "limit_flags": {"external": ((0.85, 4),), "battery": ((0.40, 2), (0.35, 4)), "adapter": ((0.45, 2), (0.35, 4)),
                    "regulators": ((0.25, 2), (0.45, 3), (0.15, 4)), **dict.fromkeys(HEAT, ((0.9, 1),))},
    "system_log": {"supply": ((0.85, 1),), "dying": ((0.7, 2),), "cable": ((0.5, 2),), "bad_memory": ((0.45, 3),),
                   **dict.fromkeys(HEAT, ((0.4, 4),))},
    "read_health": {"dying": ((1.0, 1),), "cable": ((1.0, 2),)},
    "counters_rise": {"dying": ((1.0, 1),), "cable": ((1.0, 2),)},
    "long_read": {"hot_drive": ((0.9, 1),), "worn": ((0.8, 2),), "link": ((0.9, 2),), "cable": ((0.6, 2),),
                  "dying": ((0.7, 2),)},
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
    "try_voltage": ((), (), 1), "graphics_out": ((), ("supply",), 2), "minimum": (("supply",), ("bad_memory",), 2),
}  # fmt: skip


def answer_of(one: PracticeMachine, check_id: str, rng: np.random.Generator) -> str:
    """What a check says on this machine: one of the states of its sign. Raises KeyError for an unknown check."""
    states = BY_ID[check_id].sign.states
    hot = any(c in HEAT for c in one.causes)
    if check_id in ("look_place", "look_fins"):
        truth = {"look_place": "place", "look_fins": "fins"}[check_id] in one.causes
        return states[int(truth != (rng.random() < MISJUDGED))]
    if check_id == "fan_full":
        much = _gain_of_full_fan(one) + rng.normal(0.0, STEP_NOISE_K) > 6.0
        return states[2] if one.faults.fan < CLEAR_FANS else states[int(much)]
    if check_id in ("stand_free", "clean", "repaste"):
        clear = CLEAR_STAND_K if check_id == "stand_free" else CLEAR_STEP_K
        gain = _gain(one, check_id) if hot else 0.0
        return states[int(gain + rng.normal(0.0, STEP_NOISE_K) > clear)]
    if check_id in LOOKS:
        k = LOOKS[check_id](one, rng)
        return states[k] if rng.random() > SLIPS else states[int(rng.integers(len(states)))]
    if check_id in MANY:
        k = _one_of_many(one, check_id, rng)
        return states[k] if rng.random() > SLIPS else states[0]
    slips = CURE_SLIPS if BY_ID[check_id].sign.decides else SLIPS
    return states[int(_speaks(one, check_id) != (rng.random() < slips))]


def _complaint(one: PracticeMachine, rng: np.random.Generator) -> int:
    """What the owner says, by its place among the complaints; one owner in eight speaks of something else."""
    if rng.random() < 0.12 or not one.cause:
        return int(rng.choice(9, p=(0.35, 0.10, 0.15, 0.10, 0.10, 0.08, 0.04, 0.05, 0.03)))
    spoken = one.causes[int(rng.integers(len(one.causes)))]
    often, sometimes = SAID[next(group for group in SAID if spoken in group)]
    return often if rng.random() < 0.72 else sometimes


SAID: Mapping[tuple[str, ...], tuple[int, int]] = {
    HEAT: (1, 4), POWER: (4, 2), ("slow_chip", "channels", "slow_memory"): (4, 3), ("memory", "bits"): (3, 2),
    ("bad_memory",): (7, 8), ("dying", "cable"): (7, 2), ("disk", *SLOW_DRIVES): (2, 3), PICTURES: (5, 4),
    ("cap",): (5, 0), ("no_decode",): (5, 4), ("network",): (6, 2), BESIDE: (2, 3), ("start_setting",): (8, 2),
    ("supply",): (8, 7),
}  # fmt: skip


def _monitor(one: PracticeMachine, rng: np.random.Generator) -> int:
    """What stands at its end while it is slow, from the simulated machine: memory against its need, reads against the
    drive's rate, graphics, network, what works beside, and the clock under load."""
    task, spec = one.spec.task, one.spec
    if task.waits_s > 60.0:
        return 7
    if task.working_set_gib + SYSTEM_GIB > 0.97 * spec.memory_gib:
        return 4
    if task.graphics > 0.9:
        return 6
    healthy = SimulatedDrive.of(one.machine.configuration().drives()["bay-1"], 600.0)
    slower = min(spec.drive.small_factor, spec.drive.long_factor, spec.drive.link_mb_s / healthy.link_mb_s)
    waits_s = task.reads / spec.drive.random_reads_s(2, 0.3, np.random.default_rng(1))
    if waits_s > 0.15 * task.cpu_s or (slower < 0.5 and rng.random() > MISJUDGED):
        return 5
    if spec.idle_util > 0.07:
        return 1 if rng.random() > MISJUDGED else 5
    loaded = _load(one, rng)
    if loaded > 0:
        return (3 if loaded == 4 else 2) if rng.random() > MISJUDGED else 1
    if task.cpu_s > 90.0:
        return 1
    return int(rng.random() < 0.5)


def _load(one: PracticeMachine, rng: np.random.Generator) -> int:
    """A load of a quarter of an hour on the simulated machine: 0 full clock, 1 to 3 at its limit within a minute, in
    three, later, 4 a low clock and cool."""
    state = ThermalState(one.spec.thermals)
    state.util = 1.0
    chip = one.spec.thermals.silicon
    reached_s = 0.0
    for k in range(1800):
        state.step(0.5)
        if not reached_s and state.sensed_c > chip.limit_c - 3.0:
            reached_s = 0.5 * (k + 1)
    if state.clock_mhz > 0.95 * chip.max_mhz:
        return 0
    seen_s = reached_s * float(rng.uniform(0.8, 1.25))  # by a watch, and by somebody's idea of "at its limit"
    return 4 if not reached_s else 1 if seen_s < 60.0 else 2 if seen_s < 180.0 else 3


def _air(one: PracticeMachine, rng: np.random.Generator) -> int:
    """Air at the outlet of the simulated machine: little where fan or fins hold it up, cool where the chip's heat does
    not come as far; two hands in a hundred judge otherwise."""
    flow = one.faults.fan / one.faults.dust
    if rng.random() < MISJUDGED / 2:
        return int(rng.integers(3))
    if flow < 0.62 or (one.faults.place > 1.0 and rng.random() < 0.25):
        return 2
    inside = one.faults.paste * one.faults.pipe
    if inside > 1.5:
        return 1
    return 0 if _load(one, rng) in (1, 2, 3) else int(rng.random() < 0.5)


def _over(one: PracticeMachine, rng: np.random.Generator) -> int:
    if rng.random() < MISJUDGED:
        return int(rng.integers(4))
    seen = max(({"place": 1, "fins": 2, "fan": 3}.get(c, 0) for c in one.causes), default=0)
    return 0 if seen == 3 and rng.random() < 0.25 else seen  # a slow fan does not always sound wrong


def _named(places: Mapping[str, tuple[int, float]]) -> Callable[[PracticeMachine, np.random.Generator], int]:
    """A sheet that shows a cause at a place with a chance; else its first line."""

    def look(one: PracticeMachine, rng: np.random.Generator) -> int:
        place, chance = max((places.get(c, (0, 1.0)) for c in one.causes), default=(0, 1.0))
        return place if rng.random() < chance else 0

    return look


def _drive_sheet(one: PracticeMachine, rng: np.random.Generator) -> int:
    """The worst line of the drive's sheet; a disk shows as one where nothing is worse."""
    shown = _named({
        "dying": (2, 0.9), "cable": (3, 0.9), "full": (4, 1.0), "link": (5, 0.9), "drive_mode": (6, 1.0),
        "hot_drive": (7, 0.6), "worn": (8, 0.5), "shingled": (9, 0.85),
    })(one, rng)  # fmt: skip
    return shown or int(one.machine.configuration().drives()["bay-1"].rotational)


LOOKS: Mapping[str, Callable[[PracticeMachine, np.random.Generator], int]] = {
    "outlet_air": _air, "look_over": _over, "read_drive": _drive_sheet,
    "read_power": _named({"governor": (1, 0.9), "boost_off": (2, 0.95), "battery": (3, 0.97), "adapter": (4, 0.8)}),
    "read_graphics": _named({"gpu_driver": (1, 0.95), "gpu_memory": (2, 0.97), "gpu_width": (3, 0.9)}),
    "read_system": _named({
        "background": (1, 0.95), "updates": (2, 0.9), "no_decode": (3, 0.85), "bits": (4, 0.97),
        "slow_memory": (5, 0.92), "channels": (6, 0.9), "bad_memory": (7, 0.35)}),
    "complaint": _complaint, "watch_monitor": _monitor, "watch_load": _load,
}  # fmt: skip


def _one_of_many(one: PracticeMachine, check_id: str, rng: np.random.Generator) -> int:
    """The answer of a check with several, by its place; the first where the truth shows only sometimes and now not."""
    drawn = rng.random()
    for chance, place in (row for c in one.causes for row in MANY[check_id].get(c, ())):
        if drawn < chance:
            return place
        drawn -= chance
    return 0


def _speaks(one: PracticeMachine, check_id: str) -> bool:
    """Whether the truth gives the second answer of a check."""
    always, odd, odd_of = SPEAKS[check_id]
    if check_id == "other_drive" and "full" in one.causes:
        return not one.machine.configuration().drives()["bay-1"].rotational
    return any(c in always or (c in odd and one.seed % odd_of > 0) for c in one.causes)


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
