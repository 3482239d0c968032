"""The picture of a work step: chosen by what is done, drawn from the machine's record, the same on screen and paper."""

from __future__ import annotations

from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.work.bench_scene import bench
from brachium.core.figures.work.contact_scene import contact
from brachium.core.figures.work.inside_scene import inside
from brachium.core.figures.work.outside_scene import SEAL, outside
from brachium.core.figures.work.scene import Scene
from brachium.core.figures.work.screen_scene import screen
from brachium.core.work.layers import COOLER_LAYER, COVER, GLASS, STAND, TRIM
from brachium.core.work.step import Mode

ON_BENCH = ("clone", "stick", "erase", "ready")
AROUND = (COVER, GLASS, STAND, TRIM)


def step_figure(scene: Scene, width: float, height: float) -> Drawing:
    """Outside for plugs and covers, the contact for cooler and paste, inside for the rest that is done with it open;
    beside the machine the bench, and with it running the screen."""
    step = scene.step
    if step.id.startswith(("power-off", "adapter")) or scene.layer in AROUND:
        return outside(scene, width, height)
    if scene.layer == COOLER_LAYER:
        return contact(scene, width, height)
    if step.mode is Mode.OPEN:
        return inside(scene, width, height)
    if step.id in ("battery", SEAL):
        return outside(scene, width, height)
    if step.mode is Mode.BENCH or step.id.startswith(ON_BENCH):
        return bench(scene, width, height)
    return screen(scene, width, height)
