"""What a step of the shop's own touches, so that its cautions stand beside it; what its words name is set by itself."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from brachium.core.base.text import phrase
from brachium.core.work.hazards import Tag, touched_in
from brachium.ui.widgets.labels import button

NAMES = {
    Tag.CELL: "battery", Tag.ADHESIVE: "glue, heat", Tag.GLASS: "glass", Tag.SCREEN: "screen", Tag.SUPPLY: "mains",
    Tag.ALCOHOL: "alcohol", Tag.BLOW: "dust", Tag.COPY: "data", Tag.FIRMWARE: "firmware", Tag.SHARP: "sharp plate",
    Tag.HEAVY: "heavy", Tag.COOLER: "hot metal",
}  # fmt: skip
COLUMNS = 3


class TouchesField(QWidget):
    """One switch for each thing that can hurt or be hurt."""

    def __init__(self) -> None:
        super().__init__()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        self._said: set[Tag] = set()
        self.switches: dict[Tag, QPushButton] = {}
        for k, (tag, name) in enumerate(NAMES.items()):
            switch = button(name, lambda t=tag: self._switched(t), "switch", phrase("It touches: {name}", name=name))  # type: ignore[misc]
            switch.setCheckable(True)
            self.switches[tag] = switch
            grid.addWidget(switch, k // COLUMNS, k % COLUMNS)

    def _switched(self, tag: Tag) -> None:
        self._said = self._said | {tag} if self.switches[tag].isChecked() else self._said - {tag}

    def follow(self, words: str) -> None:
        """Set what the words of the step name; that cannot be switched off."""
        named = touched_in(words)
        for tag, switch in self.switches.items():
            switch.setChecked(tag in named or tag in self._said)
            switch.setEnabled(tag not in named)

    def stated(self) -> tuple[str, ...]:
        """What a person said, by the names that are kept."""
        return tuple(t.value for t in NAMES if t in self._said)

    def empty(self) -> None:
        """For the next step."""
        self._said = set()
        self.follow("")
