"""Graphics of the machine that the program stands on: what draws, which tests that allows, and their children."""

from __future__ import annotations

import time
from dataclasses import dataclass
from functools import cache

from brachium.core.measure.feel_tests import GRAPHICS, HEAT_LOAD_S, HEAT_REST_S, QUICK_SCENE_S, SCENE_S
from brachium.devices.live.child_command import COMMAND
from brachium_probe.children import ChildGroup, ChildSpec

LOOK_S, LOOK_STEP_S = 20.0, 0.02
SOFTWARE_TEST = "soft_scene"
RATES = {"gpu_fill": 1e9, "gpu_texture": 1e9, "gpu_arithmetic": 1e9, "gpu_geometry": 1e6}
SCENES = {"frames_720": (1280, 720), "frames_1080": (1920, 1080), SOFTWARE_TEST: (1280, 720)}
RATE_S, LADDER_S = 4.0, 20.0


@dataclass(frozen=True)
class GraphicsHere:
    """What draws here, or why nothing does."""

    name: str = ""
    driver: str = ""
    software: bool = False
    why_not: str = ""

    @property
    def words(self) -> str:
        """Chip and driver as a run's condition; a software renderer is named so."""
        if not self.name:
            return ""
        return f"{'drawn by the processor, ' if self.software else ''}{self.name}, {self.driver}"

    def tests(self) -> tuple[str, ...]:
        """The graphics tests that can be done: a program that draws is no chip and is measured under another name."""
        if not self.name:
            return ()
        return (SOFTWARE_TEST,) if self.software else tuple(k for k in GRAPHICS if k != SOFTWARE_TEST)


@cache
def graphics_here() -> GraphicsHere:
    """Asked once, in a process of its own: a driver that falls over takes nothing with it."""
    group, until = ChildGroup((ChildSpec("graphics-look", {}),), COMMAND), time.monotonic() + LOOK_S
    group.start()
    while not group.done() and time.monotonic() < until:
        time.sleep(LOOK_STEP_S)
    told, problem = group.last_facts()[0], group.problem()
    group.kill()
    if not told.get("device"):
        return GraphicsHere(why_not=problem or "the graphics driver here gave no answer")
    return GraphicsHere(str(told["device"]), str(told.get("driver", "")), bool(told.get("software")))


def scene_s(test_s: float) -> float:
    """Length of a drawn scene [s]: a minute, less in a quick protocol."""
    return SCENE_S if test_s >= 10.0 else QUICK_SCENE_S


def graphics_spec(key: str, test_s: float) -> tuple[ChildSpec, float, float]:
    """(child, how much of its result is one of the test's unit, its length [s]). Raises KeyError for another key."""
    if key in RATES:
        length = min(test_s, RATE_S)
        return ChildSpec("graphics-rate", {"duration_s": length, "kind": key[4:]}), RATES[key], length
    if key in SCENES:
        width, height = SCENES[key]
        length = scene_s(test_s)
        return ChildSpec("graphics-scene", {"duration_s": length, "width": width, "height": height}), 1.0, length
    if key in ("heat_graphics", "heat_both"):
        length = HEAT_REST_S + HEAT_LOAD_S
        told = {"rest_s": HEAT_REST_S, "duration_s": HEAT_LOAD_S, "beside": key == "heat_both"}
        return ChildSpec("graphics-heat", told), 1.0, length
    if key == "gpu_memory":
        return ChildSpec("graphics-memory", {"duration_s": LADDER_S}), 1.0, LADDER_S
    raise KeyError(key)
