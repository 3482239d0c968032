"""What a stage shows while its figures are being worked out: its outline and a reason, nothing that could be false."""

from __future__ import annotations

from PySide6.QtCore import QSize

from brachium.core.figures.base.drawing import Box, Drawing, Sketch
from brachium.core.record.job import Stage
from brachium.ui.pages.base.page import Page

REASONS = {
    Stage.FIND_CAUSE: "Weighing causes…",
    Stage.CHOOSE: "Checking what fits…",
    Stage.WORK: "Putting the steps in order…",
    Stage.PROVE: "Comparing the runs…",
    Stage.HAND_OVER: "Gathering the report…",
}
ROW, GAP = 26.0, 12.0


class SkeletonPage(Page):
    """Stands in for the stages of `REASONS` until the first view of a machine is there."""

    def build(self) -> None:
        self.outline = self.figure()
        self.outline.setMinimumSize(QSize(380, 300))
        self.outline.show_selection = False
        self.outline.set_builder(_outline)
        self.body.addSpacing(12)
        self.body.addWidget(self.outline, 1)

    def show_stage(self, stage: Stage) -> None:
        """Its name and why nothing is there yet."""
        self.set_heading(stage.value, REASONS[stage])


def _outline(width: float, height: float) -> Drawing:
    """A figure at the left, rows at the right, in the lightest line."""
    sketch = Sketch(width, height)
    left = 0.56 * width
    sketch.add(Box(0, 0, left - 24, 0.52 * height, "", "grid", radius=4), Box(0, 0.58 * height, left - 24, 0.4 * height,
               "", "grid", radius=4))  # fmt: skip
    for k in range(int(height // (ROW + GAP))):
        sketch.add(Box(left, k * (ROW + GAP), (width - left) * (1.0, 0.86, 0.94)[k % 3], ROW, "", "grid", radius=3))
    return sketch.done("Being worked out", "nothing is known yet")
